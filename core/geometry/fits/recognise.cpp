// Sources: ISO 53:1998 (basic rack: addendum 1, dedendum 1.25 modules), ISO 606:2015 (chain pitches, roller
// diameters, roller seating 0.505 d1).
#include "core/geometry/fits/recognise.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "core/geometry/fits/round_body.h"
#include "core/geometry/mesh/extent.h"
#include "core/geometry/mesh/facing.h"
#include "core/geometry/mesh/topology.h"
#include "core/geometry/teeth/tooth_count.h"

namespace pivrak {

std::string_view element_name(MachineElement element) {
    switch (element) {
        case MachineElement::Wheel:
            return "wheel";
        case MachineElement::Gear:
            return "gear";
        case MachineElement::RingGear:
            return "ring gear";
        case MachineElement::Sprocket:
            return "sprocket";
        case MachineElement::Shaft:
            return "shaft";
        case MachineElement::Disc:
            return "disc";
        case MachineElement::Plate:
            return "plate";
    }
    return "";
}

std::span<const ChainSize> roller_chains() {
    static constexpr std::array<ChainSize, 11> chains{{{"05B", 8.00e-3, 5.00e-3},
                                                       {"06B", 9.525e-3, 6.35e-3},
                                                       {"08B", 12.70e-3, 8.51e-3},
                                                       {"10B", 15.875e-3, 10.16e-3},
                                                       {"12B", 19.05e-3, 12.07e-3},
                                                       {"16B", 25.40e-3, 15.88e-3},
                                                       {"20B", 31.75e-3, 19.05e-3},
                                                       {"24B", 38.10e-3, 25.40e-3},
                                                       {"28B", 44.45e-3, 27.94e-3},
                                                       {"32B", 50.80e-3, 29.21e-3},
                                                       {"40B", 63.50e-3, 39.37e-3}}};
    return chains;
}

namespace {

/// 1 within the inner bounds, 0 from the outer ones on.
double within(double value, double none_below, double low, double high, double none_above) {
    if (value < low) return std::clamp((value - none_below) / (low - none_below), 0.0, 1.0);
    return std::clamp((none_above - value) / (none_above - high), 0.0, 1.0);
}

constexpr double least_likeness = 0.25;

/// How much teeth are like a gear's: by depth, width half way up and flanks that mirror each other.
double gear_likeness(const ToothCount& count) {
    return count.clearness * std::min({within(count.depth_modules(), 1.3, 2.1, 2.45, 3.2),
                                       within(count.width_share, 0.3, 0.42, 0.58, 0.7),
                                       within(count.evenness, 0.9, 0.97, 1.0, 1.1)});
}

/// The chain of ISO 606 whose sprocket this is; none when no one fits.
std::optional<ChainSize> chain_of_sprocket(const ToothCount& count) {
    constexpr double widest_tooth = 0.43, most_off = 0.004;
    if (count.width_share > widest_tooth) return std::nullopt;
    std::optional<ChainSize> best;
    double least = most_off;
    for (const ChainSize& chain : roller_chains()) {
        const double z = count.teeth, pitch_radius = chain.pitch_m / (2 * std::sin(pi / z));
        const double wanted_root = pitch_radius - 0.505 * chain.roller_m;
        // The tip circle of a sprocket may lie anywhere between these two.
        const double low = pitch_radius + chain.pitch_m * (1 - 1.6 / z) / 2 - chain.roller_m / 2,
                     high = pitch_radius + 1.25 * chain.pitch_m / 2 - chain.roller_m / 2;
        const double off = std::abs(count.root_radius_m / wanted_root - 1) +
                           std::max({0.0, count.tip_radius_m / high - 1, 1 - count.tip_radius_m / low});
        if (off >= least) continue;
        least = off;
        best = chain;
    }
    return best;
}

/// Makers cut teeth by the standard's modules, at whatever size a model came in: one of them speaks for a
/// gear, another says nothing. One in ten lies so near to one by chance, most gears do by design.
/// Source: ISO 54:1996, both series from 1 mm on, from memory.
double by_module(double module_m, double confidence) {
    static constexpr double modules_mm[] = {1,  1.125, 1.25, 1.375, 1.5, 1.75, 2,  2.25, 2.5, 2.75, 3,  3.5,
                                            4,  4.5,   5,    5.5,   6,   7,    8,  9,    10,  11,   12, 14,
                                            16, 18,    20,   22,    25,  28,   32, 36,   40,  45,   50};
    const bool standard = std::ranges::any_of(
        modules_mm, [&](double mm) { return std::abs(module_m / (1e-3 * mm) - 1) < 0.005; });
    constexpr double times_likelier = 3;
    return standard ? times_likelier * confidence / (1 + (times_likelier - 1) * confidence) : confidence;
}

/// As a gear or sprocket; false for lugs and other teeth.
bool judge_teeth(const ToothCount& count, Recognition& r) {
    if (const auto chain = chain_of_sprocket(count)) {
        r.element = MachineElement::Sprocket;
        r.pitch_m = chain->pitch_m;
        r.confidence = 0.97 * count.clearness;
    } else {
        const double likeness = gear_likeness(count);
        if (likeness < least_likeness) return false;
        r.element = MachineElement::Gear;
        r.module_m = 2 * count.tip_radius_m / (count.teeth + 2);
        r.confidence = by_module(r.module_m, 0.5 + 0.48 * likeness);
    }
    r.teeth = count.teeth;
    return true;
}

/// Inside teeth go round an empty middle.
bool judge_ring(const Mesh& mesh, const RoundBody& body, Recognition& r) {
    const auto count = count_inside_teeth(mesh, axis_from_mesh(body.axis));
    if (!count) return false;
    const double likeness = gear_likeness(*count);
    if (likeness < least_likeness ||
        free_radius(mesh, body.axis.point, body.axis.direction) < 0.95 * count->tip_radius_m)
        return false;
    r.element = MachineElement::RingGear;
    r.teeth = count->teeth;
    r.radius_m = count->tip_radius_m;
    r.module_m = 2 * r.radius_m / (count->teeth - 2);
    r.confidence = by_module(r.module_m, 0.5 + 0.48 * likeness);
    return true;
}

/// The fewer sides, the more else it may be: a nut, a post, a bollard.
double by_sides(const OutlineSides& sides) {
    return sides.regular ? within(sides.count, 0, 14, 1e9, 2e9) : 1;
}

void judge_plain(const Mesh& mesh, const RoundBody& body, Recognition& r) {
    const double diameter = 2 * r.radius_m;
    r.lugs = body.teeth ? body.teeth->teeth : 0;
    // Lugs are no turned surface: what is below them tells.
    const double rim = body.teeth ? 1 : body.rim;
    r.confidence = 0.97 * 0.5 * (rim + std::min(1.0, body.support));
    if (r.width_m > 1.5 * diameter) {
        r.element = MachineElement::Shaft;
    } else if (r.width_m < diameter / 16.0) {
        r.element = MachineElement::Disc;
    } else {
        r.element = MachineElement::Wheel;
        constexpr double tread_from = 0.85;
        const Extent tread =
            extent_beyond(mesh, body.axis.point, body.axis.direction, tread_from * body.radius_m);
        // By its shape alone a wheel may as well be a pot or a housing.
        r.confidence *= 0.9 * by_sides(body.sides) * within(tread.length() / r.width_m, 0, 0.3, 1, 2);
    }
}

std::optional<Recognition> as_round(const Mesh& mesh) {
    const auto body = round_body(mesh);
    if (!body) return std::nullopt;
    Recognition r;
    r.axis_point = body->middle;
    r.axis_direction = body->axis.direction;
    r.radius_m = body->radius_m;
    r.width_m = r.length_m = body->width_m;
    if (body->teeth && judge_teeth(*body->teeth, r)) return r;
    if (judge_ring(mesh, *body, r)) return r;
    judge_plain(mesh, *body, r);
    constexpr double least_confidence = 0.35;
    if (r.confidence < least_confidence) return std::nullopt;
    return r;
}

/// Two large flat sides close together.
std::optional<Recognition> as_plate(const Mesh& mesh) {
    const auto looks = facing(mesh);
    if (!looks) return std::nullopt;
    Recognition r;
    r.element = MachineElement::Plate;
    r.axis_direction = looks->most;
    const std::vector<Vec3> normals = face_normals(mesh);
    double flat = 0;
    for (std::size_t t = 0; t < normals.size(); ++t)
        if (std::abs(normals[t].dot(r.axis_direction)) > 0.9995) flat += triangle_area(mesh, t);
    const Vec3 &u = looks->least, &v = looks->between;
    Vec3 low = Vec3::Constant(1e300), high = Vec3::Constant(-1e300);
    for (const Vec3f& p : mesh.positions) {
        const Vec3 d = p.cast<double>(), seen(u.dot(d), v.dot(d), r.axis_direction.dot(d));
        low = low.cwiseMin(seen);
        high = high.cwiseMax(seen);
    }
    const Vec3 size = high - low, middle = 0.5 * (low + high);
    r.width_m = size.z();
    r.length_m = std::max(size.x(), size.y());
    r.radius_m = 0.5 * std::min(size.x(), size.y());
    r.axis_point = middle.x() * u + middle.y() * v + middle.z() * r.axis_direction;
    r.confidence = std::min(0.97, flat / looks->area);
    if (r.confidence < 0.7 || r.width_m > 0.15 * 2 * r.radius_m) return std::nullopt;
    return r;
}

}  // namespace

std::optional<Recognition> recognise(const Mesh& mesh) {
    if (mesh.indices.empty()) return std::nullopt;
    if (auto round = as_round(mesh)) return round;
    return as_plate(mesh);
}

}  // namespace pivrak
