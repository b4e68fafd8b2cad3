#include "demo/vehicles.h"

#include <fmt/format.h>

#include <cmath>

#include "core/io/gltf/picture.h"
#include "demo/glb_scene.h"
#include "demo/laid_solids.h"

namespace pivrak::demo {

Result<std::string> cabin() {
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
                                    {{block({low, 784, 100}, {low + 800, 814, 980}, 8), "cabin red"},
                                     {block({low + 12, 790, 988}, {low + 788, 808, 2060}, 4), "glass"}});
        scene.part("door handle", door,
                   pipe({{low + (side > 0 ? 60 : 740), 816, 1000},
                         {low + (side > 0 ? 60 : 740), 850, 1000},
                         {low + (side > 0 ? 60 : 740), 850, 1280},
                         {low + (side > 0 ? 60 : 740), 816, 1280}},
                        10, 12),
                   "steel");
        scene.part("door roller", door, round_at(shaft(26, -14, 14, 3, 24), {low + 200, 802, 2098}),
                   "rubber");
        scene.part("door roller", door, round_at(shaft(26, -14, 14, 3, 24), {low + 600, 802, 2098}),
                   "rubber");
    }
    // They hang outside the wall on a rail that leaves them room to open.
    scene.part("door rail", body, block({-1260, 783, 2128}, {1260, 821, 2160}, 4), "steel");
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

}  // namespace pivrak::demo
