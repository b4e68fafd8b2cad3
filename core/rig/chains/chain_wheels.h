#pragma once

#include "core/base/result.h"
#include "core/rig/chains/chain_layout.h"

namespace pivrak {

/// A wheel as it stands in the world: the middle of its tread, its axis, its size.
struct StoodWheel {
    PartId part;
    Vec3 middle, axis;
    double radius = 0;  ///< of its outermost points
    double half_width = 0;
    int teeth = 0;
    bool outside = false;
};

/// From wheel to wheel, and round each: no line about them is much longer.
double reach_of(const std::vector<StoodWheel>& wheels);

/// Measures wheels that a chain is to go round: hinges, or what is fixed on them; then that is measured.
/// `teeth` of each, 0 for a roller; none: counted on the shapes. Errors: `chain.wheels`, `chain.teeth`.
Result<std::vector<StoodWheel>> stood_wheels(const Document& document, const std::vector<PartId>& parts,
                                             const std::vector<int>& teeth);

/// Whether a chain of that pitch lies in one plane on all of them. Errors: `chain.axes`, `chain.plane`.
Result<void> check_axes(const Document& document, const std::vector<StoodWheel>& wheels, double pitch_m);

/// As a chain goes round it, pins `pin_height_m` off a roller's tread. Errors: `chain.wheels` for a roller
/// that is too small.
Result<ChainWheel> chain_wheel(const Document& document, const StoodWheel& wheel, double pitch_m,
                               double pin_height_m);

/// Angle in the chain's plane of a gap between teeth, with the wheel at rest; none when no teeth are found.
std::optional<double> gap_angle(const Document& document, PartId wheel, int teeth, const Frame& plane);

}  // namespace pivrak
