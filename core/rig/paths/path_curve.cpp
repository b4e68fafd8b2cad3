#include "core/rig/paths/path_curve.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>

#include "core/geometry/frame.h"
#include "core/rig/paths/spline_controls.h"

namespace pivrak {
namespace {

/// Nodes and weights of the Gauss-Legendre rule of eight points on -1 to 1.
constexpr std::array<double, 4> gauss_node{0.18343464249564980494, 0.52553240991632898582,
                                           0.79666647741362673959, 0.96028985649753623168};
constexpr std::array<double, 4> gauss_weight{0.36268378337836198297, 0.31370664587788728734,
                                             0.22238103445337447054, 0.10122853629037625915};

constexpr double length_tolerance = 1e-12;
constexpr int most_halvings = 24;

template <class Segment>
double arc(const Segment& segment, double t0, double t1) {
    const double half = 0.5 * (t1 - t0), middle = 0.5 * (t0 + t1);
    double sum = 0;
    for (std::size_t i = 0; i < gauss_node.size(); ++i)
        sum += gauss_weight[i] * (segment.speed(middle - half * gauss_node[i]).norm() +
                                  segment.speed(middle + half * gauss_node[i]).norm());
    return half * sum;
}

Vec3 square_to(const Vec3& tangent, const Vec3& wanted) {
    const Vec3 across = wanted - wanted.dot(tangent) * tangent;
    return across.norm() > 1e-6 ? Vec3(across.normalized()) : any_perpendicular(tangent);
}

}  // namespace

Vec3 carried_up(const Vec3& place, const Vec3& tangent, const Vec3& up, const Vec3& next_place,
                const Vec3& next_tangent) {
    const Vec3 v1 = next_place - place;
    const double c1 = v1.squaredNorm();
    // In one place there is nothing to reflect in but the turn of the tangent itself.
    const Vec3 up1 = c1 > 0 ? Vec3(up - (2 / c1) * v1.dot(up) * v1) : up;
    const Vec3 tangent1 = c1 > 0 ? Vec3(tangent - (2 / c1) * v1.dot(tangent) * v1) : tangent;
    const Vec3 v2 = next_tangent - tangent1;
    const double c2 = v2.squaredNorm();
    const Vec3 carried = c2 > 1e-30 ? Vec3(up1 - (2 / c2) * v2.dot(up1) * v2) : up1;
    return square_to(next_tangent, carried);
}

Vec3 PathCurve::Segment::place(double t) const {
    if (round) return c0 + std::cos(t) * c1 + std::sin(t) * c2;
    return c0 + t * (c1 + t * (c2 + t * c3));
}

Vec3 PathCurve::Segment::speed(double t) const {
    if (round) return -std::sin(t) * c1 + std::cos(t) * c2;
    return c1 + t * (2 * c2 + 3 * t * c3);
}

Vec3 PathCurve::Segment::bend(double t) const {
    if (round) return -std::cos(t) * c1 - std::sin(t) * c2;
    return 2 * c2 + 6 * t * c3;
}

void PathCurve::add_cubic(const Vec3& a, const Vec3& b, const Vec3& c, const Vec3& d) {
    segments_.push_back({a, 3 * (b - a), 3 * (a - 2 * b + c), d - a + 3 * (b - c)});
}

Result<PathCurve> PathCurve::make(const Path& path) {
    const auto& points = path.points;
    const bool ellipse = path.form == PathForm::Ellipse;
    if (ellipse ? points.size() != 3 : points.size() < 2)
        return Error{"path.points",
                     fmt::format("path '{}' has {} points; {}", path.name, points.size(),
                                 ellipse ? "an ellipse has three" : "it needs two at least"),
                     path.name};
    for (const PathPoint& p : points)
        if (!p.place.allFinite() || !p.before.allFinite() || !p.after.allFinite())
            return Error{"path.number", fmt::format("a point of path '{}' is not finite", path.name),
                         path.name};
    PathCurve out;
    out.closed_ = path.is_closed();
    const std::size_t n = points.size(), runs = out.closed_ ? n : n - 1;
    const auto wrapped = [&](std::size_t i) -> const PathPoint& { return points[i % n]; };
    if (ellipse) {
        out.segments_.push_back({points[0].place, points[1].place - points[0].place,
                                 points[2].place - points[0].place, Vec3(0, 0, 0), true, 2 * pi});
        out.point_segments_ = {0};
    }
    const auto control = [&](std::ptrdiff_t i) { return spline_control(path, i); };
    for (std::size_t i = 0; i < runs && !ellipse; ++i) {
        out.point_segments_.push_back(static_cast<std::uint32_t>(out.segments_.size()));
        const PathPoint &a = points[i], &b = wrapped(i + 1);
        if (path.form == PathForm::Polyline) {
            if (a.place != b.place)
                out.segments_.push_back({a.place, b.place - a.place, Vec3(0, 0, 0), Vec3(0, 0, 0)});
        } else if (path.form == PathForm::Bezier) {
            if (a.place != b.place || a.after != Vec3(0, 0, 0) || b.before != Vec3(0, 0, 0))
                out.add_cubic(a.place, a.place + a.after, b.place + b.before, b.place);
        } else {
            const auto k = static_cast<std::ptrdiff_t>(i);
            const Vec3 p0 = control(k - 1), p1 = control(k), p2 = control(k + 1), p3 = control(k + 2);
            out.add_cubic((p0 + 4 * p1 + p2) / 6, (2 * p1 + p2) / 3, (p1 + 2 * p2) / 3,
                          (p1 + 4 * p2 + p3) / 6);
        }
    }
    out.measure();
    if (!(out.length_ > 1e-9))
        return Error{"path.length",
                     fmt::format("path '{}' has no length: its points lie in one place", path.name),
                     path.name};
    if (!std::isfinite(out.length_))
        return Error{"path.number", fmt::format("path '{}' is too long to be measured", path.name),
                     path.name};
    out.place_frames();
    return out;
}

void PathCurve::halve(std::uint32_t segment, double t0, double t1, double whole, double tolerance,
                      int depth) {
    const double middle = 0.5 * (t0 + t1);
    const double left = arc(segments_[segment], t0, middle), right = arc(segments_[segment], middle, t1);
    if (std::abs(left + right - whole) <= tolerance || depth >= most_halvings) {
        const auto put = [&](double a, double b, double length) {
            if (!(length > 0)) return;
            pieces_.push_back({segment, a, b, length_, length_ + length});
            length_ += length;
        };
        put(t0, middle, left);
        put(middle, t1, right);
        return;
    }
    halve(segment, t0, middle, left, tolerance, depth + 1);
    halve(segment, middle, t1, right, tolerance, depth + 1);
}

void PathCurve::measure() {
    double rough = 0;
    for (const Segment& s : segments_) rough += arc(s, 0, s.end);
    if (!std::isfinite(rough)) {
        length_ = rough;
        return;
    }
    std::vector<double> starts;
    for (std::uint32_t i = 0; i < segments_.size(); ++i) {
        starts.push_back(length_);
        const Segment& s = segments_[i];
        halve(i, 0, s.end, arc(s, 0, s.end), length_tolerance * rough, 0);
    }
    for (const std::uint32_t segment : point_segments_)
        point_places_.push_back(segment < starts.size() ? starts[segment] : length_);
    if (!closed_) point_places_.push_back(length_);
}

PathCurve::Spot PathCurve::spot_at(double along) const {
    const auto after = std::upper_bound(pieces_.begin(), pieces_.end(), along,
                                        [](double s, const Piece& p) { return s < p.s1; });
    const Piece& piece = after == pieces_.end() ? pieces_.back() : *after;
    const Segment& segment = segments_[piece.segment];
    const double wanted = std::clamp(along - piece.s0, 0.0, piece.s1 - piece.s0);
    double low = piece.t0, high = piece.t1;
    double t = low + (high - low) * (wanted / (piece.s1 - piece.s0));
    // Newton's method, kept between bounds that only come closer.
    for (int i = 0; i < 40; ++i) {
        const double off = arc(segment, piece.t0, t) - wanted;
        if (std::abs(off) <= length_tolerance * length_) break;
        (off > 0 ? high : low) = t;
        const double speed = segment.speed(t).norm();
        const double next = speed > 0 ? t - off / speed : low;
        t = next > low && next < high ? next : 0.5 * (low + high);
    }
    return {piece.segment, t};
}

Vec3 PathCurve::tangent_at(const Spot& spot) const {
    const Segment& segment = segments_[spot.segment];
    Vec3 speed = segment.speed(spot.t);
    // Where handles have no length the direction is that of the bend.
    if (speed.norm() < 1e-9 * length_)
        speed = spot.t < 0.5 * segment.end ? segment.bend(spot.t) : Vec3(-segment.bend(spot.t));
    const double size = speed.norm();
    return size > 0 ? Vec3(speed / size) : Vec3(1, 0, 0);
}

PathSample PathCurve::without_up(double along) const {
    double beyond = 0;
    if (closed_) {
        along -= std::floor(along / length_) * length_;
    } else {
        beyond = along < 0 ? along : std::max(0.0, along - length_);
        along = std::clamp(along, 0.0, length_);
    }
    const Spot spot = spot_at(along);
    const Segment& segment = segments_[spot.segment];
    PathSample out;
    out.tangent = tangent_at(spot);
    out.place = segment.place(spot.t) + beyond * out.tangent;
    const Vec3 speed = segment.speed(spot.t);
    if (beyond == 0 && speed.norm() > 1e-9 * length_) {
        const Vec3 bend = segment.bend(spot.t);
        out.curvature = (bend - bend.dot(out.tangent) * out.tangent) / speed.squaredNorm();
    }
    return out;
}

Vec3 PathCurve::place(double along) const {
    return without_up(along).place;
}

PathSample PathCurve::at(double along) const {
    PathSample out = without_up(along);
    const double round =
        closed_ ? along - std::floor(along / length_) * length_ : std::clamp(along, 0.0, length_);
    const double step = length_ / static_cast<double>(frames_.size() - 1);
    const auto before = std::min(static_cast<std::size_t>(round / step), frames_.size() - 2);
    const Upright& frame = frames_[before];
    out.up = carried_up(frame.place, frame.tangent, frame.up, out.place, out.tangent);
    if (twist_ != 0) out.up = Eigen::AngleAxisd(-twist_ * round / length_, out.tangent) * out.up;
    return out;
}

/// Frames close enough that the error of carrying `up` from one to the next, of fourth order in the turn
/// between them, is far below what can be seen.
void PathCurve::place_frames() {
    constexpr double turn_each = 0.02;
    double turning = 0;
    for (const Piece& piece : pieces_) {
        const Vec3 a = tangent_at({piece.segment, piece.t0}),
                   m = tangent_at({piece.segment, 0.5 * (piece.t0 + piece.t1)}),
                   b = tangent_at({piece.segment, piece.t1});
        turning += std::acos(std::clamp(a.dot(m), -1.0, 1.0)) + std::acos(std::clamp(m.dot(b), -1.0, 1.0));
    }
    const auto count = static_cast<std::size_t>(std::clamp(turning / turn_each, 48.0, 20000.0));
    const PathSample start = without_up(0);
    const Vec3 wanted = std::abs(start.tangent.z()) < 0.9 ? Vec3(0, 0, 1) : Vec3(1, 0, 0);
    frames_.push_back({start.place, start.tangent, square_to(start.tangent, wanted)});
    for (std::size_t i = 1; i <= count; ++i) {
        // The last one stands at the end itself, not at the start of the next round.
        const double along = length_ * static_cast<double>(i) / static_cast<double>(count);
        const Spot spot = spot_at(along);
        const Vec3 place = segments_[spot.segment].place(spot.t), tangent = tangent_at(spot);
        const Upright& last = frames_.back();
        frames_.push_back({place, tangent, carried_up(last.place, last.tangent, last.up, place, tangent)});
    }
    if (!closed_) return;
    // From the end on to the start: a corner may lie there.
    const Upright &last = frames_.back(), &first = frames_.front();
    const Vec3 round = carried_up(last.place, last.tangent, last.up, first.place, first.tangent);
    twist_ = std::atan2(first.tangent.dot(first.up.cross(round)), first.up.dot(round));
}

double PathCurve::least_radius() const {
    double largest = 0;
    const auto look = [&](const Spot& spot) {
        const Segment& segment = segments_[spot.segment];
        const Vec3 speed = segment.speed(spot.t);
        const double size = speed.norm();
        if (size > 1e-9 * length_)
            largest = std::max(largest, speed.cross(segment.bend(spot.t)).norm() / (size * size * size));
    };
    constexpr int looks = 16;
    for (const Piece& piece : pieces_)
        for (int i = 0; i <= looks; ++i) look({piece.segment, piece.t0 + (piece.t1 - piece.t0) * i / looks});
    for (std::size_t i = 0; i + (closed_ ? 0 : 1) < segments_.size(); ++i) {
        const std::size_t next = (i + 1) % segments_.size();
        const Vec3 out = tangent_at({static_cast<std::uint32_t>(i), segments_[i].end}),
                   in = tangent_at({static_cast<std::uint32_t>(next), 0});
        if (out.cross(in).norm() > 1e-6 || out.dot(in) < 0) return 0;
    }
    return largest > 1e-12 ? 1 / largest : std::numeric_limits<double>::infinity();
}

double PathCurve::nearest(const Vec3& point) const {
    double best = 1e300, along = 0;
    const auto look = [&](double s) {
        const double away = (without_up(s).place - point).squaredNorm();
        if (away < best) {
            best = away;
            along = s;
        }
    };
    const std::size_t count = frames_.size() - 1;
    const double step = length_ / static_cast<double>(count);
    for (std::size_t i = 0; i <= count; ++i) {
        const double away = (frames_[i].place - point).squaredNorm();
        if (away < best) {
            best = away;
            along = step * static_cast<double>(i);
        }
    }
    for (double width = step; width > 1e-12 * length_; width *= 0.5) {
        const double middle = along;
        for (const double s : {middle - width, middle + width})
            if (closed_ || (s >= 0 && s <= length_)) look(s);
    }
    return closed_ ? along - std::floor(along / length_) * length_ : along;
}

}  // namespace pivrak
