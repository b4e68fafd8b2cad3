// Sources: ISO 53:1998 (basic rack), ISO 21771:2007 (involute geometry), ISO 606:2015 (sprockets).
#include "core/geometry/teeth/gear_shapes.h"

#include <algorithm>
#include <cmath>

namespace pivrak {
namespace {

double involute(double angle) {
    return std::tan(angle) - angle;
}

Vec2 at(double radius, double angle) {
    return {radius * std::cos(angle), radius * std::sin(angle)};
}

}  // namespace

Loop involute_outline(const GearShape& g, int flank_points, bool inside) {
    const double m = g.module, z = g.teeth, pitch_radius = m * z / 2,
                 base = pitch_radius * std::cos(g.pressure_angle_rad);
    // The space of a ring gear is an outside tooth form with its addendum and dedendum exchanged.
    const double tip = pitch_radius + (inside ? 1 + clearance_modules : 1) * m;
    const double root = pitch_radius - (inside ? 1 : 1 + clearance_modules) * m;
    const double half_thickness = pi / (2 * z) + (inside ? 1 : -1) * g.thinning * m / (2 * pitch_radius);
    const auto half_angle = [&](double r) {
        return half_thickness + involute(g.pressure_angle_rad) - involute(std::acos(std::min(1.0, base / r)));
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

Solid gear(const GearShape& g) {
    const Loop teeth = involute_outline(g), bore = circle(g.bore_radius, 48);
    const double half = g.width / 2;
    if (g.hub_radius <= 0 || g.bore_radius <= 0)
        return extrude(teeth, g.bore_radius > 0 ? std::vector<Loop>{bore} : std::vector<Loop>{}, -half, half);
    const double chamfer = 0.375 * g.module;
    Solid s;
    s.wall(teeth, -half, half, true);
    const double rim_radius = g.module * (g.teeth / 2.0 - 1.25) - 2.2 * g.module;
    const Loop rim = circle(rim_radius, 96), hub = circle(g.hub_radius, 96),
               hub_edge = circle(g.hub_radius - chamfer, 96);
    const std::vector<Loop> holes = hole_ring(g.holes, (rim_radius + g.hub_radius) / 2, g.hole_radius, 32);
    std::vector<Loop> web_holes = holes;
    web_holes.push_back(hub);
    const double web = (g.web > 0 ? g.web : g.width) / 2, hub_half = half + g.hub_extra;
    for (const bool up : {true, false}) {
        const double side = up ? 1 : -1;
        const auto wall = [&](const Loop& loop, double from, double to, bool outward) {
            s.wall(loop, std::min(side * from, side * to), std::max(side * from, side * to), outward);
        };
        s.cap(teeth, {rim}, side * half, up);
        wall(rim, web, half, false);
        s.cap(rim, web_holes, side * web, up);
        wall(hub, web, hub_half - chamfer, true);
        if (up)
            s.slope(hub, hub_half - chamfer, hub_edge, hub_half, true);
        else
            s.slope(hub_edge, -hub_half, hub, -hub_half + chamfer, true);
        s.cap(hub_edge, {bore}, side * hub_half, up);
    }
    for (const Loop& hole : holes) s.wall(hole, -web, web, false);
    s.wall(bore, -hub_half, hub_half, false);
    return s;
}

Solid ring_gear(const GearShape& g, double outer_radius, const std::vector<Loop>& bolt_holes) {
    std::vector<Loop> holes = bolt_holes;
    holes.push_back(involute_outline(g, 6, true));
    return extrude(circle(outer_radius, 96), holes, -g.width / 2, g.width / 2, 0.05 * g.width);
}

Solid sprocket(const SprocketShape& d) {
    const double pitch_radius = d.pitch / (2 * std::sin(pi / d.teeth));
    const double seat = 0.505 * d.roller + 0.069 * std::cbrt(d.roller) / 2;
    const double tip = pitch_radius + 0.42 * d.roller;
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
    const Loop bore = circle(d.bore_radius, 48);
    const std::vector<Loop> holes = d.bore_radius > 0 ? std::vector<Loop>{bore} : std::vector<Loop>{};
    const double half = d.width / 2;
    if (d.hub_radius <= d.bore_radius || d.hub <= 0) return extrude(loop, holes, -half, half);
    Solid s;
    const Loop hub = circle(d.hub_radius, 64);
    s.wall(loop, -half, half, true);
    s.cap(loop, holes, -half, false);
    s.cap(loop, {hub}, half, true);
    s.wall(hub, half, half + d.hub, true);
    s.cap(hub, holes, half + d.hub, true);
    for (const Loop& hole : holes) s.wall(hole, -half, half + d.hub, false);
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

Solid inner_link(double pitch, double roller, double inner_width, double height, double plate) {
    return link(pitch, height, roller / 2, inner_width / 2, inner_width / 2 + plate);
}

Solid outer_link(double pitch, double pin, double inner_width, double height, double plate) {
    const double gap = 0.125 * plate;
    return link(pitch, 0.92 * height, pin / 2, inner_width / 2 + plate + gap,
                inner_width / 2 + 2 * plate + gap);
}

namespace {

/// A circle with the corners of the lugs: four a lug, so that rings of one wheel fit each other.
Loop lug_ring(int lugs, double land, double groove) {
    Loop loop;
    for (int i = 0; i < lugs; ++i) {
        const double pitch = 2 * pi / lugs, a = i * pitch;
        loop.push_back(at(land, a));
        loop.push_back(at(land, a + 0.31 * pitch));
        loop.push_back(at(land, a + 0.62 * pitch));
        loop.push_back(at(groove, a + 0.68 * pitch));
        loop.push_back(at(groove, a + 0.94 * pitch));
    }
    return loop;
}

}  // namespace

Solid wheel(const WheelShape& w) {
    const bool lugged = w.lugs > 2 && w.lug_depth > 0;
    const int lugs = lugged ? w.lugs : 18;
    const auto ring = [&](double radius) { return lug_ring(lugs, radius, radius); };
    const double half = w.width / 2, bead = w.rim_radius, hub = std::max(2.2 * w.bore_radius, 0.38 * bead);
    const double wall = 0.06 * w.width, lip = 0.88 * half, disc = 0.12 * w.width;
    const double groove = w.radius - (lugged ? w.lug_depth : 0), shoulder = w.radius - 0.05 * w.width;
    Solid s;
    // Tread, shoulders and side walls of the tyre.
    const Loop tread = lug_ring(lugs, w.radius, groove);
    const double tread_half = 0.68 * half, belly = bead + 0.55 * (w.radius - bead);
    s.wall(tread, -tread_half, tread_half, true);
    s.slope(ring(std::min(shoulder, groove)), -0.86 * half, tread, -tread_half, true);
    s.slope(tread, tread_half, ring(std::min(shoulder, groove)), 0.86 * half, true);
    s.slope(ring(belly), -half, ring(std::min(shoulder, groove)), -0.86 * half, true);
    s.slope(ring(std::min(shoulder, groove)), 0.86 * half, ring(belly), half, true);
    s.slope(ring(bead), -lip, ring(belly), -half, true);
    s.slope(ring(belly), half, ring(bead), lip, true);
    // Rim inside the bead, disc with holes, hub with its bore.
    const double inner = bead - wall, hub_half = 0.30 * w.width;
    const std::vector<Loop> holes =
        w.holes > 0 ? hole_ring(w.holes, 0.5 * (hub + inner), 0.22 * (inner - hub), 16) : std::vector<Loop>{};
    std::vector<Loop> openings = holes;
    openings.push_back(ring(hub));
    for (const bool up : {true, false}) {
        const double side = up ? 1 : -1;
        const auto wall_between = [&](const Loop& loop, double from, double to, bool outward) {
            s.wall(loop, std::min(side * from, side * to), std::max(side * from, side * to), outward);
        };
        s.cap(ring(bead), {ring(inner)}, side * lip, up);
        wall_between(ring(inner), disc / 2, lip, false);
        s.cap(ring(inner), openings, side * disc / 2, up);
        wall_between(ring(hub), disc / 2, hub_half, true);
        s.cap(ring(hub),
              w.bore_radius > 0 ? std::vector<Loop>{circle(w.bore_radius, 32)} : std::vector<Loop>{},
              side * hub_half, up);
    }
    for (const Loop& hole : holes) s.wall(hole, -disc / 2, disc / 2, false);
    if (w.bore_radius > 0) s.wall(circle(w.bore_radius, 32), -hub_half, hub_half, false);
    return s;
}

Solid plate(double length, double width, double thickness, double corner_radius) {
    Loop outline;
    const double r = std::min({corner_radius, 0.499 * length, 0.499 * width});
    for (int corner = 0; corner < 4; ++corner) {
        const double x = (corner == 0 || corner == 3 ? 0.5 : -0.5) * length,
                     y = (corner < 2 ? 0.5 : -0.5) * width;
        if (r <= 0) {
            outline.emplace_back(x, y);
            continue;
        }
        const Vec2 centre(x - std::copysign(r, x), y - std::copysign(r, y));
        for (int i = 0; i <= 8; ++i) outline.push_back(centre + at(r, corner * pi / 2 + i * pi / 16));
    }
    return extrude(outline, {}, 0, thickness);
}

}  // namespace pivrak
