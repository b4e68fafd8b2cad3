#pragma once

#include "app/stages/kit/form_card.h"

namespace pivrak {

/// What is done to many keys at once: the picked ones, else those of the picked parts, or all of the clip,
/// between two frames when these are said.
class KeyEditCard : public FormCard {
    Q_OBJECT

public:
    explicit KeyEditCard(Session& session);

protected:
    std::string operation() const override { return lead(); }
    void amend(nlohmann::json& step) const override;
    QString obstacle() const override;
    void doStep() override { session_.run(step()); }
};

}  // namespace pivrak
