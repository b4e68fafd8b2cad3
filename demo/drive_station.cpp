#include "demo/drive_station.h"

#include <fmt/format.h>

#include <cmath>

#include "core/geometry/teeth/gear_shapes.h"
#include "demo/station_solids.h"

namespace pivrak::demo {
namespace {

constexpr double pinion_left = -300.4;  ///< middle of the pinion, along its shaft
constexpr double floor_mm = 120;        ///< top of the bed plate

class Station : StationSolids {
public:
    explicit Station(const StationFigures& figures) : f_(figures) {
        bed();
        motor();
        gear_stage();
        chain();
        reducer();
        bull_wheel();
        columns();
        brake();
        cabinet();
    }
    using StationSolids::take;

private:
    void bed() {
        add("Bed plate", "paint", block({-1004.2, -1193.1, 62}, {1411.7, 684.4, floor_mm}, 12));
        for (const double y : {-1138.3, 618.9}) {
            Solid rail = block({-966.1, y - 46, 0}, {1377.3, y + 46, 61.2}, 8);
            add(fmt::format("Rail {}", y < 0 ? "right" : "left"), "paint", rail, "Bed plate");
        }
        for (int i = 0; i < 7; ++i) {
            const double x = -890.7 + 345.3 * i;
            add(fmt::format("Cross rib {}", i + 1), "paint",
                block({x - 15, -1090.8, 6.4}, {x + 15, 571.2, 61.4}, 4), "Bed plate");
        }
        std::vector<Vec3> anchors;
        for (const double y : {-1157.6, 648.2})
            for (int i = 0; i < 5; ++i) anchors.push_back({-921.3 + 559.2 * i, y, floor_mm});
        bolt_down("Bed plate", 24, anchors);
    }

    /// The motor stands on the right of its pinion: what is measured to the left of it is turned round.
    static double right_of(double left) { return 2 * pinion_left - left; }
    Solid on_motor(Solid solid, double left) const {
        return on_shaft(solid.turn(0, pi), f_.motor_axis, right_of(left));
    }

    void motor() {
        const Vec3 axis = f_.motor_axis;
        Loop fins;
        constexpr int count = 44;
        for (int i = 0; i < count; ++i) {
            const double a = 2 * pi * i / count, w = 2 * pi / count;
            for (const auto& [r, t] : {std::pair(196.0, 0.0), std::pair(196.0, 0.55), std::pair(221.0, 0.63),
                                       std::pair(221.0, 0.92)})
                fins.push_back(r * Vec2(std::cos(a + t * w), std::sin(a + t * w)));
        }
        add("Motor housing", "paint", on_motor(extrude(fins, {}, -225, 225, 2), 163.4), "Bed plate");
        add("Motor front cap", "cast",
            on_motor(revolve({{0, -46},
                              {76, -46},
                              {84, -38},
                              {84, -14},
                              {188, 6},
                              {214, 16},
                              {214, 32},
                              {206, 38},
                              {0, 38}},
                             72),
                     -100.2),
            "Motor housing");
        add("Motor fan cover", "cast",
            on_motor(
                revolve(
                    {{0, -30}, {218, -30}, {228, -20}, {228, 60}, {196, 86}, {120, 96}, {112, 82}, {0, 82}},
                    72),
                420.1),
            "Motor housing");
        const double top = axis.z() - 141.4;
        for (const double y : {right_of(14.6), right_of(312.2)})
            for (const double side : {-1.0, 1.0}) {
                const double x = axis.x() + side * 168;
                add(fmt::format("Motor foot {}{}", y > right_of(100) ? "front " : "rear ",
                                side < 0 ? "back" : "fore"),
                    "cast", block({x - 62, y - 44, floor_mm + 0.4}, {x + 62, y + 44, top}, 9),
                    "Motor housing");
                bolt_down("Motor housing", 16, {{x + side * 81, y, floor_mm + 1}});
            }
        add("Terminal box", "paint",
            block({axis.x() - 92, right_of(262.8), axis.z() + 203},
                  {axis.x() + 92, right_of(96.2), axis.z() + 318}, 14),
            "Motor housing");
        Solid shaft_solid = revolve(
            {{0, -402.6}, {27, -402.6}, {30, -399.6}, {30, -196}, {38, -192}, {38, 220}, {34, 224}, {0, 224}},
            40);
        add("Motor shaft", "steel", on_motor(shaft_solid, 0.3), "Motor housing", true);
    }

    void gear_stage() {
        GearShape pinion{f_.pinion_teeth, f_.module, 92, 30.2, 0, 0, 0, 0, 0, 0.01, 0.083};
        add("Pinion 17T", "steel", on_shaft(gear(pinion), f_.motor_axis, pinion_left), "Motor shaft", true);
        GearShape wheel{f_.wheel_teeth, f_.module, 80, 42.2, 78, 14, 30, 6, 34, 0.01, 0.041};
        add("Wheel 51T", "steel", on_shaft(gear(wheel), f_.layshaft_axis, pinion_left), "Layshaft", true);
        Solid shaft_solid = revolve({{0, -386},
                                     {38, -386},
                                     {42, -382},
                                     {42, -150},
                                     {48, -146},
                                     {48, -20},
                                     {40, -16},
                                     {40, 156},
                                     {36, 160},
                                     {0, 160}},
                                    44);
        add("Layshaft", "steel", on_shaft(shaft_solid, f_.layshaft_axis, 0.8), "Bed plate", true);
        for (const double y : {-178.2, 24.6})
            pillow_block(y < 0 ? "Pillow block right" : "Pillow block left", f_.layshaft_axis, y,
                         y < 0 ? 48.3 : 40.3);
    }

    /// A bearing housing on a ribbed foot, standing on the bed.
    void pillow_block(const std::string& name, const Vec3& axis, double left, double bore) {
        const double height = axis.z() - floor_mm - 0.6;
        Loop outline{{-150, height}, {-150, height - 34}, {-96, height - 48}, {-84, 0}};
        for (int i = 1; i < 16; ++i)
            outline.push_back(84 * Vec2(-std::cos(pi * i / 16), -std::sin(pi * i / 16)));
        for (const Vec2& p : {Vec2(84, 0), Vec2(96, height - 48), Vec2(150, height - 34), Vec2(150, height)})
            outline.push_back(p);
        add(name, "cast", on_shaft(extrude(outline, {circle(bore, 36)}, -33, 33, 4), axis, left),
            "Bed plate");
        bolt_down(name, 16, {{axis.x() - 126, left, floor_mm + 35}, {axis.x() + 126, left, floor_mm + 35}});
    }

    void chain() {
        const SprocketShape small{19, 25.4, 15.88, 15.8, 48.3, 62, 26},
            large{38, 25.4, 15.88, 15.8, 55.3, 92, 30};
        add("Sprocket 19T", "steel", on_shaft(sprocket(small), f_.layshaft_axis, -62.7), "Layshaft", true);
        add("Sprocket 38T", "steel", on_shaft(sprocket(large), f_.bull_axis, -62.7), "Input shaft", true);
        // One pair of links, lying on the upper run.
        const Vec3 run = f_.bull_axis - f_.layshaft_axis;
        const double angle = std::atan2(run.z(), run.x());
        const auto link = [&](Solid solid, double along) {
            solid.lay_along(1).move({along, 0, 113});
            return solid.turn(1, -angle).move(f_.layshaft_axis + Vec3(0, -62.7, 0));
        };
        add("Inner link", "steel", link(inner_link(25.4, 15.88, 17.02, 21, 3.2), 342.9), "Bed plate");
        add("Outer link", "steel", link(outer_link(25.4, 8.28, 17.02, 21, 3.2), 368.3), "Bed plate");
    }

    void reducer() {
        const Vec3 axis = f_.bull_axis;
        constexpr double module = 6;
        add("Input shaft", "steel",
            on_shaft(
                revolve({{0, -190}, {50, -190}, {55, -185}, {55, 40}, {42, 44}, {42, 150}, {0, 150}}, 40),
                axis, 0.9),
            "Reducer housing", true);
        add("Sun 18T", "steel", on_shaft(gear({18, module, 58, 42.2}), axis, 108.3), "Input shaft", true);
        const double orbit = module * (18 + 21) / 2.0;
        for (int i = 0; i < 3; ++i) {
            // Teeth of planet i meet the sun's: its own turn follows from where it stands.
            const double place = 2 * pi * i / 3 + 0.21;
            const double phase = place + pi - pi / 21 + (place * 18) / 21;
            GearShape planet{21, module, 54, 24.2, 0, 0, 0, 0, 0, 0.02, phase};
            Solid solid = gear(planet);
            solid.move({orbit * std::cos(place), orbit * std::sin(place), 0});
            add(fmt::format("Planet {}", i + 1), "steel", on_shaft(solid, axis, 108.3), "Carrier", true);
        }
        const double ring_phase = [&] {
            const double place = 0.21, planet = place + pi - pi / 21 + (place * 18) / 21;
            return place + (planet - place) * 21 / 60.0;
        }();
        GearShape ring{60, module, 76, 0, 0, 0, 0, 0, 0, 0.02, ring_phase};
        add("Ring 60T", "cast", on_shaft(ring_gear(ring, 254, hole_ring(12, 228, 8, 12)), axis, 108.3),
            "Reducer housing", true);
        carrier(axis, orbit);
        housing(axis);
    }

    void carrier(const Vec3& axis, double orbit) {
        std::vector<Loop> pins;
        Solid s;
        Loop plate;
        for (int i = 0; i < 72; ++i) {
            const double a = 2 * pi * i / 72, r = 132 + 34 * std::cos(3 * (a - 0.21));
            plate.push_back(r * Vec2(std::cos(a), std::sin(a)));
        }
        for (int i = 0; i < 3; ++i)
            pins.push_back(circle(
                23.9, 28, orbit * Vec2(std::cos(0.21 + 2 * pi * i / 3), std::sin(0.21 + 2 * pi * i / 3))));
        const Loop shaft_loop = circle(66, 56);
        s.wall(plate, 34, 62, true);
        s.cap(plate, pins, 34, false);
        s.cap(plate, {shaft_loop}, 62, true);
        for (const Loop& pin : pins) {
            s.wall(pin, -31, 34, true);
            s.cap(pin, {}, -31, false);
        }
        s.wall(shaft_loop, 62, 520, true);
        s.cap(shaft_loop, {}, 520, true);
        add("Carrier", "steel", on_shaft(s, axis, 108.3), "Reducer housing", true);
    }

    void housing(const Vec3& axis) {
        // A bell in front of the ring, carried by a ribbed pedestal.
        Solid bell = revolve({{57, -86},
                              {104, -86},
                              {112, -78},
                              {126, -40},
                              {214, -22},
                              {252, -14},
                              {252, 0},
                              {206, 0},
                              {118, -18},
                              {96, -60},
                              {57, -64}},
                             72, true);
        add("Reducer housing", "cast", on_shaft(bell, axis, 69.2), "Bed plate");
        const double foot = axis.z() - floor_mm - 0.7;
        const Loop outline{{-214, foot}, {214, foot}, {214, foot - 40},  {128, foot - 60},
                           {104, 262},   {-104, 262}, {-128, foot - 60}, {-214, foot - 40}};
        add("Pedestal", "paint",
            on_shaft(extrude(outline,
                             {circle(52, 32, {0, 420}), circle(64, 32, {0, 640}), circle(76, 32, {0, 900})},
                             -30, 30, 5),
                     axis, 108.3),
            "Bed plate");
        std::vector<Vec3> feet;
        for (const double x : {-178.0, 178.0}) feet.push_back({axis.x() + x, 108.3, floor_mm + 41});
        bolt_down("Pedestal", 20, feet);
        for (int i = 0; i < 12; ++i) {
            const double a = 2 * pi * i / 12;
            Solid b = bolt(12);
            b.turn(2, 0.4 * i).move({228 * std::cos(a), 228 * std::sin(a), 38.2});
            add(fmt::format("Bolt Ring {}", i + 1), "steel", on_shaft(b, axis, 108.3), "Ring 60T");
        }
    }

    void bull_wheel() {
        Solid s;
        // Rim with a rope groove of radius 1.20 m at its bottom, web with openings, hub.
        constexpr int n = 144;
        const auto ring = [](double r) { return circle(r, n); };
        s.slope(ring(1236), -62, ring(1236), -44, true);
        s.slope(ring(1236), -44, ring(1206), -22, true);
        s.slope(ring(1206), -22, ring(1200), 0, true);
        s.slope(ring(1200), 0, ring(1206), 22, true);
        s.slope(ring(1206), 22, ring(1236), 44, true);
        s.slope(ring(1236), 44, ring(1236), 62, true);
        const std::vector<Loop> windows = spoke_windows();
        const Loop hub = circle(178, n);
        for (const bool up : {false, true}) {
            const double side = up ? 1 : -1;
            std::vector<Loop> holes = windows;
            holes.push_back(hub);
            s.cap(ring(1236), {ring(1108)}, side * 62, up);
            s.wall(ring(1108), up ? 17 : -62, up ? 62 : -17, false);
            s.cap(ring(1108), holes, side * 17, up);
            s.wall(hub, up ? 17 : -92, up ? 92 : -17, true);
            s.cap(hub, {circle(66.2, 48)}, side * 92, up);
        }
        for (const Loop& window : windows) s.wall(window, -17, 17, false);
        s.wall(circle(66.2, 48), -92, 92, false);
        add("Bull wheel", "paint", on_shaft(s, f_.bull_axis, 420.6), "Carrier", true);
    }

    static std::vector<Loop> spoke_windows() {
        std::vector<Loop> windows;
        for (int i = 0; i < 8; ++i) {
            Loop window;
            const double middle = 2 * pi * (i + 0.5) / 8;
            for (int k = 0; k <= 10; ++k) {
                const double a = middle + (k / 10.0 - 0.5) * 2 * pi / 8 * 0.74;
                window.push_back(1030 * Vec2(std::cos(a), std::sin(a)));
            }
            for (int k = 5; k >= 0; --k) {
                const double a = middle + (k / 5.0 - 0.5) * 2 * pi / 8 * 0.42;
                window.push_back(318 * Vec2(std::cos(a), std::sin(a)));
            }
            windows.push_back(window);
        }
        return windows;
    }

    void columns() {
        const Vec3 axis = f_.bull_axis;
        const double foot = axis.z() - floor_mm - 0.5;
        for (const double y : {262.4, 580.2}) {
            const std::string name = y < 400 ? "Column right" : "Column left";
            Loop outline{{-420, foot}, {-330, foot}, {-96, 150},       {96, 150},
                         {330, foot},  {420, foot},  {418, foot - 46}, {128, -40}};
            for (int i = 1; i < 12; ++i)
                outline.push_back(132 * Vec2(std::cos(-0.31 - (pi - 0.62) * i / 12),
                                             std::sin(-0.31 - (pi - 0.62) * i / 12)));
            outline.push_back({-128, -40});
            outline.push_back({-418, foot - 46});
            add(name, "paint", on_shaft(extrude(outline, {circle(66.4, 40)}, -28, 28, 5), axis, y),
                "Bed plate");
            std::vector<Vec3> feet;
            for (const double x : {-375.0, 375.0}) feet.push_back({axis.x() + x, y, floor_mm + 47});
            bolt_down(name, 20, feet);
            add(y < 400 ? "Bearing right" : "Bearing left", "cast",
                on_shaft(revolve({{66.6, -44}, {112, -44}, {118, -38}, {118, 38}, {112, 44}, {66.6, 44}}, 52,
                                 true),
                         axis, y),
                name);
        }
    }

    void brake() {
        Loop outline{{-46, 0},  {-38, -26}, {0, -46},    {38, -26},  {46, 0},  {62, 480},
                     {26, 900}, {8, 1010},  {-34, 1010}, {-30, 900}, {-8, 480}};
        // Drawn standing up: y runs down on a shaft, so the outline is turned over.
        for (Vec2& p : outline) p.y() = -p.y();
        const Vec3 pivot{1335.8, 0, 468.4};
        add("Brake arm", "paint",
            on_shaft(extrude(outline, {circle(21, 28), circle(14, 20, {28, -470})}, -24, 24, 3), pivot,
                     420.6),
            "Bed plate");
        add("Brake pin", "steel", on_shaft(shaft(20.8, -70, 70, 3, 26), pivot, 420.6), "Bed plate");
        add("Brake pad", "cast", block({1300.4, 372.1, 1352}, {1318.6, 469.3, 1466}, 4), "Brake arm");
        for (const double y : {358.9, 482.6}) {
            const Loop cheek{{-90, 346}, {-90, 330}, {-44, 0}, {0, -46}, {44, 0}, {70, 330}, {70, 346}};
            add(y < 400 ? "Brake bracket right" : "Brake bracket left", "paint",
                on_shaft(extrude(cheek, {circle(21.2, 28)}, -14, 14, 3), pivot, y), "Bed plate");
        }
        const Vec3 low(934.2, 420.6, 232.8), high(1362.1, 420.6, 938.2), way = (high - low).normalized();
        const double tilt = std::atan2(way.x(), way.z());
        Solid barrel =
            revolve({{0, 0}, {44, 0}, {50, 6}, {50, 430}, {44, 438}, {26, 438}, {26, 452}, {0, 452}}, 36);
        add("Ram barrel", "paint", barrel.turn(1, tilt).move(low), "Bed plate");
        Solid rod = shaft(20, 330, (high - low).norm() - 22, 3, 30);
        add("Ram rod", "steel", rod.turn(1, tilt).move(low), "Brake arm");
        Solid eye = revolve({{14.4, -20}, {34, -20}, {34, 20}, {14.4, 20}}, 32, true);
        add("Ram eye", "steel", on_shaft(eye, high, high.y()), "Brake arm");
        add("Ram foot", "cast", block({880.3, 362.4, floor_mm + 0.5}, {988.1, 478.8, 236.9}, 10),
            "Bed plate");
    }

    void cabinet() {
        add("Cabinet", "paint", block({486.4, -452.7, floor_mm + 0.8}, {1038.2, -148.3, 968.4}, 16),
            "Bed plate");
        add("Hatch", "paint", block({512.9, -476.6, 186.3}, {1011.7, -453.9, 934.1}, 7), "Cabinet");
        for (const double z : {286.2, 834.7}) {
            Solid barrel = shaft(11, -46, 46, 2, 20);
            add(z < 500 ? "Hatch barrel low" : "Hatch barrel high", "steel", barrel.move({499.6, -466.1, z}),
                "Cabinet");
        }
        add("Hatch handle", "steel",
            pipe({{951.3, -476.9, 508.2},
                  {951.3, -517.4, 512.2},
                  {951.3, -526.8, 524.1},
                  {951.3, -526.8, 626.9},
                  {951.3, -517.4, 638.8},
                  {951.3, -476.9, 642.8}},
                 8.5, 14),
            "Hatch");
        std::vector<Vec3> hose;
        for (int i = 0; i <= 28; ++i) {
            const double t = i / 28.0;
            hose.push_back({762.3 + 260 * t * t, -300.2 + 720 * t,
                            968.9 + 210 * std::sin(pi * t) * (1 - t) - 560 * t * t});
        }
        add("Hydraulic hose", "cast", pipe(hose, 16, 14), "Cabinet");
        for (int i = 0; i < 6; ++i)
            add(fmt::format("Cooling slat {}", i + 1), "cast",
                block({1040.1, -408.2, 610 + 46.0 * i}, {1051.6, -192.4, 634 + 46.0 * i}, 3), "Cabinet");
    }

    StationFigures f_;
};

}  // namespace

std::vector<Component> drive_station(const StationFigures& figures) {
    return Station(figures).take();
}

}  // namespace pivrak::demo
