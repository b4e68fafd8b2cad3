#include "core/motion/run_context.h"

#include "core/rig/joint_motion.h"

namespace pivrak {

const Frame& RunContext::frame(std::int32_t node) const {
    static const Frame world;
    return node < 0 ? world : frames[static_cast<std::size_t>(node)];
}

Frame RunContext::joint_of(const NodeStep& node) const {
    Frame moved = node.channel < 0 ? Frame{}
                                   : rest_from_part(node.joint, node.axis,
                                                    &channels[static_cast<std::size_t>(node.channel)]);
    moved.size = size_of(node);
    return moved;
}

Frame RunContext::base_of(std::int32_t slot) const {
    const NodeStep& node = nodes[static_cast<std::size_t>(slot)];
    return frame(node.parent) * node.parent_from_rest;
}

Frame RunContext::down_row(Frame frame, const std::vector<std::uint32_t>& row) const {
    for (const std::uint32_t slot : row) {
        const NodeStep& node = nodes[slot];
        frame = frame * node.parent_from_rest;
        if (slot != row.back()) frame = frame * joint_of(node);
    }
    return frame;
}

GroundContact stand_on(const GroundMap* ground, const GroundWheel& wheel, const Vec3& up, bool& found) {
    if (!ground) {
        found = true;
        return stand_on_floor(wheel, up, 0);
    }
    const auto contact = ground->stand(wheel, up);
    found = contact.has_value();
    return contact.value_or(GroundContact{});
}

}  // namespace pivrak
