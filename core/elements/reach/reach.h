#pragma once

#include <string>

#include "core/geometry/frame.h"
#include "core/model/field.h"

namespace pivrak {

using ReachId = Id<struct ReachTag>;

/// Inverse kinematics: the joints from one part of a row down to its tip bring a place of the tip to a goal,
/// and its axes along the goal's when asked, inside their limits and locks. Freedom that is left goes towards
/// what keys and hands ask of the joints, or bends to a side.
struct Reach {
    static constexpr bool one_measure = true;  ///< its parts grow together, or not at all

    ReachId id;
    std::string name;
    PartId tip;
    PartId root;                 ///< the outermost part of the row that moves
    PartId goal;                 ///< none for the world
    Vec3 place{0, 0, 0};         ///< that reaches, in the tip's frame [m]
    Vec3 goal_place{0, 0, 0};    ///< where to, in the goal's frame [m]
    Quat goal_turn{1, 0, 0, 0};  ///< how the tip stands in the goal's frame
    bool not_place = false;      ///< it only turns as the goal does
    bool turns = false;          ///< it does that, too
    double turn_weight = 1;   ///< where both cannot be had, a radian counts as this many lengths of the row
    double most_stretch = 1;  ///< times as long the row may become where it cannot reach otherwise
    PartId side;              ///< the row bends towards its pivot; none for no side
    bool off = false;
    std::string lost;                         ///< name of the goal that was removed; mostly none
    Channel blend{1, std::nullopt, false};    ///< share by which joints answer
    Channel stretch{1, std::nullopt, false};  ///< how long it has become; it gives that itself
    bool operator==(const Reach&) const = default;

    Damaged damaged() const {
        if (not_place && !turns) return "nothing is asked of its tip";
        if (!(turn_weight >= 0.001 && turn_weight <= 1000))
            return "its turn counts for less than 0.001 or more than 1000";
        if (!(most_stretch >= 1 && most_stretch <= 1000))
            return "it may not become shorter than it is, nor more than 1000 times as long";
        return blend.value < 0 || blend.value > 1 ? Damaged("its blend is outside 0 to 1") : std::nullopt;
    }

    template <class Self, class Visitor>
    static void fields(Self& self, Visitor& v) {
        v.id("id", self.id);
        v.text("name", self.name);
        v.part("tip", self.tip, Role::Driven);
        v.part("root", self.root, Role::Driven);
        v.part_if("goal", self.goal, Role::Outside);
        v.vector("place", self.place, Vec3(0, 0, 0));
        v.vector("goal_place", self.goal_place, Vec3(0, 0, 0));
        v.rotation("goal_turn", self.goal_turn);
        v.flag("not_place", self.not_place);
        v.flag("turns", self.turns);
        v.number("turn_weight", self.turn_weight, {.usual = 1});
        v.number("most_stretch", self.most_stretch, {.usual = 1});
        v.part_if("side", self.side, Role::Outside);
        v.flag("off", self.off);
        v.text_if("lost", self.lost);
        v.own("blend", ChannelKind::Blend, self.blend, {.usual = 1});
        v.own("stretch", ChannelKind::Stretch, self.stretch, {.usual = 1});
    }
    bool has(ChannelKind kind) const { return kind != ChannelKind::Stretch || most_stretch > 1; }
    /// Makes it that of a mirror image, in which own axes of parts may be turned over.
    template <class Sign>
    void mirror(const Sign& sign) {
        Mat3 image = goal_turn.toRotationMatrix();
        for (int k = 0; k < 3; ++k) {
            const auto kind = static_cast<ChannelKind>(static_cast<int>(ChannelKind::ShiftX) + k);
            if (sign(ChannelRef{tip, kind}) < 0) place[k] = -place[k], image.col(k) *= -1;
            if (!goal || sign(ChannelRef{goal, kind}) >= 0) continue;
            goal_place[k] = -goal_place[k];
            image.row(k) *= -1;
        }
        if (image.determinant() > 0) goal_turn = Quat(image).normalized();
    }
    /// Places that were picked stay; one that is a pivot goes with it.
    bool pivot_moved(PartId moved, const Frame& new_from_old) {
        const Reach before = *this;
        if (moved == tip && place != Vec3(0, 0, 0)) place = new_from_old.point(place);
        if (moved == goal && goal_place != Vec3(0, 0, 0)) goal_place = new_from_old.point(goal_place);
        if (goal_turn.vec() != Vec3(0, 0, 0)) {
            if (moved == tip) goal_turn = goal_turn * new_from_old.rotation.conjugate();
            if (moved == goal) goal_turn = new_from_old.rotation * goal_turn;
            goal_turn.normalize();
        }
        return !(*this == before);
    }

    Frame goal_frame() const { return {goal_turn, goal_place}; }
    PartId home() const { return tip; }
};

}  // namespace pivrak
