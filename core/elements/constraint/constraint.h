#pragma once

#include <string>
#include <vector>

#include "core/base/id.h"
#include "core/elements/path/path.h"
#include "core/geometry/frame.h"
#include "core/model/field.h"

namespace pivrak {

enum class JointKind : std::uint8_t;
using ConstraintId = Id<struct ConstraintTag>;

/// What a constraint asks of a part: that a place of it goes to a place; that it turns as something does;
/// that an own axis points at a place; that a place of it rests on a ground; that an own axis hangs plumb;
/// that a place of it stays inside bounds.
enum class Asks : std::uint8_t { Place, Turn, Aim, Rest, Plumb, Inside };
inline constexpr ChoiceWords<6> asks_words{"place", "turn", "aim", "rest", "plumb", "inside"};

/// `aims`, `rests`: what a part does that is asked so.
std::string_view verb_of(Asks asks);

/// A bound that a place may not pass: at least, or at most, so much along an axis.
struct InsideBound {
    int axis = 0;
    bool most = false;  ///< else least
    double at_m = 0;
    bool operator==(const InsideBound&) const = default;

    template <class Self, class Visitor>
    static void fields(Self& self, Visitor& v) {
        v.axis("axis", self.axis, 0);
        v.flag("most", self.most);
        v.number("at_m", self.at_m, {.dimension = Dimension::Length});
    }
};

/// A wish at a part, which its joint answers as far as its own free channels, limits and locks allow: a hinge
/// turns about its one axis and does no more. Those of one part ask one after the other, by their order.
struct Constraint {
    ConstraintId id;
    std::string name;
    PartId part;
    Asks asks = Asks::Place;
    PartId target;                 ///< none for the world; of `Rest` the ground, none for the floor
    PathId path;                   ///< a place on this path in its stead, x along it and z up; mostly none
    double along_m = 0;            ///< how far along
    Vec3 place{0, 0, 0};           ///< that is asked for, in the part's frame [m]
    Vec3 target_place{0, 0, 0};    ///< where to, in the target's frame [m]
    Quat target_turn{1, 0, 0, 0};  ///< how it stands in the target's frame
    int axis = 0;                  ///< own axis that aims or hangs
    bool against = false;          ///< its other end does
    bool keeps_second = false;     ///< another own axis is kept towards something
    int second_axis = 2;           ///< that one
    bool second_against = false;   ///< its other end is
    PartId second;                 ///< towards its pivot; none for the world's up
    bool in_target = false;        ///< the switches below, and bounds, go by the target's axes
    bool not_x = false, not_y = false, not_z = false;  ///< those along which nothing is asked
    bool slope = false;     ///< what rests leans with the ground, own z along its normal
    double height_m = 0;    ///< that it rests above the ground
    bool swings = false;    ///< what hangs does so as a pendulum
    double length_m = 0;    ///< of that; 0: down to the middle of what hangs
    double damping = 0.05;  ///< of that: share of what lets it come to rest without swinging
    std::vector<InsideBound> bounds;
    int order = 0;  ///< among those of its part; equals by age
    bool off = false;
    std::string lost;  ///< name of a part that it followed and that was removed; mostly none
    Channel blend{1, std::nullopt, false};  ///< share by which the joint answers
    bool operator==(const Constraint&) const = default;

    Damaged damaged() const;

    template <class Self, class Visitor>
    static void fields(Self& self, Visitor& v) {
        v.id("id", self.id);
        v.text("name", self.name);
        v.part("part", self.part, Role::Driven);
        v.choice("asks", self.asks, asks_words);
        v.part_if("target", self.target, Role::Outside);
        v.id_if("path", self.path);
        v.number("along_m", self.along_m, {.dimension = Dimension::Length, .usual = 0});
        v.vector("place", self.place, Vec3(0, 0, 0));
        v.vector("target_place", self.target_place, Vec3(0, 0, 0));
        v.rotation("target_turn", self.target_turn);
        v.axis("axis", self.axis, 0);
        v.flag("against", self.against);
        v.flag("keeps_second", self.keeps_second);
        v.axis("second_axis", self.second_axis, 2);
        v.flag("second_against", self.second_against);
        v.part_if("second", self.second, Role::Outside);
        v.flag("in_target", self.in_target);
        v.flag("not_x", self.not_x);
        v.flag("not_y", self.not_y);
        v.flag("not_z", self.not_z);
        v.flag("slope", self.slope);
        v.number("height_m", self.height_m, {.dimension = Dimension::Length, .usual = 0});
        v.flag("swings", self.swings);
        v.number("length_m", self.length_m, {.dimension = Dimension::Length, .usual = 0});
        v.number("damping", self.damping, {.usual = 0.05});
        v.list("bounds", self.bounds);
        v.count("order", self.order, 0);
        v.flag("off", self.off);
        v.text_if("lost", self.lost);
        v.own("blend", ChannelKind::Blend, self.blend, {.usual = 1});
    }

    /// Makes it that of a mirror image, in which own axes of parts may be turned over.
    template <class Sign>
    void mirror(const Sign& sign);

    /// Places that were picked stay; one that is a pivot goes with it.
    bool pivot_moved(PartId moved, const Frame& new_from_old) {
        const Constraint before = *this;
        if (moved == part && place != Vec3(0, 0, 0)) place = new_from_old.point(place);
        if (moved == target && target_place != Vec3(0, 0, 0)) target_place = new_from_old.point(target_place);
        if (target_turn.vec() != Vec3(0, 0, 0)) {
            if (moved == part) target_turn = target_turn * new_from_old.rotation.conjugate();
            if (moved == target) target_turn = new_from_old.rotation * target_turn;
            target_turn.normalize();
        }
        return !(*this == before);
    }
    PartId home() const { return part; }
    /// Whether it is about where a place of the part is; else about how the part turns.
    bool is_of_place() const { return asks == Asks::Place || asks == Asks::Rest || asks == Asks::Inside; }
    /// Whether it may move a channel of such a joint.
    bool moves(JointKind joint, ChannelKind channel) const;
    /// Whether it moves a channel, whatever keys and hands ask of that.
    bool sets(JointKind joint, ChannelKind channel) const {
        return !off && blend.value >= 1 && moves(joint, channel);
    }
};

template <class Sign>
void Constraint::mirror(const Sign& sign) {
    const auto flip = [&](PartId of, int k) {
        const auto kind = static_cast<ChannelKind>(static_cast<int>(ChannelKind::ShiftX) + k);
        return of && sign(ChannelRef{of, kind}) < 0 ? -1.0 : 1.0;
    };
    Mat3 turn = target_turn.toRotationMatrix();
    for (int k = 0; k < 3; ++k) {
        place[k] *= flip(part, k);
        target_place[k] *= flip(target, k);
        if (!target) continue;
        turn.col(k) *= flip(part, k);
        turn.row(k) *= flip(target, k);
    }
    if (turn.determinant() > 0) target_turn = Quat(turn).normalized();
    against ^= flip(part, axis) < 0;
    second_against ^= flip(part, second_axis) < 0;
    for (InsideBound& bound : bounds)
        if (in_target && flip(target, bound.axis) < 0) {
            bound.at_m = -bound.at_m;
            bound.most = !bound.most;
        }
}

/// The constraints of a part that ask something, in the order in which they do.
template <class Table>
std::vector<const Constraint*> constraints_of(const Table& constraints, PartId part) {
    std::vector<const Constraint*> found;
    for (const Constraint& one : constraints)
        if (one.part == part && !one.off) {
            auto at = found.begin();
            while (at != found.end() && (*at)->order <= one.order) ++at;
            found.insert(at, &one);
        }
    return found;
}

}  // namespace pivrak
