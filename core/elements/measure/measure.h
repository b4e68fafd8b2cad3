#pragma once

#include <string>

#include "core/geometry/frame.h"
#include "core/model/field.h"

namespace pivrak {

using MeasureId = Id<struct MeasureTag>;

/// What is measured, live, from where parts stand and how they are shaped.
enum class Measures : std::uint8_t {
    Distance,    ///< from a place to another
    Angle,       ///< from an axis to another, 0 to 180 degrees
    Corner,      ///< at the second of three places, 0 to 180 degrees
    Twist,       ///< how far a part is turned against another about its axis, against rest, -180 to 180
    PathLength,  ///< of a path
    PathPlace,   ///< how far along a path the point nearest to a place is
    PathBend,    ///< the curvature of a path at that point [1/m]
    Radius,      ///< at which a wheel rolls
    Teeth,       ///< of a gear
    Pitch,       ///< of a chain
    Speed,       ///< of a place in the world, over the half frame before
    Clearance,   ///< the least distance of two parts' surfaces, each with what is fixed to it
};
inline constexpr ChoiceWords<12> measures_words{"distance",    "angle",      "corner",    "twist",
                                                "path length", "path place", "path bend", "radius",
                                                "teeth",       "pitch",      "speed",     "clearance"};

/// Something that is measured: a number that formulas take, that is plotted, and drawn in the view as a
/// dimension. Nothing sets it; its channel is what the parts give.
struct Measure {
    MeasureId id;
    std::string name;
    Measures what = Measures::Distance;
    PartId a, b, c;
    Vec3 place_a{0, 0, 0}, place_b{0, 0, 0}, place_c{0, 0, 0};  ///< in the parts' frames [m]
    Vec3 axis_a{1, 0, 0}, axis_b{1, 0, 0};                      ///< alike, unit
    PathId path;
    ChainId chain;
    bool hidden = false;  ///< in the view
    Channel value;        ///< its reading; it gives that itself
    bool operator==(const Measure&) const = default;

    bool has_place() const {
        return what == Measures::Distance || what == Measures::Corner || what == Measures::Speed ||
               is_beside_path();
    }
    bool has_axes() const { return what == Measures::Angle || what == Measures::Twist; }
    bool has_second() const {
        return what == Measures::Distance || what == Measures::Corner || what == Measures::Clearance ||
               has_axes();
    }
    bool is_beside_path() const { return what == Measures::PathPlace || what == Measures::PathBend; }
    bool is_of_path() const { return what == Measures::PathLength || is_beside_path(); }
    /// Whether it changes only with the size of what it is measured on.
    bool is_fixed() const {
        return what == Measures::PathLength || what == Measures::Radius || what == Measures::Teeth ||
               what == Measures::Pitch;
    }
    bool is_of_part() const { return what != Measures::PathLength && what != Measures::Pitch; }

    ChannelKind gives() const {
        switch (what) {
            case Measures::Angle:
            case Measures::Corner:
            case Measures::Twist:
                return ChannelKind::Angle;
            case Measures::Teeth:
                return ChannelKind::Count;
            case Measures::PathBend:
                return ChannelKind::Bend;
            case Measures::Speed:
                return ChannelKind::Speed;
            default:
                return ChannelKind::Length;
        }
    }
    bool has(ChannelKind kind) const { return kind == gives(); }

    Damaged damaged() const {
        if (is_of_part() && !a) return "a measure has no part";
        if (what == Measures::Corner && !c) return "a corner has no third place";
        return std::nullopt;
    }

    template <class Self, class Visitor>
    static void fields(Self& self, Visitor& v) {
        v.id("id", self.id);
        v.text("name", self.name);
        v.choice("what", self.what, measures_words);
        if (self.is_of_part()) v.part("a", self.a, Role::Needed);
        if (self.has_second()) v.part("b", self.b, Role::Held);
        if (self.what == Measures::Corner) v.part("c", self.c, Role::Held);
        v.vector("place_a", self.place_a, Vec3(0, 0, 0));
        v.vector("place_b", self.place_b, Vec3(0, 0, 0));
        v.vector("place_c", self.place_c, Vec3(0, 0, 0));
        v.direction("axis_a", self.axis_a, Vec3(1, 0, 0));
        v.direction("axis_b", self.axis_b, Vec3(1, 0, 0));
        v.id_if("path", self.path);
        v.id_if("chain", self.chain);
        v.flag("hidden", self.hidden);
        switch (self.gives()) {
            case ChannelKind::Angle:
                return v.own("angle", ChannelKind::Angle, self.value, {.usual = 0});
            case ChannelKind::Count:
                return v.own("count", ChannelKind::Count, self.value, {.usual = 0});
            case ChannelKind::Bend:
                return v.own("bend", ChannelKind::Bend, self.value, {.usual = 0});
            case ChannelKind::Speed:
                return v.own("speed", ChannelKind::Speed, self.value, {.usual = 0});
            default:
                return v.own("length", ChannelKind::Length, self.value, {.usual = 0});
        }
    }
    /// Makes it that of a mirror image, in which own axes of parts may be turned over.
    template <class Sign>
    void mirror(const Sign& sign) {
        for (int k = 0; k < 3; ++k) {
            const auto kind = static_cast<ChannelKind>(static_cast<int>(ChannelKind::ShiftX) + k);
            const auto turns_over = [&](PartId part) { return part && sign(ChannelRef{part, kind}) < 0; };
            if (turns_over(a)) place_a[k] = -place_a[k], axis_a[k] = -axis_a[k];
            if (turns_over(b)) place_b[k] = -place_b[k], axis_b[k] = -axis_b[k];
            if (turns_over(c)) place_c[k] = -place_c[k];
        }
        // In the image the same turn goes round the other way.
        if (what == Measures::Twist) axis_a = -axis_a;
    }
    /// Places that were picked stay; those at pivots go with them.
    bool pivot_moved(PartId moved, const Frame& new_from_old) {
        const Measure before = *this;
        const auto move = [&](PartId part, Vec3& place) {
            if (part == moved && place != Vec3(0, 0, 0)) place = new_from_old.point(place);
        };
        move(a, place_a);
        move(b, place_b);
        move(c, place_c);
        if (moved == a) axis_a = new_from_old.direction(axis_a);
        if (moved == b) axis_b = new_from_old.direction(axis_b);
        return !(*this == before);
    }
    PartId home() const { return a; }
};

}  // namespace pivrak
