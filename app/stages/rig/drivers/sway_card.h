#pragma once

#include "app/stages/kit/form_card.h"

namespace pivrak {

/// Lets the picked parts shake or swing about what keys and hands ask of them.
class SwayCard : public FormCard {
    Q_OBJECT

public:
    explicit SwayCard(Session& session);

protected:
    void doStep() override { session_.run(step()); }
};

}  // namespace pivrak
