#pragma once

#include <map>

#include "app/stages/kit/form_card.h"

namespace pivrak {

/// Measures of the picked stand-ins, to be changed; what counts on them follows.
class StandInSizesCard : public FormCard {
    Q_OBJECT

public:
    explicit StandInSizesCard(Session& session);
    void refresh();

protected:
    std::string lead() const override { return kind_; }
    QString obstacle() const override;
    void amend(nlohmann::json& step) const override;

private:
    const nlohmann::json* measures() const;
    /// Fills the fields with the measures of the part picked last.
    void fill();

    std::string kind_;                    ///< of the part picked last; empty when that is no stand-in
    std::map<std::string, QString> was_;  ///< as fields were filled
    nlohmann::json filled_;               ///< from
};

}  // namespace pivrak
