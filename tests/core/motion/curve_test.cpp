#include "core/motion/curve.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <random>

namespace pivrak {
namespace {

constexpr auto L = Interpolation::Linear;
constexpr auto S = Interpolation::Smooth;

double at(const std::vector<Key>& keys, double frame) {
    return sample_curve(compile_curve(keys), frame);
}

TEST(Curve, PassesThroughItsKeysAndHoldsOutside) {
    const std::vector<Key> keys{{0, 1, S}, {10, 5, L}, {15, -2, S}, {40, 3, S}};
    for (const Key& key : keys) EXPECT_NEAR(at(keys, key.frame), key.value, 1e-12);
    EXPECT_EQ(at(keys, -100), 1);
    EXPECT_EQ(at(keys, 41), 3);
    EXPECT_EQ(at({{7, 2.5, S}}, 0), 2.5);
}

TEST(Curve, LinearIsAStraightLine) {
    const std::vector<Key> keys{{0, 0, L}, {72, 18.84955592153876, L}};
    for (int frame = 0; frame <= 72; ++frame)
        EXPECT_NEAR(at(keys, frame), 18.84955592153876 * frame / 72, 1e-13);
}

TEST(Curve, SmoothBetweenTwoKeysIsTheCubicThatStartsAndEndsLevel) {
    // 3 t^2 - 2 t^3, the cubic with both slopes zero.
    const std::vector<Key> keys{{0, 0, S}, {10, 1, S}};
    for (double t = 0; t <= 1; t += 0.1) EXPECT_NEAR(at(keys, 10 * t), 3 * t * t - 2 * t * t * t, 1e-12);
}

TEST(Curve, SmoothNeverLeavesTheRangeOfItsTwoKeys) {
    std::mt19937 random(8);
    std::uniform_real_distribution<double> value(-5, 5), gap(0.5, 20);
    for (int round = 0; round < 200; ++round) {
        std::vector<Key> keys;
        double frame = 0;
        for (int i = 0; i < 6; ++i) keys.push_back({frame += gap(random), value(random), S});
        const auto curve = compile_curve(keys);
        for (std::size_t i = 0; i + 1 < keys.size(); ++i) {
            const auto [low, high] = std::minmax(keys[i].value, keys[i + 1].value);
            for (double t = 0; t <= 1; t += 0.05) {
                const double v = sample_curve(curve, keys[i].frame + t * (keys[i + 1].frame - keys[i].frame));
                ASSERT_GE(v, low - 1e-12);
                ASSERT_LE(v, high + 1e-12);
            }
        }
    }
}

TEST(Curve, SmoothHasNoKinkAtAnInnerKey) {
    const std::vector<Key> keys{{0, 0, S}, {10, 2, S}, {30, 3, S}, {35, 9, S}};
    const double h = 1e-5;
    for (const double frame : {10.0, 30.0}) {
        const double before = (at(keys, frame) - at(keys, frame - h)) / h,
                     after = (at(keys, frame + h) - at(keys, frame)) / h;
        EXPECT_NEAR(before, after, 1e-4);
    }
}

TEST(Curve, SmoothKeepsAnEvenRunEven) {
    // Steffen's slopes give a straight line back exactly, away from the levelled ends.
    const std::vector<Key> keys{{0, 0, S}, {10, 10, S}, {20, 20, S}, {30, 30, S}};
    for (double frame = 10; frame <= 20; frame += 0.5) EXPECT_NEAR(at(keys, frame), frame, 1e-12);
}

}  // namespace
}  // namespace pivrak
