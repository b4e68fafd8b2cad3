#include "core/rig/paths/path_edit.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/rig/golden_section.h"
#include "core/rig/paths/draped_path.h"
#include "core/rig/paths/spline_controls.h"

namespace pivrak {
namespace {

constexpr int most_points = 5000;
constexpr int ellipse_points = 8;
constexpr int looks = 400;

Result<PathEdit> measured(const PathCurve& before, Path path) {
    PIVRAK_TRY(after, PathCurve::make(path));
    return PathEdit{std::move(path), deviation(after, before)};
}

/// Places at even distances along a curve.
std::vector<Vec3> even_places(const PathCurve& curve, int count) {
    std::vector<Vec3> places;
    const double step = curve.length() / (curve.closed() ? count : count - 1);
    for (int i = 0; i < count; ++i) places.push_back(curve.place(step * i));
    return places;
}

/// A path of a form that runs through places.
Path through(const Path& like, const std::vector<Vec3>& places, PathForm form) {
    Path out = like;
    out.closed = like.is_closed();
    out.form = form;
    out.points.clear();
    for (const Vec3& p : form == PathForm::Smooth ? controls_through(places, out.closed) : places)
        out.points.push_back({p});
    if (form != PathForm::Bezier) return out;
    std::vector<std::uint32_t> all(out.points.size());
    for (std::uint32_t i = 0; i < all.size(); ++i) all[i] = i;
    return with_handles(out, all, true);
}

/// Cuts the Bézier run after a point at `t`: de Casteljau's construction.
void split_bezier(Path& path, std::size_t i, double t) {
    const std::size_t n = path.points.size();
    PathPoint &a = path.points[i], &b = path.points[(i + 1) % n];
    const Vec3 p0 = a.place, p1 = a.place + a.after, p2 = b.place + b.before, p3 = b.place;
    const Vec3 q0 = p0 + t * (p1 - p0), q1 = p1 + t * (p2 - p1), q2 = p2 + t * (p3 - p2);
    const Vec3 r0 = q0 + t * (q1 - q0), r1 = q1 + t * (q2 - q1), middle = r0 + t * (r1 - r0);
    a.after = q0 - p0;
    b.before = q2 - p3;
    path.points.insert(path.points.begin() + static_cast<std::ptrdiff_t>(i) + 1,
                       {middle, r0 - middle, r1 - middle});
}

}  // namespace

namespace {

/// How far one curve comes from another: places of it, and round the farthest of them by golden section,
/// since that often is a corner between two.
double reach_beyond(const PathCurve& curve, const PathCurve& other) {
    const auto off = [&](double along) {
        const Vec3 at = curve.place(along);
        return (other.place(other.nearest(at)) - at).norm();
    };
    const double step = curve.length() / looks;
    double most = 0, at = 0;
    for (int i = 0; i <= looks; ++i)
        if (const double here = off(step * i); here > most) {
            most = here;
            at = step * i;
        }
    const auto peak = golden_minimum([&](double along) { return -off(along); }, std::max(0.0, at - step),
                                     std::min(curve.length(), at + step), 1e-3 * step);
    return std::max(most, -peak.second);
}

}  // namespace

double deviation(const PathCurve& changed, const PathCurve& curve) {
    return std::max(reach_beyond(changed, curve), reach_beyond(curve, changed));
}

Result<PathEdit> with_point(const Path& path, double along) {
    PIVRAK_TRY(curve, PathCurve::make(path));
    if (path.form == PathForm::Ellipse) {
        PIVRAK_TRY(smooth, with_form(path, PathForm::Smooth));
        PIVRAK_TRY(more, with_point(smooth.path, along));
        return measured(curve, more.path);
    }
    const double at = curve.closed() ? along - std::floor(along / curve.length()) * curve.length()
                                     : std::clamp(along, 0.0, curve.length());
    const auto& places = curve.point_places();
    const auto after = std::upper_bound(places.begin(), places.end(), at);
    const std::size_t runs = curve.closed() ? path.points.size() : path.points.size() - 1;
    const std::size_t run = std::min<std::size_t>(
        after == places.begin() ? 0 : static_cast<std::size_t>(after - places.begin()) - 1, runs - 1);
    Path out = path;
    const Vec3 place = curve.place(at);
    if (path.form == PathForm::Bezier) {
        // The parameter of that place in its run: by halving, as its distance from the run's start rises.
        Path alone = path;
        alone.closed = false;
        alone.points = {path.points[run], path.points[(run + 1) % path.points.size()]};
        double low = 0, high = 1;
        for (int i = 0; i < 60; ++i) {
            const double t = 0.5 * (low + high);
            Path part = alone;
            split_bezier(part, 0, t);
            part.points.pop_back();
            const auto piece = PathCurve::make(part);
            ((piece ? piece->length() : 0) < at - places[run] ? low : high) = t;
        }
        split_bezier(out, run, 0.5 * (low + high));
    } else {
        out.points.insert(out.points.begin() + static_cast<std::ptrdiff_t>(run) + 1, {place});
    }
    return measured(curve, std::move(out));
}

Result<Path> without_points(const Path& path, const std::vector<std::uint32_t>& points) {
    if (path.form == PathForm::Ellipse)
        return Error{"path.form",
                     fmt::format("'{}' is an ellipse: its points are its centre and its axes", path.name),
                     path.name};
    Path out = path;
    std::vector<std::uint32_t> order = points;
    std::sort(order.rbegin(), order.rend());
    order.erase(std::unique(order.begin(), order.end()), order.end());
    for (const std::uint32_t i : order) {
        if (i >= path.points.size())
            return Error{
                "path.index",
                fmt::format("path '{}' has no point {}; it has {}", path.name, i, path.points.size()),
                path.name};
        out.points.erase(out.points.begin() + i);
    }
    if (const auto curve = PathCurve::make(out); !curve) return curve.error();
    return out;
}

Path reversed(const Path& path) {
    Path out = path;
    if (path.form == PathForm::Ellipse) {
        out.points[2].place = 2 * path.points[0].place - path.points[2].place;
    } else {
        std::reverse(out.points.begin(), out.points.end());
        // A closed path goes on to start at the same point.
        if (path.closed) std::rotate(out.points.begin(), out.points.end() - 1, out.points.end());
        for (PathPoint& p : out.points) std::swap(p.before, p.after);
    }
    const auto curve = PathCurve::make(path);
    std::reverse(out.rolls.begin(), out.rolls.end());
    for (PathRoll& roll : out.rolls) {
        roll.at_m = (curve ? curve->length() : 0) - roll.at_m;
        roll.roll_rad = -roll.roll_rad;
    }
    return out;
}

Result<PathEdit> respaced(const Path& path, int count) {
    const int least = path.is_closed() ? 3 : 2;
    if (count < least || count > most_points)
        return Error{"path.count",
                     fmt::format("{} points are out of range: {} to {}", count, least, most_points), "count"};
    PIVRAK_TRY(curve, PathCurve::make(path));
    const PathForm form = path.form == PathForm::Ellipse ? PathForm::Smooth : path.form;
    Path out = through(path, even_places(curve, count), form);
    if (form == PathForm::Bezier) {
        // Handles along the curve itself, a third of the way to the next point.
        const double third = curve.length() / (curve.closed() ? count : count - 1) / 3;
        for (int i = 0; i < count; ++i) {
            const Vec3 way = third * curve.without_up(3 * third * i).tangent;
            out.points[static_cast<std::size_t>(i)].before = -way;
            out.points[static_cast<std::size_t>(i)].after = way;
        }
    }
    return measured(curve, std::move(out));
}

Result<PathEdit> with_form(const Path& path, PathForm form) {
    PIVRAK_TRY(curve, PathCurve::make(path));
    if (form == path.form) return PathEdit{path, 0};
    if (form == PathForm::Ellipse)
        return Error{"path.form", fmt::format("path '{}' cannot become an ellipse; draw one", path.name),
                     path.name};
    if (form == PathForm::Bezier) return measured(curve, as_bezier(path));
    std::vector<Vec3> places;
    if (path.form == PathForm::Ellipse)
        places = even_places(curve, ellipse_points);
    else if (path.form == PathForm::Smooth)
        for (std::size_t i = 0; i < path.points.size(); ++i)
            places.push_back(curve.place(curve.point_places()[i]));
    else
        for (const PathPoint& p : path.points) places.push_back(p.place);
    return measured(curve, through(path, places, form));
}

namespace {

/// Arcs of a sixteenth: a cubic is off by less than 1e-7 of the radius there.
constexpr int ellipse_arcs = 16;

Path bezier_of_ellipse(const Path& path) {
    const Vec3 centre = path.points[0].place, a = path.points[1].place - centre,
               b = path.points[2].place - centre;
    const double step = 2 * pi / ellipse_arcs, handle = 4.0 / 3 * std::tan(step / 4);
    Path out = path;
    out.points.clear();
    for (int i = 0; i < ellipse_arcs; ++i) {
        const double t = step * i;
        const Vec3 along = handle * (-std::sin(t) * a + std::cos(t) * b);
        out.points.push_back({centre + std::cos(t) * a + std::sin(t) * b, -along, along});
    }
    return out;
}

Path bezier_of_spline(const Path& path) {
    const auto n = static_cast<std::ptrdiff_t>(path.points.size());
    const auto control = [&](std::ptrdiff_t i) { return spline_control(path, i); };
    Path out = path;
    for (std::ptrdiff_t i = 0; i < n; ++i) {
        const Vec3 before = control(i - 1), at = control(i), after = control(i + 1);
        const Vec3 way = (after - before) / 6;
        out.points[static_cast<std::size_t>(i)] = {(before + 4 * at + after) / 6, -way, way};
    }
    return out;
}

}  // namespace

Path as_bezier(const Path& path) {
    Path out = path.form == PathForm::Ellipse  ? bezier_of_ellipse(path)
               : path.form == PathForm::Smooth ? bezier_of_spline(path)
                                               : path;
    out.closed = path.is_closed();
    out.form = PathForm::Bezier;
    return out;
}

Path with_handles(const Path& path, const std::vector<std::uint32_t>& points, bool smooth) {
    Path out = path;
    const std::size_t n = path.points.size();
    for (const std::uint32_t i : points) {
        PathPoint& p = out.points[i];
        p.before = p.after = Vec3(0, 0, 0);
        if (!smooth) continue;
        const bool first = i == 0 && !path.closed, last = i + 1 == n && !path.closed;
        const Vec3 behind = first ? p.place : path.points[(i + n - 1) % n].place,
                   ahead = last ? p.place : path.points[(i + 1) % n].place;
        const Vec3 chord = ahead - behind;
        if (!(chord.norm() > 0)) continue;
        p.before = -(p.place - behind).norm() / 3 * chord.normalized();
        p.after = (ahead - p.place).norm() / 3 * chord.normalized();
    }
    return out;
}

std::optional<Vec3> plane_normal(const Path& path) {
    const Vec3 first = path.points.front().place;
    Vec3 farthest(0, 0, 0), normal(0, 0, 0);
    for (const PathPoint& p : path.points)
        if ((p.place - first).norm() > farthest.norm()) farthest = p.place - first;
    for (const PathPoint& p : path.points)
        if (const Vec3 across = farthest.cross(p.place - first); across.norm() > normal.norm())
            normal = across;
    const double extent = farthest.norm();
    if (!(normal.norm() > 1e-6 * extent * extent)) return std::nullopt;
    normal.normalize();
    for (const PathPoint& p : path.points)
        if (std::abs(normal.dot(p.place - first)) > 1e-6 * extent) return std::nullopt;
    return normal;
}

}  // namespace pivrak
