#include <fmt/format.h>

#include "core/base/words.h"
#include "core/model/element_channels.h"
#include "core/operations/all_operations.h"
#include "core/operations/channel_access.h"
#include "core/operations/constraints/posed.h"
#include "core/operations/keys/clip_access.h"

namespace pivrak {
namespace {

/// Follows and formulas end; where that is asked the channel stays as it is at the frame.
Result<Outcome> driver_remove(const Document& document, const Arguments& a, const OperationContext&) {
    PIVRAK_TRY(clip, clip_named(document, a));
    PIVRAK_TRY(posed, Posed::at(document, clip->id, a.number_if("frame").value_or(clip->first_frame)));
    Outcome out{document};
    std::size_t count = 0;
    for (const PartId part : a.parts("parts")) {
        bool found = false;
        for (const Coupling& coupling : document.couplings) {
            const ChannelRef driven = coupling.driven();
            if (driven.part() != part || (!coupling.as<Follow>() && !coupling.as<Formula>())) continue;
            if (a.has("channel") && driven.kind != channel_of(a)) continue;
            found = true;
            ++count;
            out.document.couplings.erase(coupling.id);
            auto channel = find_channel(out.document, driven);
            if (!a.flag("hold") || !channel) continue;
            channel->value = posed.value(driven);
            put_channel(out.document, driven, *channel);
        }
        if (!found)
            return Error{"driver.none",
                         fmt::format("'{}' follows nothing and has no formula", name_of(document, part)),
                         name_of(document, part)};
    }
    out.messages.push_back(fmt::format("{} let go{}", counted(count, "channel"),
                                       a.flag("hold") ? ", each stays where it is" : ""));
    return out;
}

}  // namespace

void add_driver_operations(Registry& registry) {
    ArgumentSpec channel = channel_argument();
    channel.fallback = {};
    registry.add({"driver.remove",
                  "Let go",
                  "Channels follow nothing any more, and have no formula.",
                  {parts_argument("parts that followed"),
                   channel,
                   {"hold", ArgumentKind::Flag, "they stay as they are at the frame", false, false, {}},
                   frame_argument(),
                   clip_argument()},
                  driver_remove});
}

}  // namespace pivrak
