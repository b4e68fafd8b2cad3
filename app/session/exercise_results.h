#pragma once

#include <QObject>
#include <optional>

#include "app/session/session.h"
#include "core/checks/exercise/exercise.h"

namespace pivrak {

/// Owner of the last exercise, and of the row of it that is shown; told to be of before when the project has
/// changed since.
class ExerciseResults : public QObject {
    Q_OBJECT

public:
    explicit ExerciseResults(Session& session, QObject* parent = nullptr);
    const std::optional<ExerciseReport>& report() const { return report_; }
    bool isStale() const { return stale_; }
    bool isRunning() const { return running_; }
    /// Runs off the interface thread, with progress.
    void run(const ExerciseOptions& options);
    /// Poses the machine as a row says and picks what it is about; changes nothing.
    void show(std::size_t row);
    /// Writes the report as the ending asks.
    void save(const QString& path);

signals:
    void changed();

private:
    Session& session_;
    std::optional<ExerciseReport> report_;
    bool stale_ = false, running_ = false;
    int project_ = 0;  ///< counts those that were opened
};

}  // namespace pivrak
