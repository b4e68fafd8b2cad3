#pragma once

#include "app/stages/kit/form_card.h"

namespace pivrak {

/// Lays open runs: a hoist wound on a drum, a cord between two parts, a chain that hangs over a wheel, a
/// cable chain that folds.
class RunCard : public FormCard {
    Q_OBJECT

public:
    explicit RunCard(Session& session);

protected:
    std::string operation() const override { return lead() == "fold" ? "chain.fold" : "chain.run"; }
    void amend(nlohmann::json& step) const override;
};

}  // namespace pivrak
