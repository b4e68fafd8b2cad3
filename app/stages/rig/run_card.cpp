#include "app/stages/rig/run_card.h"

namespace pivrak {

RunCard::RunCard(Session& session)
    : FormCard(session, "run", {"chain.run", "chain.fold"},
               {tr("New hoist, cord or cable chain"), tr("Lay run"), "layRun",
                tr("Pick what it runs over, from its start to its end, and what it is tied to, and take each "
                   "here.")}) {
    add({.argument = "@kind",
         .label = tr("Kind"),
         .choices = {{tr("hoist, wound on a drum"), "wound"},
                     {tr("cord between two parts"), "tied"},
                     {tr("chain that hangs over a wheel"), "loose"},
                     {tr("cable chain that folds"), "fold"}},
         .object_name = "runKind"},
        true);
    add({.argument = "from", .shown_for = {"tied", "fold"}, .object_name = "runFrom"});
    add({.argument = "wheels",
         .tip =
             tr("Pick the wheels one after the other, with Shift, from its start to its end; a drum is the "
                "first"),
         .object_name = "runWheels"});
    add({.argument = "to", .label = tr("Ends at"), .placeholder = tr("take picked"), .object_name = "runTo"});
    add({.argument = "pulls",
         .tip = tr("A hinge or slide that is moved so that the length stays: what hangs at its end, or the "
                   "drum when something else draws the rope"),
         .object_name = "runPulls"});
    add({.argument = "pitch", .begins = tr("30 mm"), .object_name = "runPitch"});
    add({.argument = "pin_height", .object_name = "runOff"});
    add({.argument = "wound",
         .shown_for = {"wound", "loose"},
         .begins = QStringLiteral("3"),
         .object_name = "runWound"});
    add({.argument = "other_side",
         .tip = tr("Wheels that it passes on the other side than the shortest way"),
         .object_name = "runOtherSide"});
    add({.argument = "reach",
         .label = tr("Travel past start"),
         .placeholder = tr("as it stands"),
         .object_name = "runReach"});
    add({.argument = "bend",
         .label = tr("Least bend radius"),
         .placeholder = tr("0 mm"),
         .object_name = "runBend"});
    add({.argument = "back", .label = tr("Leaves its start the other way"), .object_name = "runBack"});
    add({.argument = "name", .placeholder = tr("by its kind"), .object_name = "runName"});
    finish(true);
}

void RunCard::amend(nlohmann::json& step) const {
    if (lead() == "loose") step["loose"] = true;
    // A cord that nobody ties at its start is no hoist: it waits for that.
    if (lead() == "tied" && !step.contains("from")) step["wheels"] = nullptr;
}

}  // namespace pivrak
