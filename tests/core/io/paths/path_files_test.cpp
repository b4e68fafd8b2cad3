#include "core/io/paths/path_files.h"

#include <gtest/gtest.h>

#include <cmath>
#include <random>

#include "core/rig/paths/path_edit.h"
#include "tests/support/documents.h"
#include "tests/support/temp_folder.h"

namespace pivrak {
namespace {

TEST(PathFiles, AnSvgDrawingIsReadAsItIsDrawn) {
    const auto paths = paths_from_svg(
        "<svg xmlns='http://www.w3.org/2000/svg'><g transform='translate(10 0) scale(2)'>"
        "<path id='road' d='M0 0 h4 v3 l-4,-3z m10 10 L 12 10 12 14'/>"
        "<circle id='ring' cx='1' cy='-2' r='3'/></g>"
        "<polyline points='0,0 1,0 1,1'/></svg>",
        0.5);
    ASSERT_TRUE(paths.ok()) << paths.error().message;
    ASSERT_EQ(paths->size(), 4u);
    const Path& triangle = (*paths)[0];
    EXPECT_EQ(triangle.name, "road");
    EXPECT_TRUE(triangle.closed);
    EXPECT_EQ(triangle.form, PathForm::Polyline);
    EXPECT_NEAR(PathCurve::make(triangle)->length(), 12, 1e-12)
        << "3, 4 and 5, twice as large, in half metres";
    EXPECT_LT((triangle.points[2].place - Vec3(9, -3, 0)).norm(), 1e-12) << "down on the page is right";
    EXPECT_FALSE((*paths)[1].closed);
    EXPECT_NEAR(PathCurve::make((*paths)[1])->length(), 6, 1e-12);
    EXPECT_NEAR(PathCurve::make((*paths)[2])->length(), 2 * pi * 3, 1e-9);
    EXPECT_LT(((*paths)[2].points[0].place - Vec3(6, 2, 0)).norm(), 1e-12);
}

TEST(PathFiles, CurvesAndArcsMeetTheirDefinitions) {
    // A half circle by an arc; a quadratic curve's length in closed form: x = 2t, y = 2t^2 ... from 0 to 1.
    const auto arc = paths_from_svg("<svg><path d='M-2 0 A2 2 0 01 2 0'/></svg>", 1);
    ASSERT_TRUE(arc.ok());
    EXPECT_NEAR(PathCurve::make(arc->front())->length(), 2 * pi, 1e-5);
    EXPECT_NEAR(PathCurve::make(arc->front())->place(pi).y(), 2, 1e-5) << "over the top: flags 0 1";
    const auto parabola = paths_from_svg("<svg><path d='M0 0Q1 0 2 2'/></svg>", 1);
    const double exact = std::sqrt(5.0) + 0.5 * std::asinh(2.0);
    EXPECT_NEAR(PathCurve::make(parabola->front())->length(), exact, 1e-9);
    // The short forms go on smoothly.
    const auto smooth =
        paths_from_svg("<svg><path d='M0 0 C 1 1 2 1 3 0 S 5 -1 6 0 q1 1 2 0 t2 0'/></svg>", 1);
    ASSERT_EQ(smooth->front().points.size(), 5u);
    EXPECT_LT((smooth->front().points[1].before + smooth->front().points[1].after).norm(), 1e-12);
    EXPECT_LT((smooth->front().points[3].before + smooth->front().points[3].after).norm(), 1e-12);
}

TEST(PathFiles, WhatIsWrittenComesBack) {
    Path path;
    path.name = "loop";
    path.form = PathForm::Smooth;
    path.closed = true;
    path.points = {{{0, 0, 0}}, {{4, 1, 0}}, {{5, 5, 0}}, {{-1, 6, 0}}};
    const auto curve = PathCurve::make(path);
    const auto svg = paths_from_svg(svg_of_path(path), 1);
    ASSERT_TRUE(svg.ok()) << svg.error().message;
    EXPECT_TRUE(svg->front().closed);
    EXPECT_LT(deviation(*PathCurve::make(svg->front()), *curve), 1e-9);
    const auto obj = paths_from_obj(obj_of_curve(*PathCurve::make(path), {}, 400), 1);
    ASSERT_TRUE(obj.ok()) << obj.error().message;
    EXPECT_TRUE(obj->front().closed);
    EXPECT_EQ(obj->front().points.size(), 400u);
    EXPECT_LT(deviation(*PathCurve::make(obj->front()), *curve), 1e-3);
}

TEST(PathFiles, BrokenFilesAreRefusedWithTheirPlace) {
    test::TempFolder folder;
    const auto message = [&](const char* name, const std::string& text) {
        folder.write(name, text);
        const auto read = read_paths(folder / name, 1);
        EXPECT_FALSE(read.ok()) << name << text;
        return read ? std::string() : read.error().message;
    };
    EXPECT_NE(message("a.svg", "<svg><path d='M0 0 L'/></svg>").find("number was expected"),
              std::string::npos);
    EXPECT_NE(message("a.svg", "<svg><path d='L 1 1'/></svg>").find("begin with M"), std::string::npos);
    EXPECT_NE(message("a.svg", "<svg><path d='M0 0 K 1 1'/></svg>").find("'K'"), std::string::npos);
    EXPECT_NE(message("a.svg", "<svg><g transform='fly(2)'><path d='M0 0 1 1'/></g></svg>").find("fly"),
              std::string::npos);
    EXPECT_NE(message("a.svg", "<svg>").find("no XML"), std::string::npos);
    EXPECT_NE(message("a.svg", "<svg/>").find("no path"), std::string::npos);
    EXPECT_NE(message("a.svg", "<svg><path d='M0 0 L0 0'/></svg>").find("no path of any length"),
              std::string::npos);
    EXPECT_NE(message("a.svg", "<svg><path d='M0 0 L1e999 0'/></svg>").find("number"), std::string::npos);
    EXPECT_NE(message("b.obj", "v 0 0 0\nl 1 2\n").find("line 2: vertex 2 of 1"), std::string::npos);
    EXPECT_NE(message("b.obj", "v 0 0\n").find("three numbers"), std::string::npos);
    EXPECT_NE(message("b.obj", "v 0 0 0\nv 1 0 0\nl 1 x\n").find("'x'"), std::string::npos);
    EXPECT_NE(message("b.obj", "v 0 0 0\n").find("no lines"), std::string::npos);
    EXPECT_NE(message("c.txt", "v 0 0 0\n").find(".svg and .obj"), std::string::npos);
    // Any bytes: an answer, never a crash.
    std::mt19937 random(5);
    const std::string letters = "MLHVCSQTAZmlhvcsqtaz0123456789.,- eE";
    for (int i = 0; i < 300; ++i) {
        std::string d;
        for (int k = 0; k < 60; ++k) d += letters[random() % letters.size()];
        (void)paths_from_svg("<svg><path d='" + d + "'/></svg>", 1);
    }
}

TEST(PathFiles, APathOnTheGroundIsWrittenAsItLies) {
    Document d = empty_document();
    Mesh slope = test::box({-20, -20, -1}, {20, 20, 0});
    for (Vec3f& p : slope.positions)
        if (p.z() == 0) p.z() = 0.1f * p.x() + 0.05f * p.y();
    test::add_shaped(d, "slope", slope);
    d = test::run(d, {{"op", "path.add"},
                      {"name", "road"},
                      {"form", "polyline"},
                      {"points", {{-9, 0, 0}, {0, 3, 0}, {9, 0, 0}}}});
    d = test::run(d, {{"op", "path.drape"}, {"path", "road"}, {"ground", "slope"}, {"height", 0.25}});
    test::TempFolder folder;
    ASSERT_TRUE(write_path(d, *d.paths.begin(), folder / "road.obj").ok());
    const auto back = read_paths(folder / "road.obj", 1);
    ASSERT_TRUE(back.ok()) << back.error().message;
    ASSERT_GT(back->front().points.size(), 100u);
    for (const PathPoint& p : back->front().points)
        EXPECT_NEAR(p.place.z(), 0.1 * p.place.x() + 0.05 * p.place.y() + 0.25, 2e-3);
}

}  // namespace
}  // namespace pivrak
