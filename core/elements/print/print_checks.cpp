#include <fmt/format.h>

#include "core/checks/clip_check.h"
#include "core/checks/drive/drive_mapper.h"
#include "core/checks/element_check.h"

namespace pivrak {

void check(const Print& print, ElementCheck& out) {
    const Part& wheel = *out.document.parts.find(print.wheel);
    if (wheel.joint.has(ChannelKind::Turn) &&
        out.facts.wheel(out.document, out.tree, wheel.id).radius_m > 1e-6)
        return;
    out.add(
        Stage::Rig, "print.wheel", wheel.id,
        fmt::format("'{}' leaves no print: '{}' is no hinge with a shape any more", print.name, wheel.name));
}

/// A print lies on the way of its wheel, whatever that is.
void watch(const Print&, ClipCheck&) {}

/// A print moves nothing.
void map(const Print&, DriveMapper&) {}

}  // namespace pivrak
