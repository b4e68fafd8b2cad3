#include "core/elements/constraint/constraint_motion.h"

#include <algorithm>
#include <cmath>

namespace pivrak {
namespace {

Vec3 own_axis(int axis, bool against) {
    return (against ? -1.0 : 1.0) * Vec3::Unit(axis);
}

/// The nearest place that keeps all bounds.
Vec3 within_bounds(const std::vector<InsideBound>& bounds, Vec3 place) {
    for (const InsideBound& bound : bounds)
        place[bound.axis] =
            bound.most ? std::min(place[bound.axis], bound.at_m) : std::max(place[bound.axis], bound.at_m);
    return place;
}

/// The ground's normal, from heights a little way apart.
Vec3 ground_normal(const ConstraintAsk& ask, const Frame& ground_part, const Vec3& at, double size) {
    constexpr double apart_m = 1e-3;
    const auto height = [&](const Vec3& place) { return ask.ground_height(ground_part, place, size); };
    const auto slope = [&](const Vec3& way) {
        return (height(at + apart_m * way) - height(at - apart_m * way)) / (2 * apart_m);
    };
    return Vec3(-slope(Vec3::UnitX()), -slope(Vec3::UnitY()), 1).normalized();
}

}  // namespace

Axes ConstraintAsk::axes(const Frame& target_frame) const {
    return {what.in_target ? target_frame.rotation : Quat(1, 0, 0, 0),
            {!what.not_x, !what.not_y, !what.not_z}};
}

namespace {

/// Less of a ground's move than this is none: what stands still gives heights to the last bit.
constexpr double stands_still = 1e-12;
/// Steeper than 72 degrees a ground is a wall.
constexpr double least_upright = 0.3;

/// Where a plumb line meets a ground that was moved, by secants along that line; none beside it.
std::optional<double> moved_height(const GroundMap& ground, const Frame& moved, const Vec3& at) {
    const Frame back = moved.inverse();
    const Vec3 rise = back.direction(Vec3::UnitZ()) * back.size;
    if (rise.z() < least_upright * back.size) return std::nullopt;
    double z = at.z(), before_z = 0, before_gap = 0;
    for (int i = 0; i < 40; ++i) {
        const Vec3 there = back.point({at.x(), at.y(), z});
        const auto height = ground.height(there.x(), there.y());
        if (!height) return std::nullopt;
        const double gap = there.z() - *height;
        const double grows = i > 0 && z != before_z ? (gap - before_gap) / (z - before_z) : rise.z();
        before_z = z;
        before_gap = gap;
        if (!(std::abs(grows) > 0.01 * rise.z())) return std::nullopt;
        z -= gap / grows;
        if (std::abs(z - before_z) < 1e-13 * (1 + std::abs(z))) break;
    }
    return z;
}

}  // namespace

/// Beside the ground it stays as high as it is.
double ConstraintAsk::ground_height(const Frame& ground_part, const Vec3& at, double size) const {
    if (!ground) return 0;
    const Frame moved = ground_part * rest_from_world;
    const bool still = moved.translation.norm() < stands_still &&
                       moved.rotation.vec().norm() < stands_still && std::abs(moved.size - 1) < stands_still;
    const auto height = still ? ground->height(at.x(), at.y()) : moved_height(*ground, moved, at);
    return height.value_or(at.z() - size * what.height_m);
}

std::optional<Vec3> ConstraintAsk::second_goal(const Frame& part, const Frame& second_frame) const {
    if (second < 0) return Vec3::UnitZ();
    const Vec3 way = second_frame.translation - part.translation;
    return way.squaredNorm() < 1e-18 ? std::nullopt : std::optional(way.normalized());
}

Vec3 ConstraintAsk::towards(const Frame& target_frame, const Frame& bob_frame, const Vec3& pivot) const {
    if (what.asks == Asks::Aim) return target_frame.point(what.target_place);
    return bob < 0 ? Vec3(pivot - Vec3::UnitZ()) : bob_frame.translation;
}

void ConstraintAsk::aim(const RunContext& context, JointAnswer& joint) const {
    const Vec3 own = own_axis(what.axis, what.against), pivot = joint.world().translation;
    const Vec3 way = towards(context.frame(target), context.frame(bob), pivot) - pivot;
    if (way.squaredNorm() < 1e-18 || !way.allFinite()) return;
    joint.reach_direction(own, way.normalized());
    if (!what.keeps_second) return;
    if (const auto goal = second_goal(joint.world(), context.frame(second)))
        joint.reach_second(own, own_axis(what.second_axis, what.second_against), *goal);
}

/// Heights change as a place goes along them, so it is asked again until it rests.
void ConstraintAsk::rest(JointAnswer& joint, const Frame& ground_part) const {
    const Axes upright{Quat(1, 0, 0, 0), {false, false, true}};
    const double size = joint.world().size;
    for (int i = 0; i < 12; ++i) {
        const Vec3 at = joint.world().point(what.place);
        if (what.slope) joint.reach_direction(Vec3::UnitZ(), ground_normal(*this, ground_part, at, size));
        const Vec3 now = joint.world().point(what.place);
        const double wanted = ground_height(ground_part, now, size) + size * what.height_m;
        joint.reach_place(what.place, {now.x(), now.y(), wanted}, upright);
        if (std::abs(joint.world().point(what.place).z() - now.z()) < 1e-12 && i > 0) return;
    }
}

void ConstraintAsk::stay_inside(JointAnswer& joint, const Frame& target_frame) const {
    const Frame bounded = what.in_target ? target_frame : Frame{};
    for (int i = 0; i < 12; ++i) {
        const Vec3 at = bounded.inverse().point(joint.world().point(what.place));
        const Vec3 inside = within_bounds(what.bounds, at);
        if ((inside - at).squaredNorm() < 1e-24) return;
        Axes pressed{bounded.rotation, {}};
        for (int k = 0; k < 3; ++k) pressed.on[static_cast<std::size_t>(k)] = inside[k] != at[k];
        joint.reach_place(what.place, bounded.point(inside), pressed);
    }
}

void ConstraintAsk::ask(const RunContext& context, JointAnswer& joint) const {
    const Frame target_frame = context.frame(target);
    switch (what.asks) {
        case Asks::Place:
            return joint.reach_place(what.place, target_frame.point(what.target_place), axes(target_frame));
        case Asks::Turn:
            return joint.reach_turn(target_frame.rotation * what.target_turn, axes(target_frame));
        case Asks::Aim:
        case Asks::Plumb:
            return aim(context, joint);
        case Asks::Rest:
            return rest(joint, target_frame);
        case Asks::Inside:
            return stay_inside(joint, target_frame);
    }
}

void ConstraintStep::run(RunContext& context) const {
    const NodeStep& own = context.nodes[node];
    const auto first = static_cast<std::uint32_t>(own.channel);
    JointAnswer joint{
        own.joint,           own.axis, context.base_of(static_cast<std::int32_t>(node)), {}, {}, {},
        context.size_of(own)};
    for (std::uint32_t k = 0; k < gives.size(); ++k) {
        joint.asked[k] = gives[k] ? context.asked[first + k] : context.channels[first + k];
        joint.limits[k] = gives[k] ? context.limits[first + k] : Limits{joint.asked[k], joint.asked[k]};
        joint.value[k] = joint.limits[k].clamp(joint.asked[k]);
    }
    for (const ConstraintAsk& one : asks) {
        const double share = std::clamp(context.channels[one.blend], 0.0, 1.0);
        if (share == 0) continue;
        const JointAnswer before = joint;
        one.ask(context, joint);
        joint.mix(before, share);
    }
    for (std::uint32_t k = 0; k < gives.size(); ++k)
        if (gives[k]) context.set(first + k, joint.value[k]);
}

namespace {

const ConstraintAsk* find_ask(const Evaluator& evaluator, ConstraintId id) {
    const auto* list = evaluator.program().list<ConstraintStep>();
    if (!list) return nullptr;
    for (const ConstraintStep& step : list->steps)
        for (const ConstraintAsk& ask : step.asks)
            if (ask.what.id == id) return &ask;
    return nullptr;
}

double angle_of(const Vec3& a, const Vec3& b) {
    return std::atan2(a.cross(b).norm(), a.dot(b));
}

/// The vector about which, and by how much, one rotation is turned against another.
Vec3 turned(const Quat& goal, const Quat& now) {
    const Eigen::AngleAxisd way(Eigen::Quaterniond(goal * now.conjugate()));
    return std::remainder(way.angle(), 2 * pi) * way.axis();
}

}  // namespace

std::string miss_words(const ConstraintMiss& miss, LengthUnit unit) {
    return format_miss(miss.place_m, miss.turn_rad, unit);
}

namespace {

/// A constraint with the frames of what it is about, as they stand in a pose.
struct StandingAsk {
    const ConstraintAsk* ask;
    Frame part, target, bob;
    Vec3 place() const { return part.point(ask->what.place); }
    Frame bounded() const { return ask->what.in_target ? target : Frame{}; }
    Vec3 inside() const {
        return bounded().point(within_bounds(ask->what.bounds, bounded().inverse().point(place())));
    }
};

std::optional<StandingAsk> standing(const Evaluator& evaluator, const Pose& pose,
                                    const Constraint& constraint) {
    const ConstraintAsk* ask = find_ask(evaluator, constraint.id);
    const auto slot = evaluator.part_slot(constraint.part);
    if (!ask || !slot) return std::nullopt;
    const auto frame = [&](std::int32_t node) {
        return node < 0 ? Frame{} : pose.world_from_part[static_cast<std::size_t>(node)];
    };
    return StandingAsk{ask, pose.world_from_part[*slot], frame(ask->target), frame(ask->bob)};
}

}  // namespace

std::optional<AskedLine> asked_line(const Evaluator& evaluator, const Pose& pose,
                                    const Constraint& constraint) {
    const auto now = standing(evaluator, pose, constraint);
    if (!now) return std::nullopt;
    const Constraint& what = now->ask->what;
    const Vec3 at = now->place();
    switch (what.asks) {
        case Asks::Place:
            return AskedLine{
                at, at + now->ask->axes(now->target).along(now->target.point(what.target_place) - at)};
        case Asks::Turn:
            if (now->ask->target < 0) return std::nullopt;
            return AskedLine{now->part.translation, now->target.translation};
        case Asks::Aim:
            return AskedLine{now->part.translation, now->target.point(what.target_place)};
        case Asks::Rest:
            return AskedLine{at, {at.x(), at.y(), now->ask->ground_height(now->target, at, now->part.size)}};
        case Asks::Inside:
            return AskedLine{at, now->inside()};
        case Asks::Plumb:
            return std::nullopt;
    }
    return std::nullopt;
}

std::optional<ConstraintMiss> constraint_miss(const Evaluator& evaluator, const Pose& pose,
                                              const Constraint& constraint) {
    const auto now = standing(evaluator, pose, constraint);
    if (!now) return std::nullopt;
    const Constraint& what = now->ask->what;
    const Vec3 at = now->place(), axis = now->part.direction(own_axis(what.axis, what.against));
    const Axes axes = now->ask->axes(now->target);
    switch (what.asks) {
        case Asks::Place:
            return ConstraintMiss{axes.along(now->target.point(what.target_place) - at).norm(), 0};
        case Asks::Turn:
            return ConstraintMiss{
                0, axes.along(turned(now->target.rotation * what.target_turn, now->part.rotation)).norm()};
        case Asks::Aim:
        case Asks::Plumb: {
            const Vec3 pivot = now->part.translation;
            return ConstraintMiss{0, angle_of(axis, now->ask->towards(now->target, now->bob, pivot) - pivot)};
        }
        case Asks::Rest:
            return ConstraintMiss{
                std::abs(at.z() - now->ask->ground_height(now->target, at, now->part.size) -
                         now->part.size * what.height_m),
                what.slope
                    ? angle_of(now->part.axis(2), ground_normal(*now->ask, now->target, at, now->part.size))
                    : 0};
        case Asks::Inside:
            return ConstraintMiss{(now->inside() - at).norm(), 0};
    }
    return std::nullopt;
}

}  // namespace pivrak
