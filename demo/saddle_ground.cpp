#include "demo/vehicles.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/io/gltf/picture.h"
#include "demo/glb_scene.h"
#include "demo/laid_solids.h"

namespace pivrak::demo {
namespace {

/// Where the snow was levelled, with slopes of some metres round it.
struct Yard {
    double west, east, south, north, level;
    double share_at(double x, double y) const {
        const double out = std::max({west - x, x - east, south - y, y - north, 0.0}), s = 1 - out / 3.5;
        return s <= 0 ? 0 : s * s * (3 - 2 * s);
    }
};
// Of the station, of the rope's far end, of the crane.
constexpr Yard yards[]{{-41, -25, -25, -11, 0}, {30, 41, -24, -12, 0}, {6, 12, -7, -3.5, 0}};

double natural_height_at(double x, double y) {
    const double swell = 0.9 * std::sin(0.11 * x + 0.4) * std::cos(0.13 * y) +
                         0.35 * std::sin(0.31 * x - 0.23 * y) +
                         0.12 * std::sin(0.9 * x + 0.3) * std::sin(1.1 * y);
    // A track cut along a bend, with ruts.
    const double from_track = y - 6 * std::sin(0.07 * x);
    const double depth = 0.5 * std::exp(-std::pow(from_track / 2.6, 4));
    const double ruts = 0.05 * (std::exp(-std::pow((from_track - 0.95) / 0.3, 2)) +
                                std::exp(-std::pow((from_track + 0.95) / 0.3, 2)));
    return swell * (1 - 0.7 * std::exp(-std::pow(from_track / 3.5, 2))) - depth - ruts;
}

double height_at(double x, double y) {
    double height = natural_height_at(x, y);
    for (const Yard& yard : yards) height += yard.share_at(x, y) * (yard.level - height);
    return height;
}

/// A colour as a file holds it in a byte.
float in_bytes(double color) {
    return static_cast<float>(std::lround(255 * color)) / 255.f;
}

}  // namespace

Result<std::string> saddle_ground() {
    constexpr int columns = 200, rows = 150;
    constexpr double length = 80, width = 60;
    GlbScene scene(1.0);
    scene.add_material("snow", {1, 1, 1}, 0, 0.9);
    Mesh mesh;
    for (int i = 0; i <= columns; ++i)
        for (int j = 0; j <= rows; ++j) {
            const double x = length * (i / double(columns) - 0.5), y = width * (j / double(rows) - 0.5),
                         e = 1e-3;
            mesh.positions.push_back(Vec3(x, y, height_at(x, y)).cast<float>());
            const Vec3 n(height_at(x - e, y) - height_at(x + e, y), height_at(x, y - e) - height_at(x, y + e),
                         2 * e);
            mesh.normals.push_back(n.normalized().cast<float>());
            const double cut = std::exp(-std::pow((y - 6 * std::sin(0.07 * x)) / 2.4, 4));
            mesh.colors.emplace_back(in_bytes(0.88 - 0.34 * cut), in_bytes(0.91 - 0.32 * cut),
                                     in_bytes(0.93 - 0.26 * cut), 1.f);
        }
    for (std::uint32_t i = 0; i < columns; ++i)
        for (std::uint32_t j = 0; j < rows; ++j) {
            const std::uint32_t a = i * (rows + 1) + j, b = a + rows + 1;
            mesh.indices.insert(mesh.indices.end(), {a, b, b + 1, a, b + 1, a + 1});
        }
    mesh.submeshes = {{scene.material("snow"), 0, static_cast<std::uint32_t>(mesh.indices.size()), {}}};
    scene.part("snow field", scene.group("saddle", -1), std::move(mesh));
    return scene.bytes();
}

}  // namespace pivrak::demo
