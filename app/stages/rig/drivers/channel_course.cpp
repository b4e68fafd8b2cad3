#include "app/stages/rig/drivers/channel_course.h"

#include <algorithm>

#include "core/motion/evaluator.h"

namespace pivrak {

std::vector<FormulaPlot::Sample> channel_course(const Document& document, ClipId clip_id, ChannelRef channel,
                                                const Progress& progress) {
    std::vector<FormulaPlot::Sample> course;
    const Clip& clip = clip_or_first(document, clip_id);
    const auto evaluator = Evaluator::compile(document, clip.id);
    const auto slot = evaluator ? evaluator->channel_slot(channel) : std::nullopt;
    if (!slot) return course;
    Pose pose = evaluator->make_pose();
    const double frames = clip.last_frame - clip.first_frame;
    const int samples = std::clamp(static_cast<int>(frames), 2, 240);
    for (int i = 0; i <= samples && progress.go_on(static_cast<double>(i) / samples, ""); ++i) {
        const double frame = clip.first_frame + frames * i / samples;
        evaluator->evaluate(frame, pose);
        course.push_back({frame, pose.channels[*slot]});
    }
    return course;
}

}  // namespace pivrak
