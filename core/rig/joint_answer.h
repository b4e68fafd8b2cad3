#pragma once

#include <array>
#include <span>

#include "core/geometry/frame.h"
#include "core/model/part.h"

namespace pivrak {

/// Directions that count, of three axes that are square to each other.
struct Axes {
    Quat rotation{1, 0, 0, 0};  ///< of the axes in the world
    std::array<bool, 3> on{true, true, true};
    bool all() const { return on[0] && on[1] && on[2]; }
    /// What of a vector lies along those that count.
    Vec3 along(const Vec3& vector) const;
};

/// A joint that is asked for something, and answers with the best that its own axes, limits and locks allow.
/// Nothing else of a part is ever moved, so whatever is asked, it stays a motion of that joint.
///
/// Each `reach` moves the channels to where what is asked is missed least; of answers that are equally good
/// it takes the one nearest to `asked`. A turn is counted on from there, so that it may go round many times.
struct JointAnswer {
    JointKind kind = JointKind::Fixed;
    int axis = 0;                    ///< of a hinge, slide or cylinder
    Frame base;                      ///< where the part stands in the world with all channels at 0
    std::array<double, 6> value{};   ///< of `channels_of(kind)`, turns [rad], shifts [m]
    std::array<double, 6> asked{};   ///< what keys or a hand ask
    std::array<Limits, 6> limits{};  ///< a locked channel has equal ends
    double part_size = 1;            ///< of the part itself, against that of its base

    std::size_t size() const { return channels_of(kind).size(); }
    Frame world() const;

    /// A place of the part (in its frame) goes to a place in the world, as far as `axes` count.
    void reach_place(const Vec3& own, const Vec3& goal, const Axes& axes = {});
    /// The part turns as a frame in the world does, as far as `axes` count.
    void reach_turn(const Quat& goal, const Axes& axes = {});
    /// A direction of the part points along one of the world. Pre: both have length 1.
    void reach_direction(const Vec3& own, const Vec3& goal);
    /// The part turns about `own_about`, which keeps its direction, until `own` points along `goal` as nearly
    /// as it can. Only balls and free parts have such a turn left.
    void reach_second(const Vec3& own_about, const Vec3& own, const Vec3& goal);
    /// Goes back towards where it was, so that only `share` of the way is left.
    void mix(const JointAnswer& before, double share);

private:
    bool has_turns() const { return kind == JointKind::Ball || kind == JointKind::Free; }
    std::size_t first_turn() const { return kind == JointKind::Free ? 3 : 0; }
    bool is_shift(std::size_t channel) const;
    void set(std::size_t channel, double to) { value[channel] = limits[channel].clamp(to); }
    /// Turns a ball or free part to a rotation; answers whether its limits let it.
    bool set_turns(const Quat& world);
    /// One channel alone, exactly. What `free` along the world takes up anyway does not count.
    void place_by_channel(std::size_t channel, const Vec3& own, const Vec3& goal, const Axes& axes,
                          const Vec3& free = Vec3(0, 0, 0));
    /// The turn of a cylinder, given that its shift takes up what it can, and then that shift.
    void place_cylinder(const Vec3& own, const Vec3& goal, const Axes& axes);
    /// The line or axis along which a channel moves the part, in the world, the others as they are.
    struct Motion {
        Vec3 through, along;
    };
    Motion motion_of(std::size_t channel) const;
};

/// A cost that depends on a turn: `cosine cos t + sine sin t + cosine2 cos 2t + sine2 sin 2t`.
struct TurnCost {
    double cosine = 0, sine = 0, cosine2 = 0, sine2 = 0;
    double at(double turn) const;
};

/// The turn within limits at which a cost is least; of equals, the one nearest to `near`. A cost that is the
/// same everywhere leaves it at `near`, within limits.
double least_turn(const TurnCost& cost, const Limits& limits, double near);

}  // namespace pivrak
