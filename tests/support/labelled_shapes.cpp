#include "tests/support/labelled_shapes.h"

#include <cmath>
#include <random>

#include "tests/support/shapes.h"

namespace pivrak::test {
namespace {

using Kind = std::optional<MachineElement>;
constexpr auto nothing = std::nullopt;

/// Rings of corners about z, sides between them, an end where it is asked for: as a modeller makes a
/// cylinder.
Mesh turned(const std::vector<std::pair<double, double>>& radius_and_place, int sides, bool ends) {
    Mesh out;
    const auto corner = [&](double r, double z, int k) {
        const double a = 2 * pi * k / sides;
        out.positions.push_back(Vec3(r * std::cos(a), r * std::sin(a), z).cast<float>());
    };
    const auto n = static_cast<std::uint32_t>(sides);
    for (const auto& [r, z] : radius_and_place)
        for (int k = 0; k < sides; ++k) corner(r, z, k);
    const auto rings = static_cast<std::uint32_t>(radius_and_place.size());
    for (std::uint32_t i = 0; i + 1 < rings; ++i)
        for (std::uint32_t k = 0; k < n; ++k) {
            const std::uint32_t a = i * n + k, b = i * n + (k + 1) % n;
            out.indices.insert(out.indices.end(), {a, b, b + n, a, b + n, a + n});
        }
    for (const bool top : {false, true}) {
        if (!ends) break;
        const std::uint32_t first = top ? (rings - 1) * n : 0;
        for (std::uint32_t k = 1; k + 1 < n; ++k) {
            const std::uint32_t a = first + k, b = first + k + 1;
            out.indices.insert(out.indices.end(), {first, top ? a : b, top ? b : a});
        }
    }
    out.submeshes = {{MaterialId{}, 0, static_cast<std::uint32_t>(out.indices.size()), {}}};
    return out;
}

Mesh prism(double radius, double width, int sides) {
    return turned({{radius, -width / 2}, {radius, width / 2}}, sides, true);
}

Mesh tube(double radius, double width, int sides) {
    return turned({{radius, -width / 2}, {radius, width / 2}}, sides, false);
}

/// Teeth with straight flanks: shares of the pitch that root and tip take; `lean` sets tips aside.
Mesh toothed(int teeth, double root, double tip, double root_share, double tip_share, double width,
             double lean = 0, double bore = 0) {
    Loop loop;
    const double pitch = 2 * pi / teeth, half_root = 0.5 * root_share, half_tip = 0.5 * tip_share;
    const auto at = [&](double radius, double share) {
        loop.push_back(radius * Vec2(std::cos(pitch * share), std::sin(pitch * share)));
    };
    for (int k = 0; k < teeth; ++k) {
        at(root, k - half_root);
        if (root_share > 0) at(root, k + half_root);
        at(tip, k + 0.5 + lean - half_tip);
        if (tip_share > 0) at(tip, k + 0.5 + lean + half_tip);
    }
    std::vector<Loop> holes;
    if (bore > 0) holes.push_back(circle(bore, 24));
    return to_mesh(extrude(loop, holes, -width / 2, width / 2));
}

Mesh moved(Mesh mesh, const Vec3& by, int axis = 2, double angle = 0) {
    for (Vec3f& p : mesh.positions) p = (turn_about_axis(axis, angle) * p.cast<double>() + by).cast<float>();
    mesh.normals.clear();
    return mesh;
}

Mesh bare(Mesh mesh) {
    mesh.normals.clear();
    return mesh;
}

/// The same thing n times round z, laid on without being joined.
Mesh with_ring_of(Mesh mesh, const Mesh& thing, int n, double radius, double first = 0) {
    mesh.normals.clear();
    for (int k = 0; k < n; ++k) {
        const double a = first + 2 * pi * k / n;
        mesh = joined(mesh, moved(thing, radius * Vec3(std::cos(a), std::sin(a), 0), 2, a));
    }
    return mesh;
}

std::uniform_real_distribution<float> evenly(float amount_m) {
    return std::uniform_real_distribution<float>(-amount_m, amount_m);
}

/// A turned ring, closed on itself.
Mesh ring(std::vector<std::pair<double, double>> profile, int sides) {
    profile.push_back(profile.front());
    return turned(profile, sides, false);
}

void add_wheels(std::vector<LabelledShape>& out) {
    const auto add = [&](const char* name, Mesh mesh) {
        out.push_back({name, std::move(mesh), MachineElement::Wheel});
    };
    for (const int sides : {6, 7, 8, 10, 16}) add("wheel of few sides", prism(0.35, 0.25, sides));
    for (const int sides : {6, 8, 10, 24}) add("open tube", tube(0.3, 0.2, sides));
    add("stand-in", to_mesh(wheel({310, 220, 190, 0})));
    add("tyre with 20 lugs, 0.8 m", to_mesh(wheel({400, 240, 230, 40, 20, 30, 6})));
    add("tyre with 36 shallow lugs", to_mesh(wheel({480, 320, 270, 60, 36, 14, 8})));
    add("tyre with 12 deep lugs", to_mesh(wheel({700, 400, 350, 60, 12, 60, 8})));
    add("lugs laid on",
        with_ring_of(prism(0.5, 0.4, 32), box({-0.03, -0.02, -0.2}, {0.03, 0.02, 0.2}), 24, 0.5));
    add("lugs aslant",
        with_ring_of(prism(0.5, 0.4, 32),
                     moved(box({-0.03, -0.02, -0.15}, {0.03, 0.02, 0.15}), {0, 0, 0}, 0, 0.4), 18, 0.5));
    add("tyre alone", ring({{0.2, -0.1}, {0.3, -0.12}, {0.34, 0}, {0.3, 0.12}, {0.2, 0.1}}, 20));
    add("flanged wheel", turned({{0.46, -0.07}, {0.46, -0.04}, {0.42, -0.03}, {0.41, 0.07}}, 40, true));
    add("wheel with bolts",
        with_ring_of(prism(0.4, 0.2, 24), moved(prism(0.02, 0.03, 6), {0, 0, 0.11}), 5, 0.15));
    {
        Mesh spokes = ring({{0.3, -0.03}, {0.33, -0.03}, {0.33, 0.03}, {0.3, 0.03}}, 28);
        spokes = joined(spokes, prism(0.05, 0.1, 12));
        add("wheel with spokes",
            with_ring_of(spokes, box({-0.14, -0.01, -0.01}, {0.13, 0.01, 0.01}), 8, 0.17));
    }
    add("faces with corners of their own", unshared(prism(0.4, 0.25, 18)));
    add("scanned tyre",
        shaken(ring({{0.2, -0.1}, {0.3, -0.12}, {0.34, -0.05}, {0.34, 0.05}, {0.3, 0.12}, {0.2, 0.1}}, 48),
               evenly(0.0015f), 3));
}

void add_gears(std::vector<LabelledShape>& out) {
    const auto add = [&](const char* name, Mesh mesh, MachineElement label) {
        out.push_back({name, std::move(mesh), label});
    };
    using enum MachineElement;
    add("gear 12", to_mesh(gear({12, 5, 30, 10})), Gear);
    add("gear 17, wide", to_mesh(gear({17, 8, 92, 30})), Gear);
    add("gear 51 with web", to_mesh(gear({51, 8, 80, 42, 78, 14, 30, 6, 34})), Gear);
    add("gear 120", to_mesh(gear({120, 2, 20, 15})), Gear);
    add("gear, shaken", shaken(to_mesh(gear({34, 6, 60, 20})), evenly(0.0001f), 5), Gear);
    add("gear of straight flanks", toothed(24, 65.5, 78, 0.3, 0.25, 30, 0, 15), Gear);
    add("gear of blocks", toothed(16, 57.5, 72, 0.45, 0.45, 25, 0, 12), Gear);
    add("gear with stub teeth", toothed(30, 139, 158, 0.32, 0.3, 40, 0, 30), Gear);
    add("ring gear 60", to_mesh(ring_gear({60, 6, 76, 0}, 254, hole_ring(12, 228, 8, 12))), RingGear);
    add("ring gear 96", to_mesh(ring_gear({96, 3, 30, 0}, 170, {})), RingGear);
    add("sprocket 19", to_mesh(sprocket({19, 25.4, 15.88, 15.8, 48, 62, 26})), Sprocket);
    add("sprocket 38", to_mesh(sprocket({38, 25.4, 15.88, 15.8, 55, 92, 30})), Sprocket);
    add("sprocket 11", to_mesh(sprocket({11, 12.7, 8.51, 7, 10})), Sprocket);
    add("sprocket 45", to_mesh(sprocket({45, 9.525, 6.35, 5.3, 20})), Sprocket);
}

void add_turned_parts(std::vector<LabelledShape>& out) {
    const auto add = [&](const char* name, Mesh mesh, MachineElement label) {
        out.push_back({name, std::move(mesh), label});
    };
    using enum MachineElement;
    add("stepped shaft",
        to_mesh(
            revolve({{0, -402}, {27, -402}, {30, -399}, {30, -196}, {38, -192}, {38, 220}, {0, 224}}, 40)),
        Shaft);
    add("shaft of eight sides", prism(0.03, 0.8, 8), Shaft);
    add("long tube", tube(0.05, 1.2, 12), Shaft);
    add("pin with a collar", turned({{0.01, 0}, {0.01, 0.1}, {0.016, 0.1}, {0.016, 0.11}}, 16, true), Shaft);
    add("axle with wheels' seats",
        turned({{0.04, 0}, {0.04, 0.2}, {0.06, 0.25}, {0.06, 1.2}, {0.04, 1.25}, {0.04, 1.4}}, 14, true),
        Shaft);
    add("washer", to_mesh(revolve({{20, 0}, {40, 0}, {40, 4}, {20, 4}}, 40, true)), Disc);
    add("disc with holes", to_mesh(extrude(circle(160, 48), hole_ring(10, 110, 9, 12), 0, 12)), Disc);
    add("sheet disc", prism(0.25, 0.004, 30), Disc);
    add("saw blade", toothed(31, 85, 100, 0, 0, 4, 0.3, 12), Disc);
    add("plate", to_mesh(plate(600, 300, 12, 20)), Plate);
    add("sheet", box({0, 0, 0}, {0.8, 0.5, 0.003}), Plate);
    add("drilled plate", to_mesh(extrude(rectangle(300, 200, 5), hole_ring(4, 80, 12, 16), 0, 15)), Plate);
}

void add_others(std::vector<LabelledShape>& out) {
    const auto add = [&](const char* name, Mesh mesh) { out.push_back({name, std::move(mesh), nothing}); };
    add("lamp shade", turned({{0.1, 0}, {0.25, 0.2}}, 32, false));
    add("bracket", joined(box({0, 0, 0}, {0.3, 0.1, 0.05}), box({0.2, 0.02, 0.05}, {0.29, 0.05, 0.4})));
    add("hexagon nut", to_mesh(extrude(circle(12, 6), {circle(6, 24)}, 0, 10)));
    add("block with a bore", to_mesh(extrude(rectangle(300, 220, 4), {circle(70, 40)}, 0, 180)));
    add("square tube", to_mesh(extrude(rectangle(80, 80, 3), {rectangle(70, 70, 0)}, 0, 1000)));
    add("pipe elbow", to_mesh(pipe({{0, 0, 0}, {300, 0, 0}, {400, 100, 0}, {400, 400, 0}}, 40, 16)));
    add("pot", turned({{0.18, 0}, {0.2, 0.25}, {0.19, 0.25}, {0.17, 0.01}}, 30, true));
    {
        Loop half;
        for (int k = 0; k <= 20; ++k)
            half.push_back(200 * Vec2(std::cos(pi * k / 20), std::sin(pi * k / 20)));
        add("half drum", to_mesh(extrude(half, {}, 0, 300)));
        Loop oval;
        for (int k = 0; k < 40; ++k)
            oval.push_back({200 * std::cos(pi * k / 20), 120 * std::sin(pi * k / 20)});
        add("oval tank", to_mesh(extrude(oval, {}, 0, 300)));
        Loop cam;
        for (int k = 0; k < 60; ++k)
            cam.push_back((60 + 25 * std::exp(-std::pow((k - 30) / 6.0, 2))) *
                          Vec2(std::cos(pi * k / 30), std::sin(pi * k / 30)));
        add("cam", to_mesh(extrude(cam, {circle(20, 24)}, 0, 25)));
    }
    add("cabin", turned({{0.9, 0}, {1.0, 0.7}, {0.7, 1.4}}, 4, true));
    add("five sided post", prism(0.1, 0.15, 5));
    add("door with a round window", to_mesh(extrude(rectangle(700, 1100, 30), {circle(180, 32)}, 0, 160)));
}

}  // namespace

std::vector<LabelledShape> labelled_shapes() {
    std::vector<LabelledShape> out;
    add_wheels(out);
    add_gears(out);
    add_turned_parts(out);
    add_others(out);
    // Strangers' models stand any way up.
    const std::vector<Frame> poses = world_poses();
    for (std::size_t i = 0; i < out.size(); ++i) {
        out[i].mesh = bare(std::move(out[i].mesh));
        for (Vec3f& p : out[i].mesh.positions)
            p = poses[i % poses.size()].point(p.cast<double>()).cast<float>();
    }
    return out;
}

}  // namespace pivrak::test
