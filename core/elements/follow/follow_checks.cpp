#include <fmt/format.h>

#include <cmath>

#include "core/checks/clip_check.h"
#include "core/checks/drive/drive_mapper.h"
#include "core/checks/element_check.h"
#include "core/elements/follow/follow_words.h"
#include "core/rig/driven_by.h"

namespace pivrak {
void check(const Follow& follow, ElementCheck& out) {
    if (follow.off || follow.delay_frames == 0 || !driver_name(out.document, follow.driver)) return;
    out.add(Stage::Rig, "follow.late", follow.driven.part(),
            fmt::format("'{}' follows {} frames later, but '{}' is driven and has no keys of its own: follow "
                        "what drives it",
                        channel_name(out.document, follow.driven), follow.delay_frames,
                        channel_name(out.document, follow.driver)));
}

/// What follows is where it follows to, or at its limit, which is told of every channel.
void watch(const Follow&, ClipCheck&) {}

void map(const Follow& follow, DriveMapper& out) {
    out.add(follow.driver, follow.driven, gain_words(follow));
}

}  // namespace pivrak
