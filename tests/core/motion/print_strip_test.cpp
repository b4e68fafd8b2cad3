// Tracks that wheels print on the ground.
#include "core/motion/print_strip.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>

#include "core/checks/findings.h"

#include "tests/support/cart.h"

namespace pivrak {
namespace {

using test::Cart;

const Print& print_of(const Document& d) {
    return *d.prints.begin();
}

/// The only print of a document.
Result<PrintStrip> laid(const Document& d) {
    auto strips = lay_prints(d);
    EXPECT_TRUE(strips.ok());
    EXPECT_EQ(strips->size(), 1u);
    return strips->empty() ? Result<PrintStrip>(Error{"none", "none", ""})
                           : Result<PrintStrip>(strips->front());
}

/// Drives `metres` ahead in 96 frames, with a print.
Cart driving(double metres) {
    Cart c;
    c.key(ChannelKind::ShiftX, {{0, 0, Interpolation::Linear}, {96, metres, Interpolation::Linear}});
    c.document = test::run(c.document, {{"op", "print.add"}, {"parts", {"wheel"}}});
    return c;
}

TEST(PrintStrip, GrowsAsFarAsTheWheelGoesAndIsAsWideAsItsTread) {
    const Cart c = driving(12);
    const auto strip = laid(c.document);
    ASSERT_TRUE(strip.ok()) << strip.error().message;
    EXPECT_NEAR(strip->length_m(), 12, 1e-9);
    for (const double frame : {0.0, 10.0, 33.25, 96.0})
        EXPECT_NEAR(strip->way_at(frame), 12 * frame / 96, 1e-9) << frame;
    const Mesh mesh = strip->piece(0, 12);
    const Bounds bounds = mesh_bounds(mesh);
    EXPECT_NEAR(bounds.min.x(), 0, 1e-6);
    EXPECT_NEAR(bounds.max.x(), 12, 1e-6);
    EXPECT_NEAR(bounds.max.y() - bounds.min.y(), 2 * Cart::half_width, 1e-6);
    EXPECT_NEAR(bounds.min.z(), 0.003, 1e-6) << "just above the floor";
    // Every triangle looks up.
    for (std::size_t t = 0; t < mesh.triangle_count(); ++t)
        EXPECT_GT((mesh.corner(t, 1) - mesh.corner(t, 0)).cross(mesh.corner(t, 2) - mesh.corner(t, 0)).z(),
                  0);
}

TEST(PrintStrip, ItsPictureLiesInMetresAndNeverSlides) {
    const Cart c = driving(12);
    const auto strip = laid(c.document);
    const double tile = print_of(c.document).tile_m;
    for (const double way : {0.83, 4.0, 11.999}) {
        const Mesh mesh = strip->piece(0, way);
        EXPECT_NEAR(mesh_bounds(mesh).max.x(), way, 1e-6);
        for (std::size_t i = 0; i < mesh.positions.size(); ++i)
            EXPECT_NEAR(mesh.uvs[i].y() * tile, mesh.positions[i].x(), 1e-5)
                << "the same place of the ground shows the same place of the picture, however far it has "
                   "grown";
    }
}

TEST(PrintStrip, APieceIsCutOutOfTheWholeExactly) {
    const Cart c = driving(3);
    const auto strip = laid(c.document);
    const auto area = [&](double from, double to) {
        const Mesh mesh = strip->piece(from, to);
        double sum = 0;
        for (std::size_t t = 0; t < mesh.triangle_count(); ++t)
            sum +=
                0.5 *
                (mesh.corner(t, 1) - mesh.corner(t, 0)).cross(mesh.corner(t, 2) - mesh.corner(t, 0)).norm();
        return sum;
    };
    EXPECT_NEAR(area(0, 3), 3 * 2 * Cart::half_width, 1e-6);
    EXPECT_NEAR(area(0.512, 0.531), 0.019 * 2 * Cart::half_width, 1e-7) << "inside one row";
    EXPECT_NEAR(area(0, 1.234) + area(1.234, 3), area(0, 3), 1e-6);
    EXPECT_TRUE(strip->piece(1, 1).indices.empty());
    const auto [indices, way] = strip->whole_rows(1.234);
    EXPECT_EQ(indices, strip->piece(0, way).indices.size());
    EXPECT_LE(way, 1.234);
    EXPECT_GT(way, 1.234 - 0.051);
}

TEST(PrintStrip, GoingBackPrintsNothingMore) {
    Cart c = driving(0);
    c.key(ChannelKind::ShiftX, {{0, 0, Interpolation::Linear},
                                {48, 6, Interpolation::Linear},
                                {72, 2, Interpolation::Linear},
                                {96, 7, Interpolation::Linear}});
    const auto strip = laid(c.document);
    EXPECT_NEAR(strip->way_at(48), 6, 1e-9);
    EXPECT_NEAR(strip->way_at(72), 6, 1e-9);
    EXPECT_NEAR(strip->way_at(96), 7, 1e-9);
    EXPECT_NEAR(strip->printed_m(strip->length_m()), 7, 1e-9);
    // A cart that reverses all the while prints too, the right side up.
    c.key(ChannelKind::ShiftX, {{0, 0, Interpolation::Linear}, {96, -4, Interpolation::Linear}});
    const auto back = laid(c.document);
    EXPECT_NEAR(back->length_m(), 4, 1e-9);
    const Mesh mesh = back->piece(0, 4);
    EXPECT_GT((mesh.corner(0, 1) - mesh.corner(0, 0)).cross(mesh.corner(0, 2) - mesh.corner(0, 0)).z(), 0);
    EXPECT_GT(mesh.normals.front().z(), 0.99F);
}

TEST(PrintStrip, AWheelInTheAirPrintsNothing) {
    Cart c = driving(8);
    c.key(ChannelKind::ShiftZ, {{0, 0, Interpolation::Linear},
                                {36, 0, Interpolation::Linear},
                                {36.25, 0.3, Interpolation::Linear},
                                {60, 0.3, Interpolation::Linear},
                                {60.25, 0, Interpolation::Linear}});
    const auto strip = laid(c.document);
    EXPECT_NEAR(strip->length_m(), 8, 1e-9);
    // By hand: in the air from frame 36 to 60.25 of 96, two metres of eight, to a quarter of a frame.
    EXPECT_NEAR(strip->printed_m(8), 8 * (96 - 24.25) / 96.0, 0.05);
    const Mesh mesh = strip->piece(0, 8);
    for (const Vec3f& p : mesh.positions) EXPECT_TRUE(p.x() < 3.03F || p.x() > 4.97F) << p.x();
}

TEST(PrintStrip, LiesOnUnevenGround) {
    Cart c = driving(6);
    Mesh field;
    constexpr int count = 60;
    const auto height = [](double x, double y) { return 0.05 * std::sin(1.5 * x) + 0.02 * y; };
    for (int i = 0; i <= count; ++i)
        for (int k = 0; k <= 10; ++k) {
            const double x = -2 + 10.0 * i / count, y = -1 + 0.2 * k;
            field.positions.push_back(Vec3(x, y, height(x, y)).cast<float>());
        }
    for (int i = 0; i < count; ++i)
        for (int k = 0; k < 10; ++k) {
            const auto a = static_cast<std::uint32_t>(i * 11 + k), b = a + 11;
            field.indices.insert(field.indices.end(), {a, b, b + 1, a, b + 1, a + 1});
        }
    test::add_shaped(c.document, "field", field);
    c.document = test::run(c.document, {{"op", "print.set"},
                                        {"print", "wheel print"},
                                        {"ground", "field"},
                                        {"width", 0.4},
                                        {"lift", 0.004}});
    const auto strip = laid(c.document);
    ASSERT_TRUE(strip.ok());
    const Mesh mesh = strip->piece(0, strip->length_m());
    ASSERT_GT(mesh.positions.size(), 100u);
    for (const Vec3f& p : mesh.positions)
        EXPECT_NEAR(p.z(), height(p.x(), p.y()) + 0.004, 2e-3) << "triangles of a sixth of a metre";
    EXPECT_LT(strip->burial_m, 0.004);
}

TEST(PrintStrip, ALeaningWheelPrintsWithItsEdge) {
    Cart c;
    c.document = test::run(c.document, {{"op", "coupling.lean"}, {"parts", {"wheel"}}});
    c.document = test::run(c.document, {{"op", "print.add"}, {"parts", {"wheel"}}});
    c.key(ChannelKind::ShiftX, {{0, 0, Interpolation::Linear}, {96, 4, Interpolation::Linear}});
    c.document =
        test::run(c.document,
                  {{"op", "channel.set"}, {"parts", {"wheel lean"}}, {"channel", "turn_x"}, {"value", 0.5}});
    const auto strip = laid(c.document);
    ASSERT_TRUE(strip.ok());
    const Bounds bounds = mesh_bounds(strip->piece(0, 4));
    EXPECT_NEAR(bounds.min.y(), -Cart::half_width, 1e-6) << "its edge";
    EXPECT_NEAR(bounds.size().y(), 0.01 / std::tan(0.5), 1e-6) << "as deep as the ground yields";
}

TEST(PrintStrip, BadInputIsRefused) {
    const Cart c = driving(2);
    const auto code = [&](const nlohmann::json& step) { return test::refusal(c.document, step).code; };
    EXPECT_EQ(code({{"op", "print.add"}, {"parts", {"wheel"}}}), "print.twice");
    EXPECT_EQ(code({{"op", "print.add"}, {"parts", {"cart"}}}), "print.wheel");
    EXPECT_EQ(code({{"op", "print.set"}, {"print", "wheel print"}, {"tile", 0}}), "print.tile");
    EXPECT_EQ(code({{"op", "print.set"}, {"print", "wheel print"}, {"width", -1}}), "print.width");
    EXPECT_EQ(code({{"op", "print.set"}, {"print", "wheel print"}, {"ground", "cart"}}), "print.ground");
    EXPECT_EQ(code({{"op", "print.remove"}, {"print", "no such"}}), "print.unknown");
    const Document without = test::run(c.document, {{"op", "print.remove"}, {"print", "wheel print"}});
    EXPECT_TRUE(without.prints.empty());
    // A wheel that prints stays one; where a file says otherwise it prints nothing, and a finding says so.
    Document fixed = test::run(c.document, {{"op", "coupling.remove"}, {"driven", {"wheel"}}});
    const nlohmann::json to_fixed{{"op", "joint.set"}, {"parts", {"wheel"}}, {"kind", "fixed"}};
    EXPECT_EQ(test::refusal(fixed, to_fixed).code, "joint.coupled");
    Part wheel = *fixed.parts.find(c.wheel);
    wheel.joint.kind = JointKind::Fixed;
    fixed.parts.set(wheel);
    EXPECT_TRUE(lay_prints(fixed)->empty());
    const auto findings = check_document(fixed);
    EXPECT_TRUE(std::any_of(findings.begin(), findings.end(),
                            [](const Finding& f) { return f.code == "print.wheel"; }));
    // The print goes with its wheel.
    EXPECT_TRUE(test::run(c.document, {{"op", "part.remove"}, {"parts", {"wheel"}}}).prints.empty());
}

}  // namespace
}  // namespace pivrak
