#pragma once

#include "app/session/laid_prints.h"
#include "app/stages/kit/form_card.h"

namespace pivrak {

/// Has picked wheels leave tracks on the ground, and shows how long these are and how well they lie.
class PrintCard : public FormCard {
    Q_OBJECT

public:
    PrintCard(Session& session, const LaidPrints& prints);
    void refresh();
    /// What changes while things move.
    void refreshMotion();

protected:
    void doStep() override { session_.run(step()); }

private:
    void change();
    void remove();
    std::vector<const Print*> inHand() const;
    QString factsOf(const Print& print) const;

    const LaidPrints& prints_;
    QPushButton *change_, *remove_;
};

}  // namespace pivrak
