// Pendulums: their period against the complete elliptic integral, what a pivot that is moved does to them,
// and that any order of frames gives the same.
#include "core/elements/constraint/swing_motion.h"

#include "core/io/delivery/deliver.h"
#include "core/motion/bake.h"
#include "tests/core/elements/standing.h"

namespace pivrak {
namespace {

using namespace test;
using nlohmann::json;

/// The complete elliptic integral of the first kind by the arithmetic-geometric mean (DLMF 19.8.5).
double elliptic_k(double modulus) {
    double a = 1, b = std::sqrt(1 - modulus * modulus);
    while (std::abs(a - b) > 1e-15) {
        const double mean = 0.5 * (a + b);
        b = std::sqrt(a * b);
        a = mean;
    }
    return pi / (2 * a);
}

/// Period of a pendulum of so much amplitude: 4 sqrt(l / g) K(sin(amplitude / 2)).
double period(double length, double amplitude) {
    return 4 * std::sqrt(length / 9.80665) * elliptic_k(std::sin(0.5 * amplitude));
}

TEST(Swing, ItsPeriodIsTheEllipticIntegrals) {
    for (const double amplitude : {0.02, 0.7, 1.5, 2.6})
        for (const double length : {0.15, 1.0, 6.0}) {
            Swing now{{std::sin(amplitude), 0, -std::cos(amplitude)}, {0, 0, 0}};
            const double whole = period(length, amplitude);
            // In steps of half a frame, as clips are gone over.
            double left = whole;
            for (; left > 1.0 / 48; left -= 1.0 / 48)
                now = swing_on(now, length, 0, {0, 0, 0}, Vec3(0, 1, 0), 1.0 / 48);
            now = swing_on(now, length, 0, {0, 0, 0}, Vec3(0, 1, 0), left);
            EXPECT_LT(angle(now.direction, {std::sin(amplitude), 0, -std::cos(amplitude)}), 2e-5)
                << amplitude << " " << length;
        }
}

TEST(Swing, DampingTakesAwayByItsLogarithmicDecrement) {
    // Small swings: amplitudes fall by exp(-damping * natural * time), at sqrt(1 - damping^2) of the
    // frequency.
    const double length = 2, damping = 0.1, natural = std::sqrt(9.80665 / length);
    const double whole = 2 * pi / (natural * std::sqrt(1 - damping * damping));
    Swing now{{std::sin(0.01), 0, -std::cos(0.01)}, {0, 0, 0}};
    now = swing_on(now, length, damping, {0, 0, 0}, Vec3(0, 1, 0), whole);
    EXPECT_NEAR(now.direction.x() / 0.01, std::exp(-damping * natural * whole), 1e-4);
}

/// A hook on a ball below a trolley that goes, stops, and stands.
Document trolley(const char* kind, double damping) {
    Document d = empty_document();
    const PartId trolley = add_part(d, "trolley", {}, {Quat(1, 0, 0, 0), Vec3(0, 0, 5)});
    add_part(d, "hook", trolley, {});
    d = run(d, {{"op", "joint.set"}, {"parts", {"trolley"}}, {"kind", "slide"}, {"axis", "x"}});
    d = run(d, {{"op", "joint.set"}, {"parts", {"hook"}}, {"kind", kind}, {"axis", "y"}});
    for (const auto& [frame, value] : {std::pair{0, 0.0}, {48, 3.0}})
        d = run(d, {{"op", "key.set"},
                    {"parts", {"trolley"}},
                    {"channel", "shift"},
                    {"frame", frame},
                    {"value", value}});
    d = run(d, {{"op", "clip.set"}, {"first_frame", 0}, {"last_frame", 240}});
    return run(d, {{"op", "constraint.add"},
                   {"parts", {"hook"}},
                   {"asks", "plumb"},
                   {"axis", "-z"},
                   {"swings", true},
                   {"length", 2},
                   {"damping", damping}});
}

/// How far the hook leans along x.
double lean(At& at, double frame) {
    const Vec3 hangs = -at(frame).world("hook").axis(2);
    return std::atan2(hangs.x(), -hangs.z());
}

TEST(Swing, AHookLagsAsItsTrolleyStartsAndSwingsOnWhenItStops) {
    for (const char* kind : {"ball", "hinge"}) {
        const Document d = trolley(kind, 0.02);
        At at(d);
        EXPECT_NEAR(lean(at, 0), 0, 1e-12) << "it begins at rest";
        EXPECT_LT(lean(at, 10), -0.02) << "it lags";
        double most = 0;
        for (double frame = 60; frame <= 110; frame += 0.5) most = std::max(most, std::abs(lean(at, frame)));
        EXPECT_GT(most, 0.05) << "it swings on";
        // From one turning point to the next but one is a period.
        std::vector<double> crossings;
        for (double frame = 60; frame < 230 && crossings.size() < 5; frame += 0.25)
            if (lean(at, frame) < 0 && lean(at, frame + 0.25) >= 0) {
                const double a = lean(at, frame), b = lean(at, frame + 0.25);
                crossings.push_back(frame + 0.25 * a / (a - b));
            }
        ASSERT_GE(crossings.size(), 2u);
        double amplitude = 0;
        for (double frame = crossings[0]; frame <= crossings[1]; frame += 0.25)
            amplitude = std::max(amplitude, std::abs(lean(at, frame)));
        const double whole = period(2, amplitude);
        EXPECT_NEAR((crossings[1] - crossings[0]) / 24, whole, 0.01 * whole) << kind;
    }
}

TEST(Swing, AnyOrderOfFramesGivesTheSameBits) {
    const Document d = trolley("ball", 0.05);
    At forward(d), any(d);
    std::vector<std::vector<double>> values;
    for (int frame = 0; frame <= 120; ++frame) values.push_back(forward(frame).pose().channels);
    for (const int frame : {120, 3, 77, 76, 12, 119, 0, 50, 50})
        EXPECT_EQ(any(frame).pose().channels, values[static_cast<std::size_t>(frame)]) << frame;
}

TEST(Swing, WhatIsDeliveredSwingsAlike) {
    for (const char* kind : {"ball", "hinge"}) {
        const Document d = trolley(kind, 0.05);
        const auto delivery = delivery_bytes(d);
        ASSERT_TRUE(delivery.ok()) << delivery.error().message;
        const auto back = compare_delivery(d, delivery->bytes, "d.glb");
        ASSERT_TRUE(back.ok());
        EXPECT_LT(back->at_frames.largest_m, 1e-5);
        const auto bake = bake_clip(d, {});
        ASSERT_EQ(bake->world_from_part.size(), bake->frames.size() * bake->parts.size());
        At at(d);
        const std::size_t frame = 60;
        for (std::size_t p = 0; p < bake->parts.size(); ++p)
            EXPECT_LT((bake->at(frame, p).translation -
                       at(60).world(name_of(d, bake->parts[p]).c_str()).translation)
                          .norm(),
                      1e-12);
    }
}

TEST(Swing, AFreePartWouldFall) {
    Document d = empty_document();
    add_part(d, "stone");
    d = run(d, {{"op", "joint.set"}, {"parts", {"stone"}}, {"kind", "free"}});
    EXPECT_EQ(
        refusal(d, {{"op", "constraint.add"}, {"parts", {"stone"}}, {"asks", "plumb"}, {"swings", true}})
            .code,
        "constraint.swing");
}

}  // namespace
}  // namespace pivrak
