#pragma once

#include "app/stages/kit/form_card.h"
#include "app/stages/kit/place_button.h"

namespace pivrak {

/// Lays open runs: a hoist wound on a drum, a cord between two parts, a chain that hangs over a wheel, a
/// cable chain that folds.
class RunCard : public FormCard {
    Q_OBJECT

public:
    explicit RunCard(Session& session);
    void refresh();

protected:
    std::string operation() const override { return lead() == "fold" ? "chain.fold" : "chain.run"; }
    void amend(nlohmann::json& step) const override;

private:
    /// Ties an end where a place was clicked last, or lets that go when it is there already.
    void takePlace(std::optional<PickedPlace>& end);
    void tie(nlohmann::json& step, const char* part, const std::optional<PickedPlace>& end) const;
    QString whereWords(const std::optional<PickedPlace>& end) const;

    PlaceButton* click_;
    QPushButton *start_, *end_;
    QLabel* tied_;
    std::optional<PickedPlace> start_at_, end_at_;
};

}  // namespace pivrak
