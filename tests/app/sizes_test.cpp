// A part that grows with all it carries, by hands: the tick, the gauge, keys, and what refuses.
#include "tests/app/panel_hands.h"

namespace pivrak {
namespace {

/// A box on a carrying box, a metre aside.
void addBoxes(Hands& hands) {
    runAll(hands, {{{"op", "stand_in.add"},
                    {"kind", "box"},
                    {"name", "Base"},
                    {"length", 0.5},
                    {"width", 0.5},
                    {"height", 0.2}},
                   {{"op", "stand_in.add"},
                    {"kind", "box"},
                    {"name", "Lamp"},
                    {"at", {1, 0, 0}},
                    {"length", 0.2},
                    {"width", 0.2},
                    {"height", 0.2}},
                   {{"op", "tree.parent"}, {"parts", {"Lamp"}}, {"under", "Base"}},
                   {{"op", "joint.set"}, {"parts", {"Lamp"}}, {"kind", "slide"}, {"axis", "x"}}});
    hands.key(Qt::Key_4);
    hands.click("tabJoint");
}

TEST(SizesByHand, ATickGivesASizeThatTheGaugeTypesAndDrags) {
    Hands hands(test::look());
    addBoxes(hands);
    const PartId base = hands.named("Base"), lamp = hands.named("Lamp");
    hands.clickRow(base);
    hands.click("partSizes");
    ASSERT_TRUE(hands.refusals.isEmpty()) << hands.refusals.join("; ").toStdString();
    ASSERT_TRUE(hands.session.document().parts.find(base)->joint.size.has_value());
    hands.typeAtGauge({base, ChannelKind::Size}, "1/2");
    EXPECT_NEAR(hands.session.worldFromPart(lamp).translation.x(), 0.5, 1e-9);
    EXPECT_EQ(hands.session.worldFromPart(lamp).size, 0.5);
    // A slide below it counts in the machine's own metres.
    hands.typeAtGauge({lamp, ChannelKind::Shift}, "400 mm");
    EXPECT_NEAR(hands.session.worldFromPart(lamp).translation.x(), 0.7, 1e-9);
    // Its rule stands as long as it is, so the knob stands where the lamp does.
    auto& view = hands.window.view();
    const Vec2 knob = view.gauges().active()->knob(view.camera()),
               stands = view.camera().project(hands.session.worldFromPart(lamp).translation).head<2>();
    EXPECT_LT((knob - stands).norm(), 1);
    // The size is dragged along its own rule, out to half as much again.
    hands.clickRow(base);
    hands.key(Qt::Key_Z);
    const auto gauge = *view.gauges().active();
    ASSERT_EQ(gauge.channel.kind, ChannelKind::Size);
    const Rule& rule = std::get<Rule>(gauge.form);
    const auto pixel = [&](double size) { return Hands::pixel(view.camera().project(rule.place(size))); };
    hands.drag(&view, pixel(0.5), pixel(0.75));
    EXPECT_NEAR(hands.session.valueOf({base, ChannelKind::Size}), 0.75, 0.02);
    EXPECT_NEAR(hands.session.worldFromPart(lamp).size, hands.session.valueOf({base, ChannelKind::Size}),
                1e-12);
    hands.key(Qt::Key_0);
    EXPECT_EQ(hands.session.valueOf({base, ChannelKind::Size}), 1);
    hands.typeAtGauge({base, ChannelKind::Size}, "-1");
    EXPECT_FALSE(hands.refusals.isEmpty()) << "no size is below zero";
    EXPECT_EQ(hands.session.valueOf({base, ChannelKind::Size}), 1);
}

TEST(SizesByHand, TheJointCardHasItsValueAndLimits) {
    Hands hands(test::look());
    addBoxes(hands);
    hands.clickRow(hands.named("Base"));
    hands.click("partSizes");
    hands.choose("jointChannel", "size");
    hands.type("channelValue", "2");
    EXPECT_EQ(hands.session.worldFromPart(hands.named("Lamp")).size, 2);
    hands.type("limitMin", "0.5", false);
    hands.type("limitMax", "1.5");
    EXPECT_EQ(hands.session.document().parts.find(hands.named("Base"))->joint.size->limits,
              (Limits{0.5, 1.5}));
    EXPECT_EQ(hands.session.valueOf({hands.named("Base"), ChannelKind::Size}), 1.5);
    // Key it, here and later, and it grows in between.
    hands.key(Qt::Key_K);
    const Track* track = hands.session.clip().track({hands.named("Base"), ChannelKind::Size});
    ASSERT_NE(track, nullptr);
    hands.click("partSizes");
    EXPECT_FALSE(hands.session.document().parts.find(hands.named("Base"))->joint.size.has_value());
    hands.key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_TRUE(hands.session.document().parts.find(hands.named("Base"))->joint.size.has_value());
}

}  // namespace
}  // namespace pivrak
