#include "core/rig/joint_answer.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <optional>
#include <vector>

#include "core/rig/joint_motion.h"

namespace pivrak {
namespace {

constexpr int most_rounds = 400;

/// The rotation whose vector (axis times angle) is that, and back.
Quat turn_of(const Vec3& vector) {
    const double angle = vector.norm();
    return angle < 1e-300 ? Quat(1, 0, 0, 0) : Quat(Eigen::AngleAxisd(angle, vector / angle));
}
Vec3 vector_of(Quat turn) {
    if (turn.w() < 0) turn.coeffs() = -turn.coeffs();
    const double sine = turn.vec().norm();
    return sine < 1e-300 ? Vec3(2 * turn.vec()) : Vec3(turn.vec() * (2 * std::atan2(sine, turn.w()) / sine));
}

Quat between(const Vec3& from, const Vec3& to) {
    return Quat(Eigen::Quaterniond::FromTwoVectors(from, to));
}

/// What of a vector stands square to a unit vector.
Vec3 across(const Vec3& vector, const Vec3& unit) {
    return vector - vector.dot(unit) * unit;
}

/// The cost of a direction that turns about `axis`, against one it shall point along.
TurnCost direction_cost(const Vec3& axis, const Vec3& now, const Vec3& goal) {
    const Vec3 square = across(now, axis);
    return {-goal.dot(square), -goal.dot(axis.cross(square)), 0, 0};
}

/// The cost of a rotation that turns about `axis`, against one that it shall be: the less, the larger the
/// trace of what leads from one to the other.
TurnCost rotation_cost(const Vec3& axis, const Quat& now, const Quat& goal) {
    const Mat3 m = now.toRotationMatrix() * goal.toRotationMatrix().transpose();
    const double square = m.trace() - axis.dot(m * axis);
    const double odd =
        axis.x() * (m(1, 2) - m(2, 1)) + axis.y() * (m(2, 0) - m(0, 2)) + axis.z() * (m(0, 1) - m(1, 0));
    return {-square, -odd, 0, 0};
}

/// The same turn, so many times round that it lies within limits and as near to `near` as it can; none when
/// it never does.
std::optional<double> turn_within(double turn, const Limits& limits, double near) {
    double at = near + std::remainder(turn - near, 2 * pi);
    if (at > limits.max) at -= 2 * pi * std::ceil((at - limits.max) / (2 * pi));
    if (at < limits.min) at += 2 * pi * std::ceil((limits.min - at) / (2 * pi));
    if (at > limits.max || at < limits.min) return std::nullopt;
    return at;
}

double slope(const TurnCost& cost, double t) {
    return -cost.cosine * std::sin(t) + cost.sine * std::cos(t) - 2 * cost.cosine2 * std::sin(2 * t) +
           2 * cost.sine2 * std::cos(2 * t);
}

/// Where a slope goes from below zero to above it, between two turns: a valley.
double valley(const TurnCost& cost, double low, double high) {
    for (int i = 0; i < 60 && high - low > 1e-16; ++i) {
        const double middle = 0.5 * (low + high);
        (slope(cost, middle) < 0 ? low : high) = middle;
    }
    return 0.5 * (low + high);
}

/// All valleys of a cost over one turn; at most two.
std::vector<double> valleys(const TurnCost& cost) {
    constexpr int samples = 32;
    std::vector<double> found;
    for (int i = 0; i < samples; ++i) {
        const double low = 2 * pi * i / samples, high = 2 * pi * (i + 1) / samples;
        if (slope(cost, low) <= 0 && slope(cost, high) > 0) found.push_back(valley(cost, low, high));
    }
    return found;
}

}  // namespace

Vec3 Axes::along(const Vec3& vector) const {
    if (all()) return vector;
    Vec3 own = rotation.conjugate() * vector;
    for (int k = 0; k < 3; ++k)
        if (!on[static_cast<std::size_t>(k)]) own[k] = 0;
    return rotation * own;
}

double TurnCost::at(double turn) const {
    return cosine * std::cos(turn) + sine * std::sin(turn) + cosine2 * std::cos(2 * turn) +
           sine2 * std::sin(2 * turn);
}

double least_turn(const TurnCost& cost, const Limits& limits, double near) {
    const double first = std::hypot(cost.cosine, cost.sine), second = std::hypot(cost.cosine2, cost.sine2);
    const double size = first + second;
    if (size < 1e-24) return limits.clamp(near);
    double best = limits.clamp(near), best_cost = cost.at(best);
    bool have = false;
    const auto offer = [&](double turn) {
        const double its = cost.at(turn);
        const bool better = its < best_cost - 1e-13 * size;
        const bool nearer = its <= best_cost + 1e-13 * size && std::abs(turn - near) < std::abs(best - near);
        if (have && !better && !nearer) return;
        if (!have && its > best_cost) return;
        best = turn;
        best_cost = its;
        have = true;
    };
    const auto offer_turn = [&](double turn) {
        if (const auto within = turn_within(turn, limits, near)) offer(*within);
    };
    if (second <= 1e-15 * first)
        offer_turn(std::atan2(-cost.sine, -cost.cosine));
    else
        for (const double turn : valleys(cost)) offer_turn(turn);
    if (std::isfinite(limits.min)) offer(limits.min);
    if (std::isfinite(limits.max)) offer(limits.max);
    return best;
}

Frame JointAnswer::world() const {
    Frame moved = rest_from_part(kind, axis, value.data());
    moved.size = part_size;
    return base * moved;
}

bool JointAnswer::is_shift(std::size_t channel) const {
    return !is_turn(channels_of(kind)[channel]);
}

bool JointAnswer::set_turns(const Quat& world) {
    const std::size_t first = first_turn();
    const Vec3 turns = turns_from_rotation(base.rotation.conjugate() * world,
                                           {value[first], value[first + 1], value[first + 2]});
    bool let = true;
    for (std::size_t k = 0; k < 3; ++k) {
        const double wanted = turns[static_cast<Eigen::Index>(k)];
        set(first + k, wanted);
        let &= value[first + k] == wanted;
    }
    return let;
}

JointAnswer::Motion JointAnswer::motion_of(std::size_t channel) const {
    if (!has_turns()) return {base.translation, base.axis(axis)};
    const std::size_t first = first_turn();
    if (channel < first) return {base.translation, base.axis(static_cast<int>(channel))};
    const int about = static_cast<int>(channel - first);
    Quat before = base.rotation;
    if (about < 2) before = before * turn_about_axis(2, value[first + 2]);
    if (about < 1) before = before * turn_about_axis(1, value[first + 1]);
    return {world().translation, before * Vec3::Unit(about)};
}

void JointAnswer::place_by_channel(std::size_t channel, const Vec3& own, const Vec3& goal, const Axes& axes,
                                   const Vec3& free) {
    const auto counted_of = [&](const Vec3& vector) {
        const Vec3 along = axes.along(vector);
        return Vec3(along - along.dot(free) * free);
    };
    const Motion motion = motion_of(channel);
    const Vec3 now = world().point(own);
    if (is_shift(channel)) {
        const Vec3 counted = base.size * axes.along(motion.along);
        const double size = counted.squaredNorm();
        if (size > 1e-12) set(channel, value[channel] + counted.dot(goal - now) / size);
        return;
    }
    const Vec3 arm = across(now - motion.through, motion.along), centre = now - arm;
    if (arm.squaredNorm() < 1e-24) return;
    const Vec3 still = counted_of(centre - goal), cosine = counted_of(arm),
               sine = counted_of(motion.along.cross(arm));
    const TurnCost cost{2 * still.dot(cosine), 2 * still.dot(sine),
                        0.5 * (cosine.squaredNorm() - sine.squaredNorm()), cosine.dot(sine)};
    const double at = value[channel];
    set(channel,
        at + least_turn(cost, {limits[channel].min - at, limits[channel].max - at}, asked[channel] - at));
}

namespace {

/// One channel after the other, until nothing moves any more.
template <class Step>
void in_rounds(JointAnswer& joint, std::size_t first, std::size_t count, Step step) {
    for (int round = 0; round < most_rounds; ++round) {
        const auto before = joint.value;
        for (std::size_t k = 0; k < count; ++k) step(first + k);
        double moved = 0;
        for (std::size_t k = 0; k < count; ++k)
            moved = std::max(moved, std::abs(joint.value[first + k] - before[first + k]));
        if (moved < 1e-13) return;
    }
}

}  // namespace

namespace {

/// The same, from where it is, from what is asked and from all corners of its limits: a joint that is held by
/// limits has valleys, and the deepest counts.
template <class Step, class Cost>
void from_corners(JointAnswer& joint, std::size_t first, std::size_t count, Step step, Cost cost) {
    in_rounds(joint, first, count, step);
    std::array<double, 6> best = joint.value;
    double least = cost();
    const double enough = 1e-12;
    const auto start = [&](auto value_at) {
        if (least < enough) return;
        for (std::size_t k = 0; k < count; ++k) joint.value[first + k] = value_at(first + k);
        in_rounds(joint, first, count, step);
        if (const double its = cost(); its < least - 1e-12) {
            least = its;
            best = joint.value;
        }
    };
    start([&](std::size_t k) { return joint.limits[k].clamp(joint.asked[k]); });
    for (std::size_t corner = 0; corner < (std::size_t{1} << count); ++corner)
        start([&](std::size_t k) {
            const double end = corner >> (k - first) & 1 ? joint.limits[k].max : joint.limits[k].min;
            return std::isfinite(end) ? end : joint.asked[k];
        });
    joint.value = best;
}

}  // namespace

void JointAnswer::place_cylinder(const Vec3& own, const Vec3& goal, const Axes& axes) {
    const auto by_channel = [&](std::size_t channel) { place_by_channel(channel, own, goal, axes); };
    const Vec3 shifted = axes.along(base.axis(axis));
    const double size = shifted.norm();
    place_by_channel(0, own, goal, axes, size > 1e-6 ? Vec3(shifted / size) : Vec3(0, 0, 0));
    by_channel(1);
    // A shift that its limits hold back does not take up what it should.
    if (value[1] <= limits[1].min || value[1] >= limits[1].max)
        from_corners(*this, 0, 2, by_channel, [&] { return axes.along(goal - world().point(own)).norm(); });
}

void JointAnswer::reach_place(const Vec3& own, const Vec3& goal, const Axes& axes) {
    const auto by_channel = [&](std::size_t channel) { place_by_channel(channel, own, goal, axes); };
    switch (kind) {
        case JointKind::Fixed:
            return;
        case JointKind::Hinge:
        case JointKind::Slide:
            return by_channel(0);
        case JointKind::Cylinder:
            return place_cylinder(own, goal, axes);
        case JointKind::Free: {
            const Vec3 way = base.rotation.conjugate() * axes.along(goal - world().point(own)) / base.size;
            bool let = true;
            for (std::size_t k = 0; k < 3; ++k) {
                const double wanted = value[k] + way[static_cast<Eigen::Index>(k)];
                set(k, wanted);
                let &= value[k] == wanted;
            }
            if (!let) in_rounds(*this, 0, 3, by_channel);
            return;
        }
        case JointKind::Ball: {
            const Vec3 arm = world().direction(own), to = goal - base.translation;
            if (arm.squaredNorm() < 1e-18 || to.squaredNorm() < 1e-18) return;
            if (axes.all() && set_turns(between(arm, to) * world().rotation)) return;
            from_corners(*this, 0, 3, by_channel,
                         [&] { return axes.along(goal - world().point(own)).norm(); });
        }
    }
}

void JointAnswer::reach_turn(const Quat& goal, const Axes& axes) {
    Quat counted = goal;
    if (!axes.all()) {
        const Quat now = world().rotation;
        counted = turn_of(axes.along(vector_of(goal * now.conjugate()))) * now;
    }
    const auto by_channel = [&](std::size_t channel) {
        const double at = value[channel];
        set(channel,
            at + least_turn(rotation_cost(motion_of(channel).along, world().rotation, counted),
                            {limits[channel].min - at, limits[channel].max - at}, asked[channel] - at));
    };
    if (has_turns()) {
        if (!set_turns(counted))
            from_corners(*this, first_turn(), 3, by_channel,
                         [&] { return angle_between(counted, world().rotation); });
    } else if (kind == JointKind::Hinge || kind == JointKind::Cylinder) {
        by_channel(0);
    }
}

void JointAnswer::reach_direction(const Vec3& own, const Vec3& goal) {
    const auto by_channel = [&](std::size_t channel) {
        const double at = value[channel];
        const TurnCost cost = direction_cost(motion_of(channel).along, world().direction(own), goal);
        set(channel,
            at + least_turn(cost, {limits[channel].min - at, limits[channel].max - at}, asked[channel] - at));
    };
    if (has_turns()) {
        if (!set_turns(between(world().direction(own), goal) * world().rotation))
            from_corners(*this, first_turn(), 3, by_channel,
                         [&] { return (world().direction(own) - goal).norm(); });
    } else if (kind == JointKind::Hinge || kind == JointKind::Cylinder) {
        by_channel(0);
    }
}

void JointAnswer::reach_second(const Vec3& own_about, const Vec3& own, const Vec3& goal) {
    if (!has_turns()) return;
    const Frame now = world();
    const Vec3 about = now.direction(own_about);
    const TurnCost cost = direction_cost(about, now.direction(own), goal);
    constexpr double without_end = std::numeric_limits<double>::infinity();
    const double turn = least_turn(cost, {-without_end, without_end}, 0);
    set_turns(Quat(Eigen::AngleAxisd(turn, about)) * now.rotation);
}

void JointAnswer::mix(const JointAnswer& before, double share) {
    if (share >= 1) return;
    const auto towards = [&](std::size_t channel) {
        return before.value[channel] + share * (value[channel] - before.value[channel]);
    };
    const Quat wanted = world().rotation;
    for (std::size_t k = 0; k < size(); ++k) set(k, towards(k));
    if (!has_turns()) return;
    const Quat from = before.world().rotation;
    const Quat way = wanted * from.conjugate();
    set_turns(turn_of(share * vector_of(way)) * from);
}

}  // namespace pivrak
