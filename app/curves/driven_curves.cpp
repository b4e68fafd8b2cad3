#include "app/curves/driven_curves.h"

#include <algorithm>

#include "core/motion/evaluator.h"

namespace pivrak {

std::vector<DrivenCurve> driven_courses(const Document& document, ClipId clip_id,
                                        std::vector<DrivenCurve> curves, const Progress& progress) {
    const Clip& clip = clip_or_first(document, clip_id);
    const auto evaluator = Evaluator::compile(document, clip.id);
    if (!evaluator) return {};
    std::erase_if(curves, [&](const DrivenCurve& one) { return !evaluator->channel_slot(one.channel); });
    Pose pose = evaluator->make_pose();
    const double frames = clip.last_frame - clip.first_frame;
    const int samples = std::clamp(static_cast<int>(frames), 2, 240);
    for (int i = 0; i <= samples && progress.go_on(static_cast<double>(i) / samples, ""); ++i) {
        const double frame = clip.first_frame + frames * i / samples;
        evaluator->evaluate(frame, pose);
        for (DrivenCurve& one : curves)
            one.samples.push_back({frame, pose.channels[*evaluator->channel_slot(one.channel)]});
    }
    return curves;
}

}  // namespace pivrak
