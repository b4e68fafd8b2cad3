#include "core/rig/paths/path_edit.h"

#include <gtest/gtest.h>

#include <cmath>

namespace pivrak {
namespace {

Path winding(PathForm form, bool closed = false) {
    Path path;
    path.name = "winding";
    path.form = form;
    path.closed = closed;
    for (const Vec3& p : {Vec3(0, 0, 0), Vec3(4, 1, 0), Vec3(5, 5, 1), Vec3(-1, 6, 0)})
        path.points.push_back({p});
    if (form == PathForm::Bezier) return with_handles(path, {0, 1, 2, 3}, true);
    return path;
}

Path circle() {
    Path path;
    path.form = PathForm::Ellipse;
    path.points = {{{0, 0, 0}}, {{3, 0, 0}}, {{0, 3, 0}}};
    return path;
}

/// How far a curve comes from another one, by many places of each: no use of the search for the nearest.
double farthest(const PathCurve& curve, const PathCurve& other) {
    constexpr int looks = 900;
    std::vector<Vec3> places;
    for (int i = 0; i <= looks; ++i) places.push_back(other.place(other.length() * i / looks));
    double most = 0;
    for (int i = 0; i <= looks; ++i) {
        const Vec3 at = curve.place(curve.length() * i / looks);
        double least = 1e300;
        for (const Vec3& place : places) least = std::min(least, (place - at).norm());
        most = std::max(most, least);
    }
    return most;
}

TEST(PathEdit, APointMoreKeepsTheShape) {
    for (const PathForm form : {PathForm::Polyline, PathForm::Bezier})
        for (const bool closed : {false, true}) {
            const Path path = winding(form, closed);
            const double length = PathCurve::make(path)->length();
            for (const double share : {0.0, 0.31, 0.66, 0.97}) {
                const auto more = with_point(path, share * length);
                ASSERT_TRUE(more.ok());
                EXPECT_EQ(more->path.points.size(), 5u);
                EXPECT_LT(more->deviation_m, 1e-9);
                const auto curve = PathCurve::make(more->path);
                EXPECT_NEAR(curve->length(), length, 1e-9 * length);
                bool there = false;
                for (const double at : curve->point_places()) there |= std::abs(at - share * length) < 1e-6;
                EXPECT_TRUE(there) << share;
            }
        }
}

TEST(PathEdit, RespacingPutsPointsAtEvenDistances) {
    for (const Path& path :
         {winding(PathForm::Polyline), winding(PathForm::Smooth, true), winding(PathForm::Bezier), circle()})
        for (const int count : {8, 40}) {
            const auto edit = respaced(path, count);
            ASSERT_TRUE(edit.ok());
            EXPECT_EQ(edit->path.points.size(), static_cast<std::size_t>(count));
            const auto before = PathCurve::make(path), after = PathCurve::make(edit->path);
            // The places it runs through lie at even distances of the path that was.
            const double step = before->length() / (before->closed() ? count : count - 1);
            for (int i = 0; i < count; ++i) {
                const Vec3 wanted = before->place(step * i);
                EXPECT_LT((after->place(after->nearest(wanted)) - wanted).norm(), 1e-6) << i;
            }
            // Places of the check may miss a corner by half their step.
            const double wanted = std::max(farthest(*after, *before), farthest(*before, *after));
            EXPECT_GT(edit->deviation_m, wanted - 1e-3);
            EXPECT_LT(edit->deviation_m, wanted + 0.5 * before->length() / 900 + 1e-4);
        }
    EXPECT_LT(respaced(circle(), 64)->deviation_m, 1e-4) << "many points come close";
    EXPECT_EQ(respaced(circle(), 2).error().code, "path.count");
    EXPECT_EQ(respaced(circle(), 1000000).error().code, "path.count");
}

TEST(PathEdit, ReversingTurnsTheDirectionRoundAndNothingElse) {
    for (Path path : {winding(PathForm::Smooth), winding(PathForm::Bezier, true), circle()}) {
        path.rolls = {{1, 0.2}, {3, -0.4}};
        const Path back = reversed(path);
        const auto a = PathCurve::make(path), b = PathCurve::make(back);
        EXPECT_NEAR(a->length(), b->length(), 1e-9);
        for (const double s : {0.2, 1.7, 5.0})
            EXPECT_LT((a->place(s) - b->place(b->length() - s)).norm(), 1e-8) << s;
        EXPECT_NEAR(back.rolls.back().at_m, a->length() - 1, 1e-9);
        EXPECT_EQ(back.rolls.back().roll_rad, -0.2);
    }
}

TEST(PathEdit, AnyPathIsABezierPath) {
    for (const Path& path :
         {winding(PathForm::Polyline), winding(PathForm::Smooth), winding(PathForm::Smooth, true)})
        EXPECT_LT(with_form(path, PathForm::Bezier)->deviation_m, 1e-9);
    EXPECT_LT(with_form(circle(), PathForm::Bezier)->deviation_m, 3e-6);
    EXPECT_EQ(with_form(winding(PathForm::Smooth), PathForm::Ellipse).error().code, "path.form");
}

TEST(PathEdit, CornersAndPointsTakenOut) {
    const Path path = winding(PathForm::Bezier);
    const Path corner = with_handles(path, {1}, false);
    EXPECT_EQ(corner.points[1].before, Vec3(0, 0, 0));
    EXPECT_EQ(PathCurve::make(corner)->least_radius(), 0);
    EXPECT_EQ(without_points(path, {1, 2})->points.size(), 2u);
    EXPECT_EQ(without_points(path, {0, 1, 2}).error().code, "path.points");
    EXPECT_EQ(without_points(path, {9}).error().code, "path.index");
    EXPECT_EQ(without_points(circle(), {1}).error().code, "path.form");
}

TEST(PathEdit, AFlatPathTellsItsPlane) {
    EXPECT_NEAR(std::abs(plane_normal(circle())->z()), 1, 1e-12);
    EXPECT_FALSE(plane_normal(winding(PathForm::Smooth)).has_value()) << "one of its points is a metre up";
    Path upright;
    upright.points = {{{0, 1, 0}}, {{0, 3, 2}}, {{0, 5, -1}}, {{0, 9, 4}}};
    EXPECT_NEAR(std::abs(plane_normal(upright)->x()), 1, 1e-12);
    upright.points = {{{0, 1, 0}}, {{0, 3, 2}}, {{0, 5, 4}}};
    EXPECT_FALSE(plane_normal(upright).has_value()) << "a line lies in many planes";
}

}  // namespace
}  // namespace pivrak
