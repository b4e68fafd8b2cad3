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
    const auto teeth = [&](const char* argument, const QString& label, const char* name) {
        add({.argument = argument, .label = label, .placeholder = tr("counted"), .object_name = name});
    };
    teeth("sun_teeth", tr("Teeth of the sun"), "planetSunTeeth");
    teeth("planet_teeth", tr("Teeth of a planet"), "planetPlanetTeeth");
    teeth("ring_teeth", tr("Teeth of the ring"), "planetRingTeeth");
    finish(true);
}

}  // namespace pivrak
