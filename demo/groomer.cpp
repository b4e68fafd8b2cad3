#include "demo/vehicles.h"

#include <fmt/format.h>

#include <cmath>

#include "core/io/gltf/picture.h"
#include "demo/glb_scene.h"
#include "demo/laid_solids.h"

namespace pivrak::demo {
namespace {

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

    /// One piece: a bar right across with a horn in its middle that the wheels run beside.
    void shoe(int beam) {
        const Loop foot{{-60, -8}, {60, -8}};
        const Loop horn{{-60, -8}, {-60, -28}, {-54, -34}, {54, -34}, {60, -28}, {60, -8}};
        const auto bar = [](const Loop& inside) {
            Loop out{{-66, -8}};
            out.insert(out.end(), inside.begin(), inside.end());
            for (const Vec2& p :
                 Loop{{66, -8}, {66, 10}, {20, 14}, {12, 60}, {-12, 60}, {-20, 14}, {-66, 10}})
                out.push_back(p);
            return out;
        };
        Solid shoe;
        shoe.cap(bar(foot), {}, -1340, false);
        shoe.wall(bar(foot), -1340, -980, true);
        shoe.cap(horn, {}, -980, false);
        shoe.wall(bar(horn), -980, -860, true);
        shoe.cap(horn, {}, -860, true);
        shoe.wall(bar(foot), -860, -500, true);
        shoe.cap(bar(foot), {}, -500, true);
        // Across the vehicle, its cleat down: it lies on the ground.
        shoe.turn(0, pi / 2).turn(1, pi);
        scene_.part("shoe", beam, shoe, "steel", placed({0, 0, 60}));
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

Result<std::string> groomer() {
    return Groomer().bytes();
}

}  // namespace pivrak::demo
