// Controls: sized to what they drive, saved, and never delivered.
#include <gtest/gtest.h>

#include "core/io/delivery/deliver.h"
#include "core/io/gltf/gltf_read.h"
#include "core/io/project/project_file.h"
#include "core/model/control_sizes.h"
#include "core/motion/evaluator.h"
#include "tests/support/documents.h"
#include "tests/support/temp_folder.h"

namespace pivrak {
namespace {

using nlohmann::json;
using test::named;
using test::refusal;
using test::run;

Document wheel_on_a_body() {
    Document d = empty_document();
    const PartId body = test::add_shaped(d, "Body", with_normals(test::box({-2, -1, 0.3}, {2, 1, 1})));
    const PartId wheel = test::add_shaped(d, "Wheel", test::to_mesh(pivrak::shaft(300, -100, 100, 2, 48)),
                                          body, {turn_about_axis(0, pi / 2), Vec3(1, 1.2, 0.3)});
    test::make_hinge(d, wheel, 2);
    test::key(d, wheel, {{0, 0, Interpolation::Linear}, {24, 2 * pi, Interpolation::Linear}});
    return d;
}

TEST(Controls, ARingStandsAboutTheHingeJustOutsideTheWheel) {
    const Document before = wheel_on_a_body();
    const Document d = run(before, {{"op", "control.add"}, {"parts", {"Wheel"}}, {"color", "rust"}});
    const Part& control = *d.parts.find(named(d, "Wheel control"));
    ASSERT_TRUE(control.is_control());
    EXPECT_EQ(control.joint.kind, JointKind::Hinge) << "it has the wheel's joint and keys";
    EXPECT_NE(clip_or_first(d).track({control.id, ChannelKind::Turn}), nullptr);
    EXPECT_EQ(control.control->axis, 2);
    for (const auto& line : symbol_lines(*control.control))
        for (const Vec3& p : line) {
            const double radius = std::hypot(p.x(), p.y());
            EXPECT_GT(radius, 0.28);
            EXPECT_LT(radius, 0.4);
        }
    EXPECT_TRUE(*project_from_bytes(*project_bytes(d), "p") == d) << "controls are saved";
    EXPECT_LT(test::largest_move(test::vertex_places(before), test::vertex_places(d)), 1e-12);
}

TEST(Controls, EveryFormHasLinesWithinItsBox) {
    for (const auto form :
         {ControlForm::Ring, ControlForm::Box, ControlForm::Arrow, ControlForm::Cross, ControlForm::Plate})
        for (int axis = 0; axis < 3; ++axis) {
            const ControlSymbol symbol{form, ControlColor::Leaf, axis, {1, 2, 3}, {0.3, 0.2, 0.1}};
            Bounds bounds;
            for (const auto& line : symbol_lines(symbol)) {
                EXPECT_GE(line.size(), 2u);
                for (const Vec3& p : line) bounds.add(p);
            }
            EXPECT_TRUE(((bounds.max - symbol.middle_m).array() <= symbol.half_m.array() + 1e-12).all());
            EXPECT_TRUE(((symbol.middle_m - bounds.min).array() <= symbol.half_m.array() + 1e-12).all());
            EXPECT_GT(bounds.longest(), 0.1);
        }
}

TEST(Controls, ChangeFitAndRemove) {
    Document d = run(wheel_on_a_body(), {{"op", "control.add"}, {"parts", {"Wheel"}}});
    const auto symbol = [&] { return *d.parts.find(named(d, "Wheel control"))->control; };
    const ControlSymbol fitted = symbol();
    d = run(d, {{"op", "control.set"}, {"parts", {"Wheel control"}}, {"scale", 2}, {"color", "leaf"}});
    EXPECT_LT((symbol().half_m - 2 * fitted.half_m).norm(), 1e-12);
    EXPECT_EQ(symbol().color, ControlColor::Leaf);
    d = run(d, {{"op", "control.set"}, {"parts", {"Wheel control"}}, {"fit", true}});
    EXPECT_LT((symbol().half_m - fitted.half_m).norm(), 1e-12);
    d = run(d, {{"op", "control.set"}, {"parts", {"Wheel control"}}, {"form", "arrow"}, {"axis", "x"}});
    EXPECT_EQ(symbol().form, ControlForm::Arrow);
    EXPECT_EQ(refusal(d, {{"op", "control.set"}, {"parts", {"Body"}}, {"scale", 2}}).code, "control.none");
    EXPECT_EQ(refusal(d, {{"op", "control.set"}, {"parts", {"Wheel control"}}, {"scale", 0}}).code,
              "control.scale");
    EXPECT_EQ(refusal(d, {{"op", "control.add"}, {"parts", {"Wheel control"}}}).code, "control.already");
    d = run(d, {{"op", "control.remove"}, {"parts", {"Wheel control"}}});
    EXPECT_FALSE(d.parts.find(named(d, "Wheel control"))->is_control());
}

TEST(Controls, AreLeftOutOfADeliveryAndTheirMotionIsNot) {
    test::TempFolder folder;
    Document d = run(wheel_on_a_body(), {{"op", "control.add"}, {"parts", {"Wheel", "Body"}}});
    d = run(d, {{"op", "joint.set"}, {"parts", {"Body control"}}, {"kind", "free"}});
    for (const double frame : {0.0, 24.0})
        d = run(d, {{"op", "key.set"},
                    {"parts", {"Body control"}},
                    {"channel", "shift_x"},
                    {"frame", frame},
                    {"value", frame / 12}});
    const auto delivery = deliver(d, folder / "out.glb");
    ASSERT_TRUE(delivery.ok()) << delivery.error().message;
    EXPECT_EQ(delivery->parts, 2u);
    EXPECT_EQ(delivery->read_back.parts, 2u);
    EXPECT_LE(delivery->read_back.at_frames.largest_m, 1e-5) << "compared with the rig that has the controls";
    EXPECT_LE(delivery->read_back.at_frames.largest_rad, 0.001 * rad_per_deg);
    const auto with = deliver(d, folder / "with.glb", {.with_controls = true});
    ASSERT_TRUE(with.ok()) << with.error().message;
    EXPECT_EQ(with->parts, 4u);
    EXPECT_LE(with->read_back.at_frames.largest_m, 1e-5);
}

}  // namespace
}  // namespace pivrak
