#include "core/geometry/fits/recognise.h"

#include <gtest/gtest.h>

#include <map>
#include <random>

#include "core/geometry/fits/cylinder_fit.h"
#include "core/geometry/fits/outline_sides.h"
#include "core/geometry/fits/revolution_fit.h"
#include "core/geometry/fits/round_axis.h"
#include "core/geometry/mesh/extent.h"
#include "core/geometry/mesh/mesh_edit.h"
#include "core/geometry/mesh/mesh_faults.h"
#include "core/geometry/mesh/pieces.h"
#include "core/geometry/teeth/tooth_count.h"
#include "tests/support/labelled_shapes.h"
#include "tests/support/shapes.h"

namespace pivrak {
namespace {

Mesh noisy(const Mesh& mesh, double amount_m, unsigned seed) {
    const auto amount = static_cast<float>(amount_m);
    return test::shaken(mesh, std::uniform_real_distribution<float>(-amount, amount), seed);
}

GearShape gear_with(int teeth, int holes) {
    GearShape g{teeth, 4, 20, 3};
    if (holes > 0 && teeth > 20) {
        g.hub_radius = 0.15 * 4 * teeth;
        g.web = 8;
        g.holes = holes;
        g.hole_radius = 0.05 * 4 * teeth;
    }
    return g;
}

/// Every count from 8 to 200, with spokes and holes, and with vertices off by 2 % of the module.
TEST(CountTeeth, EveryCountIsRight) {
    for (int teeth = 8; teeth <= 200; ++teeth) {
        SCOPED_TRACE(teeth);
        GearShape shape = gear_with(teeth, teeth % 3 == 0 ? 5 + teeth % 4 : 0);
        shape.first_tooth_rad = 0.01 * teeth;
        const Mesh clean = test::to_mesh(gear(shape));
        for (const Mesh& mesh : {clean, noisy(clean, 0.02 * 4e-3, static_cast<unsigned>(teeth))}) {
            const auto counted = count_outside_teeth(mesh, Frame{});
            ASSERT_TRUE(counted.has_value());
            EXPECT_EQ(counted->teeth, teeth);
            // Tip circle, ISO 53: module (z + 2) / 2.
            EXPECT_NEAR(counted->tip_radius_m, 4e-3 * (teeth + 2) / 2, 0.05 * 4e-3);
        }
    }
}

// Source: ISO 606:2015, table 1: pitch p and roller diameter d1 of chains of the European series [mm].
TEST(RollerChains, AreThoseOfTheStandard) {
    const std::map<std::string, std::pair<double, double>> standard{
        {"05B", {8.0, 5.0}},     {"06B", {9.525, 6.35}}, {"08B", {12.7, 8.51}},   {"10B", {15.875, 10.16}},
        {"12B", {19.05, 12.07}}, {"16B", {25.4, 15.88}}, {"20B", {31.75, 19.05}}, {"24B", {38.1, 25.4}},
        {"28B", {44.45, 27.94}}, {"32B", {50.8, 29.21}}, {"40B", {63.5, 39.37}}};
    ASSERT_EQ(roller_chains().size(), standard.size());
    for (const ChainSize& size : roller_chains()) {
        const auto known = standard.find(std::string(size.name));
        ASSERT_NE(known, standard.end()) << size.name;
        EXPECT_NEAR(size.pitch_m, 1e-3 * known->second.first, 1e-9) << size.name;
        EXPECT_NEAR(size.roller_m, 1e-3 * known->second.second, 1e-9) << size.name;
    }
}

TEST(CountTeeth, RoundSquareAndFacetedThingsHaveNone) {
    for (const Mesh& mesh :
         {test::to_mesh(shaft(25, -40, 40, 1, 400)), test::box({-1, -1, -1}, {1, 1, 1}), Mesh{},
          test::to_mesh(extrude(circle(50, 8), {}, 0, 20)), test::to_mesh(extrude(circle(50, 6), {}, 0, 20))})
        EXPECT_FALSE(count_outside_teeth(mesh, Frame{}).has_value());
}

struct Expected {
    const char* name;
    Solid solid;
    MachineElement element;
    double radius_mm, width_mm;
    int teeth;
};

std::vector<Expected> elements() {
    return {
        {"gear", gear({51, 8, 80, 42, 78, 14, 30, 6, 34}), MachineElement::Gear, 8 * 53 / 2.0, 108, 51},
        {"pinion", gear({17, 8, 92, 30}), MachineElement::Gear, 8 * 19 / 2.0, 92, 17},
        {"ring gear", ring_gear({60, 6, 76, 0}, 254, hole_ring(12, 228, 8, 12)), MachineElement::RingGear,
         6 * 58 / 2.0, 76, 60},
        {"sprocket", sprocket({19, 25.4, 15.88, 15.8, 48, 62, 26}), MachineElement::Sprocket, 0, 41.8, 19},
        {"large sprocket", sprocket({38, 25.4, 15.88, 15.8, 55, 92, 30}), MachineElement::Sprocket, 0, 45.8,
         38},
        {"wheel", wheel({480, 320, 270, 60, 22, 18, 8}), MachineElement::Wheel, 480, 320, 0},
        {"smooth wheel", wheel({310, 220, 190, 0}), MachineElement::Wheel, 310, 220, 0},
        {"shaft",
         revolve({{0, -402}, {27, -402}, {30, -399}, {30, -196}, {38, -192}, {38, 220}, {0, 224}}, 40),
         MachineElement::Shaft, 38, 626, 0},
        {"washer", revolve({{20, 0}, {40, 0}, {40, 4}, {20, 4}}, 40, true), MachineElement::Disc, 40, 4, 0},
        {"plate", plate(600, 300, 12, 20), MachineElement::Plate, 150, 12, 0}};
}

TEST(Recognise, MachineElementsInAnyPose) {
    for (const Expected& e : elements())
        for (const Frame& pose : test::world_poses()) {
            SCOPED_TRACE(e.name);
            const auto r = recognise(transformed(test::to_mesh(e.solid), pose));
            ASSERT_TRUE(r.has_value());
            EXPECT_EQ(element_name(r->element), element_name(e.element));
            EXPECT_EQ(r->teeth, e.teeth);
            if (e.radius_mm > 0) {
                EXPECT_NEAR(r->radius_m, e.radius_mm * 1e-3, 2e-4 * e.radius_mm * 1e-3 + 5e-5);
            }
            EXPECT_NEAR(r->width_m, e.width_mm * 1e-3, 1e-5);
            EXPECT_NEAR(std::abs(r->axis_direction.dot(pose.direction(Vec3::UnitZ()))), 1, 1e-6);
            EXPECT_GT(r->confidence, 0.5);
            EXPECT_LE(r->confidence, 1.0 + 1e-9);
        }
}

/// The same gear, seven hundredths larger, is of no standard module: it is as likely, no surer.
TEST(Recognise, AModuleOfTheStandardSpeaksForAGear) {
    const Mesh gear_mesh = test::to_mesh(gear({51, 8, 80, 42}));
    const auto standard = recognise(gear_mesh), odd = recognise(scaled(gear_mesh, 1.07));
    ASSERT_TRUE(standard && odd);
    EXPECT_EQ(odd->teeth, 51);
    EXPECT_GT(standard->confidence, odd->confidence);
    EXPECT_LT(1 - standard->confidence, 0.5 * (1 - odd->confidence));
    EXPECT_LT(standard->confidence, 1);
}

TEST(Recognise, ModulesAndPitchesAreThoseMade) {
    EXPECT_NEAR(recognise(test::to_mesh(gear({51, 8, 80, 42})))->module_m, 8e-3, 1e-5);
    EXPECT_NEAR(recognise(test::to_mesh(ring_gear({60, 6, 76, 0}, 254, {})))->module_m, 6e-3, 1e-4);
    // Source: ISO 606:2015, chain 16B.
    EXPECT_NEAR(recognise(test::to_mesh(sprocket({19, 25.4, 15.88, 15.8, 48})))->pitch_m, 25.4e-3, 1e-9);
}

TEST(Recognise, LumpsAreNothing) {
    EXPECT_FALSE(recognise(test::box({0, 0, 0}, {1, 0.8, 0.9})).has_value());
    EXPECT_FALSE(recognise(Mesh{}).has_value());
    Mesh bracket =
        test::joined(test::box({0, 0, 0}, {0.3, 0.1, 0.05}), test::box({0.2, 0.02, 0.05}, {0.29, 0.05, 0.4}));
    EXPECT_FALSE(recognise(bracket).has_value());
}

struct Told {
    double confidence;
    bool right;
};

std::vector<Told> told_of_labelled(const Frame& pose, double noise_share) {
    std::vector<Told> told;
    unsigned seed = 1;
    for (const test::LabelledShape& shape : test::labelled_shapes()) {
        Mesh mesh = transformed(shape.mesh, pose);
        if (noise_share > 0) mesh = noisy(mesh, noise_share * mesh_bounds(mesh).longest(), seed++);
        const auto r = recognise(mesh);
        const bool right = r ? r->element == shape.label : !shape.label;
        told.push_back({r ? r->confidence : 1.0, right});
        if (!right)
            std::printf("%s: told as %s\n", shape.name.c_str(),
                        r ? std::string(element_name(r->element)).c_str() : "nothing");
    }
    return told;
}

double share_right(const std::vector<Told>& told) {
    double right = 0;
    for (const Told& t : told) right += t.right;
    return right / static_cast<double>(told.size());
}

/// The labels are ours (labelled_shapes.h): what a mechanic calls them. A pot is told as a wheel, and may be.
TEST(Recognise, AtLeast95Of100LabelledShapesAreTold) {
    ASSERT_EQ(test::labelled_shapes().size(), 60u);
    for (const Frame& pose : test::world_poses()) EXPECT_GE(share_right(told_of_labelled(pose, 0)), 0.95);
    // A tenth of a per cent of each size: what rounding and scans leave.
    EXPECT_GE(share_right(told_of_labelled(test::world_poses()[1], 0.0005)), 0.9);
}

/// Of what is told with some confidence, as many are right, or more.
TEST(Recognise, ConfidenceIsWhatItSays) {
    const std::vector<Told> told = told_of_labelled(test::world_poses()[2], 0);
    for (const auto& [from, to] : {std::pair(0.35, 0.6), {0.6, 0.8}, {0.8, 0.9}, {0.9, 0.99}}) {
        double count = 0, right = 0, said = 0;
        for (const Told& t : told)
            if (t.confidence >= from && t.confidence < to) {
                ++count;
                right += t.right;
                said += t.confidence;
            }
        ASSERT_GT(count, 1) << from;
        EXPECT_GE(right / count, said / count - 0.05) << "between " << from << " and " << to;
    }
    for (const Told& t : told) EXPECT_TRUE(t.right || t.confidence < 0.9) << "sure of what is wrong";
}

TEST(Recognise, LugsAreNoTeeth) {
    const auto tyre = recognise(test::to_mesh(wheel({400, 240, 230, 40, 20, 30, 6})));
    ASSERT_TRUE(tyre.has_value());
    EXPECT_EQ(element_name(tyre->element), "wheel");
    EXPECT_EQ(tyre->lugs, 20);
    EXPECT_EQ(tyre->teeth, 0);
    EXPECT_EQ(tyre->module_m, 0);
}

TEST(FreeRadius, IsThatOfTheHoleOrNothing) {
    const Mesh ring = test::to_mesh(extrude(circle(50, 64), {circle(20, 6)}, 0, 10));
    // The middles of a hexagon's sides come nearest.
    EXPECT_NEAR(free_radius(ring, Vec3::Zero(), Vec3::UnitZ()), 0.02 * std::cos(pi / 6), 1e-6);
    EXPECT_EQ(free_radius(test::box({-1, -1, -1}, {1, 1, 1}), {0.1, 0.2, 0}, Vec3::UnitZ()), 0);
    EXPECT_NEAR(free_radius(test::box({-1, -1, -1}, {1, 1, 1}), {3, 0, 0}, Vec3::UnitZ()), 2, 1e-6);
}

TEST(OutlineSides, ANutIsRounderInsideAndAPostIsNot) {
    const auto sides = [](const Solid& solid) {
        return outline_sides(test::to_mesh(solid), Vec3::Zero(), Vec3::UnitZ());
    };
    const OutlineSides post = sides(extrude(circle(12, 7), {}, 0, 10)),
                       nut = sides(extrude(circle(12, 6), {circle(6, 24)}, 0, 10)),
                       slab = sides(extrude(rectangle(30, 20, 0), {}, 0, 10));
    EXPECT_EQ(post.count, 7);
    EXPECT_TRUE(post.regular && post.alone);
    EXPECT_EQ(nut.count, 6);
    EXPECT_TRUE(nut.regular);
    EXPECT_FALSE(nut.alone);
    EXPECT_FALSE(slab.regular);
}

/// A tyre alone: its profile is turned, but nothing on it is a cylinder.
TEST(RoundAxis, OfASawBladeIsSquareToItsSides) {
    // Nothing of it lies on a cylinder or any turned profile; its teeth go round.
    constexpr int teeth = 31;
    Loop loop;
    for (int k = 0; k < teeth; ++k)
        for (const auto& [share, radius] : {std::pair(0.0, 85.0), std::pair(0.8, 100.0)}) {
            const double a = 2 * pi * (k + share) / teeth;
            loop.push_back(radius * Vec2(std::cos(a), std::sin(a)));
        }
    for (const Frame& pose : test::world_poses()) {
        const Mesh blade = transformed(test::to_mesh(extrude(loop, {}, -2, 2)), pose);
        EXPECT_FALSE(fit_cylinder(blade).ok());
        const auto axis = round_axis(blade);
        ASSERT_TRUE(axis.ok()) << axis.error().message;
        EXPECT_LT(axis->direction.cross(pose.axis(2)).norm(), 1e-5);
        EXPECT_LT((axis->point - pose.translation).norm(), 2e-5);
        EXPECT_NEAR(axis->radius_m, 0.1, 1e-5);
    }
}

TEST(RevolutionFit, FindsTheAxisOfATurnedProfile) {
    const Solid torus = revolve({{90, -20}, {104, -14}, {110, 0}, {104, 14}, {90, 20}, {80, 0}}, 60, true);
    for (const Frame& pose : test::world_poses()) {
        const auto fit = fit_revolution(transformed(test::to_mesh(torus), pose));
        ASSERT_TRUE(fit.has_value());
        EXPECT_NEAR(std::abs(fit->axis_direction.dot(pose.direction(Vec3::UnitZ()))), 1, 1e-9);
        const Vec3 off = fit->axis_point - pose.translation;
        EXPECT_LT((off - off.dot(fit->axis_direction) * fit->axis_direction).norm(), 1e-5);
        EXPECT_NEAR(fit->outer_radius_m, 0.110, 1e-5);
        EXPECT_NEAR(fit->support, 1, 1e-6);
    }
}

TEST(RevolutionFit, SpheresAndBoxesHaveNoOneAxis) {
    const Solid sphere = [] {
        std::vector<ProfilePoint> profile;
        for (int i = 0; i <= 32; ++i)
            profile.push_back({std::max(0.0, std::sin(pi * i / 32)), -std::cos(pi * i / 32)});
        return revolve(profile, 64);
    }();
    // The facets of a ball turned on a lathe know its axis.
    const auto fit = fit_revolution(solid_mesh(sphere, 1));
    ASSERT_TRUE(fit.has_value());
    EXPECT_NEAR(std::abs(fit->axis_direction.z()), 1, 1e-6);
    EXPECT_LT(fit->axis_point.head<2>().norm(), 1e-6);
    EXPECT_FALSE(fit_revolution(test::box({0, 0, 0}, {1, 0.7, 0.9})).has_value());
    EXPECT_FALSE(fit_revolution(Mesh{}).has_value());
}

TEST(StandInShapes, AreClosedAndLookOutwards) {
    for (const Expected& e : elements()) {
        SCOPED_TRACE(e.name);
        const Mesh mesh = test::to_mesh(e.solid);
        const MeshFaults faults = mesh_faults(mesh);
        EXPECT_EQ(faults.open_edges, 0u);
        EXPECT_EQ(faults.crowded_edges, 0u);
        EXPECT_EQ(faults.turned_faces, 0u);
        EXPECT_EQ(faults.zero_area_faces, 0u);
        EXPECT_GT(enclosed_volume(mesh), 0);
        EXPECT_EQ(label_loose_pieces(mesh).count, 1u);
    }
    EXPECT_EQ(mesh_faults(test::to_mesh(inner_link(25.4, 15.88, 17, 21, 3.2))).open_edges, 0u);
    EXPECT_EQ(mesh_faults(test::to_mesh(outer_link(25.4, 8.28, 17, 21, 3.2))).open_edges, 0u);
}

}  // namespace
}  // namespace pivrak
