#include <fmt/format.h>

#include "core/checks/clip_check.h"
#include "core/checks/drive/drive_mapper.h"
#include "core/checks/element_check.h"

namespace pivrak {

void check(const Path& path, ElementCheck& out) {
    const auto measured = out.facts.path(out.document, path);
    if (!measured) return out.add(Stage::Rig, measured.error().code, {}, measured.error().message);
    if ((*measured)->missing_m > 0)
        out.add(Stage::Rig, "path.no_ground", path.drape->ground,
                fmt::format("{} of path '{}' have no ground below",
                            format_length((*measured)->missing_m, out.document), path.name));
}

/// Riders tell.
void watch(const Path&, ClipCheck&) {}

/// Riders go by themselves.
void map(const Path&, DriveMapper&) {}

}  // namespace pivrak
