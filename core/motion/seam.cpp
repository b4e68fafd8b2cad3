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
    double away = 0;
    for (const double frame : clip_frames(clip)) away = std::max(away, (place(frame) - start).norm());
    if (away <= closed_m) return std::nullopt;
    for (const double frame : {clip.last_frame, clip.last_frame + 1})
        if ((place(frame) - start).norm() <= closed_m) return frame;
    return std::nullopt;
}

}  // namespace pivrak
