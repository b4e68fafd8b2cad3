#pragma once

#include "core/rig/paths/path_curve.h"

namespace pivrak {

/// A changed path, and how far it lies from the one it was [m].
struct PathEdit {
    Path path;
    double deviation_m = 0;
};

/// A point more, so far along. Polylines and Bézier paths keep their shape; an ellipse becomes smooth.
/// Errors: those of `PathCurve::make`.
Result<PathEdit> with_point(const Path& path, double along_m);

/// Points taken out, by their numbers from 0. Errors: `path.points` when too few are left, `path.form` for
/// an ellipse, `path.index`.
Result<Path> without_points(const Path& path, const std::vector<std::uint32_t>& points);

/// The same curve the other way round.
Path reversed(const Path& path);

/// `count` points at even distances, from end to end or once round, so that no stray short piece is left.
/// Polylines keep their form, all others become a smooth path through these points; Bézier paths get
/// handles. Errors: `path.count` (2 to 5000; 3 at least for closed ones), those of `PathCurve::make`.
Result<PathEdit> respaced(const Path& path, int count);

/// Another form that runs through the same points, or, from an ellipse, through 8 of its places. Errors:
/// `path.form` to an ellipse.
Result<PathEdit> with_form(const Path& path, PathForm form);

/// The same curve as a Bézier path: exact, but for ellipses, which are met to 1e-6 of their size.
Path as_bezier(const Path& path);

/// Handles of a Bézier path's points made smooth (along the chord between their neighbours), or taken away
/// so that they are corners. Pre: numbers within the points.
Path with_handles(const Path& path, const std::vector<std::uint32_t>& points, bool smooth);

/// The normal (unit) of the plane that all its points lie in, in the frame of its carrier; none when they lie
/// in none (to a millionth of their extent), or on one line.
std::optional<Vec3> plane_normal(const Path& path);

/// The largest distance of places on `changed` from the nearest one on `curve` [m].
double deviation(const PathCurve& changed, const PathCurve& curve);

}  // namespace pivrak
