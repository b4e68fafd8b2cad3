// Sources: ISO 21771:2007 (centre distance and module of cylindrical gear pairs), ISO 53:1998 (addendum),
// ISO 54.
#include "core/rig/gears/gear_pair.h"

#include <fmt/format.h>

#include <cmath>

#include "core/geometry/teeth/tooth_count.h"
#include "core/geometry/teeth/tooth_profile.h"
#include "core/rig/gears/tooth_phase.h"
#include "core/rig/gears/train_ties.h"

namespace pivrak {
namespace {

double wrapped_to_half(double value) {
    return value - std::round(value);
}

double angle_about(const Vec3& axis, const Vec3& reference, const Vec3& direction) {
    return std::atan2(axis.dot(reference.cross(direction)), reference.dot(direction));
}

PlacedGear placed_gear(const Document& document, PartId hinge, int teeth) {
    const Frame world = world_from_rest(document, hinge);
    return {world.translation, world.axis(document.parts.find(hinge)->joint.axis), teeth};
}

/// From a shape's own frame to a frame with z along `axis` and x along `reference`.
Frame axis_from_shape(const Document& document, PartId part, const Vec3& centre, const Vec3& axis,
                      const Vec3& reference) {
    return frame_from_shape(document, part, frame_about(centre, axis, reference));
}

}  // namespace

std::vector<PartId> turning_parts(const Document& document, PartId hinge) {
    const Tree tree(document);
    std::vector<PartId> turning{hinge};
    for (std::size_t i = 0; i < turning.size(); ++i)
        for (const PartId child : tree.children(turning[i]))
            if (document.parts.find(child)->joint.kind == JointKind::Fixed) turning.push_back(child);
    return turning;
}

Frame frame_about(const Vec3& centre, const Vec3& axis, const Vec3& reference) {
    Mat3 columns;
    columns << reference, axis.cross(reference), axis;
    return {Quat(columns), centre};
}

Frame frame_from_shape(const Document& document, PartId part, const Frame& world_from_frame) {
    return world_from_frame.inverse() * world_from_rest(document, part) *
           document.parts.find(part)->part_from_shape;
}

double centre_distance(const PlacedGear& driver, const PlacedGear& driven) {
    const Vec3 between = driven.centre - driver.centre;
    return (between - between.dot(driver.axis) * driver.axis).norm();
}

double axis_angle(const PlacedGear& driver, const PlacedGear& driven) {
    return std::atan2(driver.axis.cross(driven.axis).norm(), std::abs(driver.axis.dot(driven.axis)));
}

double interleaving_turn(const PlacedGear& driver, double driver_tooth_rad, const PlacedGear& driven,
                         double driven_tooth_rad, const Vec3& reference, bool inside) {
    const double to_driven = angle_about(driver.axis, reference, driven.centre - driver.centre);
    // Directions from both centres to the pitch point: inside a ring they are one, from the ring past the
    // other.
    const double from_driver = inside && driven.teeth > driver.teeth ? to_driven + pi : to_driven;
    const double from_driven = inside ? from_driver : to_driven + pi;
    // Where the tooth nearest to the pitch point stands, in pitches along the common tangent. The tangent
    // runs with the driver's angle, and against the driven gear's when teeth are outside.
    const double way = inside ? 1 : -1;
    const double driver_pitches = driver.teeth * (driver_tooth_rad - from_driver) / (2 * pi);
    const double driven_pitches = way * driven.teeth * (driven_tooth_rad - from_driven) / (2 * pi);
    const double missing_pitches = wrapped_to_half(driver_pitches + 0.5 - driven_pitches);
    const double turn_about_driver_axis = way * missing_pitches * 2 * pi / driven.teeth;
    return driver.axis.dot(driven.axis) < 0 ? -turn_about_driver_axis : turn_about_driver_axis;
}

ToothedPart toothed_part(const Document& document, PartId hinge, int teeth, const Vec3& axis,
                         const Vec3& reference, bool ring) {
    ToothedPart best;
    best.gear = placed_gear(document, hinge, teeth);
    if (teeth < 3) return best;
    for (const PartId part : turning_parts(document, hinge)) {
        const Shape* shape = document.shapes.find(document.parts.find(part)->shape);
        if (!shape) continue;
        const ToothProfile profile = tooth_profile(
            *shape->mesh, axis_from_shape(document, part, best.gear.centre, axis, reference), teeth, ring);
        if (profile.strength < clear_teeth || profile.strength <= best.strength + 0.05) continue;
        best.shape_part = part;
        best.strength = profile.strength;
        best.tooth_rad = profile.phase_rad;
        best.tip_radius_m = profile.tip_radius_m;
    }
    return best;
}

std::optional<PartId> turning_hinge(const Document& document, PartId part) {
    for (const Part* p = document.parts.find(part); p; p = document.parts.find(p->parent)) {
        if (p->joint.kind == JointKind::Hinge) return p->id;
        if (p->joint.kind != JointKind::Fixed || p->ride || p->tow) break;
    }
    return std::nullopt;
}

std::optional<CountedTeeth> counted_teeth(const Document& document, PartId part) {
    const auto hinge = turning_hinge(document, part);
    if (!hinge) return std::nullopt;
    const PlacedGear gear = placed_gear(document, *hinge, 0);
    std::optional<CountedTeeth> inside;
    for (const PartId turning : turning_parts(document, part)) {
        const Shape* shape = document.shapes.find(document.parts.find(turning)->shape);
        if (!shape) continue;
        const Frame frame =
            axis_from_shape(document, turning, gear.centre, gear.axis, any_perpendicular(gear.axis));
        if (const auto found = count_outside_teeth(*shape->mesh, frame))
            return CountedTeeth{found->teeth, false};
        if (inside) continue;
        if (const auto found = count_inside_teeth(*shape->mesh, frame))
            inside = CountedTeeth{found->teeth, true};
    }
    return inside;
}

std::optional<int> teeth_of(const Document& document, PartId part) {
    const auto counted = counted_teeth(document, part);
    return counted ? std::optional(counted->teeth) : std::nullopt;
}

PairKind likely_kind(const Document& document, PartId driver_shape, PartId driven_shape) {
    const auto moving = [&](PartId part) {
        return document.parts.find(part)->joint.kind == JointKind::Fixed
                   ? turning_hinge(document, part).value_or(part)
                   : part;
    };
    const PartId driver = moving(driver_shape), driven = moving(driven_shape);
    const Part &a = *document.parts.find(driver), &b = *document.parts.find(driven);
    const bool slides_a = a.joint.kind == JointKind::Slide, slides_b = b.joint.kind == JointKind::Slide;
    const PlacedGear first = placed_gear(document, driver, 1), second = placed_gear(document, driven, 1);
    const double angle = axis_angle(first, second);
    if (slides_a || slides_b) return angle < 0.1 ? PairKind::Screw : PairKind::Rack;
    const auto ring = [&](PartId part) {
        const auto counted = counted_teeth(document, part);
        return counted && counted->inside;
    };
    if (angle < 0.02) return ring(driver_shape) || ring(driven_shape) ? PairKind::Inside : PairKind::Outside;
    // Bevels' axes meet; a worm's passes by.
    const Vec3 normal = first.axis.cross(second.axis).normalized();
    const double apart = std::abs((second.centre - first.centre).dot(normal));
    return apart < 0.05 * (second.centre - first.centre).norm() ? PairKind::Bevel : PairKind::Worm;
}

std::string ratio_words(double driven_for_driver, bool brief) {
    const double size = std::abs(driven_for_driver);
    const auto plain = [](double v) {
        std::string text = fmt::format("{:.4f}", v);
        while (text.back() == '0') text.pop_back();
        if (text.back() == '.') text.pop_back();
        return text;
    };
    if (!(size > 1e-12)) return "driven stands still";
    return fmt::format("{} : {}, {}{}", size < 1 ? plain(1 / size) : "1", size < 1 ? "1" : plain(size),
                       brief ? "" : "driver : driven, ",
                       driven_for_driver < 0 ? "opposite ways" : "the same way");
}

double standard_module(double measured_m) {
    // Source: ISO 54:1996, series I and II and 6.5 [mm].
    static constexpr double modules[] = {1,  1.125, 1.25, 1.375, 1.5, 1.75, 2,  2.25, 2.5, 2.75, 3,  3.5,
                                         4,  4.5,   5,    5.5,   6,   6.5,  7,  8,    9,   10,   11, 12,
                                         14, 16,    18,   20,    22,  25,   28, 32,   36,  40,   45, 50};
    for (const double module : modules)
        if (std::abs(measured_m - 1e-3 * module) < 0.01 * measured_m) return 1e-3 * module;
    return measured_m;
}

GearPairMeasure measure_gear_pair(const Document& document, const GearPair& pair) {
    const auto members = pair_members(document, pair);
    const auto shares = pair_shares(pair, members[0], members[1]);
    GearPairMeasure m;
    m.ratio = -shares[0] / shares[1];
    const PlacedGear first = placed_gear(document, pair.driver.part(), pair.driver_teeth),
                     second = placed_gear(document, pair.driven.part(), pair.driven_teeth);
    m.centre_distance_m = centre_distance(first, second);
    m.axis_angle_rad = axis_angle(first, second);
    const bool inside = pair.kind == PairKind::Inside;
    if (!inside && pair.kind != PairKind::Outside) {
        if (const auto phase = crossed_phase(document, pair)) m.phase_rad = *phase, m.phase_measured = true;
        return m;
    }
    const int both =
        inside ? std::abs(pair.driven_teeth - pair.driver_teeth) : pair.driver_teeth + pair.driven_teeth;
    if (both > 0) m.module_m = 2 * m.centre_distance_m / both;
    const bool driver_is_ring = inside && pair.driver_teeth > pair.driven_teeth;
    const Vec3 axis = first.axis, reference = any_perpendicular(axis);
    const ToothedPart driver =
        toothed_part(document, pair.driver.part(), pair.driver_teeth, axis, reference, driver_is_ring);
    const ToothedPart driven = toothed_part(document, pair.driven.part(), pair.driven_teeth, axis, reference,
                                            inside && !driver_is_ring);
    // The module shows on a tip that stands outside; a ring's is cut off more often.
    const ToothedPart& shown = driver_is_ring ? driven : driver;
    if (shown.shape_part) {
        m.tip_module_m = 2 * shown.tip_radius_m / (shown.gear.teeth + 2);
        m.fitting_m = 0.5 * standard_module(m.tip_module_m) * both;
    }
    m.phase_measured = driver.shape_part && driven.shape_part;
    if (m.phase_measured)
        m.phase_rad = interleaving_turn(driver.gear, driver.tooth_rad, driven.gear, driven.tooth_rad,
                                        reference, inside);
    return m;
}

}  // namespace pivrak
