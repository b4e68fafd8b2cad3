#include "core/elements/lean/lean_motion.h"

#include <algorithm>

#include "core/elements/plans.h"

namespace pivrak {

void LeanStep::run(RunContext& context) const {
    const NodeStep& carrier = context.nodes[node];
    const Frame base = context.base_of(static_cast<std::int32_t>(node));
    for (std::uint32_t k = 0; k < 3; ++k) context.channels[channel + k] = 0;
    const Frame local = base * context.joint_of(carrier);
    Frame wheel = context.down_row(local, row);
    wheel.size *= context.size_of(context.nodes[row.back()]);
    const Vec3 axle = wheel.axis(axis), ahead = local.axis(0),
               forward = Vec3(ahead.x(), ahead.y(), 0).normalized(), left = Vec3::UnitZ().cross(forward);
    const std::size_t lowest = profile->lowest(axle.z());
    const WheelProfile::Circle& circle = profile->circles[lowest];
    // Also right for a wheel that lies on its side, where the ground's normal tells no way across.
    const Vec3 normal = facing * (axle.dot(left) * Vec3::UnitZ() - axle.z() * left);
    const Vec3 pivot = wheel.translation;
    const Vec3 touch = pivot + wheel.size * (circle.along_m * axle - circle.radius_m * normal);
    const double wanted =
        base.translation.dot(left) + local.size * left_m + wheel.size * facing * profile->sideways_m[lowest];
    Vec3 shift = (wanted - touch.dot(left)) * left;
    std::optional<double> lift = -touch.z();
    if (ground) lift = profile_lift(pivot + shift, axle, wheel.size);
    shift.z() = lift.value_or(0);
    const Vec3 own = base.rotation.conjugate() * shift / base.size;
    for (std::uint32_t k = 0; k < 3; ++k) context.set(channel + k, own[k]);
    context.stands[stand] = {lift.has_value(),
                             0,
                             touch + shift,
                             normal,
                             wheel.size * circle.radius_m,
                             wheel.size * (circle.along_m - middle_m)};
}

/// The lift of a profile at a place: the most of its cylinders between circles, and of its circles.
std::optional<double> LeanStep::profile_lift(const Vec3& pivot, const Vec3& axle, double size) const {
    std::optional<double> most;
    const auto look = [&](double along, double half, double radius) {
        if (const auto found =
                ground->stand_leaning({pivot + size * along * axle, axle, size * radius, size * half});
            found && (!most || found->lift_m > *most))
            most = found->lift_m;
    };
    const auto& circles = profile->circles;
    for (std::size_t i = 0; i < circles.size(); ++i) {
        // A circle no smaller than its neighbours lies in no cylinder as wide as itself.
        const bool peak = (i == 0 || circles[i - 1].radius_m < circles[i].radius_m) &&
                          (i + 1 == circles.size() || circles[i + 1].radius_m < circles[i].radius_m);
        if (peak) look(circles[i].along_m, 0, circles[i].radius_m);
        if (i == 0) continue;
        look(0.5 * (circles[i - 1].along_m + circles[i].along_m),
             0.5 * (circles[i].along_m - circles[i - 1].along_m),
             std::min(circles[i - 1].radius_m, circles[i].radius_m));
    }
    return most;
}

PlanPhase phase_of(const Lean*) {
    return PlanPhase::Stands;
}

void plan(const Lean& lean, CouplingId, RigPlan& plan) {
    if (!plan.require(lean.driven)) return;
    const Document& document = plan.document();
    const PartId carrier = lean.driven.part();
    const Part& frame = *document.parts.find(carrier);
    const Part* wheel = document.parts.find(lean.wheel);
    const auto first = plan.channel({carrier, ChannelKind::ShiftX});
    const auto outline = plan.profile(lean.wheel);
    if (!wheel || !first || !outline || frame.ride || frame.tow || lean.wheel == carrier ||
        !is_below(document, lean.wheel, carrier))
        return;
    LeanStep step{static_cast<std::uint32_t>(plan.node(carrier)),
                  *first,
                  plan.new_stand(lean.wheel),
                  {},
                  wheel->joint.axis,
                  1,
                  0,
                  plan.wheel_size(lean.wheel).middle_m,
                  outline,
                  plan.ground(lean.ground)};
    const Frame rest = world_from_rest(document, carrier).inverse() * world_from_rest(document, lean.wheel);
    step.facing = rest.axis(step.axis).y() < 0 ? -1 : 1;
    step.left_m = rest.point(step.middle_m * Vec3::Unit(step.axis)).y();
    StepLinks links(plan);
    links.needs_frame(plan.parent_node(carrier));
    for (const ChannelKind kind : {ChannelKind::TurnX, ChannelKind::TurnY, ChannelKind::TurnZ})
        links.needs_channel(*plan.channel({carrier, kind}));
    step.row = plan.row_down(carrier, lean.wheel, links);
    for (std::uint32_t k = 0; k < 3; ++k) links.gives_channel(step.channel + k);
    plan.add(std::move(step), std::move(links), "the ground it leans on");
}

}  // namespace pivrak
