// Sources: ISO 53:1998 (basic rack), ISO 23509:2016 (pitch cones), ISO/TR 10828 (axial section of worms).
// From memory: the spherical involute of a base cone.
#include "core/geometry/teeth/crossed_gear_shapes.h"

#include <algorithm>
#include <cmath>

namespace pivrak {
namespace {

/// One tooth of the basic rack from its left root to its right one: places along the pitch line and heights.
std::vector<Vec2> rack_tooth(double module, double thinning, double pressure_angle_rad, double middle) {
    const double half = (pi / 4 - 0.5 * thinning) * module, slope = std::tan(pressure_angle_rad),
                 root = (1 + clearance_modules) * module;
    return {{middle - half - slope * root, -root},
            {middle - half + slope * module, module},
            {middle + half - slope * module, module},
            {middle + half + slope * root, -root}};
}

/// How far a spherical involute has turned about its base cone where it reaches a cone.
double spherical_involute(double base_rad, double cone_rad) {
    if (cone_rad <= base_rad) return 0;
    return std::acos(std::min(1.0, std::cos(cone_rad) / std::cos(base_rad))) / std::sin(base_rad) -
           std::acos(std::min(1.0, std::tan(base_rad) / std::tan(cone_rad)));
}

Vec3 on_sphere(double radius, double cone_rad, double angle_rad) {
    return radius * Vec3(std::sin(cone_rad) * std::cos(angle_rad), std::sin(cone_rad) * std::sin(angle_rad),
                         std::cos(cone_rad));
}

/// Cone angles and turns of a bevel gear's outline.
std::vector<Vec2> bevel_outline(const BevelShape& g, int flank_points) {
    const double pitch = g.pitch_cone_rad(), far = g.outer_cone_distance();
    const double base = std::asin(std::sin(pitch) * std::cos(g.pressure_angle_rad));
    const double tip = pitch + std::atan(g.module / far),
                 root = pitch - std::atan((1 + clearance_modules) * g.module / far),
                 start = std::max(root, base);
    const double half_at_pitch = pi / (2 * g.teeth) - 0.5 * g.thinning * g.module / (far * std::sin(pitch));
    const auto half = [&](double cone) {
        return half_at_pitch + spherical_involute(base, pitch) - spherical_involute(base, cone);
    };
    std::vector<Vec2> outline;
    for (int tooth = 0; tooth < g.teeth; ++tooth) {
        const double middle = 2 * pi * tooth / g.teeth;
        const auto cone = [&](int i) { return start + (tip - start) * i / (flank_points - 1); };
        if (root < start) outline.push_back({root, middle - half(start)});
        for (int i = 0; i < flank_points; ++i) outline.push_back({cone(i), middle - half(cone(i))});
        outline.push_back({tip, middle});
        for (int i = flank_points; i-- > 0;) outline.push_back({cone(i), middle + half(cone(i))});
        if (root < start) outline.push_back({root, middle + half(start)});
        outline.push_back({root, middle + pi / g.teeth});
    }
    return outline;
}

Loop turned(Loop loop, double angle_rad) {
    const double c = std::cos(angle_rad), s = std::sin(angle_rad);
    for (Vec2& p : loop) p = Vec2(c * p.x() - s * p.y(), s * p.x() + c * p.y());
    return loop;
}

}  // namespace

double BevelShape::pitch_cone_rad() const {
    return std::atan2(std::sin(shaft_angle_rad),
                      static_cast<double>(mate_teeth) / teeth + std::cos(shaft_angle_rad));
}

double BevelShape::outer_cone_distance() const {
    return module * teeth / (2 * std::sin(pitch_cone_rad()));
}

Solid rack(const RackShape& r) {
    const double pitch = pi * r.module, base = r.base > 0 ? r.base : 2 * r.module,
                 low = -(1 + clearance_modules) * r.module - base;
    const double first = -0.5 * (r.teeth - 1) * pitch, end = 0.5 * r.teeth * pitch;
    Loop loop{{-end, low}, {end, low}};
    for (int i = r.teeth; i-- > 0;) {
        const auto tooth = rack_tooth(r.module, r.thinning, r.pressure_angle_rad, first + i * pitch);
        if (i == r.teeth - 1) loop.push_back({end, tooth.back().y()});
        for (auto p = tooth.rbegin(); p != tooth.rend(); ++p) loop.push_back(*p);
        if (i == 0) loop.push_back({-end, tooth.front().y()});
    }
    Solid s = extrude(loop, {}, -r.width / 2, r.width / 2);
    return s.turn(0, pi / 2);
}

Solid worm(const WormShape& w) {
    const double pitch = pi * w.module, lead = w.starts * pitch, hand = w.left_hand ? -1 : 1;
    // The section across the axis: as it turns it is shifted by the lead, so a place along the axis is an
    // angle the other way.
    constexpr int flank_points = 5;
    std::vector<Vec2> section;
    for (int start = 0; start < w.starts; ++start) {
        const auto tooth = rack_tooth(w.module, w.thinning, w.pressure_angle_rad, start * pitch);
        for (std::size_t edge = 0; edge < 4; ++edge) {
            const Vec2 to = edge == 3 ? Vec2(tooth[0].x() + pitch, tooth[0].y()) : tooth[edge + 1];
            for (int i = 0; i < flank_points; ++i)
                section.push_back(tooth[edge] + (to - tooth[edge]) * i / flank_points);
        }
    }
    const int rings = std::max(2, static_cast<int>(std::ceil(w.length / lead * 64)));
    std::vector<std::vector<Vec3>> tube;
    for (int k = 0; k <= rings; ++k) {
        const double z = w.length * (static_cast<double>(k) / rings - 0.5);
        std::vector<Vec3> ring;
        for (const Vec2& p : section) {
            const double angle = hand * 2 * pi * (z - p.x()) / lead, radius = w.pitch_radius + p.y();
            ring.push_back({radius * std::cos(angle), radius * std::sin(angle), z});
        }
        // Rings run counterclockwise.
        if (hand > 0) std::reverse(ring.begin(), ring.end());
        tube.push_back(std::move(ring));
    }
    Solid s;
    s.add_side(tube);
    s.add_end(tube.front(), false);
    s.add_end(tube.back(), true);
    return s;
}

Solid bevel_gear(const BevelShape& g, int flank_points) {
    const std::vector<Vec2> outline = bevel_outline(g, flank_points);
    const double far = g.outer_cone_distance();
    std::vector<std::vector<Vec3>> rings;
    for (const double distance : {far - g.width, far}) {
        std::vector<Vec3> ring;
        for (const Vec2& p : outline) ring.push_back(on_sphere(distance, p.x(), p.y()));
        rings.push_back(std::move(ring));
    }
    Solid s;
    s.add_side(rings);
    s.add_end(rings.front(), false);
    s.add_end(rings.back(), true);
    s.move({0, 0, -far * std::cos(g.pitch_cone_rad())});
    return s;
}

Solid helical_gear(const GearShape& g, double helix_rad) {
    const Loop teeth = involute_outline(g), bore = circle(g.bore_radius, 48);
    const std::vector<Loop> holes = g.bore_radius > 0 ? std::vector<Loop>{bore} : std::vector<Loop>{};
    const double twist = std::tan(helix_rad) / (0.5 * g.module * g.teeth), half = g.width / 2;
    const int slices =
        std::max(1, static_cast<int>(std::ceil(std::abs(twist) * g.width / (2 * rad_per_deg))));
    const auto height = [&](int i) { return g.width * (static_cast<double>(i) / slices - 0.5); };
    Solid s;
    for (int i = 0; i < slices; ++i)
        s.slope(turned(teeth, twist * height(i)), height(i), turned(teeth, twist * height(i + 1)),
                height(i + 1), true);
    s.cap(turned(teeth, -twist * half), holes, -half, false);
    s.cap(turned(teeth, twist * half), holes, half, true);
    for (const Loop& hole : holes) s.wall(hole, -half, half, false);
    return s;
}

}  // namespace pivrak
