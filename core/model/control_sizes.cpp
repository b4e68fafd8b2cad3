#include "core/model/control_sizes.h"

#include <cmath>

#include "core/model/edits/branch_bounds.h"

namespace pivrak {
namespace {

constexpr double margin = 1.125;
constexpr int ring_steps = 48;

using Lines = std::vector<std::vector<Vec3>>;

/// Rings and arrows show the axis that the joint moves about or along; flat forms lie on the flattest side of
/// what is driven, as all do for other joints.
int standing_axis(const Joint& joint, ControlForm form, const Vec3& half) {
    const bool flat = form == ControlForm::Plate || form == ControlForm::Cross;
    if (!flat && (joint.kind == JointKind::Hinge || joint.kind == JointKind::Slide ||
                  joint.kind == JointKind::Cylinder))
        return joint.axis;
    Eigen::Index flattest = 0;
    half.minCoeff(&flattest);
    return static_cast<int>(flattest);
}

/// A symbol's own directions: two across its axis, then the axis, scaled to its half extents.
struct Base {
    Vec3 middle, u, v, n;
    explicit Base(const ControlSymbol& s) {
        const int a = s.axis, b = (a + 1) % 3, c = (a + 2) % 3;
        middle = s.middle_m;
        u = s.half_m[b] * Vec3::Unit(b);
        v = s.half_m[c] * Vec3::Unit(c);
        n = s.half_m[a] * Vec3::Unit(a);
    }
    Vec3 at(double x, double y, double z = 0) const { return middle + x * u + y * v + z * n; }
};

Lines ring(const Base& b) {
    std::vector<Vec3> line;
    for (int i = 0; i <= ring_steps; ++i) {
        const double a = 2 * pi * i / ring_steps;
        line.push_back(b.at(std::cos(a), std::sin(a)));
    }
    // Four short marks inwards tell its turning from a circle of the shape.
    Lines lines{line};
    for (int i = 0; i < 4; ++i) {
        const double x = std::cos(pi / 2 * i), y = std::sin(pi / 2 * i);
        lines.push_back({b.at(x, y), b.at(0.86 * x, 0.86 * y)});
    }
    return lines;
}

/// The outline of its floor, and a post at each corner.
Lines box(const Base& b) {
    Lines lines{{b.at(-1, -1, -1), b.at(1, -1, -1), b.at(1, 1, -1), b.at(-1, 1, -1), b.at(-1, -1, -1)}};
    for (const double x : {-1.0, 1.0})
        for (const double y : {-1.0, 1.0}) lines.push_back({b.at(x, y, -1), b.at(x, y, 1)});
    return lines;
}

/// Along the axis, with a head of two strokes across each other.
Lines arrow(const Base& b) {
    Lines lines{{b.at(0, 0, -1), b.at(0, 0, 1)}};
    for (const double side : {1.0, -1.0}) {
        lines.push_back({b.at(0.3 * side, 0, 0.55), b.at(0, 0, 1)});
        lines.push_back({b.at(0, 0.3 * side, 0.55), b.at(0, 0, 1)});
    }
    return lines;
}

Lines cross(const Base& b) {
    constexpr double w = 0.16;
    return {{b.at(-1, -w), b.at(-w, -w), b.at(-w, -1), b.at(w, -1), b.at(w, -w), b.at(1, -w), b.at(1, w),
             b.at(w, w), b.at(w, 1), b.at(-w, 1), b.at(-w, w), b.at(-1, w), b.at(-1, -w)}};
}

/// A rectangle with its corners cut.
Lines plate(const Base& b) {
    constexpr double c = 0.82;
    return {{b.at(-c, -1), b.at(c, -1), b.at(1, -c), b.at(1, c), b.at(c, 1), b.at(-c, 1), b.at(-1, c),
             b.at(-1, -c), b.at(-c, -1)}};
}

}  // namespace

ControlSymbol fitted_symbol(const Document& document, PartId id, ControlForm form, ControlColor color,
                            double fallback) {
    const Part& part = *document.parts.find(id);
    const Bounds bounds = branch_bounds(document, {id}, world_from_rest(document, id).inverse());
    ControlSymbol symbol{form, color, 2, {0, 0, 0}, Vec3::Constant(fallback)};
    if (!bounds.empty() && bounds.longest() > 0) {
        symbol.middle_m = bounds.middle();
        // Nothing is so flat that its symbol cannot be picked.
        symbol.half_m = (margin * 0.5 * bounds.size()).cwiseMax(0.02 * bounds.longest());
    }
    symbol.axis = standing_axis(part.joint, form, symbol.half_m);
    if (form == ControlForm::Ring) {
        const int b = (symbol.axis + 1) % 3, c = (symbol.axis + 2) % 3;
        const double radius = std::max(symbol.half_m[b], symbol.half_m[c]);
        symbol.half_m[b] = symbol.half_m[c] = radius;
    }
    return symbol;
}

std::vector<std::vector<Vec3>> symbol_lines(const ControlSymbol& symbol) {
    const Base base(symbol);
    switch (symbol.form) {
        case ControlForm::Ring:
            return ring(base);
        case ControlForm::Box:
            return box(base);
        case ControlForm::Arrow:
            return arrow(base);
        case ControlForm::Cross:
            return cross(base);
        case ControlForm::Plate:
            return plate(base);
    }
    return {};
}

}  // namespace pivrak
