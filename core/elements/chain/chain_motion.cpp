#include "core/elements/chain/chain_motion.h"

#include <cmath>

#include "core/rig/chains/chain_layout.h"
#include "core/rig/joint_motion.h"

namespace pivrak {
namespace {

/// Steps in which a tensioner finds its place.
constexpr int most_take_ups = 30;

}  // namespace

/// Links stand from pin to pin. A chain that cannot go round its wheels stays as it was built.
void ChainStep::run(RunContext& context, ChainStand& stand) const {
    const Frame& plane = context.frame(frame);
    const Frame plane_from_world = plane.inverse();
    stand_wheels(context, plane_from_world, stand.loop);
    const Vec2 down = plane_from_world.direction(-Vec3::UnitZ()).head<2>();
    stand.loop.down = down.norm() > least_upright ? Vec2(down.normalized()) : Vec2(0, 0);
    if (take_up.channel >= 0) set_take_up(context, plane_from_world, stand.loop);
    stand.fit = place_pins(stand.loop, travel_in(context), stand.pins);
    if (loop.ends) turn_wheels(context, plane_from_world, stand.loop);
    for (std::size_t i = 0; i < links.size(); ++i) {
        const NodeStep& node = context.nodes[links[i]];
        Frame link = node.parent_from_rest;
        if (stand.fit.placed) link = plane_from_link(stand.pins, i);
        context.frames[links[i]] = plane * link * context.joint_of(node);
    }
}

double ChainStep::travel_in(const RunContext& context) const {
    return travel < 0 ? 0 : context.channels[static_cast<std::size_t>(travel)];
}

void ChainStep::stand_wheels(const RunContext& context, const Frame& plane_from_world, ChainLoop& now) const {
    for (std::size_t i = 0; i < wheels.size(); ++i) {
        const std::int32_t node = wheels[i].node;
        // Those of an open run may have no frame yet: it turns them, or is turned with the first.
        const Vec3 centre = now.ends ? context.base_of(node).translation : context.frame(node).translation;
        now.circles[i].centre = plane_from_world.point(centre).head<2>();
    }
    if (!now.ends) return;
    const auto place = [&](const End& end) -> Vec2 {
        if (end.node < 0) return {0, 0};
        return plane_from_world.point(context.frame(end.node).point(end.place)).head<2>();
    };
    now.ends->from = place(ends[0]);
    now.ends->to = place(ends[1]);
}

/// Wheels that an open run goes over turn with it, seen from what carries them.
void ChainStep::turn_wheels(RunContext& context, const Frame& plane_from_world, const ChainLoop& now) const {
    std::array<RunTouch, most_chain_wheels> touches;
    run_touches(now, std::span(touches).first(wheels.size()));
    for (std::size_t i = 0; i < wheels.size(); ++i) {
        const Wheel& wheel = wheels[i];
        if (wheel.channel < 0) continue;
        const NodeStep& node = context.nodes[static_cast<std::size_t>(wheel.node)];
        const double carrier =
            turn_in_plane(plane_from_world, context.base_of(wheel.node), node.axis) - wheel.carrier_rad;
        context.set(static_cast<std::uint32_t>(wheel.channel),
                    wheel.sense * (turned_by_run(now.circles[i], now.pitch_m, rest[i], touches[i]) -
                                   std::remainder(carrier, 2 * pi)));
    }
}

/// Sets a tensioner so that the chain keeps its slack: the root of the polygon's own length, from rest on.
void ChainStep::set_take_up(RunContext& context, const Frame& plane_from_world, ChainLoop& now) const {
    const auto channel = static_cast<std::size_t>(take_up.channel);
    const bool pays_out = take_up.channel == travel;
    const double spare = take_up.slack < 0 ? 0 : context.channels[static_cast<std::size_t>(take_up.slack)];
    const Frame base = pays_out ? Frame{} : context.frame(take_up.parent) * take_up.parent_from_rest;
    const auto off = [&](double value) {
        if (!pays_out)
            carry(context, plane_from_world, base * rest_from_part(take_up.joint, take_up.axis, &value), now);
        const ChainFit fit = chain_fit(now, pays_out ? value : travel_in(context));
        return fit.possible ? fit.slack_m - spare : 1e9;
    };
    const Limits& limits = context.limits[channel];
    double a = limits.clamp(0), at_a = off(a), b = limits.clamp(a + 1e-3);
    if (a == b) b = limits.clamp(a - 1e-3);
    double at_b = off(b);
    for (int i = 0; i < most_take_ups && std::abs(at_b) > 1e-10 && at_a != at_b; ++i) {
        const double step =
            std::clamp(at_b * (b - a) / (at_b - at_a), -take_up.longest_step, take_up.longest_step);
        const double next = limits.clamp(b - step);
        if (next == b) break;
        a = b;
        at_a = at_b;
        b = next;
        at_b = off(b);
    }
    // Where the slack cannot be reached, the better end is taken.
    const double value = std::abs(at_b) <= std::abs(at_a) ? b : a;
    context.set(static_cast<std::uint32_t>(channel), value);
    off(value);
}

/// What a tensioner carries, with it turned or shifted to `arm`.
void ChainStep::carry(const RunContext& context, const Frame& plane_from_world, const Frame& arm,
                      ChainLoop& now) const {
    for (const TakeUp::Carried& carried : take_up.carried) {
        Frame there = context.down_row(arm, carried.row);
        if (carried.what == TakeUp::What::Wheel) {
            now.circles[carried.wheel].centre = plane_from_world.point(there.translation).head<2>();
            continue;
        }
        if (!carried.row.empty()) there = there * context.joint_of(context.nodes[carried.row.back()]);
        const bool from = carried.what == TakeUp::What::From;
        (from ? now.ends->from : now.ends->to) =
            plane_from_world.point(there.point(ends[from ? 0 : 1].place)).head<2>();
    }
}

const ChainStand* chain_stand(const Evaluator& evaluator, const Pose& pose, ChainId chain) {
    const auto* chains = evaluator.program().list<ChainStep>();
    if (!chains) return nullptr;
    const auto stands = evaluator.program().memories<ChainStep>(pose.memories);
    for (std::size_t i = 0; i < chains->steps.size(); ++i)
        if (chains->steps[i].chain == chain) return &stands[i];
    return nullptr;
}

}  // namespace pivrak
