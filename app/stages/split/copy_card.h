#pragma once

#include "app/stages/kit/form_card.h"
#include "app/stages/kit/place_button.h"

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
    QString obstacle() const override;
    bool isOfUse(const std::string& argument) const override;

private:
    std::optional<Vec3> clicked(std::size_t before) const;
    std::optional<Plane> picked() const;
    bool isPicked() const;
    Vec3 centre(const nlohmann::json& parts) const;
    void listPaths();

    PlaceButton* click_;
};

}  // namespace pivrak
