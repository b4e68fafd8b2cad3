#include "core/operations/constraints/posed.h"

#include "core/operations/keys/clip_access.h"
#include "core/rig/joint_motion.h"

namespace pivrak {

Result<Posed> Posed::at(const Document& document, ClipId clip, double frame) {
    Posed posed(document);
    PIVRAK_TRY(evaluator, Evaluator::compile(document, clip));
    posed.evaluator_ = std::move(evaluator);
    posed.pose_ = posed.evaluator_->make_pose();
    posed.evaluator_->evaluate(frame, *posed.pose_);
    return posed;
}

Result<Posed> Posed::asked(const Document& document, const Arguments& arguments) {
    if (!arguments.has("frame")) return Posed(document);
    PIVRAK_TRY(clip, clip_named(document, arguments));
    PIVRAK_CHECK(check_key_frame(arguments.number("frame")));
    return at(document, clip->id, arguments.number("frame"));
}

Frame Posed::world(PartId part) const {
    if (!part) return {};
    return pose_ ? pose_->world_from_part[*evaluator_->part_slot(part)] : world_from_rest(document_, part);
}

Frame Posed::rest(PartId part) const {
    if (!pose_) return world_from_rest(document_, part);
    const Joint& joint = document_.parts.find(part)->joint;
    std::array<double, 6> values{};
    std::size_t k = 0;
    for (const ChannelKind kind : channels_of(joint.kind)) values[k++] = value({part, kind});
    return world(part) * rest_from_part(joint.kind, joint.axis, values.data()).inverse();
}

ArgumentSpec frame_argument() {
    return worded({"frame",
                   ArgumentKind::Number,
                   "the frame at which what is kept is measured; at rest when left out",
                   false,
                   {},
                   {}},
                  "As at frame", "at rest");
}

}  // namespace pivrak
