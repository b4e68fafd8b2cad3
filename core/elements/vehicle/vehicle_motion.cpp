#include "core/elements/vehicle/vehicle_motion.h"

#include <algorithm>
#include <cmath>

namespace pivrak {
namespace {

/// Bodies settle in a few rounds: each one looks where the wheels are once the body leans.
constexpr int follow_rounds = 3, hitched_rounds = 8;

}  // namespace

/// How far it leans and has moved while it settles.
struct FollowStep::Settling {
    const FollowStep& step;
    const RunContext& context;
    Frame rest;
    Vec3 lean{0, 0, 0};   ///< heave [m], roll and pitch [rad]
    Vec3 shift{0, 0, 0};  ///< a trailer's level move [m]

    Frame leaned(const Vec3& by) const {
        return rest * Frame{turn_about_axis(1, by[2]) * turn_about_axis(0, by[1]),
                            Vec3(shift.x(), shift.y(), by[0])};
    }
    /// What is taken of what the ground asks for.
    Vec3 felt() const {
        return {context.limits[step.heave].clamp(step.heave_share * lean[0]),
                context.limits[step.roll].clamp(step.roll_share * lean[1]),
                context.limits[step.pitch].clamp(step.hangs() ? lean[2] : step.pitch_share * lean[2])};
    }
};

void FollowStep::run(RunContext& context) const {
    Settling now{*this, context, context.frame(parent) * parent_from_rest};
    settle(now, context);
    const Vec3 taken = now.felt();
    context.set(heave, taken[0]);
    context.set(roll, taken[1]);
    context.set(pitch, taken[2]);
    if (hitch < 0) return;
    context.set(shift_x, now.shift.x());
    context.set(shift_y, now.shift.y());
}

void FollowStep::settle(Settling& now, const RunContext& context) const {
    for (int round = 0; round < (hitch >= 0 ? hitched_rounds : follow_rounds); ++round) {
        Vec3 more = asked_by_ground(now.leaned(now.lean));
        if (hangs()) more[2] = pitch_to_hitch(context, now.leaned(now.felt()));
        now.lean += more;
        Vec3 moved(0, 0, 0);
        if (hitch >= 0) moved = level_to_hitch(context, now.leaned(now.felt()), now.rest);
        now.shift += moved;
        if (more.cwiseAbs().maxCoeff() < 1e-7 && moved.norm() < 1e-7) break;
    }
    // What the ground asks for settles slowly; the hitch is met whatever is left of that.
    for (int round = 0; round < follow_rounds && hitch >= 0; ++round) {
        if (hangs()) now.lean[2] += pitch_to_hitch(context, now.leaned(now.felt()));
        now.shift += level_to_hitch(context, now.leaned(now.felt()), now.rest);
    }
}

Vec3 FollowStep::asked_by_ground(const Frame& now) const {
    Vec3 more(0, 0, 0);
    for (std::size_t i = 0; i < wheels.size(); ++i) {
        const HungWheel& w = wheels[i];
        bool found = false;
        const GroundContact contact = stand_on(
            ground.get(),
            {now.point(w.hub), now.direction(w.axle), now.size * w.radius_m, now.size * w.half_width_m},
            now.axis(2), found);
        // A wheel without ground below it asks for nothing.
        if (found) more += contact.lift_m / now.size * plane.col(static_cast<Eigen::Index>(i));
    }
    return more;
}

/// How much more a trailer with a rigid drawbar pitches about its axle until its eye is as high as the hitch.
double FollowStep::pitch_to_hitch(const RunContext& context, const Frame& now) const {
    const double missing = (context.frame(hitch).point(hitch_m) - now.point(eye)).z();
    const double reach = now.size * now.direction(Vec3(eye.x(), 0, eye.z())).head<2>().norm();
    return reach > 1e-6 ? -std::clamp(std::copysign(missing / reach, missing * eye.x()), -0.5, 0.5) : 0;
}

/// Leaning brings a turntable out of place, and a slope shortens a drawbar: the trailer moves after it,
/// level.
Vec3 FollowStep::level_to_hitch(const RunContext& context, const Frame& leaned, const Frame& rest) const {
    const Vec3 missing = context.frame(hitch).point(hitch_m) - leaned.point(eye);
    Vec3 move(missing.x(), missing.y(), 0);
    if (drawbar_m > 0) {
        const double bar = leaned.size * drawbar_m,
                     level = std::sqrt(std::max(0.0, bar * bar - missing.z() * missing.z())),
                     distance = move.norm();
        move *= distance > 1e-9 ? (distance - level) / distance : 0;
    }
    return rest.rotation.conjugate() * move / rest.size;
}

void SuspendStep::run(RunContext& context) const {
    const Frame base = context.frame(parent) * parent_from_rest;
    const Frame wheel = context.down_row(base, row);
    const Vec3 up = base.axis(axis), axle = wheel.axis(wheel_axis);
    const double larger = wheel.size * context.size_of(context.nodes[row.back()]);
    const GroundWheel tyre{wheel.translation + larger * size.middle_m * axle, axle, larger * size.radius_m,
                           larger * size.half_width_m};
    WheelStand& out = context.stands[stand];
    const GroundContact contact = stand_on(ground.get(), tyre, up, out.has_ground);
    // Without ground the wheel hangs as low as it can.
    context.set(channel, out.has_ground ? contact.lift_m / base.size : -1e9);
    double& travel = context.channels[channel];
    if (travel < -1e8) travel = 0;
    out.gap_m = out.has_ground ? base.size * travel - contact.lift_m : 0;
    out.place = contact.place;
    out.normal = contact.normal;
}

}  // namespace pivrak
