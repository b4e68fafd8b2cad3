#pragma once

#include "app/stages/kit/form_card.h"

namespace pivrak {

/// Controls: drawn frames for the animator, sized to what they drive; and hands off, when only they are
/// picked.
class ControlCard : public FormCard {
    Q_OBJECT

public:
    explicit ControlCard(Session& session);
    void refresh();

protected:
    void amend(nlohmann::json& step) const override;
    void doStep() override { session_.run(step()); }

private:
    void change(nlohmann::json step);
    nlohmann::json pickedControls() const;
    QPushButton *smaller_, *larger_, *fit_, *plain_, *hands_off_;
};

}  // namespace pivrak
