#include "core/checks/pivots/spin_check.h"

#include <fmt/format.h>

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>

namespace pivrak {
namespace {

constexpr double widest_step =
    2.5;  // between neighbouring corners of a turned surface, against the short ones

/// A point of a surface about an axis.
struct Polar {
    double angle, radius, along;
};

std::vector<Polar> polar(const std::vector<Vec3>& points, const Vec3& origin, const Vec3& axis) {
    const Vec3 u = any_perpendicular(axis), v = axis.cross(u);
    std::vector<Polar> out;
    out.reserve(points.size());
    for (const Vec3& p : points) {
        const Vec3 from = p - origin;
        const double x = u.dot(from), y = v.dot(from);
        out.push_back({std::atan2(y, x), std::hypot(x, y), axis.dot(from)});
    }
    return out;
}

/// The line that the middles of the sections lie on, against the axis: straight, since the surface is turned.
struct CentreLine {
    double mean = 0;  ///< radius about it
    double middle = 0, half = 0;
    Vec2 at_middle{0, 0}, per_half{0, 0};

    Vec2 at(double along) const { return at_middle + (half > 0 ? (along - middle) / half : 0) * per_half; }
    double radius(const Polar& p) const {
        return (p.radius * Vec2(std::cos(p.angle), std::sin(p.angle)) - at(p.along)).norm();
    }
};

/// One step of least squares on the once-a-turn share of the radii about the line: mean, and cosine and sine
/// that may change along the axis.
void refine(CentreLine& line, const std::vector<Polar>& points) {
    using Row = Eigen::Matrix<double, 5, 1>;
    Eigen::Matrix<double, 5, 5> a = Eigen::Matrix<double, 5, 5>::Zero();
    Row b = Row::Zero();
    for (const Polar& p : points) {
        const double z = line.half > 0 ? (p.along - line.middle) / line.half : 0, c = std::cos(p.angle),
                     s = std::sin(p.angle);
        Row row;
        row << 1, c, s, z * c, z * s;
        a += row * row.transpose();
        b += row * (line.radius(p) - line.mean);
    }
    // What one ring cannot tell, the change along the axis, stays nothing.
    a.diagonal().array() += 1e-12 * a.diagonal().maxCoeff();
    const Row x = a.ldlt().solve(b);
    line.mean += x(0);
    line.at_middle += x.segment<2>(1);
    if (line.half > 0) line.per_half += x.segment<2>(3);
}

CentreLine centre_line(const std::vector<Polar>& points) {
    CentreLine line;
    double low = 1e300, high = -1e300;
    for (const Polar& p : points) {
        low = std::min(low, p.along);
        high = std::max(high, p.along);
        line.mean += p.radius / static_cast<double>(points.size());
    }
    line.middle = 0.5 * (low + high);
    if (high - low > 2e-6 * line.mean) line.half = 0.5 * (high - low);
    for (int step = 0; step < 4; ++step) refine(line, points);
    return line;
}

/// A section off by e runs out by 2 e; the end where it is off more counts, and what is left of the form.
double run_out_of(const std::vector<Polar>& points, const CentreLine& line, bool whole = true) {
    double low = 1e300, high = -1e300;
    for (const Polar& p : points) {
        const double radius = line.radius(p);
        low = std::min(low, radius);
        high = std::max(high, radius);
    }
    const double off =
        std::max((line.at_middle + line.per_half).norm(), (line.at_middle - line.per_half).norm());
    return 2 * off + (whole ? high - low : 0);
}

/// Whether a band goes all round: blades and teeth leave gaps far wider than the steps along their tips. Only
/// what goes all round shows its form to a dial.
bool is_whole(const std::vector<Polar>& points) {
    std::vector<double> angles;
    for (const Polar& p : points) angles.push_back(p.angle);
    std::sort(angles.begin(), angles.end());
    std::vector<double> steps;
    for (std::size_t i = 0; i < angles.size(); ++i) {
        const double step =
            i + 1 < angles.size() ? angles[i + 1] - angles[i] : angles[0] + 2 * pi - angles[i];
        if (step > 1e-5) steps.push_back(step);
    }
    if (steps.size() < 3) return false;
    std::sort(steps.begin(), steps.end());
    return steps.back() < widest_step * steps[steps.size() / 4];
}

/// The axis that the part turns on, in its own frame.
Vec3 turning_axis(const Joint& joint, const Vec3& own_axis) {
    if (joint.kind == JointKind::Hinge || joint.kind == JointKind::Cylinder || joint.kind == JointKind::Slide)
        return Vec3::Unit(joint.axis);
    Eigen::Index nearest = 0;
    own_axis.cwiseAbs().maxCoeff(&nearest);
    return Vec3::Unit(nearest);
}

}  // namespace

bool SpinCheck::is_true() const {
    return run_out_m <= allowed_run_out_m && tilt_rad <= allowed_tilt_rad;
}

double radial_run_out(const std::vector<Vec3>& surface, const Vec3& axis_point, const Vec3& axis_direction) {
    if (surface.empty()) return 0;
    const std::vector<Polar> points = polar(surface, axis_point, axis_direction);
    return run_out_of(points, centre_line(points));
}

SpinCheck spin_check(const Document& document, PartId id, const RoundAxis& axis) {
    const Part& part = *document.parts.find(id);
    const Mesh& mesh = *document.shapes.find(part.shape)->mesh;
    const Vec3 own = part.part_from_shape.direction(axis.direction),
               own_point = part.part_from_shape.point(axis.point);
    const Vec3 turns_on = turning_axis(part.joint, own);
    SpinCheck check;
    check.part = id;
    check.tilt_rad = std::atan2(own.cross(turns_on).norm(), std::abs(own.dot(turns_on)));
    check.offset_m = (own_point - own_point.dot(turns_on) * turns_on).norm();
    check.radius_m = axis.radius_m;
    const Frame shape_from_part = part.part_from_shape.inverse();
    for (const RoundBand& band : round_bands(mesh, axis.point, axis.direction)) {
        const std::vector<Polar> points =
            polar(band.points, shape_from_part.translation, shape_from_part.direction(turns_on));
        const CentreLine line = centre_line(points);
        const double run_out = run_out_of(points, line, is_whole(points));
        if (!check.samples.empty() && run_out <= check.run_out_m * (1 + 1e-9) + 1e-9) continue;
        check.run_out_m = run_out;
        check.radius_m = band.radius_m;
        check.samples.clear();
        for (const Polar& p : points) check.samples.push_back({p.angle, p.radius - line.mean});
        std::sort(check.samples.begin(), check.samples.end(),
                  [](const auto& a, const auto& b) { return a.angle_rad < b.angle_rad; });
    }
    return check;
}

Result<SpinCheck> spin_check(const Document& document, PartId id) {
    const Part& part = *document.parts.find(id);
    const Shape* shape = document.shapes.find(part.shape);
    if (!shape)
        return Error{"part.no_shape", fmt::format("'{}' has no shape to measure", part.name), part.name};
    const auto axis = round_axis(*shape->mesh);
    if (!axis)
        return Error{axis.error().code, fmt::format("'{}' is {}", part.name, axis.error().message),
                     part.name};
    return spin_check(document, id, *axis);
}

}  // namespace pivrak
