#include "core/geometry/teeth/tooth_profile.h"

#include <array>
#include <cmath>
#include <complex>
#include <vector>

namespace pivrak {
namespace {

/// Flanks of helical teeth look along the axis too; chamfers at 45 degrees and ends more.
constexpr double most_axial = 0.6;

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
        if (std::abs(cross.z()) > most_axial * cross.norm()) continue;
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

/// Tips reach from the pitch circle away from the roots, which reach on to `root`; either way round.
struct Band {
    double pitch, root;
    bool holds(double radius) const { return pitch > root ? radius >= root : radius <= root; }
    bool is_tip(double radius) const { return pitch > root ? radius >= pitch : radius <= pitch; }
};

/// Both bands must be there: a plain rim repeats with its facets, but has no roots between its tips. Tips
/// stand at the phase of the component, roots half a pitch away.
Component component(const Rim& rim, int cycles, const Band& band) {
    std::complex<double> outer = 0, inner = 0;
    double outer_area = 0, inner_area = 0;
    for (const RimFace& f : rim.faces) {
        if (!band.holds(f.radius)) continue;
        const bool tip = band.is_tip(f.radius);
        (tip ? outer : inner) += std::polar(f.area, cycles * f.angle);
        (tip ? outer_area : inner_area) += f.area;
    }
    if (outer_area <= 0 || inner_area < 0.1 * outer_area) return {};
    outer /= outer_area;
    inner /= inner_area;
    const double size = std::abs(outer);
    const double opposed = size > 0 ? -(inner * std::conj(outer)).real() / size : 0;
    return {outer, std::max(0.0, std::min(size, 2 * opposed))};
}

ToothProfile profile(const Rim& rim, int cycles, const Band& band) {
    const Component c = component(rim, cycles, band);
    const double turn = std::arg(c.outer) < 0 ? std::arg(c.outer) + 2 * pi : std::arg(c.outer);
    return {turn / cycles, c.strength, rim.tip_radius};
}

/// How a surface is unrolled into coordinates in which its teeth repeat and run straight.
struct Unrolling {
    bool round;  ///< the first coordinate is an angle that comes round
    Vec3 (*of)(const Vec3& place);
    /// In those coordinates, scaled as lengths against each other: where areas are measured, so that a flank
    /// counts alike however its quads were cut.
    Vec3 (*scaled)(const Vec3& unrolled);
    /// How far a face looks along its teeth, where only their ends do; and the most that counts.
    double (*across)(const Vec3& place, const Vec3& normal);
    double most_across;
};

template <class Face>
Rim unrolled_rim(const Mesh& mesh, const Frame& frame_from_mesh, const Unrolling& unrolling, Face face_at) {
    Rim rim;
    rim.tip_radius = -1e300;
    for (std::size_t t = 0; t < mesh.triangle_count(); ++t) {
        std::array<Vec3, 3> place, flat;
        for (int k = 0; k < 3; ++k) {
            place[static_cast<std::size_t>(k)] = frame_from_mesh.point(mesh.corner(t, k));
            Vec3& u = flat[static_cast<std::size_t>(k)];
            u = unrolling.of(place[static_cast<std::size_t>(k)]);
            if (unrolling.round) u.x() = flat[0].x() + std::remainder(u.x() - flat[0].x(), 2 * pi);
            rim.tip_radius = std::max(rim.tip_radius, u.y());
        }
        const Vec3 cross = (place[1] - place[0]).cross(place[2] - place[0]);
        const double size = cross.norm();
        if (!(size > 0)) continue;
        const Vec3 normal = cross / size, middle = (place[0] + place[1] + place[2]) / 3.0;
        if (std::abs(unrolling.across(middle, normal)) > unrolling.most_across) continue;
        RimFace face = face_at(Vec3((flat[0] + flat[1] + flat[2]) / 3.0));
        const Vec3 origin = unrolling.scaled(flat[0]);
        face.area =
            0.5 * (unrolling.scaled(flat[1]) - origin).cross(unrolling.scaled(flat[2]) - origin).norm();
        rim.faces.push_back(face);
    }
    return rim;
}

/// Angle about z, radius, height.
Vec3 about_z(const Vec3& p) {
    return {std::atan2(p.y(), p.x()), p.head<2>().norm(), p.z()};
}

/// Angle about z, angle from z, and the distance from the origin by its logarithm.
Vec3 about_apex(const Vec3& p) {
    return {std::atan2(p.y(), p.x()), std::atan2(p.head<2>().norm(), p.z()),
            std::log(std::max(p.norm(), 1e-12))};
}

}  // namespace

ToothProfile tooth_profile(const Mesh& mesh, const Frame& axis_from_mesh, int teeth, bool inside) {
    const Rim rim = rim_of(mesh, axis_from_mesh, inside);
    const double pitch = pitch_radius(rim.tip_radius, teeth, inside), module = 2 * pitch / teeth;
    return profile(rim, teeth, {pitch, rim.tip_radius + (inside ? 2.6 : -2.6) * module});
}

ToothProfile cone_tooth_profile(const Mesh& mesh, const Frame& apex_from_mesh, int teeth,
                                double pitch_cone_rad) {
    const Unrolling unrolling{
        true, about_apex, [](const Vec3& u) { return Vec3(u.x() * std::sin(u.y()), u.y(), u.z()); },
        [](const Vec3& p, const Vec3& normal) { return normal.dot(p.normalized()); }, 0.3};
    const Rim rim = unrolled_rim(mesh, apex_from_mesh, unrolling, [](const Vec3& u) {
        return RimFace{u.x(), u.y(), 0};
    });
    // Seen from the apex a module is an angle: 2 sin d / z. Source: ISO 23509:2016.
    const double module = 2 * std::sin(pitch_cone_rad) / teeth;
    return profile(rim, teeth, {pitch_cone_rad, pitch_cone_rad - 1.6 * module});
}

ToothProfile rack_tooth_profile(const Mesh& mesh, const Frame& rack_from_mesh, double pitch_m) {
    const auto same = [](const Vec3& p) { return p; };
    const Unrolling unrolling{false, same, same, [](const Vec3&, const Vec3& normal) { return normal.z(); },
                              0.3};
    const Rim rim = unrolled_rim(mesh, rack_from_mesh, unrolling, [&](const Vec3& u) {
        return RimFace{2 * pi * u.x() / pitch_m, u.y(), 0};
    });
    return profile(rim, 1, {0, -1.6 * pitch_m / pi});
}

namespace {

/// Flanks of threads look along the axis too, but not as flatly as ends.
const Unrolling& about_thread() {
    static const Unrolling unrolling{true, about_z,
                                     [](const Vec3& u) { return Vec3(u.x() * u.y(), u.y(), u.z()); },
                                     [](const Vec3&, const Vec3& normal) { return normal.z(); }, 0.98};
    return unrolling;
}

Band thread_band(double tip_radius, double pitch) {
    const double module = pitch / pi;
    return {tip_radius - module, tip_radius - 2.6 * module};
}

}  // namespace

ToothProfile thread_profile(const Mesh& mesh, const Frame& axis_from_mesh, double lead_m, int starts) {
    const double pitch = std::abs(lead_m) / starts;
    const Rim rim = unrolled_rim(mesh, axis_from_mesh, about_thread(), [&](const Vec3& u) {
        return RimFace{2 * pi * (u.z() - lead_m * u.x() / (2 * pi)) / pitch, u.y(), 0};
    });
    return profile(rim, 1, thread_band(rim.tip_radius, pitch));
}

ThreadCount count_threads(const Mesh& mesh, const Frame& axis_from_mesh, double pitch_m, int most) {
    std::vector<double> turns;
    Rim rim = unrolled_rim(mesh, axis_from_mesh, about_thread(), [&](const Vec3& u) {
        turns.push_back(u.x());
        return RimFace{2 * pi * u.z() / pitch_m, u.y(), 0};
    });
    const Band band = thread_band(rim.tip_radius, pitch_m);
    const Rim straight = rim;
    ThreadCount best;
    for (int starts = -most; starts <= most; ++starts) {
        if (starts == 0) continue;
        for (std::size_t i = 0; i < rim.faces.size(); ++i)
            rim.faces[i].angle = straight.faces[i].angle - starts * turns[i];
        const double strength = component(rim, 1, band).strength;
        if (strength > best.strength) best = {starts, strength};
    }
    return best;
}

double tip_radius(const Mesh& mesh, const Frame& axis_from_mesh) {
    double most = 0;
    for (const Vec3f& p : mesh.positions)
        most = std::max(most, axis_from_mesh.point(p.cast<double>()).head<2>().norm());
    return most;
}

}  // namespace pivrak
