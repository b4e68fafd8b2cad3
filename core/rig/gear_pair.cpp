// Sources: ISO 21771:2007 (centre distance and module of cylindrical gear pairs), ISO 53:1998 (addendum).
#include "core/rig/gear_pair.h"

#include <cmath>

#include "core/geometry/tooth_count.h"
#include "core/geometry/tooth_profile.h"

namespace pivrak {
namespace {

constexpr double clear_teeth = 0.3;

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

/// The hinge part and everything fixed to it, nearest first.
std::vector<PartId> turning_parts(const Document& document, PartId hinge) {
    const Tree tree(document);
    std::vector<PartId> turning{hinge};
    for (std::size_t i = 0; i < turning.size(); ++i)
        for (const PartId child : tree.children(turning[i]))
            if (document.parts.find(child)->joint.kind == JointKind::Fixed) turning.push_back(child);
    return turning;
}

/// From a shape's own frame to a frame with z along `axis` and x along `reference`.
Frame axis_from_shape(const Document& document, PartId part, const Vec3& centre, const Vec3& axis,
                      const Vec3& reference) {
    Mat3 columns;
    columns << reference, axis.cross(reference), axis;
    const Frame world_from_axis{Quat(columns), centre};
    return world_from_axis.inverse() * world_from_rest(document, part) *
           document.parts.find(part)->part_from_shape;
}

}  // namespace

double gear_ratio(const PlacedGear& driver, const PlacedGear& driven) {
    const double sign = driver.axis.dot(driven.axis) < 0 ? 1.0 : -1.0;
    return sign * driver.teeth / driven.teeth;
}

double centre_distance(const PlacedGear& driver, const PlacedGear& driven) {
    const Vec3 between = driven.centre - driver.centre;
    return (between - between.dot(driver.axis) * driver.axis).norm();
}

double axis_angle(const PlacedGear& driver, const PlacedGear& driven) {
    return std::atan2(driver.axis.cross(driven.axis).norm(), std::abs(driver.axis.dot(driven.axis)));
}

double interleaving_turn(const PlacedGear& driver, double driver_tooth_rad, const PlacedGear& driven,
                         double driven_tooth_rad, const Vec3& reference) {
    const double to_driven = angle_about(driver.axis, reference, driven.centre - driver.centre);
    // Where the tooth nearest to the pitch point stands, in pitches along the common tangent. The tangent
    // runs with the driver's angle and against the driven gear's.
    const double driver_pitches = driver.teeth * (driver_tooth_rad - to_driven) / (2 * pi);
    const double driven_pitches = -driven.teeth * (driven_tooth_rad - to_driven - pi) / (2 * pi);
    const double missing_pitches = wrapped_to_half(driver_pitches + 0.5 - driven_pitches);
    const double turn_about_driver_axis = -missing_pitches * 2 * pi / driven.teeth;
    return driver.axis.dot(driven.axis) < 0 ? -turn_about_driver_axis : turn_about_driver_axis;
}

ToothedPart toothed_part(const Document& document, PartId hinge, int teeth, const Vec3& axis,
                         const Vec3& reference) {
    ToothedPart best;
    best.gear = placed_gear(document, hinge, teeth);
    if (teeth < 3) return best;
    for (const PartId part : turning_parts(document, hinge)) {
        const Shape* shape = document.shapes.find(document.parts.find(part)->shape);
        if (!shape) continue;
        const ToothProfile profile = tooth_profile(
            *shape->mesh, axis_from_shape(document, part, best.gear.centre, axis, reference), teeth);
        if (profile.strength < clear_teeth || profile.strength <= best.strength + 0.05) continue;
        best.shape_part = part;
        best.strength = profile.strength;
        best.tooth_rad = profile.phase_rad;
        best.tip_radius_m = profile.tip_radius_m;
    }
    return best;
}

std::optional<int> teeth_of(const Document& document, PartId hinge) {
    const Part* part = document.parts.find(hinge);
    if (!part || part->joint.kind != JointKind::Hinge) return std::nullopt;
    const PlacedGear gear = placed_gear(document, hinge, 0);
    for (const PartId turning : turning_parts(document, hinge)) {
        const Shape* shape = document.shapes.find(document.parts.find(turning)->shape);
        if (!shape) continue;
        const Frame frame =
            axis_from_shape(document, turning, gear.centre, gear.axis, any_perpendicular(gear.axis));
        if (const auto found = count_outside_teeth(*shape->mesh, frame)) return found->teeth;
    }
    return std::nullopt;
}

GearPairMeasure measure_gear_pair(const Document& document, const GearPair& pair) {
    const Vec3 axis = placed_gear(document, pair.driver.part, pair.driver_teeth).axis;
    const Vec3 reference = any_perpendicular(axis);
    const ToothedPart driver = toothed_part(document, pair.driver.part, pair.driver_teeth, axis, reference);
    const ToothedPart driven = toothed_part(document, pair.driven.part, pair.driven_teeth, axis, reference);
    GearPairMeasure m;
    m.ratio = gear_ratio(driver.gear, driven.gear);
    m.centre_distance_m = centre_distance(driver.gear, driven.gear);
    m.axis_angle_rad = axis_angle(driver.gear, driven.gear);
    m.module_m = 2 * m.centre_distance_m / (pair.driver_teeth + pair.driven_teeth);
    if (driver.shape_part) m.tip_module_m = 2 * driver.tip_radius_m / (pair.driver_teeth + 2);
    m.phase_measured = driver.shape_part && driven.shape_part;
    if (m.phase_measured)
        m.phase_rad =
            interleaving_turn(driver.gear, driver.tooth_rad, driven.gear, driven.tooth_rad, reference);
    return m;
}

}  // namespace pivrak
