#include "demo/vehicles.h"

#include <fmt/format.h>

#include <cmath>

#include "core/io/gltf/picture.h"
#include "demo/glb_scene.h"
#include "demo/laid_solids.h"

namespace pivrak::demo {
namespace {

class Truck {
public:
    Truck() : scene_(0.1) {
        scene_.add_material("cab blue", {0.20, 0.36, 0.55});
        scene_.add_material("frame grey", {0.28, 0.30, 0.32});
        scene_.add_material("tyre", {0.12, 0.12, 0.13}, 0, 0.95);
        scene_.add_material("rim", {0.75, 0.76, 0.74}, 0.6, 0.4);
        scene_.add_material("planks", {0.55, 0.42, 0.28});
        scene_.add_material("glass", {0.48, 0.62, 0.68}, 0, 0.1);
        scene_.add_material("warning board", {1, 1, 1});
        scene_.add_picture("warning board", stripes());
        const int root = scene_.group("truck and trailer", -1);
        truck(scene_.group("truck", root));
        trailer(scene_.group("trailer", root));
        tyres(root);
    }
    Result<std::string> bytes() { return scene_.bytes(); }

private:
    static constexpr double half_track = 930, axle_front = 1700, axle_rear = -1700, radius = 420;
    static constexpr double trailer_front = -4700, trailer_rear = -6300, trailer_radius = 350,
                            trailer_half_track = 860;

    /// Slanting stripes, 64 pixels square.
    static std::vector<unsigned char> stripes() {
        std::vector<unsigned char> pixels;
        for (int y = 0; y < 64; ++y)
            for (int x = 0; x < 64; ++x) {
                const bool red = (x + y) / 16 % 2 == 0;
                pixels.insert(pixels.end(), {static_cast<unsigned char>(red ? 196 : 242),
                                             static_cast<unsigned char>(red ? 40 : 240),
                                             static_cast<unsigned char>(red ? 44 : 232), 255});
            }
        return png_from_pixels(pixels.data(), 64, 64);
    }

    static Solid tyre(double r, double width) {
        const double h = width / 2, bead = 0.62 * r;
        return revolve({{bead, -0.8 * h},
                        {0.82 * r, -h},
                        {0.96 * r, -0.86 * h},
                        {r, -0.5 * h},
                        {r, 0.5 * h},
                        {0.96 * r, 0.86 * h},
                        {0.82 * r, h},
                        {bead, 0.8 * h}},
                       56, true);
    }

    static Solid rim(double r, double width) {
        const double bead = 0.615 * r, h = 0.42 * width;
        Solid s;
        const Loop outer = circle(bead, 48), inner = circle(0.88 * bead, 48), hub = circle(0.34 * bead, 48);
        const std::vector<Loop> holes = hole_ring(8, 0.61 * bead, 0.1 * bead, 14);
        std::vector<Loop> openings = holes;
        openings.push_back(hub);
        s.wall(outer, -h, h, true);
        for (const bool up : {true, false}) {
            const double side = up ? 1 : -1;
            const auto between = [&](const Loop& loop, double a, double b, bool out) {
                s.wall(loop, std::min(side * a, side * b), std::max(side * a, side * b), out);
            };
            s.cap(outer, {inner}, side * h, up);
            between(inner, 14, h, false);
            s.cap(inner, openings, side * 14, up);
            between(hub, 14, 0.6 * h, true);
            s.cap(hub, {}, side * 0.6 * h, up);
        }
        for (const Loop& hole : holes) s.wall(hole, -14, 14, false);
        return s;
    }

    /// All tyres melted into one mesh, as they came.
    void tyres(int root) {
        std::vector<std::pair<Solid, std::string>> all;
        for (const double x : {axle_front, axle_rear})
            for (const double y : {half_track, -half_track})
                all.emplace_back(round_at(tyre(radius, 260), {x, y, radius}), "tyre");
        for (const double x : {trailer_front, trailer_rear})
            for (const double y : {trailer_half_track, -trailer_half_track})
                all.emplace_back(round_at(tyre(trailer_radius, 220), {x, y, trailer_radius}), "tyre");
        scene_.part("tyres", root, all);
    }

    void rims(int parent, double front, double rear, double half, double r, double width) {
        for (const double x : {front, rear})
            for (const double y : {half, -half}) {
                Solid solid = rim(r, width);
                solid.lay_along(1);
                scene_.part("rim", parent, solid, "rim", placed({x, y, r}));
            }
    }

    void truck(int parent) {
        for (const double y : {-360.0, 360.0})
            scene_.part("side member", parent,
                        across({{-2600, 560}, {-2600, 720}, {2350, 720}, {2350, 600}, {2200, 560}}, {},
                               y - 40, y + 40, 6),
                        "frame grey");
        for (int i = 0; i < 6; ++i)
            scene_.part("cross member", parent,
                        block({-2500.0 + 900 * i, -322, 590}, {-2440.0 + 900 * i, 322, 700}, 6),
                        "frame grey");
        rims(parent, axle_front, axle_rear, half_track, radius, 260);
        for (const double x : {axle_front, axle_rear}) {
            scene_.part("axle", parent, round_at(shaft(62, -760, 760, 8, 32), {x, 0, radius}), "frame grey");
            for (const double y : {-400.0, 400.0})
                scene_.part("spring", parent,
                            block({x - 520, y - 36, radius + 70}, {x + 520, y + 36, radius + 118}, 10),
                            "frame grey");
        }
        for (const double side : {1.0, -1.0}) {
            Solid pin = shaft(34, -150, 150, 4, 24);
            scene_.part("kingpin", parent, pin.move({axle_front, side * 770, radius}), "frame grey");
            scene_.part("steering arm", parent,
                        block({axle_front - 260, side * 740 - 22, radius - 20},
                              {axle_front, side * 740 + 22, radius + 20}, 6),
                        "frame grey");
        }
        scene_.part("tie rod", parent, round_at(shaft(18, -720, 720, 3, 16), {axle_front - 250, 0, radius}),
                    "frame grey");
        cab(parent);
        bed(parent);
    }

    void cab(int parent) {
        const int cab = scene_.group("cab", parent);
        scene_.part("cab shell", cab,
                    across({{1010, 740},
                            {1010, 2200},
                            {1120, 2290},
                            {1960, 2290},
                            {2330, 1520},
                            {2420, 1400},
                            {2440, 740}},
                           {}, -940, 940, 36),
                    "cab blue");
        Solid screen = block({-7, -820, -360}, {7, 820, 360}, 4);
        scene_.part("windscreen", cab, screen.turn(1, -0.448).move({2158, 0, 1918}), "glass");
        scene_.part("bumper", cab, block({2400, -960, 480}, {2520, 960, 700}, 24), "frame grey");
        for (const double side : {1.0, -1.0}) {
            const double low = side > 0 ? 944 : -972;
            const std::string name = side > 0 ? "door left" : "door right";
            const int door = scene_.part(
                name, cab,
                {{across({{1110, 820}, {1110, 2200}, {1900, 2200}, {2180, 1560}, {2220, 820}},
                         {{{1190, 1560}, {1190, 2120}, {1840, 2120}, {2070, 1590}}}, low, low + 28, 5),
                  "cab blue"},
                 {across({{1193, 1563}, {1193, 2117}, {1838, 2117}, {2066, 1593}}, {}, low + 8, low + 20),
                  "glass"}});
            scene_.part(
                "door handle", door,
                block({1180, low + (side > 0 ? 28 : -18), 1400}, {1330, low + (side > 0 ? 46 : 0), 1440}, 6),
                "frame grey");
            for (const double z : {900.0, 1440.0}) {
                Solid barrel = shaft(17, -55, 55, 3, 20);
                scene_.part("door hinge", door, barrel.move({2228, side * 968, z}), "frame grey");
            }
            scene_.part("lamp", cab,
                        revolve({{0, -20}, {92, -20}, {100, 0}, {92, 26}, {0, 40}}, 36).lay_along(0), "rim",
                        placed({2450, side * 690, 930}));
        }
    }

    void bed(int parent) {
        const int bed = scene_.group("bed", parent);
        scene_.part("platform", bed, block({-2650, -1000, 740}, {900, 1000, 800}, 8), "planks");
        for (const double y : {-1000.0, 970.0})
            scene_.part(y < 0 ? "side board right" : "side board left", bed,
                        block({-2640, y, 804}, {890, y + 30, 1240}, 6), "planks");
        scene_.part("front board", bed, block({866, -966, 804}, {896, 966, 1420}, 6), "planks");
        const int tail =
            scene_.part("tailgate", bed, block({-2682, -990, 806}, {-2652, 990, 1240}, 6), "planks");
        for (const double y : {-700.0, 700.0}) {
            Solid barrel = shaft(20, -70, 70, 3, 18);
            scene_.part("tailgate hinge", tail, round_at(barrel, {-2668, y, 796}), "frame grey");
        }
        // Its stripes repeat every quarter of a metre.
        Mesh board = solid_mesh(block({-2692, -600, 900}, {-2683, 600, 1150}, 0), 0.1,
                                scene_.material("warning board"));
        for (const Vec3f& p : board.positions) board.uvs.emplace_back(p.y() / 25, -p.z() / 25);
        scene_.part("board", tail, std::move(board));
    }

    void trailer(int parent) {
        rims(parent, trailer_front, trailer_rear, trailer_half_track, trailer_radius, 220);
        scene_.part("trailer platform", parent, block({-6900, -950, 760}, {-4150, 950, 830}, 8), "planks");
        for (const double y : {-420.0, 420.0})
            scene_.part("trailer member", parent, block({-6850, y - 40, 620}, {-4200, y + 40, 756}, 6),
                        "frame grey");
        for (const double x : {trailer_front, trailer_rear})
            scene_.part("trailer axle", parent, round_at(shaft(52, -700, 700, 6, 28), {x, 0, trailer_radius}),
                        "frame grey");
        const int front = scene_.group("turntable", parent, placed({trailer_front, 0, 0}));
        scene_.part("turntable ring", front,
                    revolve({{240, 560}, {330, 560}, {330, 612}, {240, 612}}, 56, true), "frame grey");
        scene_.part("drawbar", front,
                    across({{60, 500}, {60, 560}, {1700, 600}, {1780, 580}, {1780, 545}, {1700, 530}}, {},
                           -45, 45, 6),
                    "frame grey");
        scene_.part("drawbar eye", front, revolve({{34, -22}, {72, -22}, {72, 22}, {34, 22}}, 40, true),
                    "frame grey", placed({1850, 0, 562}));
    }

    GlbScene scene_;
};

}  // namespace

std::vector<HingeTruth> truck_hinges() {
    const Vec3 platform(-0.875, 0, 0.77), up(0, 0, 1), left(0, 1, 0);
    std::vector<HingeTruth> hinges{
        {"door left", "platform", Vec3(2.228, 0.968, 1.17) - platform, up},
        {"door right", "platform", Vec3(2.228, -0.968, 1.17) - platform, up},
        {"tailgate", "platform", Vec3(-2.668, 0, 0.796) - platform, left},
    };
    for (const double x : {1.7, -1.7})
        for (const double y : {0.93, -0.93})
            hinges.push_back({"wheel", "platform", Vec3(x, y, 0.42) - platform, left});
    for (const double x : {-4.7, -6.3})
        for (const double y : {0.86, -0.86})
            hinges.push_back({"wheel", "platform", Vec3(x, y, 0.35) - platform, left});
    return hinges;
}

Result<std::string> supply_truck() {
    return Truck().bytes();
}

}  // namespace pivrak::demo
