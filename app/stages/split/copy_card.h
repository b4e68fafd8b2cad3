#pragma once

#include "app/stages/kit/form_card.h"

namespace pivrak {

/// Copies, mirrors and repeats branches with all that is rigged in them.
class CopyCard : public FormCard {
    Q_OBJECT

public:
    explicit CopyCard(Session& session);
    void refresh();

protected:
    std::string operation() const override { return lead(); }
    void amend(nlohmann::json& step) const override;

private:
    Vec3 centre(const nlohmann::json& parts) const;
};

}  // namespace pivrak
