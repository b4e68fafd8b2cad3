#pragma once

#include "app/session/session.h"
#include "app/stages/kit/card.h"
#include "app/stages/kit/place_button.h"

namespace pivrak {

/// Puts a part onto another by two clicks: a place of the one that moves, then where it goes.
class SnapCard : public Card {
    Q_OBJECT

public:
    explicit SnapCard(Session& session, QWidget* parent = nullptr);
    void refresh();

private:
    nlohmann::json step() const;
    Session& session_;
    PlaceButton* click_;
    QComboBox* along_;
    QPushButton *onto_, *faces_;
    QLabel* facts_;
};

}  // namespace pivrak
