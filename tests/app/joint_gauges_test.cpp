// Dials and rules without a window: what they read, from every side, and where they stand.
#include "app/gauges/joint_gauges.h"

#include <gtest/gtest.h>

#include "app/view/control_marks.h"
#include "core/rig/joint_motion.h"
#include "tests/support/camera.h"

namespace pivrak {
namespace {

using test::view;

Rule rule(const Vec3& direction) {
    Rule r;
    r.origin = Vec3(0.2, -0.1, 0.4);
    r.direction = direction.normalized();
    return r;
}

TEST(Rule, ReadsTheShiftOfAPlaceOnItFromAnySide) {
    for (const double azimuth : {0.3, 2.0, -1.2})
        for (const double elevation : {0.2, 0.9, -0.4}) {
            const Rule r = rule(Vec3(0.3, -0.5, 0.8));
            const Camera c = view(azimuth, elevation);
            if (r.is_end_on(c)) continue;
            for (double shift = -1; shift < 1; shift += 0.17)
                EXPECT_NEAR(r.shift_at(c, c.project(r.place(shift)).head<2>()), shift, 1e-9);
        }
}

TEST(Rule, LookedAtAlongItsDirectionItGoesUpAndDown) {
    Rule r = rule(Vec3(1, 0, 0));
    Camera c = view(0, 0);
    c.perspective = false;
    ASSERT_TRUE(r.is_end_on(c));
    const Vec2 at = c.project(r.origin).head<2>();
    EXPECT_NEAR(r.shift_at(c, at), 0, 1e-9);
    EXPECT_NEAR(r.shift_at(c, at + Vec2(0, 20)), 20 * c.metres_per_pixel(r.origin), 1e-9);
}

TEST(Rule, TicksSuitTheZoom) {
    const Rule r = rule(Vec3(0, 1, 0));
    Camera c = view(0.2, 0.3);
    double last = 1e9;
    for (c.distance = 100; c.distance > 0.01; c.distance /= 1.7) {
        const double tick = r.tick_m(c);
        const double digit = tick / std::pow(10, std::floor(std::log10(tick) + 1e-9));
        EXPECT_TRUE(std::abs(digit - 1) < 1e-6 || std::abs(digit - 2) < 1e-6 || std::abs(digit - 5) < 1e-6)
            << tick;
        const double pixels = (c.project(r.place(tick)) - c.project(r.place(0))).head<2>().norm();
        EXPECT_GT(pixels, 5);
        EXPECT_LT(pixels, 20);
        EXPECT_LE(tick, last);
        last = tick;
    }
}

TEST(ShiftDrag, StepsFinelyAndStopsAtLimits) {
    ShiftDrag drag(0.1, 0.5);
    EXPECT_NEAR(drag.move(0.5, false, false, {}), 0.1, 1e-12) << "the knob does not jump to the pointer";
    EXPECT_NEAR(drag.move(0.534, true, false, {}), 0.13, 1e-12) << "in steps of 10 mm";
    ShiftDrag fine(0, 0);
    EXPECT_NEAR(fine.move(0.5, false, true, {}), 0.05, 1e-12);
    ShiftDrag limited(0, 0);
    EXPECT_EQ(limited.move(2.0, false, false, Limits{-1, 0.7}), 0.7);
}

JointStand stand(JointKind kind) {
    JointStand s;
    s.part = PartId{7};
    s.joint.kind = kind;
    s.joint.axis = 1;
    s.world_from_rest = {Quat(Eigen::AngleAxisd(0.7, Vec3(1, 2, 3).normalized())), Vec3(0.2, 0.3, 0.4)};
    for (const ChannelKind channel : channels_of(kind)) {
        s.values.push_back(is_turn(channel) ? 0.4 : 0.15);
        s.driven.push_back(false);
    }
    s.bounds.add(Vec3(0, 0, 0));
    s.bounds.add(Vec3(0.5, 0.5, 0.5));
    return s;
}

TEST(JointGauges, OneForEachChannel) {
    for (const JointKind kind : {JointKind::Fixed, JointKind::Hinge, JointKind::Slide, JointKind::Cylinder,
                                 JointKind::Ball, JointKind::Free}) {
        const auto gauges = joint_gauges(stand(kind), view(0.5, 0.4));
        const auto kinds = channels_of(kind);
        ASSERT_EQ(gauges.size(), kinds.size());
        for (std::size_t i = 0; i < gauges.size(); ++i) {
            EXPECT_EQ(gauges[i].channel, (ChannelRef{PartId{7}, kinds[i]}));
            EXPECT_EQ(std::holds_alternative<Protractor>(gauges[i].form), is_turn(kinds[i]));
        }
    }
}

/// A dial stands on the turns that come before its own: a small change of its channel turns the part about
/// its axis. Checked against the joint's motion by finite difference.
TEST(JointGauges, DialsAndRulesStandWhereTheirChannelsMoveThePart) {
    constexpr double h = 1e-6;
    for (const JointKind kind :
         {JointKind::Hinge, JointKind::Slide, JointKind::Cylinder, JointKind::Ball, JointKind::Free}) {
        JointStand s = stand(kind);
        for (std::size_t i = 0; i < s.values.size(); ++i) s.values[i] += 0.1 * static_cast<double>(i);
        const auto frame = [&](std::size_t channel, double change) {
            std::vector<double> values = s.values;
            values[channel] += change;
            return s.world_from_rest * rest_from_part(kind, s.joint.axis, values.data());
        };
        const auto gauges = joint_gauges(s, view(0.5, 0.4));
        for (std::size_t i = 0; i < gauges.size(); ++i) {
            const Frame low = frame(i, -h), high = frame(i, h);
            if (const auto* dial = std::get_if<Protractor>(&gauges[i].form)) {
                const Eigen::AngleAxisd turned(high.rotation * low.rotation.conjugate());
                EXPECT_NEAR(turned.angle(), 2 * h, 1e-10);
                EXPECT_LT((turned.axis() - dial->axis).norm(), 1e-4);
                EXPECT_NEAR(dial->zero.dot(dial->axis), 0, 1e-12);
            } else {
                const Rule& r = std::get<Rule>(gauges[i].form);
                EXPECT_LT(((high.translation - low.translation) / (2 * h) - r.direction).norm(), 1e-8);
                if (kind != JointKind::Cylinder) {
                    EXPECT_LT((r.place(r.shift_m) - r.aside - frame(i, 0).translation).norm(), 1e-12)
                        << "the knob stands on the pivot, or beside it";
                }
            }
        }
    }
}

TEST(JointGauges, DialsAreNestedAndNeverTooSmall) {
    Camera c = view(0.5, 0.4);
    c.distance = 200;
    const auto gauges = joint_gauges(stand(JointKind::Ball), c);
    const auto radius = [&](std::size_t i) { return std::get<Protractor>(gauges[i].form).radius_m; };
    EXPECT_LT(radius(0), radius(1));
    EXPECT_LT(radius(1), radius(2)) << "z outermost: it turns first and carries the others";
    EXPECT_GT(radius(2) / c.metres_per_pixel(Vec3(0.2, 0.3, 0.4)), 50);
}

TEST(ControlLabels, NeverCoverEachOther) {
    std::vector<QRectF> boxes;
    std::vector<QSizeF> sizes;
    for (int i = 0; i < 12; ++i) {
        boxes.emplace_back(100 + 9 * (i % 4), 100 + 7 * i, 30, 20);
        sizes.emplace_back(80, 17);
    }
    const QRectF view(0, 0, 600, 400);
    LabelRoom room{view};
    const auto labels = placeLabels(boxes, sizes, room);
    ASSERT_EQ(labels.size(), boxes.size());
    int shown = 0;
    for (std::size_t i = 0; i < labels.size(); ++i) {
        if (labels[i].isEmpty()) continue;
        ++shown;
        EXPECT_TRUE(view.contains(labels[i]));
        for (std::size_t k = 0; k < i; ++k) EXPECT_FALSE(labels[i].intersects(labels[k]));
    }
    EXPECT_GE(shown, 6);
    EXPECT_FALSE(labels[0].intersects(boxes[0])) << "beside what it names";
}

}  // namespace
}  // namespace pivrak
