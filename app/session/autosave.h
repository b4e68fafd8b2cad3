#pragma once

#include <QDateTime>
#include <QObject>
#include <QTimer>
#include <filesystem>
#include <optional>

#include "app/session/session.h"
#include "core/operations/journal.h"

namespace pivrak {

/// Keeps a journal of the session's edits on the disk, beside the project or, for a new one, in a folder of
/// its own; it is there within a second of each edit and goes when all is saved or given up. What a crash
/// left behind is found here and done again.
class Autosave : public QObject {
    Q_OBJECT

public:
    Autosave(Session& session, std::filesystem::path folder, QObject* parent = nullptr);

    /// Work that was left behind.
    struct Left {
        std::filesystem::path journal, project;
        std::size_t steps = 0;
        QString last_title;
        QDateTime last_time;
    };
    /// Of new projects; those that another window works on are not told.
    std::vector<Left> leftBehind() const;
    /// Of one project.
    std::optional<Left> leftBehindOf(const std::filesystem::path& project) const;
    /// In plain words: what, when, how many steps.
    static QString words(const Left& left);

    /// Does left work again, off the interface thread, and goes on with its journal. What cannot be done
    /// again is told, and the journal is kept beside for a person to look at.
    void bringBack(const Left& left);
    void throwAway(const Left& left);
    /// The window closes and nothing is to be kept.
    void finish();

    const std::optional<Journal>& journal() const { return journal_; }

private:
    std::optional<Left> read(const std::filesystem::path& path) const;
    std::filesystem::path pathFor(const std::filesystem::path& project) const;
    bool ready();
    void restart(const JournalBase& base);
    void restartFromSnapshot();
    void written(const Result<void>& result);
    void taken(const nlohmann::json& step, const QString& title);
    void back();
    void on();

    Session& session_;
    std::filesystem::path folder_;
    std::optional<Journal> journal_;
    std::size_t depth_ = 0, ahead_ = 0;  ///< steps of the journal in force, and undone ones
    int number_ = 0;                     ///< of the windows of this process
    bool complained_ = false;
    QTimer to_disk_;
};

}  // namespace pivrak
