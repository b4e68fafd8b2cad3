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

Rim rim_of(const Mesh& mesh, const Frame& axis_from_mesh, bool inside) {
    Rim rim;
    if (inside) rim.tip_radius = 1e300;
    for (std::size_t t = 0; t < mesh.triangle_count(); ++t) {
        const Vec3 a = axis_from_mesh.point(mesh.corner(t, 0)), b = axis_from_mesh.point(mesh.corner(t, 1)),
                   c = axis_from_mesh.point(mesh.corner(t, 2));
        for (const Vec3& p : {a, b, c}) {
            const double radius = p.head<2>().norm();
            rim.tip_radius = inside ? std::min(rim.tip_radius, radius) : std::max(rim.tip_radius, radius);
        }
        const Vec3 cross = (b - a).cross(c - a);
        if (std::abs(cross.z()) > 0.3 * cross.norm()) continue;
        const Vec3 middle = (a + b + c) / 3.0;
        rim.faces.push_back(
            {std::atan2(middle.y(), middle.x()), middle.head<2>().norm(), 0.5 * cross.norm()});
    }
    return rim;
}

/// Radius of the pitch circle of standard teeth with this tip: tip = module (z + 2) / 2, inside a ring (z -
/// 2) / 2 (ISO 53).
double pitch_radius(double tip_radius, int teeth, bool inside) {
    return tip_radius * teeth / (teeth + (inside ? -2.0 : 2.0));
}

/// Fourier component of the surface on the tips' side of the pitch circle, and how clearly tips and roots
/// alternate.
struct Component {
    std::complex<double> outer = 0;
    double strength = 0;
};

/// Both bands must be there: a plain rim repeats with its facets, but has no roots between its tips. Tips
/// stand at the phase of the component, roots half a pitch away.
Component component(const Rim& rim, int teeth, bool inside) {
    const double pitch = pitch_radius(rim.tip_radius, teeth, inside), module = 2 * pitch / teeth;
    const double root = rim.tip_radius + (inside ? 2.6 : -2.6) * module;
    std::complex<double> outer = 0, inner = 0;
    double outer_area = 0, inner_area = 0;
    for (const RimFace& f : rim.faces) {
        if (inside ? f.radius > root : f.radius < root) continue;
        const bool tip = inside ? f.radius <= pitch : f.radius >= pitch;
        (tip ? outer : inner) += std::polar(f.area, teeth * f.angle);
        (tip ? outer_area : inner_area) += f.area;
    }
    if (outer_area <= 0 || inner_area < 0.1 * outer_area) return {};
    outer /= outer_area;
    inner /= inner_area;
    const double size = std::abs(outer);
    const double opposed = size > 0 ? -(inner * std::conj(outer)).real() / size : 0;
    return {outer, std::max(0.0, std::min(size, 2 * opposed))};
}

}  // namespace

ToothProfile tooth_profile(const Mesh& mesh, const Frame& axis_from_mesh, int teeth, bool inside) {
    const Rim rim = rim_of(mesh, axis_from_mesh, inside);
    const Component c = component(rim, teeth, inside);
    const double turn = std::arg(c.outer) < 0 ? std::arg(c.outer) + 2 * pi : std::arg(c.outer);
    return {turn / teeth, c.strength, rim.tip_radius};
}

}  // namespace pivrak
