// Sources: ISO 53:1998 (basic rack: addendum 1, dedendum 1.25 modules), ISO 606:2015 (chain pitches, roller
// diameters, roller seating 0.505 d1).
#include "core/geometry/fits/recognise.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "core/geometry/fits/round_body.h"
#include "core/geometry/mesh/facing.h"
#include "core/geometry/mesh/topology.h"
#include "core/geometry/teeth/tooth_count.h"

namespace pivrak {

std::string_view element_name(MachineElement element) {
    switch (element) {
        case MachineElement::Wheel:
            return "wheel";
        case MachineElement::Gear:
            return "gear";
        case MachineElement::RingGear:
            return "ring gear";
        case MachineElement::Sprocket:
            return "sprocket";
        case MachineElement::Shaft:
            return "shaft";
        case MachineElement::Disc:
            return "disc";
        case MachineElement::Plate:
            return "plate";
    }
    return "";
}

std::span<const ChainSize> roller_chains() {
    static constexpr std::array<ChainSize, 11> chains{{{"05B", 8.00e-3, 5.00e-3},
                                                       {"06B", 9.525e-3, 6.35e-3},
                                                       {"08B", 12.70e-3, 8.51e-3},
                                                       {"10B", 15.875e-3, 10.16e-3},
                                                       {"12B", 19.05e-3, 12.07e-3},
                                                       {"16B", 25.40e-3, 15.88e-3},
                                                       {"20B", 31.75e-3, 19.05e-3},
                                                       {"24B", 38.10e-3, 25.40e-3},
                                                       {"28B", 44.45e-3, 27.94e-3},
                                                       {"32B", 50.80e-3, 29.21e-3},
                                                       {"40B", 63.50e-3, 39.37e-3}}};
    return chains;
}

namespace {

/// Relative miss of a pair of radii from what a standard says.
double miss(double tip, double root, double wanted_tip, double wanted_root) {
    return std::abs(tip / wanted_tip - 1) + std::abs(root / wanted_root - 1);
}

void judge_teeth(const ToothCount& count, Recognition& r) {
    const double z = count.teeth, tip = count.tip_radius_m, root = count.root_radius_m;
    r.teeth = count.teeth;
    const double module = 2 * tip / (z + 2);
    const double as_gear = miss(tip, root, tip, module * (z - 2.5) / 2);
    double as_sprocket = 1e300;
    for (const ChainSize& chain : roller_chains()) {
        const double pitch_radius = chain.pitch_m / (2 * std::sin(pi / z));
        const double wanted_root = pitch_radius - 0.505 * chain.roller_m;
        // The tip circle of a sprocket may lie anywhere between these two.
        const double low = pitch_radius + chain.pitch_m * (1 - 1.6 / z) / 2 - chain.roller_m / 2,
                     high = pitch_radius + 1.25 * chain.pitch_m / 2 - chain.roller_m / 2;
        const double off = std::abs(root / wanted_root - 1) + std::max({0.0, tip / high - 1, 1 - tip / low});
        if (off >= as_sprocket) continue;
        as_sprocket = off;
        r.pitch_m = chain.pitch_m;
    }
    r.element =
        as_sprocket < 0.004 && as_sprocket < as_gear ? MachineElement::Sprocket : MachineElement::Gear;
    if (r.element == MachineElement::Gear) {
        r.pitch_m = 0;
        r.module_m = module;
    }
}

std::optional<Recognition> as_round(const Mesh& mesh) {
    const auto body = round_body(mesh);
    if (!body) return std::nullopt;
    Recognition r;
    r.axis_point = body->middle;
    r.axis_direction = body->axis.direction;
    r.radius_m = body->radius_m;
    r.width_m = r.length_m = body->width_m;
    if (body->teeth) {
        judge_teeth(*body->teeth, r);
        r.confidence = body->teeth->clearness;
        return r;
    }
    if (const auto teeth = count_inside_teeth(mesh, axis_from_mesh(body->axis))) {
        r.element = MachineElement::RingGear;
        r.teeth = teeth->teeth;
        r.radius_m = teeth->tip_radius_m;
        r.module_m = 2 * r.radius_m / (teeth->teeth - 2);
        r.confidence = teeth->clearness;
        return r;
    }
    r.confidence = 0.5 * (body->rim + std::min(1.0, body->support));
    if (r.confidence < 0.5) return std::nullopt;
    const double diameter = 2 * r.radius_m;
    r.element = r.width_m > 1.5 * diameter    ? MachineElement::Shaft
                : r.width_m < diameter / 16.0 ? MachineElement::Disc
                                              : MachineElement::Wheel;
    return r;
}

/// Two large flat sides close together.
std::optional<Recognition> as_plate(const Mesh& mesh) {
    const auto looks = facing(mesh);
    if (!looks) return std::nullopt;
    Recognition r;
    r.element = MachineElement::Plate;
    r.axis_direction = looks->most;
    const std::vector<Vec3> normals = face_normals(mesh);
    double flat = 0;
    for (std::size_t t = 0; t < normals.size(); ++t)
        if (std::abs(normals[t].dot(r.axis_direction)) > 0.9995) flat += triangle_area(mesh, t);
    const Vec3 &u = looks->least, &v = looks->between;
    Vec3 low = Vec3::Constant(1e300), high = Vec3::Constant(-1e300);
    for (const Vec3f& p : mesh.positions) {
        const Vec3 d = p.cast<double>(), seen(u.dot(d), v.dot(d), r.axis_direction.dot(d));
        low = low.cwiseMin(seen);
        high = high.cwiseMax(seen);
    }
    const Vec3 size = high - low, middle = 0.5 * (low + high);
    r.width_m = size.z();
    r.length_m = std::max(size.x(), size.y());
    r.radius_m = 0.5 * std::min(size.x(), size.y());
    r.axis_point = middle.x() * u + middle.y() * v + middle.z() * r.axis_direction;
    r.confidence = flat / looks->area;
    if (r.confidence < 0.7 || r.width_m > 0.15 * 2 * r.radius_m) return std::nullopt;
    return r;
}

}  // namespace

std::optional<Recognition> recognise(const Mesh& mesh) {
    if (mesh.indices.empty()) return std::nullopt;
    if (auto round = as_round(mesh)) return round;
    return as_plate(mesh);
}

}  // namespace pivrak
