#pragma once

#include "app/session/session.h"
#include "app/stages/kit/card.h"

namespace pivrak {

/// Controls: drawn frames for the animator, sized to what they drive; and hands off, when only they are
/// picked.
class ControlCard : public Card {
    Q_OBJECT

public:
    explicit ControlCard(Session& session, QWidget* parent = nullptr);
    void refresh();

private:
    void change(nlohmann::json step);
    nlohmann::json pickedControls() const;
    Session& session_;
    QComboBox *form_, *color_;
    QPushButton *add_, *smaller_, *larger_, *fit_, *plain_, *hands_off_;
    QLabel* state_;
};

}  // namespace pivrak
