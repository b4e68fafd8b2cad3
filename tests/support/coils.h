#pragma once

#include <cmath>

#include "core/geometry/mesh/mesh.h"

namespace pivrak::test {

/// A coil of round wire about z: where the middle of its wire is by how far round it is [rad], and how it is
/// meshed.
struct CoilSizes {
    double turns = 6, radius_m = 0.05, wire_m = 0.008, length_m = 0.2;  ///< length of the wire's middle
    double ends_turns = 0;  ///< of these at each end lie flat, wire on wire
    bool left = false;
    int steps = 36, sides = 12;

    double height(double round) const {
        const double whole = 2 * pi * turns, flat = 2 * pi * ends_turns;
        const auto within = [&](double r) { return ends_turns > 0 ? wire_m * r / (2 * pi) : 0; };
        if (flat == 0) return length_m * round / whole;
        if (round <= flat) return within(round);
        if (round >= whole - flat) return length_m - within(whole - round);
        const double low = within(flat), high = length_m - low;
        return low + (high - low) * (round - flat) / (whole - 2 * flat);
    }
    Vec3 middle(double round) const {
        const double angle = left ? -round : round;
        return {radius_m * std::cos(angle), radius_m * std::sin(angle), height(round)};
    }
};

/// The wire as a tube with closed ends. Vertices of a ring stand across the wire.
inline Mesh coil_mesh(const CoilSizes& sizes, const Frame& frame = {}) {
    Mesh mesh;
    const int rings = static_cast<int>(std::lround(sizes.turns * sizes.steps)) + 1;
    const double whole = 2 * pi * sizes.turns;
    for (int i = 0; i < rings; ++i) {
        const double round = whole * i / (rings - 1), h = 1e-4;
        const Vec3 at = sizes.middle(round),
                   along = (sizes.middle(std::min(round + h, whole)) - sizes.middle(std::max(round - h, 0.0)))
                               .normalized(),
                   out = Vec3(at.x(), at.y(), 0).normalized(), up = along.cross(out).normalized();
        for (int k = 0; k < sizes.sides; ++k) {
            const double angle = 2 * pi * k / sizes.sides;
            const Vec3 arm = std::cos(angle) * out + std::sin(angle) * up;
            mesh.positions.push_back(frame.point(at + 0.5 * sizes.wire_m * arm).cast<float>());
            mesh.normals.push_back(frame.direction(arm).cast<float>());
        }
    }
    const auto n = static_cast<std::uint32_t>(sizes.sides);
    for (std::uint32_t i = 0; i + 1 < static_cast<std::uint32_t>(rings); ++i)
        for (std::uint32_t k = 0; k < n; ++k) {
            const std::uint32_t a = i * n + k, b = i * n + (k + 1) % n;
            mesh.indices.insert(mesh.indices.end(), {a, b, a + n, b, b + n, a + n});
        }
    for (std::uint32_t k = 1; k + 1 < n; ++k) {
        const std::uint32_t last = (static_cast<std::uint32_t>(rings) - 1) * n;
        mesh.indices.insert(mesh.indices.end(), {0, k + 1, k, last, last + k, last + k + 1});
    }
    mesh.submeshes = {{MaterialId{}, 0, static_cast<std::uint32_t>(mesh.indices.size()), ""}};
    return mesh;
}

}  // namespace pivrak::test
