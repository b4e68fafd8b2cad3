// What a vehicle is compiled into: suspensions, and the frame that follows the ground.
#include "core/elements/plans.h"
#include "core/elements/vehicle/vehicle_motion.h"

namespace pivrak {
namespace {

/// Whether its frames can be driven; a finding tells when they cannot.
bool can_stand(const Vehicle& vehicle, const Document& document) {
    const Part* follow = document.parts.find(vehicle.ground_level);
    return follow && follow->joint.kind == JointKind::Free && !vehicle.wheels.empty();
}

void plan_suspension(const Vehicle& v, const VehicleWheel& wheel, RigPlan& plan) {
    const Document& document = plan.document();
    const Part* part = document.parts.find(wheel.suspension);
    const auto channel = plan.channel({wheel.suspension, ChannelKind::Shift});
    if (!part || !channel || !is_below(document, wheel.wheel, wheel.suspension)) return;
    WheelSize size = plan.wheel_size(wheel.wheel);
    if (!(size.radius_m > 1e-6)) return;
    size.radius_m += v.track_thickness_m;
    SuspendStep step{plan.parent_node(wheel.suspension),
                     plan.parent_from_rest(part->id),
                     *channel,
                     plan.new_stand(wheel.wheel),
                     part->joint.axis,
                     {},
                     document.parts.find(wheel.wheel)->joint.axis,
                     size,
                     plan.ground(v.ground)};
    StepLinks links(plan);
    links.needs_frame(step.parent);
    step.row = plan.row_down(wheel.suspension, wheel.wheel, links);
    links.gives_channel(step.channel);
    plan.add(std::move(step), std::move(links), v.name);
}

bool add_hitch(const Vehicle& v, const Frame& follow_from_world, const RigPlan& plan, FollowStep& step) {
    const Document& document = plan.document();
    const Part* root = document.parts.find(v.place);
    const Part* hitch = root && root->tow ? document.parts.find(root->tow->hitch) : nullptr;
    if (!hitch) return false;
    const Vec3 place = world_from_rest(document, hitch->id).point(root->tow->hitch_m);
    step.hitch = plan.node(hitch->id);
    step.hitch_m = root->tow->hitch_m;
    step.eye = follow_from_world.point(place);
    if (const Part* turntable = document.parts.find(root->tow->turntable)) {
        // The drawbar nods where it hangs, or about the turntable itself.
        const Part* bar = document.parts.find(root->tow->drawbar);
        const Vec3 pivot = world_from_rest(document, (bar ? bar : turntable)->id).translation;
        step.eye = follow_from_world.point(pivot);
        step.drawbar_m = (place - pivot).norm();
    }
    step.shift_x = *plan.channel({v.ground_level, ChannelKind::ShiftX});
    step.shift_y = *plan.channel({v.ground_level, ChannelKind::ShiftY});
    return true;
}

/// Wheels on equal springs: from their lifts to the heave, roll and pitch that fit them best; a lean that
/// nothing tells of stays as it is. Kept level, no pitch comes of them.
Eigen::Matrix<double, 3, Eigen::Dynamic> plane_through(const std::vector<HungWheel>& wheels, bool level) {
    Eigen::Matrix<double, Eigen::Dynamic, 3> rows(wheels.size(), 3);
    for (std::size_t i = 0; i < wheels.size(); ++i)
        rows.row(static_cast<Eigen::Index>(i)) << 1, wheels[i].hub.y(), level ? 0 : -wheels[i].hub.x();
    return rows.completeOrthogonalDecomposition().pseudoInverse();
}

std::vector<HungWheel> hung_wheels(const Vehicle& v, const Frame& follow_from_world, const RigPlan& plan) {
    std::vector<HungWheel> hung;
    for (const VehicleWheel& wheel : v.wheels) {
        const Frame frame = follow_from_world * world_from_rest(plan.document(), wheel.wheel);
        WheelSize size = plan.wheel_size(wheel.wheel);
        size.radius_m += v.track_thickness_m;
        const Vec3 axle = frame.axis(plan.document().parts.find(wheel.wheel)->joint.axis);
        hung.push_back({frame.translation + size.middle_m * axle, axle, size.radius_m, size.half_width_m});
    }
    return hung;
}

void plan_follow(const Vehicle& v, RigPlan& plan) {
    const Document& document = plan.document();
    const Frame follow_from_world = world_from_rest(document, v.ground_level).inverse();
    FollowStep step{plan.parent_node(v.ground_level),
                    plan.parent_from_rest(v.ground_level),
                    *plan.channel({v.ground_level, ChannelKind::ShiftZ}),
                    *plan.channel({v.ground_level, ChannelKind::TurnY}),
                    *plan.channel({v.ground_level, ChannelKind::TurnX}),
                    v.heave,
                    v.pitch,
                    v.roll,
                    hung_wheels(v, follow_from_world, plan),
                    {},
                    plan.ground(v.ground)};
    StepLinks links(plan);
    links.needs_frame(step.parent);
    for (const std::uint32_t channel : {step.heave, step.pitch, step.roll}) links.gives_channel(channel);
    if (add_hitch(v, follow_from_world, plan, step)) {
        links.needs_frame(step.hitch);
        links.gives_channel(step.shift_x);
        links.gives_channel(step.shift_y);
    }
    step.plane = plane_through(step.wheels, step.hangs());
    plan.add(std::move(step), std::move(links), v.name);
}

}  // namespace

PlanPhase phase_of(const Vehicle*) {
    return PlanPhase::Stands;
}

void plan(const Vehicle& vehicle, RigPlan& plan) {
    if (!can_stand(vehicle, plan.document())) return;
    for (const VehicleWheel& wheel : vehicle.wheels)
        if (wheel.suspension) plan_suspension(vehicle, wheel, plan);
    plan_follow(vehicle, plan);
}

}  // namespace pivrak
