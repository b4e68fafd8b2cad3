#pragma once

#include <QLabel>
#include <QPushButton>
#include <QWidget>
#include <vector>

#include "app/session/session.h"
#include "app/timeline/player.h"

namespace pivrak {

/// One line of the first machine, and how it is seen in a project that it is done.
struct FirstStep {
    QString words;
    Stage stage;
    QString tab;  ///< of its panel; empty where it has none
    std::function<bool(const Session&, const Player&)> done;
};

/// From an empty project to two gears that turn, in the order in which a person does it.
std::vector<FirstStep> first_machine_steps();

/// The lines with a tick at each that is done in the open project, and a button that goes where it is done.
class FirstMachine : public QWidget {
    Q_OBJECT

public:
    FirstMachine(Session& session, const Player& player, QWidget* parent = nullptr);

signals:
    void cardAsked(Stage stage, const QString& tab);

private:
    void refresh();
    Session& session_;
    const Player& player_;
    std::vector<FirstStep> steps_;
    std::vector<QLabel*> marks_;
    QLabel* state_;
};

}  // namespace pivrak
