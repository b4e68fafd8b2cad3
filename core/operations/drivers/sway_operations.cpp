#include <fmt/format.h>

#include "core/base/words.h"
#include "core/model/element_channels.h"
#include "core/motion/evaluator.h"
#include "core/operations/all_operations.h"
#include "core/operations/channel_access.h"
#include "core/operations/drivers/driven_channel.h"

namespace pivrak {
namespace {

/// A channel keeps its keys and hands: a sway of it that was there is replaced, anything else refused.
Result<void> make_swayable(Document& document, ChannelRef channel) {
    const SharedTable<Coupling> couplings = document.couplings;
    for (const Coupling& coupling : couplings)
        if (coupling.driven() == channel && coupling.as<Sway>()) document.couplings.erase(coupling.id);
    return check_free_channel(Drivers(document), channel);
}

Result<Outcome> sway_add(const Document& document, const Arguments& a, const OperationContext&) {
    Outcome out{document};
    double number = 0;
    const double seed = a.integer("seed");
    for (const PartId part : a.parts("parts")) {
        PIVRAK_TRY(driven, channel_at(document, part, a.values().at("channel")));
        PIVRAK_TRY(strength, a.value("strength", dimension_of(driven.kind), document.settings.length_unit));
        const std::string name = channel_name(document, driven);
        if (!(std::abs(strength) > 0))
            return Error{"sway.strength", fmt::format("'{}' would sway by nothing", name), "strength"};
        Sway sway{driven, *value_of<SwayKind>(sway_kind_words, a.text("goes")), strength,
                  a.number_if("pace").value_or(1),
                  a.number_if("delay").value_or(0) + number * a.number_if("step_delay").value_or(0),
                  // Without a delay from one to the next each has a chance of its own.
                  seed + (a.has("step_delay") ? 0 : number), a.flag("with_clip")};
        if (const Damaged why = sway.damaged())
            return Error{"sway.damaged", fmt::format("'{}' cannot sway so: {}", name, *why), name};
        PIVRAK_CHECK(make_swayable(out.document, driven));
        out.document.couplings.set({out.document.new_id<CouplingId>(), sway});
        ++number;
    }
    if (const auto compiled = Evaluator::check(out.document); !compiled) return compiled.error();
    out.messages.push_back(fmt::format("{} sway{} about what keys and hands ask",
                                       counted(a.parts("parts").size(), "part"),
                                       a.parts("parts").size() == 1 ? "s" : ""));
    return out;
}

}  // namespace

void add_sway_operations(Registry& registry) {
    ArgumentSpec goes{"goes", ArgumentKind::Choice, "by smooth chance, or evenly to and fro", false, "chance",
                      {}};
    goes.choices.assign(sway_kind_words.begin(), sway_kind_words.end());
    const auto number = [](const char* name, const char* summary, const char* label, const char* empty,
                           const char* group = "") {
        return worded({name, ArgumentKind::Number, summary, false, {}, {}}, label, empty, group);
    };
    registry.add(
        {"sway.add",
         "Sway",
         "Channels shake or swing about what keys and hands ask of them.",
         {parts_argument("parts that sway, in their order"),
          driven_channel_argument("channel", "which channel of theirs; the joint's own when left out"),
          worded(goes, "Goes by"),
          worded({"strength", ArgumentKind::Value, "how far to either side at most", true, {}, {}},
                 "Strength"),
          number("pace", "swings in a second", "Swings a second", "1"),
          number("delay", "frames later", "Later by", "0 frames"),
          number("step_delay",
                 "each next part does the same so many frames later; else each has its own chance",
                 "Next: later by", "its own chance", "Each next one"),
          worded({"seed", ArgumentKind::Integer, "another whole number, another chance", false, 1, {}},
                 "Seed", "1"),
          worded({"with_clip",
                  ArgumentKind::Flag,
                  "whole swings in the clip: its end goes over into its start",
                  false,
                  false,
                  {}},
                 "repeats with the clip")},
         sway_add});
}

}  // namespace pivrak
