#include "core/rig/paths/path_curve.h"

#include <gtest/gtest.h>

#include <boost/math/special_functions/ellint_2.hpp>
#include <cmath>
#include <limits>

#include "core/rig/paths/draped_path.h"
#include "tests/support/shapes.h"

namespace pivrak {
namespace {

Path path_of(PathForm form, std::vector<Vec3> places, bool closed = false) {
    Path path;
    path.name = "test";
    path.form = form;
    path.closed = closed;
    for (const Vec3& p : places) path.points.push_back({p});
    return path;
}

Path ellipse(double a, double b) {
    return path_of(PathForm::Ellipse, {{1, 2, 3}, {1 + a, 2, 3}, {1, 2 + b, 3}});
}

// Source: perimeter 4 a E(e), the complete elliptic integral of the second kind, by Boost.Math.
TEST(PathCurve, AnEllipseIsAsLongAsItsEllipticIntegral) {
    for (const auto& [a, b] : {std::pair{1.0, 1.0}, {3.0, 1.0}, {10.0, 0.5}}) {
        const double e = std::sqrt(1 - b * b / (a * a)), exact = 4 * a * boost::math::ellint_2(e);
        EXPECT_NEAR(PathCurve::make(ellipse(a, b))->length() / exact, 1, 1e-9);
    }
}

// An independent route to the same curve: de Boor's recursion on the knots themselves.
Vec3 de_boor(const std::vector<Vec3>& controls, double t) {
    const auto k = static_cast<std::size_t>(std::floor(t));
    std::vector<Vec3> d(controls.begin() + static_cast<std::ptrdiff_t>(k),
                        controls.begin() + static_cast<std::ptrdiff_t>(k) + 4);
    for (std::size_t r = 1; r <= 3; ++r)
        for (std::size_t j = 3; j >= r; --j) {
            // Knot i stands at i - 3.
            const double from = static_cast<double>(k + j) - 3, to = from + 4 - static_cast<double>(r);
            const double alpha = (t - from) / (to - from);
            d[j] = (1 - alpha) * d[j - 1] + alpha * d[j];
        }
    return d[3];
}

TEST(PathCurve, ASmoothPathIsTheBSplineOfDeBoor) {
    const std::vector<Vec3> points{{0, 0, 0}, {1, 2, 0.5}, {3, 1, 1}, {4, -1, 0}, {6, 0, 2}};
    const auto curve = PathCurve::make(path_of(PathForm::Smooth, points));
    // The same, with the points that it goes on to beyond its ends.
    std::vector<Vec3> controls = points;
    controls.insert(controls.begin(), 2 * points[0] - points[1]);
    controls.push_back(2 * points[4] - points[3]);
    double length = 0;
    Vec3 last = de_boor(controls, 0);
    for (int i = 0; i <= 40000; ++i) {
        const Vec3 at = de_boor(controls, std::min(4.0 * i / 40000, 4 - 1e-12));
        length += (at - last).norm();
        last = at;
        if (i % 1000 == 0) {
            EXPECT_LT((curve->place(curve->nearest(at)) - at).norm(), 1e-9) << i;
        }
    }
    EXPECT_NEAR(curve->length(), length, 1e-7);
    EXPECT_LT((curve->place(0) - points.front()).norm(), 1e-12);
    EXPECT_LT((curve->place(curve->length()) - points.back()).norm(), 1e-12);
}

TEST(PathCurve, SpeedIsEvenHoweverThePointsAreSpaced) {
    Path stretched = path_of(PathForm::Bezier, {{0, 0, 0}, {0.3, 0.1, 0}, {9, 2, 1}});
    stretched.points[0].after = {0.2, 0, 0};
    stretched.points[1].before = {-0.05, -0.1, 0};
    stretched.points[1].after = {5, 3, 0};
    stretched.points[2].before = {-0.1, 0, 0};
    for (const Path& path :
         {stretched, ellipse(5, 0.4),
          path_of(PathForm::Smooth, {{0, 0, 0}, {0.1, 0, 0}, {8, 1, 0}, {8.1, 2, 0}}, true)}) {
        const auto curve = PathCurve::make(path);
        ASSERT_TRUE(curve.ok());
        const double step = curve->length() / 1000;
        for (int i = 0; i < 1000; ++i) {
            const double chord = (curve->place(step * (i + 1)) - curve->place(step * i)).norm();
            EXPECT_LE(chord, step * (1 + 1e-9));
            const double tiny = 1e-5 * curve->length(), at = step * (i + 0.5);
            EXPECT_NEAR((curve->place(at + tiny) - curve->place(at - tiny)).norm() / (2 * tiny), 1, 1e-3);
        }
    }
}

TEST(PathCurve, TangentAndCurvatureAreThoseOfACircle) {
    const auto curve = PathCurve::make(ellipse(2, 2));
    for (double s = 0; s < 12; s += 0.37) {
        const PathSample sample = curve->at(s);
        const Vec3 out = (sample.place - Vec3(1, 2, 3)).normalized();
        EXPECT_NEAR(sample.tangent.dot(out), 0, 1e-12);
        EXPECT_LT((sample.curvature + out / 2).norm(), 1e-9);
    }
    EXPECT_NEAR(curve->least_radius(), 2, 1e-9);
    EXPECT_EQ(PathCurve::make(path_of(PathForm::Polyline, {{0, 0, 0}, {1, 0, 0}, {1, 1, 0}}))->least_radius(),
              0);
    EXPECT_TRUE(
        std::isinf(PathCurve::make(path_of(PathForm::Polyline, {{0, 0, 0}, {4, 0, 1}}))->least_radius()));
}

/// Place and tangent of a helix of radius 1 and slope 0.5, and the exact rotation-minimizing direction: its
/// normal turned back by the torsion.
struct Helix {
    static constexpr double h = 0.5;
    static Vec3 place(double t) { return {std::cos(t), std::sin(t), h * t}; }
    static Vec3 tangent(double t) { return Vec3(-std::sin(t), std::cos(t), h).normalized(); }
    static Vec3 up(double t) {
        const Vec3 normal(-std::cos(t), -std::sin(t), 0), binormal = tangent(t).cross(normal);
        // Torsion h / (1 + h^2), length sqrt(1 + h^2) t.
        const double turned = -h / std::sqrt(1 + h * h) * t;
        return std::cos(turned) * normal + std::sin(turned) * binormal;
    }
};

// Source: W. Wang, B. Jüttler, D. Zheng, Y. Liu (2008): double reflection has a global error of fourth order.
TEST(CarriedUp, ItsErrorOnAHelixIsOfFourthOrder) {
    const auto error = [](int steps) {
        Vec3 up = Helix::up(0);
        const double step = 6.0 / steps;
        for (int i = 0; i < steps; ++i)
            up = carried_up(Helix::place(step * i), Helix::tangent(step * i), up,
                            Helix::place(step * (i + 1)), Helix::tangent(step * (i + 1)));
        return (up - Helix::up(6)).norm();
    };
    EXPECT_LT(error(64), 1e-4);
    for (const int steps : {16, 32, 64})
        EXPECT_NEAR(std::log2(error(steps) / error(2 * steps)), 4, 0.15) << steps;
}

TEST(PathCurve, AHelixIsMeasuredAndItsUprightDoesNotTurnAboutIt) {
    std::vector<Vec3> places;
    for (int i = 0; i <= 400; ++i) places.push_back(Helix::place(0.03 * i));
    const auto curve = PathCurve::make(path_of(PathForm::Smooth, controls_through(places, false)));
    // Away from its ends, where the spline's natural ends are not the helix.
    const double one = std::sqrt(1 + Helix::h * Helix::h), from = curve->nearest(Helix::place(1)),
                 to = curve->nearest(Helix::place(11));
    EXPECT_NEAR(to - from, 10 * one, 1e-6);
    const auto turned = [&](double along, double t) {
        const Vec3 exact = Helix::up(t), up = curve->at(along).up, tangent = Helix::tangent(t);
        return std::atan2(tangent.dot(exact.cross(up)), exact.dot(up));
    };
    EXPECT_NEAR(std::remainder(turned(to, 11) - turned(from, 1), 2 * pi), 0, 1e-6);
}

TEST(PathCurve, UprightNeverFlipsAndClosedPathsClose) {
    // A loop that stands up, drawn into a ring in space that winds.
    std::vector<Vec3> winding;
    for (int i = 0; i < 12; ++i) {
        const double t = 2 * pi * i / 12;
        winding.emplace_back(5 * std::cos(t), 5 * std::sin(t), 2 * std::sin(2 * t + 0.4));
    }
    const Path standing = path_of(PathForm::Ellipse, {{0, 0, 5}, {4, 0, 5}, {0, 0, 9}});
    for (const Path& path : {standing, path_of(PathForm::Smooth, winding, true)}) {
        const auto curve = PathCurve::make(path);
        const int steps = 500;
        Vec3 last = curve->at(0).up;
        for (int i = 1; i <= steps; ++i) {
            const PathSample sample = curve->at(curve->length() * i / steps);
            EXPECT_NEAR(sample.up.dot(sample.tangent), 0, 1e-9);
            EXPECT_LT((sample.up - last).norm(), 0.08) << i;
            last = sample.up;
        }
        EXPECT_LT((last - curve->at(0).up).norm(), 1e-6) << "closes without a jump";
    }
}

TEST(PathCurve, OpenPathsGoOnStraightAndClosedOnesRound) {
    const auto open = PathCurve::make(path_of(PathForm::Polyline, {{0, 0, 0}, {2, 0, 0}, {2, 3, 0}}));
    EXPECT_EQ(open->length(), 5);
    EXPECT_LT((open->place(-1) - Vec3(-1, 0, 0)).norm(), 1e-12);
    EXPECT_LT((open->place(7) - Vec3(2, 5, 0)).norm(), 1e-12);
    const auto closed = PathCurve::make(ellipse(2, 1));
    EXPECT_LT((closed->place(0.7) - closed->place(0.7 + 3 * closed->length())).norm(), 1e-9);
    EXPECT_LT((closed->place(-0.2) - closed->place(closed->length() - 0.2)).norm(), 1e-9);
}

TEST(PathCurve, BadPathsAreRefusedByName) {
    const auto code = [](const Path& path) {
        const auto made = PathCurve::make(path);
        EXPECT_FALSE(made.ok());
        return made ? "" : made.error().code;
    };
    EXPECT_EQ(code(path_of(PathForm::Smooth, {{1, 2, 3}})), "path.points");
    EXPECT_EQ(code(path_of(PathForm::Ellipse, {{0, 0, 0}, {1, 0, 0}})), "path.points");
    EXPECT_EQ(code(path_of(PathForm::Polyline, {{1, 1, 1}, {1, 1, 1}, {1, 1, 1}})), "path.length");
    EXPECT_EQ(code(path_of(PathForm::Smooth, {{1, 1, 1}, {1, 1, 1}})), "path.length");
    EXPECT_EQ(code(path_of(PathForm::Polyline, {{0, 0, 0}, {std::nan(""), 0, 0}})), "path.number");
    EXPECT_EQ(code(path_of(PathForm::Polyline, {{-1e308, 0, 0}, {1e308, 1e308, 0}})), "path.number");
    // Doubled points are passed over.
    const auto doubled =
        PathCurve::make(path_of(PathForm::Polyline, {{0, 0, 0}, {1, 0, 0}, {1, 0, 0}, {3, 0, 0}}));
    ASSERT_TRUE(doubled.ok());
    EXPECT_EQ(doubled->length(), 3);
    EXPECT_LT((doubled->at(1).tangent - Vec3(1, 0, 0)).norm(), 1e-12);
}

}  // namespace
}  // namespace pivrak
