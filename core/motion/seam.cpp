#include "core/motion/seam.h"

#include "core/motion/bake.h"

namespace pivrak {
namespace {
constexpr double closed_m = 1e-3;
}

std::optional<double> seam_frame(const Evaluator& evaluator, const Clip& clip, PartId part) {
    const auto slot = evaluator.part_slot(part);
    if (!clip.loop || !slot) return std::nullopt;
    Pose pose = evaluator.make_pose();
    const auto place = [&](double frame) {
        evaluator.evaluate(frame, pose);
        return pose.world_from_part[*slot].translation;
    };
    const Vec3 start = place(clip.first_frame);
    // Most clips close nowhere: that is seen first, before every frame is looked at.
    std::optional<double> seam;
    for (const double frame : {clip.last_frame, clip.last_frame + 1})
        if (!seam && (place(frame) - start).norm() <= closed_m) seam = frame;
    if (!seam) return std::nullopt;
    for (const double frame : clip_frames(clip))
        if ((place(frame) - start).norm() > closed_m) return seam;
    return std::nullopt;
}

}  // namespace pivrak
