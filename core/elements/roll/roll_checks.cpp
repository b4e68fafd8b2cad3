#include <fmt/format.h>

#include "core/checks/clip_check.h"
#include "core/checks/drive/drive_mapper.h"
#include "core/checks/element_check.h"
#include "core/checks/over_words.h"
#include "core/motion/seam.h"

namespace pivrak {

namespace {
constexpr double seam_tolerance_rad = 0.5 * rad_per_deg;
}

void check(const Roll& roll, ElementCheck& out) {
    const PartId wheel = roll.driven.part();
    if (roll.radius_m > 0 || out.facts.wheel(out.document, out.tree, wheel).radius_m > 1e-6) return;
    out.add(
        Stage::Rig, "roll.no_radius", wheel,
        fmt::format("'{}' rolls, but has no shape to measure its radius on", name_of(out.document, wheel)));
}

/// A wheel that stands otherwise where its loop closes than where it began.
void watch(const Roll& roll, ClipCheck& out) {
    if (roll.like || !out.clip.loop) return;
    const auto seam = seam_frame(out.evaluator, out.clip, roll.driven.part());
    if (!seam) return;
    Pose end = out.evaluator.make_pose();
    out.evaluator.evaluate(*seam, end);
    const std::size_t slot = *out.evaluator.part_slot(roll.driven.part());
    const double off =
        angle_between(out.first_pose().world_from_part[slot].rotation, end.world_from_part[slot].rotation);
    if (off <= seam_tolerance_rad) return;
    const Part& wheel = *out.document.parts.find(roll.driven.part());
    out.add("wheel.seam", wheel.id,
            fmt::format("'{}' stands {} off where '{}' begins again (allowed {})", wheel.name,
                        angle_over(off, seam_tolerance_rad, 1), out.clip.name,
                        format_angle(seam_tolerance_rad, 1)),
            std::nullopt,
            {{"op", "coupling.whole_turns"}, {"parts", {wheel.id.value}}, {"clip", out.clip.name}},
            "Let it turn whole times a lap");
}

void map(const Roll& roll, DriveMapper& out) {
    const auto driver = roll.moved_by();
    if (!driver) return;
    const std::string words = roll.radius_m > 0 ? fmt::format("r {}", short_length(roll.radius_m)) : "rolls";
    out.add(*driver, roll.driven, roll.like ? "one track" : words);
}

}  // namespace pivrak
