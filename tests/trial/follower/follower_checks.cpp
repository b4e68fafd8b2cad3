#include <fmt/format.h>

#include "core/checks/clip_check.h"
#include "core/checks/drive/drive_mapper.h"
#include "core/checks/element_check.h"

namespace pivrak {

void check(const Follower& follower, ElementCheck& out) {
    if (follower.gain > 100)
        out.add(Stage::Rig, "follower.gain", follower.driven.part(),
                fmt::format("'{}' follows {} fold", name_of(out.document, follower.driven.part()),
                            follower.gain));
}

/// It follows at every frame.
void watch(const Follower&, ClipCheck&) {}

void map(const Follower& follower, DriveMapper& out) {
    out.add(follower.driver, follower.driven, fmt::format("x {}", follower.gain));
}

}  // namespace pivrak
