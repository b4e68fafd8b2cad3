#include "core/motion/place_course.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/motion/bake.h"

namespace pivrak {

double PlaceCourse::way_m() const {
    double way = 0;
    for (std::size_t i = 1; i < places.size(); ++i) way += (places[i] - places[i - 1]).norm();
    return way;
}

std::size_t PlaceCourse::fastest() const {
    return static_cast<std::size_t>(std::ranges::max_element(speeds_m_s) - speeds_m_s.begin());
}

namespace {

/// By the chords to the moments beside each; at an end by the one.
void add_speeds(PlaceCourse& course, double rate) {
    const std::size_t last = course.places.size() - 1;
    for (std::size_t i = 0; i < course.places.size(); ++i) {
        const std::size_t a = i == 0 ? 0 : i - 1, b = std::min(i + 1, last);
        double way = 0;
        for (std::size_t k = a; k < b; ++k) way += (course.places[k + 1] - course.places[k]).norm();
        const double frames = course.frames[b] - course.frames[a];
        course.speeds_m_s.push_back(frames > 0 ? way / frames * rate : 0);
    }
}

}  // namespace

Result<PlaceCourse> place_course(const Document& document, ClipId clip_id, PartId part, const Vec3& place,
                                 const Progress& progress, std::size_t most) {
    const Clip& clip = clip_or_first(document, clip_id);
    PIVRAK_TRY(evaluator, Evaluator::compile(document, clip.id));
    const auto slot = evaluator.part_slot(part);
    if (!slot) return Error{"part.unknown", "there is no such part", ""};
    PlaceCourse course;
    const std::vector<double> all = clip_frames(clip);
    const std::size_t each = (all.size() + most - 1) / std::max<std::size_t>(most, 1);
    Pose pose = evaluator.make_pose();
    for (std::size_t i = 0; i < all.size(); ++i) {
        if (i % each != 0 && i + 1 < all.size()) continue;
        if (!progress.go_on(static_cast<double>(i) / static_cast<double>(all.size()), "following a place"))
            break;
        evaluator.evaluate(all[i], pose);
        course.frames.push_back(all[i]);
        course.places.push_back(pose.world_from_part[*slot].point(place));
    }
    if (!course.frames.empty()) add_speeds(course, frame_rate_of(document, clip));
    return course;
}

Result<LeastClearance> least_clearance(const Document& document, ClipId clip_id, PartId a, PartId b,
                                       const Progress& progress) {
    RigFacts facts;
    for (const PartId part : {a, b})
        if (!facts.clearance_body(document, Tree(document), part))
            return Error{
                "clearance.none",
                fmt::format("'{}' has no shape, and nothing fixed to it has", name_of(document, part)),
                name_of(document, part)};
    Document with = document;
    Measure measure;
    measure.id = with.new_id<MeasureId>();
    measure.name = "clearance";
    measure.what = Measures::Clearance;
    measure.a = a;
    measure.b = b;
    with.measures.set(measure);
    const Clip& clip = clip_or_first(with, clip_id);
    PIVRAK_TRY(evaluator, Evaluator::compile(with, clip.id));
    const auto slot = evaluator.channel_slot({measure.id, measure.gives()});
    Pose pose = evaluator.make_pose();
    const std::vector<double> frames = clip_frames(clip, 2);
    LeastClearance least{1e300, clip.first_frame};
    for (std::size_t i = 0; i < frames.size(); ++i) {
        if (!progress.go_on(static_cast<double>(i) / static_cast<double>(frames.size()),
                            "measuring clearance"))
            return Error{"clearance.cancelled", "cancelled", ""};
        evaluator.evaluate(frames[i], pose);
        if (pose.channels[*slot] < least.clearance_m) least = {pose.channels[*slot], frames[i]};
    }
    return least;
}

}  // namespace pivrak
