#pragma once

#include <QString>
#include <QStringList>
#include <functional>

class QWidget;

namespace pivrak {

/// The questions a window asks a person, replaceable so that a test can answer. An empty answer means the
/// person changed their mind.
struct Questions {
    std::function<QString(QWidget*, const QString& title, const QString& filter)> open_file;
    std::function<QString(QWidget*, const QString& title, const QString& proposed, const QString& filter)>
        save_file;
    enum class Unsaved { Save, Discard, Stay };
    std::function<Unsaved(QWidget*)> unsaved;
    enum class LeftWork { BringBack, ThrowAway, Later };
    /// Of work that a crash left behind, in words; without an answer it stays for later.
    std::function<LeftWork(QWidget*, const QString& words)> left_work = {};
    /// Whether parts shall go although others lose what they take from them, line by line.
    std::function<bool(QWidget*, const QStringList& losses)> removal = {};
    static Questions asked_in_dialogs();
};

}  // namespace pivrak
