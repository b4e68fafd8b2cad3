#pragma once

#include <QObject>

#include "app/session/session.h"
#include "app/shell/actions.h"
#include "app/shell/questions.h"
#include "app/shell/theme.h"
#include "app/timeline/player.h"
#include "app/view/viewport.h"

namespace pivrak {

class HelpWindow;
class StepsWindow;

/// What the menus offer besides files: each action with its keys, and why it cannot be done when it cannot.
class WindowActions : public QObject {
    Q_OBJECT

public:
    WindowActions(Actions& actions, Session& session, Viewport& view, Player& player, Look& look,
                  const Questions& questions, QWidget* window)
        : QObject(window),
          actions_(actions),
          session_(session),
          view_(view),
          player_(player),
          look_(look),
          questions_(questions),
          window_(window) {}

    /// Menu by menu, in the order in which they stand.
    void add();

signals:
    void finderAsked();
    void cardAsked(Stage stage, const QString& tab);

private:
    void addEditActions();
    void addPickActions();
    void addViewActions();
    void addPartActions();
    void addKeyActions();
    /// Asks first where others lose what they take from what goes.
    void removeParts();
    void help(bool first_machine);
    void stepKey(int direction);
    QString nothingPicked() const;
    QString gaugeObstacle(Dimension dimension) const;

    Actions& actions_;
    Session& session_;
    Viewport& view_;
    Player& player_;
    Look& look_;
    const Questions& questions_;
    QWidget* window_;
    // From the first time that they are asked for.
    HelpWindow* help_ = nullptr;
    StepsWindow* steps_ = nullptr;
};

}  // namespace pivrak
