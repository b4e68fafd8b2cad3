#pragma once

#include <QTimer>

#include "app/session/session.h"
#include "app/stages/kit/card.h"

namespace pivrak {

/// Stands a model up: what is up and what is the front, its true size, the ground, the middle. Every change
/// is shown at once, before it is taken.
class StandCard : public Card {
    Q_OBJECT

public:
    explicit StandCard(Session& session, QWidget* parent = nullptr);
    void refresh();

private:
    void show();
    void showGuess();
    void fillModels();
    nlohmann::json step() const;
    std::optional<std::pair<Vec3, Vec3>> pickedPoints() const;

    Session& session_;
    QComboBox *what_, *up_, *front_, *side_;
    QWidget* what_row_;
    QLineEdit* length_;
    QPushButton *points_, *guess_, *show_;
    QCheckBox *ground_, *touching_, *centre_;
    QLabel *distance_, *reason_;
    double guessed_ = 1;
    QTimer soon_;
};

}  // namespace pivrak
