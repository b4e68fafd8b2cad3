#include "core/rig/gears/tooth_phase.h"

#include <gtest/gtest.h>

#include "core/geometry/teeth/crossed_gear_shapes.h"
#include "core/motion/evaluator.h"
#include "core/rig/gears/gear_pair.h"
#include "tests/support/documents.h"
#include "tests/support/interference.h"

namespace pivrak {
namespace {

using nlohmann::json;
using test::named;

constexpr double crossed_module_m = 0.004;

/// A pair whose driven member was turned or shifted off by hand, coupled.
struct Meshed {
    Document document = empty_document();
    PartId driver, driven;
    /// Places on the driven member's teeth, in its frame, that must not come into the driver.
    std::vector<Vec3> teeth;

    void couple(const char* kind, const json& more = json::object()) {
        json step{{"op", "coupling.gear"}, {"driver", "driver"}, {"driven", "driven"}, {"kind", kind}};
        step.update(more);
        document = test::run(document, step);
    }
    const GearPair& pair() const { return *document.couplings.begin()->as<GearPair>(); }

    /// The deepest that a tooth comes into the driver over `way` of its channel, in modules.
    double interference(double way, int steps, ChannelKind kind = ChannelKind::Turn) const {
        const auto evaluator = Evaluator::compile(document);
        EXPECT_TRUE(evaluator.ok());
        Pose pose = evaluator->make_pose();
        const test::ClosedBody body(*document.shapes.find(document.parts.find(driver)->shape)->mesh);
        const double reach = 0.75 * mesh_bounds(body.mesh()).longest();
        double deepest = 0;
        for (int i = 0; i < steps; ++i) {
            evaluator->evaluate(0, pose,
                                HeldChannel{*evaluator->channel_slot({driver, kind}), way * i / steps});
            const Frame driver_from_driven = pose.world_from_part[*evaluator->part_slot(driver)].inverse() *
                                             pose.world_from_part[*evaluator->part_slot(driven)];
            for (const Vec3& p : teeth) {
                const Vec3 there = driver_from_driven.point(p);
                if (there.norm() < reach) deepest = std::max(deepest, body.depth(there));
            }
        }
        return deepest / crossed_module_m;
    }
    /// The phase put off by a share of the driven one's pitch: to see that the measure can fail.
    Meshed off_by(double share_of_pitch, double pitch) const {
        Meshed other = *this;
        Coupling coupling = *document.couplings.begin();
        std::get<GearPair>(coupling.what).phase += share_of_pitch * pitch;
        other.document.couplings.set(coupling);
        return other;
    }
};

Mesh to_metres(const Solid& solid) {
    return test::to_mesh(solid);
}

std::vector<Vec3> outline_points(const GearShape& gear) {
    std::vector<Vec3> points;
    for (const Vec2& p : involute_outline(gear, 15)) points.push_back(1e-3 * Vec3(p.x(), p.y(), 0));
    return points;
}

void make_slide(Document& document, PartId id, int axis) {
    Part part = *document.parts.find(id);
    part.joint.kind = JointKind::Slide;
    part.joint.axis = axis;
    document.parts.set(part);
}

/// A pinion that turns above a rack, or below one that hangs.
Meshed rack_and_pinion(double pinion_turn, double rack_off, const Frame& world) {
    Meshed m;
    const RackShape bar{31, 4, 30, 0, 0};
    GearShape pinion{17, 4, 20, 0};
    pinion.thinning = 0;
    pinion.first_tooth_rad = pinion_turn;
    m.driver = test::add_shaped(m.document, "driver", to_metres(rack(bar)), {},
                                world * Frame{Quat::Identity(), Vec3(rack_off, 0, 0)});
    const Frame above{turn_about_axis(0, pi / 2), Vec3(0, 0, 0.034)};
    m.driven =
        test::add_shaped(m.document, "driven", to_metres(extrude(involute_outline(pinion, 15), {}, -10, 10)),
                         {}, world * above);
    make_slide(m.document, m.driver, 0);
    test::make_hinge(m.document, m.driven, 2);
    m.teeth = outline_points(pinion);
    return m;
}

TEST(ToothPhase, RackAndPinionInterleave) {
    for (const double turn : {0.0, 0.11, 0.3})
        for (const double off : {0.0, 0.0051}) {
            SCOPED_TRACE(testing::Message() << turn << " " << off);
            Meshed m =
                rack_and_pinion(turn, off, {turn_about_axis(1, 0.4) * turn_about_axis(2, 1), Vec3(1, 2, 3)});
            m.couple("rack");
            ASSERT_TRUE(m.pair().phase_measured);
            EXPECT_LT(m.interference(4 * pi * crossed_module_m, 24, ChannelKind::Shift), 0.02);
        }
    Meshed m = rack_and_pinion(0.2, 0, {});
    m.couple("rack");
    EXPECT_GT(m.off_by(0.25, 2 * pi / 17).interference(pi * crossed_module_m, 8, ChannelKind::Shift), 0.2);
}

/// Two bevels whose axes stand at an angle, meeting at the origin.
Meshed bevels(int teeth, int mate, double shaft_angle, double first_turn, double second_turn,
              const Frame& world, bool against) {
    Meshed m;
    BevelShape a{teeth, mate, 4, 16, shaft_angle, 0}, b{mate, teeth, 4, 16, shaft_angle, 0};
    const auto stand = [&](const BevelShape& g, double axis_angle, double turn, bool back) {
        const double along = 1e-3 * g.outer_cone_distance() * std::cos(g.pitch_cone_rad());
        const Frame axis{turn_about_axis(1, axis_angle), Vec3(0, 0, 0)};
        const Frame placed = axis * Frame{turn_about_axis(2, turn), Vec3(0, 0, along)};
        // As a modeller may leave it: the hinge's axis points to the apex.
        return std::pair(world * placed * Frame{turn_about_axis(0, back ? pi : 0), Vec3(0, 0, 0)},
                         Frame{turn_about_axis(0, back ? pi : 0), Vec3(0, 0, 0)});
    };
    const auto add = [&](const char* name, const BevelShape& g, const std::pair<Frame, Frame>& at) {
        const PartId id = test::add_shaped(m.document, name, to_metres(bevel_gear(g)), {}, at.first);
        Part part = *m.document.parts.find(id);
        part.part_from_shape = at.second;
        m.document.parts.set(part);
        test::make_hinge(m.document, id, 2);
        return id;
    };
    const auto second = stand(b, shaft_angle, second_turn, against);
    m.driver = add("driver", a, stand(a, 0, first_turn, false));
    m.driven = add("driven", b, second);
    // Half way along the teeth.
    const double middle = 1 - 0.5 * b.width / b.outer_cone_distance();
    const Vec3 apex(0, 0, -1e-3 * b.outer_cone_distance() * std::cos(b.pitch_cone_rad()));
    const Mesh mesh = to_metres(bevel_gear(b));
    for (const Vec3f& v : mesh.positions) {
        const Vec3 off = v.cast<double>() - apex;
        if (off.norm() > 1e-3 * (b.outer_cone_distance() - 1))
            m.teeth.push_back(second.second.point(apex + middle * off));
    }
    return m;
}

TEST(ToothPhase, BevelsInterleaveAtAnyShaftAngle) {
    struct Case {
        int teeth, mate;
        double angle, first, second;
        bool against;
    };
    for (const Case& c :
         {Case{20, 20, pi / 2, 0, 0, false}, Case{16, 31, pi / 2, 0.13, 0.4, true},
          Case{24, 18, 60 * rad_per_deg, 0.07, 1, false}, Case{18, 27, 110 * rad_per_deg, 0.2, 0.05, true}}) {
        SCOPED_TRACE(testing::Message() << c.teeth << ":" << c.mate);
        Meshed m = bevels(c.teeth, c.mate, c.angle, c.first, c.second,
                          {turn_about_axis(0, 0.7), Vec3(0.3, -2, 1)}, c.against);
        m.couple("bevel", {{"driver_teeth", c.teeth}, {"driven_teeth", c.mate}});
        ASSERT_TRUE(m.pair().phase_measured);
        EXPECT_LT(m.interference(4 * pi / c.teeth, 12), 0.02);
        EXPECT_GT(m.off_by(0.25, 2 * pi / c.mate).interference(2 * pi / c.teeth, 4), 0.2);
    }
}

/// A worm along y below its wheel.
Meshed worm_and_wheel(int starts, bool left, double worm_turn, double wheel_turn) {
    Meshed m;
    const double radius = 22, lead_angle = std::atan(starts * 4.0 / (2 * radius));
    const WormShape screw{starts, 4, radius, 90, left, 0};
    GearShape wheel{32, 4, 8, 0};
    wheel.thinning = 0;
    wheel.first_tooth_rad = wheel_turn;
    m.driver =
        test::add_shaped(m.document, "driver", to_metres(worm(screw)), {},
                         Frame{turn_about_axis(0, -pi / 2) * turn_about_axis(2, worm_turn), Vec3(0, 0, 0)});
    // Both wind the same way.
    m.driven = test::add_shaped(m.document, "driven",
                                to_metres(helical_gear(wheel, left ? -lead_angle : lead_angle)), {},
                                Frame{turn_about_axis(1, pi / 2), Vec3(0, 0.0013, 0.064 + 0.022)});
    test::make_hinge(m.document, m.driver, 2);
    test::make_hinge(m.document, m.driven, 2);
    m.teeth = outline_points(wheel);
    return m;
}

TEST(ToothPhase, WormAndWheelInterleave) {
    for (const int starts : {1, 2, 3})
        for (const bool left : {false, true}) {
            SCOPED_TRACE(testing::Message() << starts << left);
            Meshed m = worm_and_wheel(starts, left, 0.9, 0.05);
            m.couple("worm",
                     {{"driver_teeth", starts}, {"driven_teeth", 32}, {"hand", left ? "left" : "right"}});
            ASSERT_TRUE(m.pair().phase_measured);
            EXPECT_LT(m.interference(2 * pi, 8), 0.02);
            EXPECT_GT(m.off_by(0.25, 2 * pi / 32).interference(2 * pi, 2), 0.2);
        }
}

TEST(ToothPhase, ThreadsAndTheirHandShowOnTheWorm) {
    for (const int starts : {1, 2, 3, 4})
        for (const bool left : {false, true}) {
            SCOPED_TRACE(testing::Message() << starts << left);
            Meshed m = worm_and_wheel(starts, left, 0.3, 0.2);
            m.couple("worm", {{"driven_teeth", 32}});
            EXPECT_EQ(m.pair().driver_teeth, starts);
            EXPECT_EQ(m.pair().left_hand, left);
            EXPECT_TRUE(m.pair().phase_measured);
        }
}

TEST(ToothPhase, TheWormIsPickedFirst) {
    const Meshed m = worm_and_wheel(2, false, 0.3, 0.2);
    const Error refused = test::refusal(
        m.document, {{"op", "coupling.gear"}, {"driver", "driven"}, {"driven", "driver"}, {"kind", "worm"}});
    EXPECT_EQ(refused.code, "gear.worm_first") << refused.message;
    EXPECT_NE(refused.message.find("'driver'"), std::string::npos);
}

TEST(ToothPhase, IsTheSmallestThereIs) {
    Meshed m = rack_and_pinion(0.2, 0.003, {});
    m.couple("rack");
    EXPECT_LE(std::abs(m.pair().phase), pi / 17 + 1e-12);
}

TEST(ToothPhase, IsNotMadeUpWhereNoTeethShow) {
    Meshed m;
    m.driver = test::add_shaped(m.document, "driver", to_metres(shaft(20, -10, 10, 1, 48)));
    m.driven = test::add_shaped(m.document, "driven", to_metres(shaft(40, -10, 10, 1, 48)), {},
                                Frame{turn_about_axis(1, pi / 2), Vec3(-0.04, 0, 0.02)});
    test::make_hinge(m.document, m.driver, 2);
    test::make_hinge(m.document, m.driven, 2);
    m.couple("bevel", {{"driver_teeth", 20}, {"driven_teeth", 40}});
    EXPECT_FALSE(m.pair().phase_measured);
    EXPECT_EQ(m.pair().phase, 0);
}

}  // namespace
}  // namespace pivrak
