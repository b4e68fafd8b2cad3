#pragma once

#include "core/base/result.h"
#include "core/geometry/fits/round_axis.h"
#include "core/model/document.h"

namespace pivrak {

/// How truly a round part runs about the axis it turns on.
struct SpinCheck {
    PartId part;
    double run_out_m = 0;  ///< the largest circular radial run-out of its round surfaces
    double tilt_rad = 0;   ///< of its own axis against the axis it turns on
    double offset_m = 0;   ///< of its own axis from it, half way along the round surface
    double radius_m = 0;   ///< of the surface that runs out most
    /// That surface as a gauge would draw it in one turn: angle about the axis and radius less the mean.
    struct Sample {
        double angle_rad, deviation_m;
    };
    std::vector<Sample> samples;  ///< by rising angle

    bool is_true() const;
};

/// What is allowed before it is a finding.
inline constexpr double allowed_run_out_m = 1e-4, allowed_tilt_rad = 0.02 * rad_per_deg;

/// Circular radial run-out of one surface about an axis: in each section across the axis the largest less the
/// smallest distance over one turn, the worst section. The line of the sections' middles is found by least
/// squares, so that how the surface is divided into facets does not matter.
/// Source: ISO 1101, circular run-out, radial.
double radial_run_out(const std::vector<Vec3>& surface, const Vec3& axis_point, const Vec3& axis_direction);

/// The check of a part against its joint's axis, or, for a joint without one, against the own axis that its
/// shape's axis is nearest to. Errors: `part.no_shape`, those of `fit_cylinder` where it is not round.
Result<SpinCheck> spin_check(const Document& document, PartId part);
/// The same where the shape's axis is known already.
SpinCheck spin_check(const Document& document, PartId part, const RoundAxis& axis);

}  // namespace pivrak
