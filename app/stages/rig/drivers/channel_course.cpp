#include "app/stages/rig/drivers/channel_course.h"

#include <algorithm>

#include "core/motion/evaluator.h"

namespace pivrak {

std::vector<Course> channel_courses(const Document& document, ClipId clip_id,
                                    const std::vector<ChannelRef>& channels, const Progress& progress) {
    std::vector<Course> courses(channels.size());
    const Clip& clip = clip_or_first(document, clip_id);
    const auto evaluator = Evaluator::compile(document, clip.id);
    if (!evaluator) return courses;
    Pose pose = evaluator->make_pose();
    const double frames = clip.last_frame - clip.first_frame;
    const int samples = std::clamp(static_cast<int>(frames), 2, 240);
    for (int i = 0; i <= samples && progress.go_on(static_cast<double>(i) / samples, ""); ++i) {
        const double frame = clip.first_frame + frames * i / samples;
        evaluator->evaluate(frame, pose);
        for (std::size_t k = 0; k < channels.size(); ++k)
            if (const auto slot = evaluator->channel_slot(channels[k]))
                courses[k].push_back({frame, pose.channels[*slot]});
    }
    return courses;
}

Course channel_course(const Document& document, ClipId clip, ChannelRef channel, const Progress& progress) {
    return channel_courses(document, clip, {channel}, progress).front();
}

}  // namespace pivrak
