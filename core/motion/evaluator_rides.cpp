// What rides paths, and what is towed.
#include <cmath>

#include "core/motion/evaluator_builder.h"
#include "core/rig/ride_frame.h"

namespace pivrak {

void EvaluatorBuilder::add_rides_and_tows() {
    for (const PartId id : out_.parts_) {
        const Part& part = *document_.parts.find(id);
        const auto node = static_cast<Slot>(node_of(id));
        if (is_link_[node]) continue;
        if ((part.ride && add_ride(part, node)) || (part.tow && add_tow(part, node))) continue;
        std::vector<std::uint32_t> needs;
        need_frame(needs, out_.program_.nodes[node].parent);
        need_channels(needs, out_.program_.nodes[node]);
        order_.add({StepKind::Nodes, node, std::move(needs), {order_.frame(node)}});
    }
}

bool EvaluatorBuilder::add_ride(const Part& part, Slot node) {
    const Path* path = document_.paths.find(part.ride->path);
    if (!path) return false;
    const auto curve = measured(*path);
    if (!curve) return false;
    RideStep step{node, node_of(path->carrier), -1, *part.ride, {}, true, curve, path->rolls};
    const Part* ahead = document_.parts.find(part.ride->ahead);
    if (ahead && ahead->ride) {
        step.ahead = node_of(ahead->id);
        step.ride_ahead = *ahead->ride;
        step.same_path = ahead->ride->path == part.ride->path;
    }
    const auto along = static_cast<Slot>(out_.program_.nodes[node].along);
    std::vector<std::uint32_t> needs, gives{order_.frame(node)};
    need_frame(needs, step.carrier);
    need_frame(needs, step.ahead);
    need_channels(needs, out_.program_.nodes[node]);
    if (step.ahead < 0)
        needs.push_back(along);
    else
        gives.push_back(along);
    out_.program_.rides.push_back(step);
    give(StepKind::Ride, last(out_.program_.rides), std::move(needs), std::move(gives),
         ahead ? ahead->name : path->name);
    return true;
}

bool EvaluatorBuilder::add_tow(const Part& part, Slot node) {
    const Tow& tow = *part.tow;
    const Part* hitch = document_.parts.find(tow.hitch);
    if (!hitch || !(tow.drawbar_m > 0)) return false;
    const Frame world = world_from_rest(document_, part.id);
    const Vec3 ahead = world_from_rest(document_, tow.hitch).rotation.conjugate() * world.axis(0);
    TowStep step{node,
                 node_of(tow.hitch),
                 tow.hitch_m,
                 tow.drawbar_m,
                 tow.turntable ? tow.wheelbase_m : 0,
                 world.translation.z(),
                 std::atan2(ahead.y(), ahead.x()),
                 out_.program_.state_count};
    out_.program_.state_count += 2;
    std::vector<std::uint32_t> needs, gives{order_.frame(node)};
    need_frame(needs, step.hitch);
    need_channels(needs, out_.program_.nodes[node]);
    out_.program_.tows.push_back(step);
    stateful_.push_back(
        give(StepKind::Tow, last(out_.program_.tows), std::move(needs), std::move(gives), hitch->name));
    add_pointing(tow.turntable, tow, *hitch);
    add_pointing(tow.drawbar, tow, *hitch);
    return true;
}

void EvaluatorBuilder::add_pointing(PartId hinge, const Tow& tow, const Part& hitch) {
    const auto channel = out_.channel_slot({hinge, ChannelKind::Turn});
    const Part* bar = document_.parts.find(hinge);
    if (!channel || !bar) return;
    const int axis = bar->joint.axis;
    const Vec3 to = world_from_rest(document_, bar->id)
                        .inverse()
                        .point(world_from_rest(document_, hitch.id).point(tow.hitch_m));
    const DrawbarStep step{static_cast<Slot>(*channel),
                           parent_node(bar->id),
                           node_of(hitch.id),
                           bar->parent_from_rest,
                           axis,
                           tow.hitch_m,
                           std::atan2(to[(axis + 2) % 3], to[(axis + 1) % 3])};
    std::vector<std::uint32_t> needs;
    need_frame(needs, step.parent);
    need_frame(needs, step.hitch);
    out_.program_.drawbars.push_back(step);
    give(StepKind::Drawbar, last(out_.program_.drawbars), std::move(needs), {step.channel}, hitch.name);
}
}  // namespace pivrak
