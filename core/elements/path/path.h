#pragma once

#include <nlohmann/json.hpp>
#include <optional>
#include <string>
#include <vector>

#include "core/geometry/frame.h"
#include "core/model/field.h"

namespace pivrak {

/// How a path runs through its points: straight from one to the next; as a uniform cubic B-spline that they
/// control; as cubic Bézier curves with handles; or round an ellipse.
enum class PathForm : std::uint8_t { Polyline, Smooth, Bezier, Ellipse };
inline constexpr ChoiceWords<4> path_form_words{"polyline", "smooth", "bezier", "ellipse"};

struct PathPoint {
    Vec3 place{0, 0, 0};                   ///< in the frame of the path's carrier [m]
    Vec3 before{0, 0, 0}, after{0, 0, 0};  ///< handles against the place [m]; of Bézier paths
    bool operator==(const PathPoint&) const = default;

    template <class Self, class Visitor>
    static void fields(Self& self, Visitor& v) {
        v.vector("place", self.place);
        v.vector("before", self.before, Vec3(0, 0, 0));
        v.vector("after", self.after, Vec3(0, 0, 0));
    }
};

/// A roll about the path's direction [rad], so far along it [m]; linear between two of them.
struct PathRoll {
    double at_m = 0, roll_rad = 0;
    bool operator==(const PathRoll&) const = default;
};

/// A flat path laid on the ground, at a height above it, bumps shorter than `ease_m` evened out.
struct Drape {
    PartId ground;
    double height_m = 0, ease_m = 0;
    bool operator==(const Drape&) const = default;

    template <class Self, class Visitor>
    static void fields(Self& self, Visitor& v) {
        v.part("ground", self.ground, Role::Held);
        v.number("height_m", self.height_m, {.dimension = Dimension::Length});
        v.number("ease_m", self.ease_m, {.dimension = Dimension::Length});
    }
};

/// A curve that parts ride. An ellipse has three points: its centre, and the ends of two half axes (of any
/// two conjugate half diameters); all others two or more.
struct Path {
    PathId id;
    std::string name;
    PartId carrier;  ///< the part it moves with; none for one that stands in the world
    PathForm form = PathForm::Smooth;
    bool closed = false;  ///< an ellipse always is
    std::vector<PathPoint> points;
    std::vector<PathRoll> rolls;  ///< by rising `at_m`
    std::optional<Drape> drape;
    nlohmann::json unknown = nlohmann::json::object();  ///< fields of newer files, kept and written back
    bool operator==(const Path&) const = default;

    bool pivot_moved(PartId part, const Frame& new_from_old) {
        if (part != carrier) return false;
        for (PathPoint& point : points)
            point = {new_from_old.point(point.place), new_from_old.direction(point.before),
                     new_from_old.direction(point.after)};
        return true;
    }
    bool is_closed() const { return closed || form == PathForm::Ellipse; }
    Damaged damaged() const {
        if (form == PathForm::Ellipse ? points.size() != 3 : points.size() < 2)
            return "a path has too few points";
        for (std::size_t i = 1; i < rolls.size(); ++i)
            if (!(rolls[i - 1].at_m < rolls[i].at_m)) return "the rolls of a path are out of order";
        return std::nullopt;
    }

    template <class Self, class Visitor>
    static void fields(Self& self, Visitor& v) {
        v.id("id", self.id);
        v.text("name", self.name);
        v.part_if("carrier", self.carrier, Role::Needed);
        v.choice("form", self.form, path_form_words);
        v.flag("closed", self.closed);
        v.list("points", self.points);
        v.pairs("rolls", self.rolls, &PathRoll::at_m, &PathRoll::roll_rad);
        v.group("drape", self.drape);
        v.unknown(self.unknown);
    }
};

}  // namespace pivrak
