#pragma once

#include <vector>

#include "core/base/result.h"
#include "core/elements/path/path.h"

namespace pivrak {

/// Where a path is, and which way it goes, so far along it.
struct PathSample {
    Vec3 place{0, 0, 0};
    Vec3 tangent{1, 0, 0};    ///< unit
    Vec3 up{0, 0, 1};         ///< unit, at a right angle to the tangent: turns about it as little as possible
    Vec3 curvature{0, 0, 0};  ///< change of the tangent for each metre [1/m]; 0 at corners
};

/// A path measured by its length, so that a rider's speed is even however its points are spaced. Everything
/// is in the frame of the path's carrier. Immutable once made; safe to share between threads.
///
/// Arc length is the sum of Gauss quadratures over pieces halved until they agree to 1e-12 of the whole, and
/// is inverted by Newton's method to 1e-12 of it. `up` is the rotation-minimizing frame that starts with the
/// carrier's up; on closed paths what is missing after one round is spread evenly, so they close.
/// Sources: W. Wang, B. Jüttler, D. Zheng, Y. Liu, Computation of rotation minimizing frames, ACM Trans.
/// Graph. 27 (2008) (double reflection); C. de Boor, A Practical Guide to Splines (uniform cubic B-splines).
class PathCurve {
public:
    /// Errors: `path.points` (too few), `path.length` (all points in one place), `path.number` (not finite).
    static Result<PathCurve> make(const Path& path);

    double length() const { return length_; }  ///< [m]
    bool closed() const { return closed_; }
    /// The path so far along it [m]. Closed ones go on round and round, open ones go on straight.
    PathSample at(double along_m) const;
    Vec3 place(double along_m) const;
    /// Place and tangent, without what `up` costs.
    PathSample without_up(double along_m) const;

    /// The least radius of its bends [m]; infinite for a straight one, 0 where it has a corner.
    double least_radius() const;
    /// How far along it the place nearest to a point is [m].
    double nearest(const Vec3& point) const;
    /// How far along it the points are that it was made from [m]; for a smooth path, where it comes nearest
    /// to being controlled by them.
    const std::vector<double>& point_places() const { return point_places_; }

private:
    /// `c0 + c1 t + c2 t^2 + c3 t^3`, or `c0 + c1 cos t + c2 sin t`, for t from 0 to `end`.
    struct Segment {
        Vec3 c0, c1, c2, c3;
        bool round = false;
        double end = 1;
        Vec3 place(double t) const;
        Vec3 speed(double t) const;
        Vec3 bend(double t) const;
    };
    struct Piece {
        std::uint32_t segment;
        double t0, t1, s0, s1;
    };
    struct Spot {
        std::uint32_t segment;
        double t;
    };

    void add_cubic(const Vec3& a, const Vec3& b, const Vec3& c, const Vec3& d);
    void measure();
    void halve(std::uint32_t segment, double t0, double t1, double whole, double tolerance, int depth);
    void place_frames();
    Spot spot_at(double along_m) const;
    Vec3 tangent_at(const Spot& spot) const;

    std::vector<Segment> segments_;
    std::vector<Piece> pieces_;
    struct Upright {
        Vec3 place, tangent, up;
    };
    std::vector<Upright> frames_;  ///< at even distances
    std::vector<double> point_places_;
    std::vector<std::uint32_t> point_segments_;
    double length_ = 0, twist_ = 0;
    bool closed_ = false;
};

/// Carries a direction at a right angle to the tangent from one place of a curve to the next by two
/// reflections. Tangents are unit.
Vec3 carried_up(const Vec3& place, const Vec3& tangent, const Vec3& up, const Vec3& next_place,
                const Vec3& next_tangent);

}  // namespace pivrak
