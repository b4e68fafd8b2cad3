#pragma once

#include "app/stages/kit/form_card.h"

namespace pivrak {

/// Sets planets round their carrier's axis.
class PlanetCard : public FormCard {
    Q_OBJECT

public:
    explicit PlanetCard(Session& session);
};

}  // namespace pivrak
