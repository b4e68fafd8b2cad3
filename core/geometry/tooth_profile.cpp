#include "core/geometry/tooth_profile.h"

#include <cmath>
#include <complex>
#include <vector>

namespace pivrak {
namespace {

/// A face of the rim, seen along the axis.
struct RimFace {
    double angle, radius, area;
};

struct Rim {
    std::vector<RimFace> faces;
    double tip_radius = 0;
};

Rim rim_of(const Mesh& mesh, const Frame& axis_from_mesh) {
    Rim rim;
    for (std::size_t t = 0; t < mesh.triangle_count(); ++t) {
        const Vec3 a = axis_from_mesh.point(mesh.corner(t, 0)), b = axis_from_mesh.point(mesh.corner(t, 1)),
                   c = axis_from_mesh.point(mesh.corner(t, 2));
        for (const Vec3& p : {a, b, c}) rim.tip_radius = std::max(rim.tip_radius, p.head<2>().norm());
        const Vec3 cross = (b - a).cross(c - a);
        if (std::abs(cross.z()) > 0.3 * cross.norm()) continue;
        const Vec3 middle = (a + b + c) / 3.0;
        rim.faces.push_back({std::atan2(middle.y(), middle.x()), middle.head<2>().norm(), 0.5 * cross.norm()});
    }
    return rim;
}

/// Radius of the pitch circle of standard teeth with this tip: tip = module (z + 2) / 2 (ISO 53).
double pitch_radius(double tip_radius, int teeth) { return tip_radius * teeth / (teeth + 2.0); }

/// Fourier component of the surface outside the pitch circle, divided by that surface.
std::complex<double> component(const Rim& rim, int teeth) {
    const double inner = pitch_radius(rim.tip_radius, teeth);
    std::complex<double> sum = 0;
    double area = 0;
    for (const RimFace& f : rim.faces) {
        if (f.radius < inner) continue;
        sum += std::polar(f.area, teeth * f.angle);
        area += f.area;
    }
    return area > 0 ? sum / area : 0;
}

constexpr double clear_enough = 0.4;

}  // namespace

ToothProfile tooth_profile(const Mesh& mesh, const Frame& axis_from_mesh, int teeth) {
    const Rim rim = rim_of(mesh, axis_from_mesh);
    const std::complex<double> c = component(rim, teeth);
    const double turn = std::arg(c) < 0 ? std::arg(c) + 2 * pi : std::arg(c);
    return {turn / teeth, std::abs(c), rim.tip_radius};
}

std::optional<int> count_teeth(const Mesh& mesh, const Frame& axis_from_mesh) {
    const Rim rim = rim_of(mesh, axis_from_mesh);
    std::vector<double> strength;
    double most = 0;
    for (int teeth = 5; teeth <= 300; ++teeth) {
        strength.push_back(std::abs(component(rim, teeth)));
        most = std::max(most, strength.back());
    }
    if (most < clear_enough) return std::nullopt;
    // Multiples of the true count repeat as well, and nearly as clearly: the smallest is meant.
    for (std::size_t i = 0; i < strength.size(); ++i)
        if (strength[i] > 0.75 * most) return static_cast<int>(i) + 5;
    return std::nullopt;
}

}  // namespace pivrak
