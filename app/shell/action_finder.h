#pragma once

#include <QDialog>
#include <QLineEdit>
#include <QListWidget>

#include "app/shell/actions.h"

namespace pivrak {

/// Finds an action by its words: shows its shortcut and, when it cannot be done, why.
class ActionFinder : public QDialog {
    Q_OBJECT

public:
    ActionFinder(Actions& actions, QWidget* parent);
    void open() override;

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void fill();
    void choose();
    Actions& actions_;
    QLineEdit* entry_;
    QListWidget* list_;
};

/// The sheet of shortcuts; each can be changed here.
class ShortcutSheet : public QDialog {
    Q_OBJECT

public:
    ShortcutSheet(Actions& actions, QWidget* parent);
};

}  // namespace pivrak
