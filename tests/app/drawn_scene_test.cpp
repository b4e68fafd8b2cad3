// What the view draws, against where each part is and what its shape has.
#include "app/view/drawn_scene.h"

#include <cmath>
#include <map>
#include <set>

#include "core/geometry/mesh/creases.h"
#include "tests/app/station.h"
#include "tests/support/shapes.h"
#include "tests/support/steps.h"

namespace pivrak {
namespace {

using Cell = std::array<long, 3>;

Cell cell_of(const Vec3& p) {
    return {std::lround(p.x() * 1e3), std::lround(p.y() * 1e3), std::lround(p.z() * 1e3)};
}

/// Places to the millimetre, with how many corners of triangles lie there.
using Corners = std::map<Cell, int>;

/// Corners of `wanted` that have no partner in `drawn`, which may lie in the next cell.
int missing(const Corners& wanted, Corners drawn) {
    int without = 0;
    for (const auto& [cell, count] : wanted) {
        int left = count;
        for (int k = 0; k < 27 && left > 0; ++k) {
            const auto near = drawn.find({cell[0] + (k % 3 + 1) % 3 - 1, cell[1] + (k / 3 % 3 + 1) % 3 - 1,
                                          cell[2] + (k / 9 + 1) % 3 - 1});
            if (near == drawn.end()) continue;
            const int taken = std::min(left, near->second);
            near->second -= taken;
            left -= taken;
        }
        without += left;
    }
    return without;
}

void add_corners(Corners& to, const Mesh& mesh, const Frame& world) {
    for (const std::uint32_t v : mesh.indices) ++to[cell_of(world.point(mesh.positions[v].cast<double>()))];
}

/// As the parts stand.
Corners of_parts(const Session& session) {
    Corners corners;
    for (const Part& part : session.shownDocument().parts)
        if (part.shape && part.shown)
            add_corners(corners, *session.meshOf(part.id),
                        session.worldFromPart(part.id) * part.part_from_shape);
    return corners;
}

struct Drawing {
    LaidPrints prints;
    DrawnScene scene;
    Camera camera;
    explicit Drawing(Session& session) : prints(session), scene(session, prints, test::look()) {}

    const std::vector<DrawItem>& items() { return scene.items(camera, false); }
    Corners corners() {
        Corners corners;
        for (const DrawItem& item : items()) add_corners(corners, *item.mesh, item.world_from_mesh);
        return corners;
    }
};

TEST_F(Station, PartsThatAreDrawnAsOneAreWhereTheyStand) {
    Drawing drawing(hands.session);
    const std::size_t parts = drawing.items().size();
    std::size_t shaped = 0;
    for (const Part& part : hands.session.document().parts) shaped += part.shape ? 1 : 0;
    EXPECT_LT(parts + 30, shaped) << "many are drawn as one";
    const std::size_t alone = parts;
    for (const double frame : {0.0, 37.0, 63.5}) {
        hands.session.setFrame(frame);
        const Corners wanted = of_parts(hands.session), drawn = drawing.corners();
        EXPECT_EQ(missing(wanted, drawn), 0) << frame;
        EXPECT_EQ(missing(drawn, wanted), 0) << frame;
    }
    EXPECT_EQ(drawing.items().size(), alone) << "nobody left those it is fixed to";
}

TEST_F(Station, APickedPartIsDrawnByItself) {
    Drawing drawing(hands.session);
    const PartId picked = hands.session.evaluator().parts().back();
    hands.session.select({picked});
    drawing.scene.forget();
    int selected = 0;
    for (const DrawItem& item : drawing.items()) selected += item.selected ? 1 : 0;
    EXPECT_EQ(selected, 1);
    EXPECT_EQ(missing(of_parts(hands.session), drawing.corners()), 0);
}

/// A wheel prints as wide as was asked and as far as it has gone, however many blocks that takes.
TEST(DrawnTogether, PrintsAreAsLongAsTheWay) {
    Hands hands(test::look());
    test::runAll(hands, test::wheel_that_rolls(100, -40));
    test::runAll(hands, {{{"op", "print.add"}, {"parts", {"Wheel"}}, {"width", 0.4}}});
    Drawing drawing(hands.session);
    ASSERT_TRUE(QTest::qWaitFor([&] { return !drawing.prints.isBusy() && !drawing.prints.all().empty(); }));
    for (const double frame : {0.0, 3.0, 27.5, 62.0, 99.0, 100.0}) {
        hands.session.setFrame(frame);
        double area = 0;
        int blocks = 0;
        for (const DrawItem& item : drawing.items()) {
            if (!item.lifted) continue;
            ++blocks;
            const std::size_t count = item.first_indices.value_or(item.mesh->indices.size());
            const auto place = [&](std::size_t i) -> Vec3 {
                return item.mesh->positions[item.mesh->indices[i]].cast<double>();
            };
            for (std::size_t i = 0; i < count; i += 3)
                area += 0.5 * (place(i + 1) - place(i)).cross(place(i + 2) - place(i)).norm();
        }
        const Vec3 at = hands.session.worldFromPart(hands.named("Wheel")).translation;
        EXPECT_NEAR(area, 0.4 * at.head<2>().norm(), 1e-4) << frame;
        if (frame == 100) {
            EXPECT_GT(blocks, 5);
        }
    }
}

/// A cable between two blocks lies still and grows: its own mesh is another at every frame.
TEST(DrawnTogether, WhatStretchesIsDrawnAsItIs) {
    Hands hands(test::look());
    test::runAll(hands, {test::small_box("Winch", 0, 0),
                         test::small_box("Block", -1, 0),
                         test::small_box("Hook", 1, 0),
                         test::cable_between_boxes(),
                         {{"op", "joint.set"}, {"parts", {"Hook"}}, {"kind", "slide"}, {"axis", "x"}},
                         {{"op", "stretch.add"}, {"parts", {"Cable"}}, {"from", "Winch"}, {"to", "Hook"}}});
    Drawing drawing(hands.session);
    for (const double shift : {0.0, 0.4, 0.1}) {
        hands.session.hold({hands.named("Hook"), ChannelKind::Shift}, shift);
        EXPECT_EQ(missing(of_parts(hands.session), drawing.corners()), 0) << shift;
    }
}

/// A vertex that two materials share, in a mesh that has colours of its own.
TEST(MergedMeshes, KeepColoursAndLinesOfEach) {
    Mesh roof;  // two triangles at a right angle, of two materials, on four vertices
    roof.positions = {{0, 0, 0}, {0, 1, 0}, {1, 0, 0}, {0, 0, 1}};
    roof.normals.assign(4, Vec3f(0, 0, 1));
    roof.colors.assign(4, Vec4f(1, 0.5f, 1, 1));
    roof.indices = {0, 1, 2, 0, 3, 1};
    roof.submeshes = {{MaterialId{1}, 0, 3, {}}, {MaterialId{2}, 3, 3, {}}};
    const auto shared = std::make_shared<const Mesh>(roof);
    const auto box = std::make_shared<const Mesh>(test::box({0, 0, 0}, {1, 1, 1}));
    const auto two = std::make_shared<const Paint>(Paint{{QColor(255, 0, 0), QColor(0, 0, 255)}, {}});
    const auto green = std::make_shared<const Paint>(Paint{{QColor(0, 255, 0)}, {}});
    const std::vector<MergedShape> shapes = {{shared, two, Frame{}},
                                             {box, green, Frame{Quat(1, 0, 0, 0), Vec3(1, 0, 0)}}};
    MergedMeshes merged;
    const MergedMesh made = merged.of(shapes);
    ASSERT_EQ(made.mesh->triangle_count(), roof.triangle_count() + box->triangle_count());
    const auto corner = [&](std::size_t i) { return made.mesh->positions[made.mesh->indices[i]]; };
    const auto color = [&](std::size_t i) { return made.mesh->colors[made.mesh->indices[i]]; };
    for (std::size_t i = 0; i < 6; ++i) {
        EXPECT_EQ(corner(i), roof.positions[roof.indices[i]]);
        EXPECT_LT((color(i) - (i < 3 ? Vec4f(1, 0, 0, 1) : Vec4f(0, 0, 1, 1))).norm(), 1e-6f) << i;
    }
    for (std::size_t i = 6; i < made.mesh->indices.size(); ++i)
        EXPECT_LT((color(i) - Vec4f(0, 1, 0, 1)).norm(), 1e-6f) << i;
    // Lines of each alone: the box touches the roof, and has its border there all the same.
    EXPECT_EQ(made.edges->size(), crease_edges(roof).size() + crease_edges(*box).size());
    EXPECT_EQ(merged.of(shapes).mesh, made.mesh) << "asked for again, it is the same";
    merged.begin();
    merged.forget_others();
    EXPECT_NE(merged.of(shapes).mesh, made.mesh) << "nobody asked for it any more";
}

}  // namespace
}  // namespace pivrak
