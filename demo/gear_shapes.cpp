// Sources: ISO 53:1998 (basic rack), ISO 21771:2007 (involute geometry), ISO 606:2015 (sprockets).
#include "demo/gear_shapes.h"

#include <cmath>

namespace pivrak::demo {
namespace {

constexpr double pressure_angle = 20 * rad_per_deg;
constexpr double clearance_modules = 0.25;

double involute(double angle) {
    return std::tan(angle) - angle;
}

Vec2 at(double radius, double angle) {
    return {radius * std::cos(angle), radius * std::sin(angle)};
}

}  // namespace

Loop involute_outline(const GearData& g, int flank_points, bool inside) {
    const double m = g.module_mm, z = g.teeth, pitch_radius = m * z / 2,
                 base = pitch_radius * std::cos(pressure_angle);
    // The space of a ring gear is an outside tooth form with its addendum and dedendum exchanged.
    const double tip = pitch_radius + (inside ? 1 + clearance_modules : 1) * m;
    const double root = pitch_radius - (inside ? 1 : 1 + clearance_modules) * m;
    const double half_thickness = pi / (2 * z) + (inside ? 1 : -1) * g.thinning * m / (2 * pitch_radius);
    const auto half_angle = [&](double r) {
        return half_thickness + involute(pressure_angle) - involute(std::acos(std::min(1.0, base / r)));
    };
    const double flank_start = std::max(root, base);
    Loop loop;
    for (int tooth = 0; tooth < g.teeth; ++tooth) {
        const double middle = g.first_tooth_rad + 2 * pi * tooth / z;
        if (root < flank_start) loop.push_back(at(root, middle - half_angle(flank_start)));
        for (int i = 0; i < flank_points; ++i) {
            const double r = flank_start + (tip - flank_start) * i / (flank_points - 1);
            loop.push_back(at(r, middle - half_angle(r)));
        }
        loop.push_back(at(tip, middle));
        for (int i = flank_points; i-- > 0;) {
            const double r = flank_start + (tip - flank_start) * i / (flank_points - 1);
            loop.push_back(at(r, middle + half_angle(r)));
        }
        if (root < flank_start) loop.push_back(at(root, middle + half_angle(flank_start)));
        loop.push_back(at(root, middle + pi / z));
    }
    return loop;
}

Solid gear(const GearData& g) {
    const Loop teeth = involute_outline(g), bore = circle(g.bore_radius_mm, 48);
    const double half = g.width_mm / 2;
    if (g.hub_radius_mm <= 0) return extrude(teeth, {bore}, -half, half);
    Solid s;
    s.wall(teeth, -half, half, true);
    const double rim_radius = g.module_mm * (g.teeth / 2.0 - 1.25) - 2.2 * g.module_mm;
    const Loop rim = circle(rim_radius, 96), hub = circle(g.hub_radius_mm, 96),
               hub_edge = circle(g.hub_radius_mm - 3, 96);
    const std::vector<Loop> holes =
        hole_ring(g.holes, (rim_radius + g.hub_radius_mm) / 2, g.hole_radius_mm, 32);
    std::vector<Loop> web_holes = holes;
    web_holes.push_back(hub);
    const double web = (g.web_mm > 0 ? g.web_mm : g.width_mm) / 2, hub_half = half + g.hub_extra_mm;
    for (const bool up : {true, false}) {
        const double side = up ? 1 : -1;
        const auto wall = [&](const Loop& loop, double from, double to, bool outward) {
            s.wall(loop, std::min(side * from, side * to), std::max(side * from, side * to), outward);
        };
        s.cap(teeth, {rim}, side * half, up);
        wall(rim, web, half, false);
        s.cap(rim, web_holes, side * web, up);
        wall(hub, web, hub_half - 3, true);
        if (up)
            s.slope(hub, hub_half - 3, hub_edge, hub_half, true);
        else
            s.slope(hub_edge, -hub_half, hub, -hub_half + 3, true);
        s.cap(hub_edge, {bore}, side * hub_half, up);
    }
    for (const Loop& hole : holes) s.wall(hole, -web, web, false);
    s.wall(bore, -hub_half, hub_half, false);
    return s;
}

Solid ring_gear(const GearData& g, double outer_radius, const std::vector<Loop>& bolt_holes) {
    std::vector<Loop> holes = bolt_holes;
    holes.push_back(involute_outline(g, 6, true));
    return extrude(circle(outer_radius, 96), holes, -g.width_mm / 2, g.width_mm / 2, 4);
}

Solid sprocket(const SprocketData& d) {
    const double pitch_radius = d.pitch_mm / (2 * std::sin(pi / d.teeth));
    const double seat = 0.505 * d.roller_mm + 0.069 * std::cbrt(d.roller_mm) / 2;
    const double tip = pitch_radius + 0.42 * d.roller_mm;
    Loop loop;
    for (int i = 0; i < d.teeth; ++i) {
        const double middle = 2 * pi * i / d.teeth;
        const Vec2 pin = at(pitch_radius, middle), out = at(1, middle), side(-out.y(), out.x());
        const double tip_half = 0.30 * 2 * pi / d.teeth / 2;
        loop.push_back(at(tip, middle - pi / d.teeth + tip_half));
        for (int k = -4; k <= 4; ++k) {
            const double a = k * 65 * rad_per_deg / 4;
            loop.push_back(pin + seat * (std::sin(a) * side - std::cos(a) * out));
        }
        loop.push_back(at(tip, middle + pi / d.teeth - tip_half));
    }
    Solid s;
    const Loop bore = circle(d.bore_radius_mm, 48), hub = circle(d.hub_radius_mm, 64);
    const double half = d.width_mm / 2;
    s.wall(loop, -half, half, true);
    s.cap(loop, {bore}, -half, false);
    s.cap(loop, {hub}, half, true);
    s.wall(hub, half, half + d.hub_mm, true);
    s.cap(hub, {bore}, half + d.hub_mm, true);
    s.wall(bore, -half, half + d.hub_mm, false);
    return s;
}

namespace {

/// A chain plate: two round ends and a waist.
Loop plate_outline(double pitch, double height) {
    Loop loop;
    const double r = height / 2;
    for (int i = 0; i <= 12; ++i) loop.push_back(Vec2(pitch / 2, 0) + at(r, -pi / 2 + pi * i / 12));
    loop.push_back({0, 0.82 * r});
    for (int i = 0; i <= 12; ++i) loop.push_back(Vec2(-pitch / 2, 0) + at(r, pi / 2 + pi * i / 12));
    loop.push_back({0, -0.82 * r});
    return loop;
}

/// Two plates joined by round bars: one piece.
Solid link(double pitch, double height, double bar_radius, double plate_low, double plate_high) {
    const Loop plate = plate_outline(pitch, height);
    const std::vector<Loop> bars{circle(bar_radius, 24, {pitch / 2, 0}),
                                 circle(bar_radius, 24, {-pitch / 2, 0})};
    Solid s;
    for (const double side : {1.0, -1.0}) {
        const double low = std::min(side * plate_low, side * plate_high),
                     high = std::max(side * plate_low, side * plate_high);
        s.wall(plate, low, high, true);
        s.cap(plate, {}, side * plate_high, side > 0);
        s.cap(plate, bars, side * plate_low, side < 0);
    }
    for (const Loop& bar : bars) s.wall(bar, -plate_low, plate_low, true);
    return s;
}

}  // namespace

Solid inner_link(double pitch, double roller, double inner_width, double height) {
    return link(pitch, height, roller / 2, inner_width / 2, inner_width / 2 + 3.2);
}

Solid outer_link(double pitch, double pin, double inner_width, double height) {
    return link(pitch, 0.92 * height, pin / 2, inner_width / 2 + 3.6, inner_width / 2 + 6.8);
}

}  // namespace pivrak::demo
