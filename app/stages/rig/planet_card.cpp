#include "app/stages/rig/planet_card.h"

namespace pivrak {

PlanetCard::PlanetCard(Session& session)
    : FormCard(session, "planet", {"coupling.planets"},
               {tr("Planets round an axis"), tr("Set planets"), "setPlanets",
                tr("Pick the sun, one planet under its carrier, the ring, and take each here.")}) {
    add({.argument = "sun", .placeholder = tr("take picked"), .object_name = "planetSun"});
    add({.argument = "planets",
         .label = tr("Planet, or all"),
         .placeholder = tr("take picked"),
         .object_name = "planetPlanets"});
    add({.argument = "ring", .placeholder = tr("take picked"), .object_name = "planetRing"});
    add({.argument = "count",
         .label = tr("How many"),
         .begins = QStringLiteral("3"),
         .object_name = "planetCount"});
    finish(true);
}

}  // namespace pivrak
