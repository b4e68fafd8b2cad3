#pragma once

#include <optional>
#include <span>
#include <vector>

#include "core/base/result.h"
#include "core/geometry/mesh/topology.h"

namespace pivrak {

struct PlaneFit {
    Vec3 point;             ///< the mean of the points
    Vec3 normal;            ///< unit
    double residual_m = 0;  ///< root mean square distance of the points from it
};

/// The plane through points that is nearest to them all. Errors: `fit.few` (under three points),
/// `fit.straight` (all on one line).
Result<PlaneFit> fit_plane(std::span<const Vec3> points);

struct CircleFit {
    Vec3 centre;
    Vec3 normal;  ///< unit; its largest component is positive
    double radius_m = 0;
    double residual_m = 0;  ///< root mean square distance of the points from it
};

/// The circle nearest to points in space: their plane, an algebraic start, then Gauss-Newton on the
/// distances (at most 50 steps, stopped at 1e-14 of the radius). Errors: those of `fit_plane`, and
/// `fit.straight` where the points lie so flat that no radius is clear. Source: Kåsa (1976) for the start;
/// Gander, Golub and Strebel (1994) for the geometric fit.
Result<CircleFit> fit_circle(std::span<const Vec3> points);

/// The round hole or rim that an edge belongs to: the closed line of sharp or open edges through it, when its
/// points lie on a circle within a hundredth of the radius. \param a, b vertices of the mesh at the edge's
/// ends.
std::optional<CircleFit> rim_circle(const Mesh& mesh, const MeshTopology& topology, std::uint32_t a,
                                    std::uint32_t b);

/// Whether an edge shows as a line: the surface ends there, or turns by more than 25 degrees. False when the
/// two vertices share no edge.
bool is_sharp_edge(const Mesh& mesh, const MeshTopology& topology, std::uint32_t a, std::uint32_t b);

struct RoundFit {
    Vec3 axis_point;      ///< half way along the faces that agree [m]
    Vec3 axis_direction;  ///< unit; its largest component is positive
    double radius_m = 0;
    double residual_m = 0;  ///< root mean square distance of the vertices that agree
    double agreeing = 0;    ///< share of the area that lies on the cylinder, 0 to 1
};

/// A cylinder through some faces of a mesh, which may be a part of its side only: consensus of samples (200,
/// drawn by a fixed seed) finds the faces that agree, whatever bolts and flats are among them; least squares
/// on their vertices gives axis and radius. Errors: `fit.empty` (no area), `fit.flat` (the faces lie in a
/// plane or meet at one edge only, so no axis is clear), `fit.not_round` (less than half of the area agrees).
/// Source: Fischler and Bolles (1981), random sample consensus.
Result<RoundFit> fit_round_faces(const Mesh& mesh, const std::vector<bool>& faces);

}  // namespace pivrak
