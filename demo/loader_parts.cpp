// The finished shapes of the loading crane: they stand where its stand-ins do, and take their places.
#include <cmath>

#include "demo/glb_scene.h"
#include "demo/laid_solids.h"
#include "demo/vehicles.h"

namespace pivrak::demo {
namespace {

using Colored = std::vector<std::pair<Solid, std::string>>;

/// An eye across the crane, about a pin: a boss with its bore left to the eye's shade of steel.
void add_eye(Colored& out, const Vec3& at, double radius, double half_width) {
    out.emplace_back(round_at(revolve({{0.45 * radius, -half_width},
                                       {radius - 4, -half_width},
                                       {radius, 4 - half_width},
                                       {radius, half_width - 4},
                                       {radius - 4, half_width},
                                       {0.45 * radius, half_width}},
                                      28, true),
                              at),
                     "steel");
    out.emplace_back(round_at(shaft(0.44 * radius, -half_width - 12, half_width + 12, 3, 20), at),
                     "bright steel");
}

/// A side plate from both sides: a contour in the side view, so thick, so far out.
void add_plates(Colored& out, const Loop& contour, double y, double thick, const char* material) {
    for (const double side : {-1.0, 1.0})
        out.emplace_back(across(contour, {}, side * y - 0.5 * thick, side * y + 0.5 * thick, 2), material);
}

Colored bed() {
    Colored out;
    for (const double y : {-620.0, 620.0})
        out.emplace_back(block({-890, y - 60, 40}, {2090, y + 60, 250}, 12), "dark frame");
    for (int i = 0; i < 7; ++i) {
        const double x = -820 + 480.0 * i;
        out.emplace_back(block({x - 35, -560, 60}, {x + 35, 560, 220}, 6), "dark frame");
    }
    out.emplace_back(block({-900, -700, 252}, {2100, 700, 270}, 5), "deck");
    for (int i = 0; i < 9; ++i)
        out.emplace_back(block({-150 + 250.0 * i - 20, -660, 271}, {-150 + 250.0 * i + 20, 660, 284}, 3),
                         "deck");
    out.emplace_back(revolve({{0, 271}, {330, 271}, {330, 288}, {322, 299}, {0, 299}}, 48).move({-600, 0, 0}),
                     "steel");
    for (int i = 0; i < 16; ++i) {
        const double a = 2 * pi * i / 16;
        out.emplace_back(bolt(16).move({-600 + 292 * std::cos(a), 292 * std::sin(a), 299}), "bright steel");
    }
    return out;
}

Colored post() {
    Colored out;
    out.emplace_back(
        revolve(
            {{0, 301}, {195, 301}, {200, 306}, {200, 345}, {150, 380}, {128, 700}, {118, 1190}, {0, 1190}},
            44)
            .move({-600, 0, 0}),
        "crane yellow");
    for (int i = 0; i < 8; ++i) {
        const double a = 2 * pi * (i + 0.5) / 8;
        Solid gusset = across({{118, 346}, {190, 346}, {130, 620}}, {}, -7, 7, 1);
        out.emplace_back(gusset.turn(2, a).move({-600, 0, 0}), "crane yellow");
    }
    // Two cheeks that hold the boom, and lugs for the ram.
    add_plates(out, {{-760, 1130}, {-460, 1130}, {-500, 1420}, {-560, 1590}, {-640, 1590}, {-720, 1420}}, 118,
               26, "crane yellow");
    add_plates(out, {{-500, 1050}, {-360, 1060}, {-345, 1120}, {-360, 1175}, {-500, 1180}}, 72, 18,
               "crane yellow");
    add_eye(out, {-600, 0, 1500}, 62, 136);
    return out;
}

Colored boom() {
    Colored out;
    const Loop side{{-690, 1440}, {-600, 1405}, {420, 1418},  {600, 1445}, {640, 1500},
                    {600, 1555},  {300, 1590},  {-560, 1598}, {-680, 1560}};
    add_plates(out, side, 74, 14, "crane yellow");
    out.emplace_back(block({-640, -66, 1576}, {320, 66, 1590}, 3), "crane yellow");
    out.emplace_back(block({-560, -66, 1410}, {420, 66, 1424}, 3), "crane yellow");
    for (int i = 0; i < 4; ++i) {
        const double x = -360 + 230.0 * i;
        out.emplace_back(block({x - 5, -66, 1425}, {x + 5, 66, 1575}, 1), "crane yellow");
    }
    // Where the ram pushes: outside, so that the stick folds in between.
    add_plates(out, {{380, 1425}, {400, 1120}, {430, 1072}, {470, 1072}, {500, 1120}, {540, 1430}}, 92, 14,
               "crane yellow");
    add_eye(out, {550, 0, 1500}, 52, 84);
    for (const double x : {-150.0, 150.0})
        for (const double z : {1470.0, 1530.0})
            out.emplace_back(round_at(shaft(9, -86, 86, 2, 16), {x, 0, z}), "bright steel");
    return out;
}

Colored stick() {
    Colored out;
    add_plates(out,
               {{505, 1450},
                {560, 1425},
                {1500, 1422},
                {1660, 1372},
                {1690, 1400},
                {1660, 1432},
                {1480, 1540},
                {560, 1568},
                {508, 1545}},
               52, 12, "crane yellow");
    out.emplace_back(block({590, -46, 1432}, {1470, 46, 1444}, 2), "crane yellow");
    out.emplace_back(across({{600, 1548}, {1470, 1520}, {1470, 1532}, {600, 1560}}, {}, -46, 46, 1),
                     "crane yellow");
    for (int i = 0; i < 5; ++i)
        out.emplace_back(block({700 + 170.0 * i, -46, 1446}, {708 + 170.0 * i, 46, 1516}, 1), "crane yellow");
    add_eye(out, {1620, 0, 1400}, 30, 58);
    return out;
}

Colored hook() {
    Colored out;
    out.emplace_back(round_at(shaft(24, -38, 38, 4, 32), {1620, 0, 1400}), "steel");
    out.emplace_back(block({1604, -16, 1340}, {1636, 16, 1392}, 5), "steel");
    std::vector<Vec3> bend{{1620, 0, 1345}, {1620, 0, 1320}};
    for (int i = 0; i <= 20; ++i) {
        const double a = pi / 2 - 1.55 * pi * i / 20;
        bend.push_back({1620 + 46 * std::cos(a), 0, 1266 + 46 * std::sin(a)});
    }
    out.emplace_back(pipe(bend, 13, 14), "red");
    out.emplace_back(block({1596, -3, 1240}, {1601, 3, 1318}, 1), "bright steel");
    return out;
}

Colored barrel() {
    Colored out;
    Solid tube =
        revolve({{0, -230}, {48, -230}, {55, -222}, {55, 240}, {46, 250}, {0, 250}}, 36).lay_along(0);
    out.emplace_back(tube.move({-150, 0, 1120}), "dark frame");
    Solid collar = revolve({{30, 205}, {62, 205}, {62, 252}, {30, 252}}, 36, true).lay_along(0);
    out.emplace_back(collar.move({-150, 0, 1120}), "steel");
    add_eye(out, {-400, 0, 1120}, 46, 54);
    out.emplace_back(pipe({{-330, 40, 1172}, {-330, 40, 1186}, {20, 40, 1186}, {20, 40, 1168}}, 7, 14),
                     "steel");
    return out;
}

Colored rod() {
    Colored out;
    Solid bar = revolve({{0, -250}, {26, -250}, {30, -246}, {30, 215}, {0, 215}}, 30).lay_along(0);
    out.emplace_back(bar.move({200, 0, 1120}), "bright steel");
    add_eye(out, {450, 0, 1120}, 40, 34);
    out.emplace_back(round_at(shaft(15, -112, 112, 3, 20), {450, 0, 1120}), "bright steel");
    return out;
}

Colored crate() {
    Colored out;
    out.emplace_back(block({815, 565, 60}, {1385, 1035, 440}, 4), "crate wood");
    for (const double y : {556.0, 1030.0})
        for (int i = 0; i < 4; ++i)
            out.emplace_back(block({805, y, 75 + 92.0 * i}, {1395, y + 14, 150 + 92.0 * i}, 3), "crate wood");
    for (const double x : {801.0, 1367.0})
        for (const double y : {551.0, 1021.0})
            out.emplace_back(block({x, y, 0}, {x + 32, y + 28, 449}, 4), "steel");
    for (const double y : {640.0, 800.0, 960.0})
        out.emplace_back(block({810, y - 40, 0}, {1390, y + 40, 58}, 5), "crate wood");
    return out;
}

}  // namespace

Result<std::string> loader_parts() {
    GlbScene scene(1e-3);
    scene.add_material("crane yellow", {0.88, 0.66, 0.12}, 0.1, 0.45);
    scene.add_material("dark frame", {0.19, 0.22, 0.24}, 0.2, 0.6);
    scene.add_material("deck", {0.45, 0.46, 0.45}, 0.3, 0.7);
    scene.add_material("steel", {0.55, 0.58, 0.60}, 0.7, 0.4);
    scene.add_material("bright steel", {0.78, 0.80, 0.82}, 0.9, 0.25);
    scene.add_material("red", {0.70, 0.16, 0.13}, 0.1, 0.5);
    scene.add_material("crate wood", {0.66, 0.50, 0.31}, 0, 0.85);
    const int all = scene.group("loader parts", -1);
    scene.part("Bed shape", all, bed());
    scene.part("Post shape", all, post());
    scene.part("Boom shape", all, boom());
    scene.part("Stick shape", all, stick());
    scene.part("Hook shape", all, hook());
    scene.part("Barrel shape", all, barrel());
    scene.part("Rod shape", all, rod());
    scene.part("Crate shape", all, crate());
    return scene.bytes();
}

}  // namespace pivrak::demo
