#include "core/checks/pivots/swing_frame.h"

namespace pivrak {

Frame SwingMotion::moved(const Frame& world_from_rest, double value) const {
    const Frame step = kind == SweepKind::Turn ? Frame{turn_about_axis(2, value), Vec3(0, 0, 0)}
                                               : Frame{Quat(1, 0, 0, 0), Vec3(0, 0, value)};
    return world_from_motion * step * world_from_motion.inverse() * world_from_rest;
}

std::optional<SwingMotion> swing_motion(const Document& document, PartId id) {
    const Part& part = *document.parts.find(id);
    const bool turns = part.joint.has(ChannelKind::Turn);
    if (!turns && !part.joint.has(ChannelKind::Shift)) return std::nullopt;
    Mat3 axes;
    for (int k = 0; k < 3; ++k) axes.col(k) = Vec3::Unit((part.joint.axis + 1 + k) % 3);
    return SwingMotion{{id, turns ? ChannelKind::Turn : ChannelKind::Shift},
                       turns ? SweepKind::Turn : SweepKind::Shift,
                       world_from_rest(document, id) * Frame{Quat(axes), Vec3(0, 0, 0)}};
}

SweepBody swing_body(const Document& document, const SwingMotion& motion, const std::vector<PartId>& parts) {
    SweepBody body;
    for (const PartId id : shaped_parts(document, parts)) {
        const Part& part = *document.parts.find(id);
        body.members.push_back(
            {document.shapes.find(part.shape)->mesh,
             motion.world_from_motion.inverse() * world_from_rest(document, id) * part.part_from_shape});
    }
    return body;
}

std::vector<PartId> shaped_parts(const Document& document, const std::vector<PartId>& parts) {
    std::vector<PartId> shaped;
    for (const PartId id : parts)
        if (document.shapes.find(document.parts.find(id)->shape)) shaped.push_back(id);
    return shaped;
}

}  // namespace pivrak
