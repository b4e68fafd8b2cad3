// Tangents, what lies beyond the keys, and edits of curves: by closed forms, published easings, and seams.
#include <gtest/gtest.h>

#include <algorithm>
#include <random>

#include "core/geometry/types.h"
#include "core/motion/curve_edit.h"

namespace pivrak {
namespace {

constexpr auto line = Interpolation::Linear;
constexpr auto smooth = Interpolation::Smooth;
constexpr auto step = Interpolation::Stepped;
constexpr auto flat = Interpolation::Flat;
constexpr auto own = Interpolation::Own;

Track track_of(std::vector<Key> keys, Beyond before = Beyond::Hold, Beyond after = Beyond::Hold) {
    return {{}, std::move(keys), before, after};
}

double at(const Track& track, double frame) {
    return sample_curve(compile_curve(track.keys, track.before, track.after), track.before, track.after,
                        frame);
}

/// By finite differences, of the right or the left side.
double slope_by(const Track& track, double frame, double h) {
    return (at(track, frame + h) - at(track, frame)) / h;
}

/// Of all kinds, irregularly apart, some with handles of their own.
std::vector<Key> random_keys(std::mt19937& random, int count) {
    std::uniform_real_distribution<double> value(-5, 5), gap(0.5, 20), weight(0.05, 1);
    std::vector<Key> keys;
    double frame = value(random);
    for (int i = 0; i < count; ++i) {
        Key key{frame += gap(random), value(random), static_cast<Interpolation>(random() % 5)};
        if (key.interpolation == own) key.out = Handle{0.3 * value(random), weight(random)};
        if (random() % 3 == 0) key.in = Handle{0.3 * value(random), weight(random)};
        keys.push_back(key);
    }
    return keys;
}

TEST(CurveShapes, SteppedStaysUntilTheNextKey) {
    const Track t = track_of({{0, 1, step}, {10, 4, step}, {20, -2, line}});
    EXPECT_EQ(at(t, 9.999), 1);
    EXPECT_EQ(at(t, 10), 4);
    EXPECT_EQ(at(t, 19.999), 4);
    EXPECT_EQ(at(t, 20), -2);
}

TEST(CurveShapes, FlatIsLevelAtItsKeyOnBothSides) {
    const Track t = track_of({{0, 0, smooth}, {10, 3, flat}, {20, 9, smooth}});
    EXPECT_NEAR(slope_by(t, 10, 1e-6), 0, 1e-5);
    EXPECT_NEAR(slope_by(t, 10, -1e-6), 0, 1e-5);
}

/// Source: W3C CSS Easing Functions Level 1, 2.2: `ease`, `ease-in`, `ease-out`, `ease-in-out` by their
/// control points. Progress at each share by bisection here, in a way of its own.
TEST(CurveShapes, OwnTangentsGiveThePublishedEasings) {
    const auto progress = [](double x1, double y1, double x2, double y2, double x) {
        double low = 0, high = 1;
        const auto b = [](double c1, double c2, double t) {
            return 3 * (1 - t) * (1 - t) * t * c1 + 3 * (1 - t) * t * t * c2 + t * t * t;
        };
        for (int i = 0; i < 200; ++i) (b(x1, x2, 0.5 * (low + high)) < x ? low : high) = 0.5 * (low + high);
        return b(y1, y2, low);
    };
    for (const auto& [x1, y1, x2, y2] : {std::tuple{0.25, 0.1, 0.25, 1.0},
                                         {0.42, 0.0, 1.0, 1.0},
                                         {1e-9, 0.0, 0.58, 1.0},
                                         {0.42, 0.0, 0.58, 1.0}}) {
        const double in_x = 1 - x2;
        Key a{0, 0, own}, b{1, 1, own};
        a.out = Handle{y1 / x1, x1};
        b.in = Handle{in_x > 0 ? (1 - y2) / in_x : 0, std::max(in_x, 1e-12)};
        const Track t = track_of({a, b});
        for (double x = 0; x <= 1; x += 0.01) EXPECT_NEAR(at(t, x), progress(x1, y1, x2, y2, x), 1e-8) << x;
    }
    // `ease` at a half, as the standard's curve gives it to four digits by bisection above; from memory
    // 0.8024.
    EXPECT_NEAR(progress(0.25, 0.1, 0.25, 1, 0.5), 0.8024, 1e-4);
}

/// Source: glTF 2.0, appendix C, cubic spline: the Hermite form, tangents times the time between keys.
TEST(CurveShapes, ThirdLongHandlesAreTheCubicSplineOfDeliveries) {
    Key a{3, 1, own}, b{11, -2, own};
    a.out = Handle{0.7};
    b.in = Handle{-0.4};
    const Track track = track_of({a, b});
    for (double t = 0; t <= 1; t += 0.01) {
        const double t2 = t * t, t3 = t2 * t, td = 8;
        const double hermite = (2 * t3 - 3 * t2 + 1) * 1 + td * (t3 - 2 * t2 + t) * 0.7 +
                               (-2 * t3 + 3 * t2) * -2 + td * (t3 - t2) * -0.4;
        EXPECT_NEAR(at(track, 3 + 8 * t), hermite, 1e-12) << t;
    }
}

/// Source: F. N. Fritsch, R. E. Carlson, Monotone piecewise cubic interpolation, SIAM J. Numer. Anal. 17
/// (1980): slopes over the secant inside the circle of radius 3 keep a run monotone.
TEST(CurveShapes, SmoothSlopesAreInsideTheCircleOfMonotoneRuns) {
    std::mt19937 random(4);
    for (int round = 0; round < 300; ++round) {
        std::vector<Key> keys = random_keys(random, 8);
        for (Key& key : keys) key = {key.frame, key.value};
        const auto curve = compile_curve(keys);
        for (std::size_t i = 0; i + 1 < curve.size(); ++i) {
            const double secant =
                (curve[i + 1].value - curve[i].value) / (curve[i + 1].frame - curve[i].frame);
            const double a = curve[i].out / secant, b = curve[i + 1].in / secant;
            EXPECT_GE(std::min(a, b), 0);
            EXPECT_LE(a * a + b * b, 9 + 1e-9);
        }
    }
}

TEST(CurveShapes, BeyondTheKeysItRepeatsAddsUpSwingsAndGoesOn) {
    const std::vector<Key> keys{{1, 60, smooth}, {7, -40, smooth}, {13, 60, smooth}};
    // The figures of the job: keys at 1, 7, 13 with 60, -40, 60 play 1 to 12.
    const Track repeat = track_of(keys, Beyond::Repeat, Beyond::Repeat);
    for (double frame = 1; frame < 13; frame += 0.25)
        for (const int round : {-3, -1, 1, 4})
            EXPECT_NEAR(at(repeat, frame + 12 * round), at(repeat, frame), 1e-9) << frame;
    const Track turns = track_of({{0, 0, line}, {24, 2 * pi, line}}, Beyond::AddUp, Beyond::AddUp);
    for (double frame = -100; frame <= 200; frame += 3.7)
        EXPECT_NEAR(at(turns, frame), 2 * pi * frame / 24, 1e-9) << "a wheel adds up";
    const Track swing = track_of({{0, 0, line}, {10, 5, line}}, Beyond::Swing, Beyond::Swing);
    for (const auto& [frame, value] :
         {std::pair(-3.0, 1.5), {12, 4}, {20, 0}, {23, 1.5}, {37, 1.5}, {-10, 5}})
        EXPECT_NEAR(at(swing, frame), value, 1e-12) << frame;
    const Track on =
        track_of({{0, 0, line}, {10, 5, line}, {20, 20, line}}, Beyond::Straight, Beyond::Straight);
    EXPECT_NEAR(at(on, -4), -2, 1e-12);
    EXPECT_NEAR(at(on, 30), 35, 1e-12);
    const Track bent =
        track_of({{0, 0, smooth}, {10, 5, smooth}, {20, 20, smooth}}, Beyond::Hold, Beyond::Straight);
    EXPECT_NEAR(slope_by(bent, 20, -1e-6), slope_by(bent, 25, 1e-3), 1e-4) << "it goes on as it came";
    EXPECT_EQ(at(track_of({{5, 2, smooth}}, Beyond::Repeat, Beyond::AddUp), 99), 2) << "one key only holds";
}

/// Value and speed at the seam; a smooth cycle does not stop there.
TEST(CurveShapes, WhatRepeatsGoesOverItsSeamWithoutAJumpOrAStop) {
    const Track t = track_of({{0, 0, smooth}, {5, 3, smooth}, {12, 4, smooth}, {24, 7, smooth}},
                             Beyond::AddUp, Beyond::AddUp);
    for (const double seam : {0.0, 24.0, 48.0}) {
        EXPECT_NEAR(at(t, seam - 1e-9), at(t, seam + 1e-9), 1e-7) << seam;
        EXPECT_NEAR(slope_by(t, seam, 1e-6), slope_by(t, seam, -1e-6), 1e-4) << seam;
        EXPECT_GT(slope_by(t, seam, 1e-6), 0.05) << "it does not stop";
    }
    std::mt19937 random(9);
    for (int round = 0; round < 200; ++round) {
        Track any = track_of(random_keys(random, 6), Beyond::AddUp, Beyond::AddUp);
        // A run that steps jumps where the next key stands, at the seam too.
        if (any.keys[4].interpolation == step) continue;
        const double seam = any.keys.back().frame;
        EXPECT_NEAR(at(any, seam - 1e-9), at(any, seam + 1e-9), 1e-6);
    }
}

TEST(CurveShapes, AnInsertedKeyLeavesTheCurveAsItIs) {
    std::mt19937 random(21);
    constexpr Beyond ways[] = {Beyond::Hold, Beyond::Straight, Beyond::Repeat, Beyond::AddUp, Beyond::Swing};
    for (int round = 0; round < 400; ++round) {
        const Track before = track_of(random_keys(random, 5), ways[random() % 5], ways[random() % 5]);
        Track after = before;
        const double first = before.keys.front().frame, last = before.keys.back().frame;
        for (int i = 0; i < 3; ++i)
            insert_key(after, first + (last - first) * std::uniform_real_distribution<double>(0, 1)(random));
        ASSERT_EQ(after.keys.size(), 8u);
        EXPECT_LT(furthest_apart(before, after, first - 30, last + 30), 1e-9) << round;
    }
}

TEST(CurveShapes, ThinnedItStaysWithinItsTolerance) {
    std::mt19937 random(5);
    for (int round = 0; round < 40; ++round) {
        Track dense = track_of({});
        const double pace = std::uniform_real_distribution<double>(0.02, 0.3)(random);
        for (int f = 0; f <= 120; ++f)
            dense.keys.push_back({static_cast<double>(f), 3 * std::sin(pace * f) + 0.01 * f, line});
        for (const double tolerance : {0.1, 0.01, 1e-3}) {
            Track thin = dense;
            const std::size_t gone = thin_keys(thin, 0, 120, tolerance);
            // Straight runs of a frame are off a bend by up to 0.034 themselves.
            if (tolerance > 0.05) EXPECT_GT(gone, 60u) << pace;
            EXPECT_LE(furthest_apart(dense, thin, 0, 120), tolerance * (1 + 1e-9)) << pace;
        }
    }
    for (int round = 0; round < 200; ++round) {
        const Track any = track_of(random_keys(random, 12));
        Track thin = any;
        thin_keys(thin, any.keys[2].frame, any.keys[9].frame, 0.5);
        EXPECT_LE(furthest_apart(any, thin, any.keys.front().frame, any.keys.back().frame), 0.5 * (1 + 1e-9));
        EXPECT_EQ(thin.keys.front(), any.keys.front());
    }
}

TEST(CurveShapes, TurnedRoundTwiceItIsAsItWas) {
    std::mt19937 random(6);
    for (int round = 0; round < 200; ++round) {
        Track before = track_of(random_keys(random, 6));
        // Frames that are turned round without rounding, so that steps stay on their side.
        for (Key& key : before.keys) key.frame = std::round(4 * key.frame) / 4;
        const double first = before.keys[1].frame, last = before.keys[4].frame;
        Track turned = before;
        reverse_keys(turned, 1, 4);
        const bool steps = std::any_of(before.keys.begin(), before.keys.end(),
                                       [](const Key& key) { return key.interpolation == step; });
        for (double share = 0.01; share < 1 && !steps; share += 0.07)
            EXPECT_NEAR(at(turned, first + share * (last - first)), at(before, last - share * (last - first)),
                        1e-9);
        reverse_keys(turned, 1, 4);
        EXPECT_LT(furthest_apart(before, turned, first - 20, last + 20), 1e-9) << round;
    }
}

/// Differences of the curve tell the slope that is said of it.
TEST(CurveShapes, SlopesAreThoseOfTheCurve) {
    std::mt19937 random(13);
    for (int round = 0; round < 100; ++round) {
        const Track t = track_of(random_keys(random, 5), Beyond::Swing, Beyond::AddUp);
        const auto curve = compile_curve(t.keys, t.before, t.after);
        const double first = t.keys.front().frame, around = t.keys.back().frame - first;
        for (double share = -0.93; share < 2; share += 0.117) {
            const double frame = first + share * around;
            const bool near_key = std::any_of(t.keys.begin(), t.keys.end(), [&](const Key& key) {
                return std::abs(std::remainder(frame - key.frame, around)) < 1e-3 ||
                       std::abs(std::remainder(frame + key.frame - 2 * first, around)) < 1e-3;
            });
            if (near_key) continue;
            EXPECT_NEAR(curve_slope(curve, t.before, t.after, frame),
                        (at(t, frame + 1e-6) - at(t, frame - 1e-6)) / 2e-6, 1e-3 * (1 + around))
                << share;
        }
    }
}

}  // namespace
}  // namespace pivrak
