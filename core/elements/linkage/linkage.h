#pragma once

#include <string>
#include <vector>

#include "core/geometry/frame.h"
#include "core/model/field.h"

namespace pivrak {

using LinkageId = Id<struct LinkageTag>;

/// What of two parts stays together where a loop closes: a place and an axis, which leaves one turn; a place
/// alone; a place of the first on a line of the second; how they are turned against each other.
enum class Closes : std::uint8_t { Pin, Ball, Slider, Turn };
inline constexpr ChoiceWords<4> closes_words{"pin", "ball", "slider", "turn"};

/// Where a loop of parts closes. At rest, all joints at zero, it is closed.
struct Closure {
    Closes closes = Closes::Pin;
    PartId a, b;
    Vec3 place_a{0, 0, 0}, place_b{0, 0, 0};  ///< in the frames of these [m]
    Vec3 axis_a{0, 0, 1}, axis_b{0, 0, 1};    ///< as above, unit: of a pin its axis, of a slider its line
    Quat turn{1, 0, 0, 0};                    ///< how the first stands in the second, at rest
    bool operator==(const Closure&) const = default;

    template <class Self, class Visitor>
    static void fields(Self& self, Visitor& v) {
        v.choice("closes", self.closes, closes_words);
        v.part("a", self.a, Role::Held);
        v.part("b", self.b, Role::Held);
        v.vector("place_a", self.place_a, Vec3(0, 0, 0));
        v.vector("place_b", self.place_b, Vec3(0, 0, 0));
        v.direction("axis_a", self.axis_a, Vec3(0, 0, 1));
        v.direction("axis_b", self.axis_b, Vec3(0, 0, 1));
        v.rotation("turn", self.turn);
    }
};

/// A channel by which a linkage is moved.
struct LinkageInput {
    ChannelRef channel;
    bool operator==(const LinkageInput&) const = default;

    template <class Self, class Visitor>
    static void fields(Self& self, Visitor& v) {
        v.channel("channel", self.channel, Role::Needed);
    }
};

/// Closed loops of parts that move together: the joints between the parts of each closure, up to what carries
/// both. Its inputs are asked, by keys, a hand or what drives them; all other joints of the loops follow.
/// What the machine cannot do it does not: an input stops at a dead point, or where a joint stands at its
/// limit.
struct Linkage {
    static constexpr bool one_measure = true;  ///< its parts grow together, or not at all

    LinkageId id;
    std::string name;
    std::vector<Closure> closures;
    std::vector<LinkageInput> inputs;
    bool off = false;
    bool operator==(const Linkage&) const = default;

    Damaged damaged() const;

    template <class Self, class Visitor>
    static void fields(Self& self, Visitor& v) {
        v.id("id", self.id);
        v.text("name", self.name);
        v.list("closures", self.closures);
        v.list("inputs", self.inputs);
        v.flag("off", self.off);
    }
    /// Makes it that of a mirror image, in which own axes of parts may be turned over.
    template <class Sign>
    void mirror(const Sign& sign);

    bool pivot_moved(PartId part, const Frame& new_from_old) {
        bool moved = false;
        for (Closure& closure : closures) {
            if (closure.a == part) {
                closure.place_a = new_from_old.point(closure.place_a);
                closure.axis_a = new_from_old.direction(closure.axis_a).normalized();
                closure.turn = (closure.turn * new_from_old.rotation.conjugate()).normalized();
            }
            if (closure.b == part) {
                closure.place_b = new_from_old.point(closure.place_b);
                closure.axis_b = new_from_old.direction(closure.axis_b).normalized();
                closure.turn = (new_from_old.rotation * closure.turn).normalized();
            }
            moved |= closure.a == part || closure.b == part;
        }
        return moved;
    }
    PartId home() const { return closures.empty() ? PartId{} : closures.front().a; }
    bool is_input(ChannelRef channel) const {
        for (const LinkageInput& input : inputs)
            if (input.channel == channel) return true;
        return false;
    }
};

template <class Sign>
void Linkage::mirror(const Sign& sign) {
    const auto flip = [&](PartId of, int k) {
        const auto kind = static_cast<ChannelKind>(static_cast<int>(ChannelKind::ShiftX) + k);
        return sign(ChannelRef{of, kind}) < 0 ? -1.0 : 1.0;
    };
    for (Closure& closure : closures) {
        Mat3 turn = closure.turn.toRotationMatrix();
        for (int k = 0; k < 3; ++k) {
            const double a = flip(closure.a, k), b = flip(closure.b, k);
            closure.place_a[k] *= a;
            closure.axis_a[k] *= a;
            closure.place_b[k] *= b;
            closure.axis_b[k] *= b;
            turn.col(k) *= a;
            turn.row(k) *= b;
        }
        if (turn.determinant() > 0) closure.turn = Quat(turn).normalized();
    }
}

}  // namespace pivrak
