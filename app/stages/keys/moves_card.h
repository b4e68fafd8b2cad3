#pragma once

#include "app/stages/kit/form_card.h"

namespace pivrak {

/// Whole moves of the picked parts: one after the other, put apart, made into keys, or into an answer to what
/// another part does.
class MovesCard : public FormCard {
    Q_OBJECT

public:
    explicit MovesCard(Session& session);

protected:
    std::string operation() const override { return lead(); }
    void amend(nlohmann::json& step) const override;
    QString obstacle() const override;
    void doStep() override { session_.run(step()); }
};

}  // namespace pivrak
