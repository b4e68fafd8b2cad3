#include "app/stages/rig/drivers/sway_card.h"

#include "app/stages/rig/drivers/channel_choices.h"

namespace pivrak {

SwayCard::SwayCard(Session& session)
    : FormCard(
          session, "sway", {"sway.add"},
          {tr("Sway"), tr("Let them sway"), "addSway", tr("Pick the parts that sway, and say how far.")}) {
    add({.argument = "goes",
         .choices = {{tr("smooth chance"), "chance"}, {tr("even swings"), "swing"}},
         .object_name = "swayGoes"},
        true);
    add({.argument = "channel",
         .label = tr("With their"),
         .choices = channelChoices(),
         .object_name = "swayWith"});
    add({.argument = "strength",
         .placeholder = tr("5 deg, 20 mm"),
         .tip = tr("How far to either side of what keys and hands ask"),
         .object_name = "swayStrength"});
    add({.argument = "pace", .object_name = "swayPace"});
    add({.argument = "with_clip", .object_name = "swayWithClip"});
    add({.argument = "seed", .shown_for = {"chance"}, .object_name = "swaySeed"});
    add({.argument = "delay", .object_name = "swayDelay"});
    add({.argument = "step_delay", .object_name = "swayStepDelay"});
    finish(true);
}

}  // namespace pivrak
