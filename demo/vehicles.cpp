#include "demo/vehicles.h"

#include <fmt/format.h>

#include <cmath>

#include "core/io/gltf/picture.h"
#include "demo/glb_scene.h"

namespace pivrak::demo {
namespace {

/// A profile in the side view (x forward, z up) drawn out across the vehicle, from y0 to y1.
Solid across(const Loop& side_view, const std::vector<Loop>& holes, double y0, double y1,
             double chamfer = 0) {
    Solid s = extrude(side_view, holes, -y1, -y0, chamfer);
    // Drawn flat: x stays, the profile's up becomes z, what was drawn out runs to the right.
    return s.turn(0, pi / 2);
}

/// A solid of revolution about z, laid along y at a place.
Solid round_at(Solid solid, const Vec3& at) {
    return solid.lay_along(1).move(at);
}

// ---- the groomer

class Groomer {
public:
    Groomer() : scene_(1e-3) {
        scene_.add_material("red paint", {0.72, 0.16, 0.13});
        scene_.add_material("black frame", {0.17, 0.18, 0.19});
        scene_.add_material("rubber", {0.13, 0.13, 0.14}, 0, 0.9);
        scene_.add_material("steel", {0.62, 0.65, 0.67}, 0.8, 0.4);
        scene_.add_material("glass", {0.45, 0.62, 0.70}, 0, 0.15);
        scene_.add_material("yellow", {0.90, 0.70, 0.14});
        // It faces backwards and floats; two nodes above it only hand it on.
        const int root = scene_.group("scene", -1);
        const int moved = scene_.group("export", root, placed({310, 45, 130}, 2, pi));
        vehicle_ = scene_.group("groomer", moved);
        scene_.group("unused", vehicle_);
        scene_.group("mark", scene_.group("helpers", vehicle_));
        chassis();
        left_ = scene_.group("side", vehicle_);
        undercarriage(left_);
        const int right = scene_.group("side", vehicle_);
        // The right side is the left one in a mirror.
        scene_.scale(right, Vec3(1, -1, 1));
        undercarriage(right);
        cab();
        engine_cover();
        blade();
        tiller();
    }
    Result<std::string> bytes() { return scene_.bytes(); }

private:
    static constexpr double track_y = 920;

    void chassis() {
        const Loop side{{-2050, 520}, {-2050, 820}, {-1750, 980}, {1450, 980},
                        {1800, 780},  {1800, 560},  {1500, 420},  {-1800, 420}};
        const int body = scene_.group("chassis", vehicle_);
        scene_.part(
            "frame", body,
            across(side,
                   {circle(110, 24, {-1200, 690}), circle(110, 24, {0, 690}), circle(110, 24, {1000, 690})},
                   -560, 560, 14),
            "black frame");
        // A deck that its maker stretched instead of drawing it longer.
        const int deck = scene_.part("deck", body, block({-500, -280, 0}, {500, 280, 40}, 10), "red paint",
                                     placed({-950, 0, 984}));
        scene_.scale(deck, Vec3(1.75, 2.2, 1.25));
        for (int i = 0; i < 4; ++i)
            scene_.part("rib", body, block({-20, -540, 0}, {20, 540, 90}, 6), "black frame",
                        placed({-1650.0 + 1000 * i, 0, 330}));
    }

    Solid road_wheel() const {
        WheelShape w{260, 160, 150, 34, 0, 0, 6};
        return wheel(w);
    }

    void undercarriage(int side) {
        const int beam = scene_.group("beam group", side);
        const Loop beam_side{{-1650, 330}, {-1650, 470}, {-1500, 520}, {1500, 520},
                             {1650, 470},  {1650, 330},  {1500, 290},  {-1500, 290}};
        scene_.part("beam", beam, across(beam_side, {}, 640, 760, 8), "black frame");
        const int wheels = scene_.group("wheels", beam);
        int first = -1;
        for (int i = 0; i < 5; ++i) {
            const Frame at = placed({-1180.0 + 590 * i, track_y, 300});
            Solid solid = road_wheel();
            solid.lay_along(1);
            first = first < 0 ? scene_.part("wheel", wheels, {{solid, "rubber"}}, at)
                              : scene_.again("wheel", wheels, first, at);
            scene_.part("axle pin", wheels, round_at(shaft(30, -190, 60, 4, 24), Vec3(0, 0, 0)), "steel", at);
        }
        // A toothed drive sprocket at the rear, a plain idler in front, and one shoe of the track.
        SprocketShape drive{16, 140, 52, 70, 60, 150, 60};
        Solid teeth = sprocket(drive);
        teeth.lay_along(1);
        scene_.part("drive sprocket", beam, teeth, "steel", placed({-1930, track_y, 520}));
        WheelShape idler{330, 140, 210, 42, 0, 0, 5};
        Solid idler_solid = wheel(idler);
        idler_solid.lay_along(1);
        scene_.part("idler", beam, idler_solid, "rubber", placed({1900, track_y, 470}));
        shoe(beam);
    }

    void shoe(int beam) {
        const Loop bar{{-66, -8}, {66, -8}, {66, 10}, {20, 14}, {12, 60}, {-12, 60}, {-20, 14}, {-66, 10}};
        Solid cleat = across(bar, {}, 500, 1340, 0);
        // Cleats point down: it lies on the ground.
        cleat.turn(1, pi);
        scene_.part("shoe", beam, {{cleat, "steel"}, {block({-60, 860, 8}, {60, 980, 34}, 6), "rubber"}},
                    placed({0, 0, 60}));
    }

    void cab() {
        const int cab = scene_.group("cab", vehicle_);
        const Loop side{{100, 984},   {100, 2150},  {240, 2380}, {1180, 2380},
                        {1560, 1650}, {1640, 1250}, {1640, 984}};
        scene_.part("cab shell", cab, across(side, {}, -760, 760, 40), "red paint");
        // Panes lie on the shell, a little proud.
        Solid windscreen = block({-8, -690, -390}, {8, 690, 390}, 5);
        scene_.part("windscreen", cab, windscreen.turn(1, -0.475).move({1388, 0, 2010}), "glass");
        scene_.part("rear window", cab, block({86, -600, 1500}, {99, 600, 2120}, 4), "glass");
        door(cab);
        const int right = scene_.group("right", cab);
        scene_.scale(right, Vec3(1, -1, 1));
        door(right);
        for (const double y : {-520.0, 520.0}) {
            scene_.part("front lamp", cab, {{round_at(shaft(78, -70, 70, 10, 32), {0, 0, 0}), "black frame"}},
                        placed({700, y, 2470}));
            scene_.part("mirror", cab, block({-30, -120, -160}, {30, 120, 160}, 18), "black frame",
                        placed({1420, y * 1.9, 1760}));
        }
        scene_.part("beacon", cab,
                    revolve({{0, 0}, {90, 0}, {90, 30}, {70, 40}, {70, 110}, {50, 150}, {0, 160}}, 36),
                    "yellow", placed({420, 0, 2382}));
    }

    void door(int parent) {
        const Loop outline{{330, 1050}, {330, 2240}, {1060, 2240}, {1380, 1640}, {1430, 1050}};
        const int door = scene_.part(
            "door", parent,
            {{across(outline, {{{420, 1640}, {420, 2150}, {1010, 2150}, {1250, 1660}}}, 766, 802, 6),
              "red paint"},
             {across({{424, 1644}, {424, 2146}, {1007, 2146}, {1245, 1664}}, {}, 776, 790), "glass"}});
        scene_.part("handle", door,
                    pipe({{430, 806, 1450}, {430, 842, 1450}, {560, 842, 1450}, {560, 806, 1450}}, 11, 12),
                    "steel");
        for (const double z : {1120.0, 1440.0}) {
            Solid barrel = shaft(19, -60, 60, 3, 20);
            scene_.part("hinge", door, barrel.move({1436, 800, z}), "steel");
        }
    }

    void engine_cover() {
        const int engine = scene_.group("engine", vehicle_);
        const Loop hood{{-2000, 1042}, {-2000, 1480}, {-1880, 1600}, {-80, 1600}, {40, 1500}, {40, 1042}};
        const int cover = scene_.part("engine cover", engine, across(hood, {}, -640, 640, 30), "red paint");
        for (int i = 0; i < 7; ++i)
            scene_.part("louvre", cover,
                        block({-1700.0 + 200 * i, -420, 1600}, {-1600.0 + 200 * i, 420, 1622}, 5),
                        "black frame");
        for (const double y : {-500.0, 500.0}) {
            Solid barrel = shaft(24, -80, 80, 4, 22);
            scene_.part("hinge", engine, round_at(barrel, {-2024, y, 1060}), "steel");
        }
        std::vector<Vec3> hose;
        for (int i = 0; i <= 26; ++i) {
            const double t = i / 26.0;
            hose.push_back({-300 + 2300 * t, 590 + 60 * std::sin(pi * t),
                            1010 - 420 * t * t + 130 * std::sin(2 * pi * t)});
        }
        scene_.part("hydraulic hose", engine, pipe(hose, 21, 14), "rubber");
    }

    /// The blade hangs on a four-bar: two lower arms, two upper links, a carrier, and two rams.
    void blade() {
        const int lift = scene_.group("lift", vehicle_);
        for (const double y : {-430.0, 430.0}) {
            arm(lift, "arm", {1760, y, 560}, {2640, y, 420}, 64, 34);
            arm(lift, "link", {1740, y * 0.8, 860}, {2640, y * 0.8, 760}, 44, 22);
            ram(lift, {1700, y * 0.55, 900}, {2520, y * 0.55, 470});
        }
        const Loop carrier{{2600, 330}, {2600, 860}, {2690, 900}, {2760, 860}, {2760, 330}, {2690, 290}};
        scene_.part("carrier", lift,
                    across(carrier, {circle(34, 24, {2640, 420}), circle(26, 24, {2640, 760})}, -520, 520, 4),
                    "black frame");
        Loop curve;
        for (int i = 0; i <= 16; ++i) {
            const double a = -0.9 + 1.8 * i / 16;
            curve.emplace_back(3180 - 420 * std::cos(a), 560 + 560 * std::sin(a));
        }
        for (int i = 16; i >= 0; --i) {
            const double a = -0.9 + 1.8 * i / 16;
            curve.emplace_back(3156 - 420 * std::cos(a), 560 + 560 * std::sin(a));
        }
        const int blade = scene_.part("blade", lift, across(curve, {}, -1500, 1500), "red paint");
        for (int i = 0; i < 6; ++i)
            scene_.part("rib", blade,
                        block({2720, -1310.0 + 520 * i, 250}, {2756, -1290.0 + 520 * i, 900}, 4),
                        "red paint");
        scene_.part("cutting edge", blade, block({2920, -1500, 96}, {2944, 1500, 190}, 4), "steel");
    }

    void arm(int parent, const char* name, const Vec3& from, const Vec3& to, double height,
             double half_width) {
        const Vec3 way = to - from;
        const double length = way.norm(), tilt = std::atan2(way.z(), way.x());
        Loop outline;
        for (int i = 0; i <= 12; ++i)
            outline.emplace_back(length + height * std::sin(pi * i / 12), -height * std::cos(pi * i / 12));
        for (int i = 0; i <= 12; ++i)
            outline.emplace_back(-height * std::sin(pi * i / 12), height * std::cos(pi * i / 12));
        const Solid bar = across(outline, {circle(0.5 * height, 24), circle(0.5 * height, 24, {length, 0})},
                                 -half_width, half_width, 4);
        Solid tilted = bar;
        scene_.part(name, parent, tilted.turn(1, -tilt), "black frame", placed(from));
    }

    void ram(int parent, const Vec3& low, const Vec3& high) {
        const Vec3 way = (high - low).normalized();
        const double length = (high - low).norm(), tilt = std::atan2(way.x(), way.z());
        Solid barrel = revolve(
            {{0, 0}, {42, 0}, {48, 6}, {48, 0.58 * length}, {42, 0.6 * length}, {0, 0.6 * length}}, 32);
        scene_.part("ram barrel", parent, barrel.turn(1, tilt), "yellow", placed(low));
        Solid rod = shaft(24, 0.45 * length, length - 30, 3, 28);
        scene_.part("ram rod", parent, rod.turn(1, tilt), "steel", placed(low));
    }

    void tiller() {
        const int tiller = scene_.group("tiller", vehicle_);
        scene_.part("tiller hood", tiller,
                    across({{-3456, 300},
                            {-3376, 620},
                            {-2916, 700},
                            {-2636, 560},
                            {-2636, 500},
                            {-2906, 630},
                            {-3336, 560},
                            {-3416, 300}},
                           {}, -1400, 1400, 6),
                    "red paint");
        scene_.part("tiller drum", tiller, round_at(drum(), {0, 0, 0}), "steel", placed({-3006, 0, 330}));
        for (const double y : {-380.0, 380.0})
            arm(tiller, "tow arm", {-2656, y, 560}, {-2020, y, 640}, 50, 30);
    }

    /// A drum with rows of teeth, as one solid: a toothed outline drawn out.
    static Solid drum() {
        Loop outline;
        for (int i = 0; i < 12; ++i)
            for (const auto& [r, t] : {std::pair(128.0, 0.0), std::pair(128.0, 0.55), std::pair(186.0, 0.66),
                                       std::pair(186.0, 0.84)}) {
                const double a = 2 * pi * (i + t) / 12;
                outline.emplace_back(r * std::cos(a), r * std::sin(a));
            }
        return extrude(outline, {circle(46, 32)}, -1320, 1320, 8);
    }

    GlbScene scene_;
    int vehicle_ = -1, left_ = -1;
};

// ---- the truck

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

// ---- the cabin

Result<std::string> make_cabin() {
    GlbScene scene(1e-3);
    scene.add_material("cabin white", {0.90, 0.91, 0.88});
    scene.add_material("cabin red", {0.70, 0.18, 0.16});
    scene.add_material("glass", {0.50, 0.66, 0.72}, 0, 0.1);
    scene.add_material("steel", {0.60, 0.63, 0.65}, 0.8, 0.4);
    scene.add_material("rubber", {0.14, 0.14, 0.15});
    const int cabin = scene.group("cabin", -1);
    const int body = scene.group("body", cabin);
    scene.part("floor", body, block({-880, -780, 0}, {880, 780, 90}, 20), "cabin red");
    scene.part("roof", body,
               across({{-880, 2080}, {-820, 2180}, {820, 2180}, {880, 2080}}, {}, -780, 780, 20),
               "cabin white");
    for (const double x : {-880.0, 830.0}) {
        scene.part("end wall", body, block({x, -770, 94}, {x + 50, 770, 940}, 8), "cabin white");
        scene.part("end window", body, block({x + 14, -720, 950}, {x + 36, 720, 2070}, 4), "glass");
        for (const double y : {-775.0, 725.0})
            scene.part("post", body, block({x, y, 944}, {x + 50, y + 50, 2076}, 6), "cabin white");
    }
    scene.part("back wall", body, block({-820, -780, 94}, {820, -730, 940}, 8), "cabin white");
    scene.part("back window", body, block({-816, -766, 950}, {816, -744, 2070}, 4), "glass");
    for (const double side : {1.0, -1.0}) {
        const double low = side > 0 ? 6 : -806;
        const int door = scene.part(side > 0 ? "door front" : "door rear", cabin,
                                    {{block({low, 734, 100}, {low + 800, 774, 980}, 8), "cabin red"},
                                     {block({low + 12, 744, 988}, {low + 788, 764, 2060}, 4), "glass"}});
        scene.part("door handle", door,
                   pipe({{low + (side > 0 ? 60 : 740), 776, 1000},
                         {low + (side > 0 ? 60 : 740), 812, 1000},
                         {low + (side > 0 ? 60 : 740), 812, 1280},
                         {low + (side > 0 ? 60 : 740), 776, 1280}},
                        10, 12),
                   "steel");
        scene.part("door roller", door, round_at(shaft(26, -14, 14, 3, 24), {low + 200, 752, 2106}),
                   "rubber");
        scene.part("door roller", door, round_at(shaft(26, -14, 14, 3, 24), {low + 600, 752, 2106}),
                   "rubber");
    }
    scene.part("step", cabin, block({-420, 782, 20}, {420, 1010, 52}, 8), "steel");
    scene.part("step hinge", cabin, shaft(17, -400, 400, 3, 20).lay_along(0), "steel", placed({0, 776, 36}));
    const int hanger = scene.group("hanger", cabin);
    std::vector<Vec3> neck;
    for (int i = 0; i <= 22; ++i) {
        const double t = i / 22.0;
        neck.push_back({0, -330 * std::sin(pi * t), 2200 + 1500 * t});
    }
    scene.part("hanger arm", hanger, pipe(neck, 62, 20), "steel");
    scene.part("hanger plate", hanger, block({-240, -240, 2182}, {240, 240, 2216}, 10), "steel");
    for (int i = 0; i < 4; ++i)
        scene.part("hanger bolt", hanger, bolt(26), "steel",
                   placed({i < 2 ? 190.0 : -190.0, i % 2 ? 190.0 : -190.0, 2217}));
    const int grip = scene.group("grip", hanger, placed({0, 0, 3720}));
    scene.part("grip body", grip,
               across({{-190, -70}, {-190, 60}, {-90, 120}, {90, 120}, {190, 60}, {190, -70}},
                      {circle(40, 28)}, -70, 70, 10),
               "steel");
    scene.part("grip jaw", grip, across({{-150, 124}, {-150, 176}, {150, 176}, {150, 124}}, {}, -60, 60, 8),
               "cabin red");
    for (const double x : {-120.0, 120.0})
        scene.part("grip roller", grip, round_at(wheel({70, 44, 40, 12, 0, 0, 0}), {0, 0, 0}), "rubber",
                   placed({x, 130, 20}));
    return scene.bytes();
}

// ---- the ground

double height_at(double x, double y) {
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

Result<std::string> make_ground() {
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
            mesh.colors.emplace_back(static_cast<float>(0.88 - 0.34 * cut),
                                     static_cast<float>(0.91 - 0.32 * cut),
                                     static_cast<float>(0.93 - 0.26 * cut), 1.f);
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

}  // namespace

std::vector<HingeTruth> groomer_hinges() {
    // The frame reaches from -2050 to 1800 mm along x, 560 to both sides, 420 to 980 up.
    const Vec3 frame(-0.125, 0, 0.7), up(0, 0, 1), left(0, 1, 0);
    std::vector<HingeTruth> hinges{
        {"door left", "frame", Vec3(1.436, 0.8, 1.28) - frame, up},
        {"door right", "frame", Vec3(1.436, -0.8, 1.28) - frame, up},
        {"engine cover", "frame", Vec3(-2.024, 0, 1.06) - frame, left},
    };
    for (const double side : {1.0, -1.0})
        for (int i = 0; i < 5; ++i)
            hinges.push_back({"wheel", "frame", Vec3(-1.18 + 0.59 * i, side * 0.92, 0.3) - frame, left});
    return hinges;
}

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

Result<std::string> groomer() {
    return Groomer().bytes();
}
Result<std::string> supply_truck() {
    return Truck().bytes();
}
Result<std::string> cabin() {
    return make_cabin();
}
Result<std::string> saddle_ground() {
    return make_ground();
}

}  // namespace pivrak::demo
