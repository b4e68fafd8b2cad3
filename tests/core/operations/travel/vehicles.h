// From raw models to vehicles that drive, by jobs.
#pragma once

#include <gtest/gtest.h>

#include <cmath>
#include <functional>

#include "core/checks/findings.h"
#include "core/checks/travel/slip_check.h"
#include "core/rig/vehicles/vehicle_layout.h"
#include "demo/vehicles.h"
#include "tests/support/jobs.h"

namespace pivrak {
namespace {

using nlohmann::json;
using test::named;

const json tyres_of_truck{"truck", "tyres 1", "tyres 2", "tyres 3", "tyres 4"};
const json tyres_of_trailer{"trailer", "tyres 5", "tyres 6", "tyres 7", "tyres 8"};

inline json raw_truck_steps() {
    return {{{"op", "model.stand"}, {"scale", 0.01}, {"ground", true}, {"centre", true}},
            {{"op", "tree.tidy"}},
            {{"op", "split.pieces"}, {"parts", {"tyres"}}}};
}

inline json vehicle_steps(const char* ground) {
    json truck{{"op", "vehicle.make"}, {"parts", tyres_of_truck}, {"name", "Truck"}, {"kingpin", "160 mm"}};
    json trailer{{"op", "vehicle.make"},
                 {"parts", tyres_of_trailer},
                 {"name", "Trailer"},
                 {"hitch", "Truck body"},
                 {"hitch_at", {{"part", "drawbar eye"}, {"at", "middle"}}},
                 {"turntable", {"turntable"}},
                 {"drawbar", {"drawbar", "drawbar eye"}}};
    if (ground) truck["ground"] = trailer["ground"] = ground;
    return {truck, trailer};
}

inline json drive_steps(double from, double to, int frames) {
    const auto key = [](int frame, double along) {
        return json{{"op", "key.set"}, {"parts", {"Truck place"}}, {"channel", "along"},
                    {"frame", frame},  {"value", along},           {"interpolation", "linear"}};
    };
    return {{{"op", "path.add"},
             {"name", "road"},
             {"points", json::array({{-30, -5, 0}, {-15, -6, 0}, {0, 0, 0}, {15, 5, 0}, {30, 4, 0}})}},
            {{"op", "ride.set"}, {"parts", {"Truck place"}}, {"path", "road"}},
            {{"op", "clip.set"}, {"first_frame", 0}, {"last_frame", frames}},
            key(0, from),
            key(frames, to)};
}

inline json together(std::initializer_list<json> lists) {
    json all = json::array();
    for (const json& list : lists) all.insert(all.end(), list.begin(), list.end());
    return all;
}

inline const Document& raw_truck() {
    static const Document truck =
        test::by_job(demo::supply_truck(), {{"import", "model.glb"}, {"steps", raw_truck_steps()}});
    return truck;
}

inline Document on_wheels(const std::function<Mesh(int)>& tyre) {
    Document d = empty_document();
    test::add_shaped(d, "frame", test::box({-1.2, -0.3, 0.5}, {1.2, 0.3, 0.7}));
    int number = 0;
    for (const double x : {0.8, -0.8})
        for (const double y : {0.45, -0.45}) {
            test::add_shaped(d, "tyre " + std::to_string(number), tyre(number), {},
                             {Quat(1, 0, 0, 0), Vec3(x, y, 0.25)});
            test::add_shaped(d, "flap " + std::to_string(number),
                             test::box({-0.25, -0.04, -0.25}, {0.25, 0.04, 0.25}), {},
                             {Quat(1, 0, 0, 0), Vec3(x - 0.6, y, 0.25)});
            ++number;
        }
    return d;
}

inline Mesh lugged_tyre(double radius_mm, int lugs, double depth_mm) {
    Solid solid = wheel({radius_mm, 120, 0.6 * radius_mm, 60, lugs, depth_mm, 0});
    solid.lay_along(1);
    return test::to_mesh(solid);
}

inline Mesh notched_tyre(double radius) {
    std::vector<Vec2> outline;
    for (int i = 0; i < 72; ++i) {
        const double angle = 2 * pi * i / 72;
        const bool notch = i % 24 < 7;
        outline.push_back((notch ? 0.955 : 1.0) * radius * 1000 * Vec2(std::cos(angle), std::sin(angle)));
    }
    Solid solid = extrude(outline, {}, -60, 60);
    solid.lay_along(1);
    return test::to_mesh(solid);
}

inline const Document& stood_groomer() {
    static const Document groomer =
        test::by_job(demo::groomer(),
                     {{"import", "model.glb"},
                      {"steps", {{{"op", "model.stand"}, {"up", "+z"}, {"front", "-x"}, {"ground", true}}}}});
    return groomer;
}

struct OneAxle {
    Document d = empty_document();
    PartId tug;

    explicit OneAxle(double length, double side_slope = 0) {
        Mesh ground;
        for (const double x : {-40.0, 0.0, 40.0})
            for (const double y : {-6.0, 6.0})
                ground.positions.push_back(Vec3(x, y, x < 0 ? 0 : 0.3 * x + side_slope * y).cast<float>());
        ground.indices = {0, 2, 3, 0, 3, 1, 2, 4, 5, 2, 5, 3};
        ground.submeshes.push_back({MaterialId{}, 0, 12, {}});
        test::add_shaped(d, "ground", ground);
        tug = test::add_part(d, "tug", {}, {Quat(1, 0, 0, 0), Vec3(0, 0, 0.5)});
        Part part = *d.parts.find(tug);
        part.joint.kind = JointKind::Free;
        d.parts.set(part);
        test::add_shaped(d, "bed", test::box({-length - 1, -0.7, 0.5}, {0, 0.7, 0.8}));
        for (const double y : {-0.9, 0.9}) {
            Solid tyre = pivrak::shaft(400, -90, 90, 0, 96);
            tyre.lay_along(1);
            test::add_shaped(d, y < 0 ? "right" : "left", test::to_mesh(tyre), {},
                             {Quat(1, 0, 0, 0), Vec3(-length, y, 0.4)});
        }
        d = test::run(d, {{"op", "vehicle.make"},
                          {"parts", {"bed", "left", "right"}},
                          {"name", "Trailer"},
                          {"hitch", "tug"},
                          {"hitch_at", {0, 0, 0.5}},
                          {"ground", "ground"}});
        d = test::run(d, {{"op", "clip.set"}, {"first_frame", 0}, {"last_frame", 48}});
        for (const auto& [channel, way] : {std::pair("shift_x", 20.0), std::pair("shift_z", 6.0)})
            for (const int frame : {0, 48})
                d = test::run(d, {{"op", "key.set"},
                                  {"parts", {"tug"}},
                                  {"channel", channel},
                                  {"frame", frame},
                                  {"value", frame / 48.0 * way},
                                  {"interpolation", "linear"}});
    }
};

}  // namespace
}  // namespace pivrak
