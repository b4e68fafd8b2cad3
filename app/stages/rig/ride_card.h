#pragma once

#include "app/stages/kit/form_card.h"

namespace pivrak {

/// Lets the picked parts ride the path in hand, and moves them along it.
class RideCard : public FormCard {
    Q_OBJECT

public:
    explicit RideCard(Session& session);
    void refresh();
    /// What changes while things move: how far along it is.
    void refreshMotion();
    /// How the fields say that a part rides, as arguments.
    nlohmann::json way() const;

protected:
    void amend(nlohmann::json& step) const override;
    void doStep() override { session_.run(step()); }

private:
    void goAlong();
    void showRide(const Part& part);
    QString placeWords(const Part& part) const;

    QPushButton* leave_;
    QLineEdit* along_;
    QLabel *path_, *along_facts_;
    PartId shown_for_;
};

/// Couples carriages that ride the path in hand.
class StringCard : public FormCard {
    Q_OBJECT

public:
    /// They ride as `ride` says.
    StringCard(Session& session, const RideCard& ride);
    void refresh();

protected:
    void amend(nlohmann::json& step) const override;
    QString obstacle() const override;

private:
    const RideCard& ride_;
};

}  // namespace pivrak
