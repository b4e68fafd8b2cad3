#pragma once

#include <QAction>
#include <QKeySequence>
#include <QObject>
#include <functional>
#include <vector>

namespace pivrak {

/// One thing a person can do: its words, its shortcut, and why it cannot be done now.
struct ActionSpec {
    QString id, menu, title;
    QKeySequence shortcut;
    std::function<void()> run;
    std::function<QString()> obstacle;  ///< empty answer, or no function: it can be done
};

/// Every action of the window in one table; menus, the finder and the shortcut sheet are made from it.
class Actions : public QObject {
    Q_OBJECT

public:
    explicit Actions(QWidget& window);
    void add(ActionSpec spec);
    struct Entry {
        ActionSpec spec;
        QAction* action;
        QString why_not() const { return spec.obstacle ? spec.obstacle() : QString(); }
    };
    const std::vector<Entry>& all() const { return entries_; }
    const Entry* find(const QString& id) const;
    /// Greys what cannot be done now, and says why in its tip.
    void update();
    /// Gives an action another shortcut and remembers it; a shortcut taken from another action leaves that
    /// one without.
    void setShortcut(const QString& id, const QKeySequence& shortcut);

private:
    QWidget& window_;
    std::vector<Entry> entries_;
};

}  // namespace pivrak
