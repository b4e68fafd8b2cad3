#include <fmt/format.h>

#include "core/checks/clip_check.h"
#include "core/checks/drive/drive_mapper.h"
#include "core/checks/element_check.h"

namespace pivrak {

void check(const Carry& carry, ElementCheck& out) {
    const Part* part = out.document.parts.find(carry.part);
    if (!part || carry.off || (!part->ride && !part->tow)) return;
    out.add(Stage::Rig, "carry.without_effect", carry.part,
            fmt::format("'{}' has no effect: '{}' hangs where its {} puts it", carry.name, part->name,
                        part->ride ? "path" : "hitch"),
            {{"op", "carry.remove"}, {"carries", {carry.id.value}}}, "Remove it");
}

/// It carries at every frame.
void watch(const Carry&, ClipCheck&) {}

/// A carrier moves a part's frame, and no channel.
void map(const Carry&, DriveMapper&) {}

}  // namespace pivrak
