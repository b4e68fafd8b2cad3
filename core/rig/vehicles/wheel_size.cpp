#include "core/rig/vehicles/wheel_size.h"

#include <algorithm>
#include <cmath>

namespace pivrak {
namespace {

constexpr double tread_share = 0.995;

void add_shapes(const Document& document, const Tree& tree, PartId id, const Frame& hinge_from_part,
                WheelShapes& out) {
    const Part& part = *document.parts.find(id);
    if (const Shape* shape = document.shapes.find(part.shape))
        out.shapes.push_back({shape->mesh, hinge_from_part * part.part_from_shape});
    for (const PartId child : tree.children(id)) {
        const Part& below = *document.parts.find(child);
        if (below.joint.kind == JointKind::Fixed)
            add_shapes(document, tree, child, hinge_from_part * below.parent_from_rest, out);
    }
}

/// `take(radius, along)` for every vertex that turns with the wheel.
template <class Take>
void each_vertex(const WheelShapes& wheel, Take take) {
    const int axis = wheel.axis;
    for (const auto& [mesh, frame] : wheel.shapes) {
        const Mat3 turn = frame.rotation.toRotationMatrix();
        for (const Vec3f& p : mesh->positions) {
            const Vec3 at = turn * p.cast<double>() + frame.translation;
            take(std::hypot(at[(axis + 1) % 3], at[(axis + 2) % 3]), at[axis]);
        }
    }
}

}  // namespace

WheelShapes wheel_shapes(const Document& document, const Tree& tree, PartId hinge) {
    return wheel_shapes(document, tree, hinge, hinge);
}

WheelShapes wheel_shapes(const Document& document, const Tree& tree, PartId hinge, PartId part) {
    WheelShapes out;
    out.axis = document.parts.find(hinge)->joint.axis;
    Frame hinge_from_part;
    for (PartId p = part; p != hinge; p = document.parts.find(p)->parent)
        hinge_from_part = document.parts.find(p)->parent_from_rest * hinge_from_part;
    add_shapes(document, tree, part, hinge_from_part, out);
    return out;
}

WheelSize measure_wheel(const WheelShapes& wheel) {
    WheelSize size;
    each_vertex(wheel, [&](double radius, double) { size.radius_m = std::max(size.radius_m, radius); });
    double low = 1e300, high = -1e300;
    each_vertex(wheel, [&](double radius, double along) {
        if (radius < tread_share * size.radius_m) return;
        low = std::min(low, along);
        high = std::max(high, along);
    });
    if (high >= low) {
        size.half_width_m = 0.5 * (high - low);
        size.middle_m = 0.5 * (high + low);
    }
    return size;
}

namespace {

constexpr double outline_tolerance_m = 2e-4;

double cross(const WheelProfile::Circle& o, const WheelProfile::Circle& a, const WheelProfile::Circle& b) {
    return (a.along_m - o.along_m) * (b.radius_m - o.radius_m) -
           (a.radius_m - o.radius_m) * (b.along_m - o.along_m);
}

double span(const WheelProfile::Circle& a, const WheelProfile::Circle& b) {
    return std::hypot(b.along_m - a.along_m, b.radius_m - a.radius_m);
}

/// The upper convex hull, by rising place along the axle.
/// Source: A. M. Andrew, Another efficient algorithm for convex hulls in two dimensions (1979).
std::vector<WheelProfile::Circle> outline_of(std::vector<WheelProfile::Circle> points) {
    std::sort(points.begin(), points.end(), [](const auto& a, const auto& b) {
        return std::pair(a.along_m, a.radius_m) < std::pair(b.along_m, b.radius_m);
    });
    std::vector<WheelProfile::Circle> hull;
    for (const WheelProfile::Circle& p : points) {
        while (hull.size() > 1 && cross(hull[hull.size() - 2], hull.back(), p) >= 0) hull.pop_back();
        // Of one place along the axle, the outermost counts.
        if (hull.size() == 1 && hull.back().along_m == p.along_m) hull.pop_back();
        hull.push_back(p);
    }
    return hull;
}

/// Keeps what lies further than the tolerance from the line between its kept neighbours.
void keep_between(const std::vector<WheelProfile::Circle>& hull, std::size_t a, std::size_t b,
                  std::vector<bool>& kept) {
    std::size_t farthest = a;
    double most = outline_tolerance_m;
    for (std::size_t i = a + 1; i < b; ++i) {
        const double off = std::abs(cross(hull[a], hull[b], hull[i])) / span(hull[a], hull[b]);
        if (off <= most) continue;
        most = off;
        farthest = i;
    }
    if (farthest == a) return;
    kept[farthest] = true;
    keep_between(hull, a, farthest, kept);
    keep_between(hull, farthest, b, kept);
}

/// How far along the outline each circle lies from where the tread's middle is.
std::vector<double> sideways_of(const std::vector<WheelProfile::Circle>& circles, double middle_m) {
    std::vector<double> sideways{0};
    double middle = 0;
    for (std::size_t i = 1; i < circles.size(); ++i) {
        const double step = span(circles[i - 1], circles[i]),
                     run = circles[i].along_m - circles[i - 1].along_m;
        if (circles[i - 1].along_m <= middle_m && middle_m <= circles[i].along_m && run > 0)
            middle = sideways.back() + step * (middle_m - circles[i - 1].along_m) / run;
        sideways.push_back(sideways.back() + step);
    }
    for (double& place : sideways) place -= middle;
    return sideways;
}

}  // namespace

WheelProfile measure_profile(const WheelShapes& wheel) {
    std::vector<WheelProfile::Circle> points;
    each_vertex(wheel, [&](double radius, double along) { points.push_back({along, radius}); });
    if (points.empty()) return {};
    const auto hull = outline_of(std::move(points));
    std::vector<bool> kept(hull.size(), false);
    kept.front() = kept.back() = true;
    keep_between(hull, 0, hull.size() - 1, kept);
    WheelProfile out;
    for (std::size_t i = 0; i < hull.size(); ++i)
        if (kept[i]) out.circles.push_back(hull[i]);
    out.sideways_m = sideways_of(out.circles, measure_wheel(wheel).middle_m);
    return out;
}

std::size_t WheelProfile::lowest(double rise) const {
    const double level = std::sqrt(std::max(0.0, 1 - rise * rise));
    const auto height = [&](const Circle& c) { return c.along_m * rise - c.radius_m * level; };
    return static_cast<std::size_t>(
        std::min_element(circles.begin(), circles.end(),
                         [&](const Circle& a, const Circle& b) { return height(a) < height(b); }) -
        circles.begin());
}

}  // namespace pivrak
