#pragma once

#include <optional>

#include "core/model/document.h"

namespace pivrak {

/// A gear placed in the world with its pair at rest: a hinge axis and the shapes that turn with it.
struct PlacedGear {
    Vec3 centre;  ///< a point on the axis [m]
    Vec3 axis;    ///< unit, the positive direction of the hinge
    int teeth = 0;
};

/// Distance between the two axes [m], at a right angle to the driver's.
double centre_distance(const PlacedGear& driver, const PlacedGear& driven);

/// Angle between the two axes as lines [rad], 0 to pi/2.
double axis_angle(const PlacedGear& driver, const PlacedGear& driven);

/// Turn of the driven gear about its own axis [rad], the smallest there is, that puts a tooth of one gear in
/// the middle of a gap of the other at the pitch point. Phases are the angles of one tooth's middle about
/// the driver's axis direction, counted from the world direction `reference` (at a right angle to it). Of an
/// `inside` pair the one with more teeth is the ring.
double interleaving_turn(const PlacedGear& driver, double driver_tooth_rad, const PlacedGear& driven,
                         double driven_tooth_rad, const Vec3& reference, bool inside = false);

/// The gear a hinge part makes, with the shape of the part or, when it has none or one without teeth, of the
/// nearest part that is fixed below it and shows that many teeth.
struct ToothedPart {
    PlacedGear gear;
    PartId shape_part;     ///< the part whose rim was read; none when no rim repeats like that
    double strength = 0;   ///< 0 to 1
    double tooth_rad = 0;  ///< middle of a tooth about `gear.axis`, from `reference`
    double tip_radius_m = 0;
};

/// Reads the teeth of a hinge part at rest, or measures nothing (strength 0) when no shape shows them. Of a
/// ring those that point to the axis.
ToothedPart toothed_part(const Document& document, PartId hinge, int teeth, const Vec3& axis,
                         const Vec3& reference, bool ring = false);

/// The part and everything fixed to it, nearest first.
std::vector<PartId> turning_parts(const Document& document, PartId moving);

/// A frame with z along `axis` and x along `reference`, both unit and at a right angle.
Frame frame_about(const Vec3& centre, const Vec3& axis, const Vec3& reference);

/// From a shape's own frame to a frame of the world, with the part at rest.
Frame frame_from_shape(const Document& document, PartId part, const Frame& world_from_frame);

/// The hinge that a part turns with: itself, or the nearest one that carries it by fixed joints alone.
std::optional<PartId> turning_hinge(const Document& document, PartId part);

/// Teeth of a part, outside or inside.
struct CountedTeeth {
    int teeth = 0;
    bool inside = false;
};
/// Counts the teeth of a part's shape or of a shape fixed below it, about the hinge it turns with; none when
/// nothing repeats.
std::optional<CountedTeeth> counted_teeth(const Document& document, PartId part);
std::optional<int> teeth_of(const Document& document, PartId part);

/// The kind that two parts' joints, axes and teeth speak for; gears may be given that are fixed on their
/// shafts.
PairKind likely_kind(const Document& document, PartId driver, PartId driven);

/// The module of ISO 54 next to a measured one, when within a hundredth of it; else the measured one.
double standard_module(double measured_m);

/// A ratio of turns, driver to driven, for a person: `3 : 1, driver : driven, opposite ways`. Given is how
/// far the driven one turns for one turn of the driver, with its sign. Where little room is, `brief` leaves
/// out which is which.
std::string ratio_words(double driven_for_driver, bool brief = false);

/// What a gear pair looks like when measured, for readouts and findings.
struct GearPairMeasure {
    double ratio = 0;  ///< driven against driver, seen from what carries both; of a rack in m a rad
    double centre_distance_m = 0;
    double axis_angle_rad = 0;
    double module_m = 0;      ///< by the centre distance and both tooth counts; 0 where none tell
    double tip_module_m = 0;  ///< from tip radii, ISO 53 addendum; 0 when not measured
    double fitting_m = 0;     ///< the centre distance that the tips' module asks for; 0 when not measured
    double phase_rad = 0;     ///< or in m, where the driven one is a rack
    bool phase_measured = false;
};
GearPairMeasure measure_gear_pair(const Document& document, const GearPair& pair);

}  // namespace pivrak
