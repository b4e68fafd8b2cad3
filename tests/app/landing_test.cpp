// Models and stand-ins stand where they were dropped or set down: seen from the eye they lie under the
// pointer.
#include "tests/app/raw_models.h"
#include "tests/support/temp_folder.h"

namespace pivrak {
namespace {

Bounds world_bounds(const Document& d, PartId top) {
    Bounds bounds;
    for (const PartId id : Tree(d).branch(top)) {
        const Part& part = *d.parts.find(id);
        if (const Shape* shape = d.shapes.find(part.shape))
            bounds.add(mesh_bounds(*shape->mesh, world_from_rest(d, id) * part.part_from_shape));
    }
    return bounds;
}

/// How far from a pixel the middle of a part's lowest side is seen [px].
double seen_beside(Hands& hands, const Camera& camera, PartId part, const QPoint& pixel) {
    const Bounds own = world_bounds(hands.session.document(), part);
    const Vec3 seen = camera.project(Vec3(own.middle().x(), own.middle().y(), own.min.z()));
    return (seen.head<2>() - Vec2(pixel.x(), pixel.y())).norm();
}

/// A box one metre wide and half as high, in the middle of the view.
void with_table(Hands& hands) {
    hands.session.run({{"op", "stand_in.add"},
                       {"kind", "box"},
                       {"name", "table"},
                       {"length", 1},
                       {"width", 1},
                       {"height", 0.5},
                       {"at", {0, 0, 0}}});
    hands.window.view().setDirection(0.5, 0.7);
    hands.key(Qt::Key_F, Qt::ShiftModifier);
}

TEST(Landing, AModelStandsWhereItWasDropped) {
    Hands hands(test::look());
    test::TempFolder folder;
    Document lamp = empty_document();
    test::add_shaped(lamp, "lamp", with_normals(test::box({4, 4, 4}, {4.2, 4.2, 4.6})));
    const auto bytes = delivery_bytes(lamp, {}, {})->bytes;
    folder.write("lamp.glb", std::string(bytes.begin(), bytes.end()));
    with_table(hands);
    const auto on_table = hands.visiblePixel(hands.named("table"));
    ASSERT_TRUE(on_table.has_value());
    const Camera camera = hands.window.view().camera();
    drop(hands, {QString::fromStdString((folder / "lamp.glb").string())},
         hands.window.view().mapTo(&hands.window, *on_table));
    ASSERT_NE(hands.session.previewed(), nullptr) << hands.refusals.join("; ").toStdString();
    hands.click("acceptPreview");
    const PartId part = hands.named("lamp");
    EXPECT_LT(seen_beside(hands, camera, part, *on_table), 1.5);
    const double height = world_bounds(hands.session.document(), part).min.z();
    EXPECT_GT(height, -1e-6);
    EXPECT_LT(height, 0.5 + 1e-6) << "on the table or at its side, not in the air";
}

TEST(Landing, AStandInIsSetDownOnAClickedPlace) {
    Hands hands(test::look());
    with_table(hands);
    hands.key(Qt::Key_1);
    hands.click("tabStand-ins");
    hands.choose("standInKind", "cylinder");
    hands.type("standInName", "post", false);
    hands.choose("standIn_axis", "z");
    hands.click("standInClickPlace");
    const Camera camera = hands.window.view().camera();
    // A corner of the table's top that is seen.
    const Vec3 corner = camera.project(Vec3(0.5, 0.5, 0.5));
    const QPoint pixel(static_cast<int>(std::lround(corner.x())), static_cast<int>(std::lround(corner.y())));
    QTest::mouseClick(&hands.window.view(), Qt::LeftButton, Qt::NoModifier, pixel);
    hands.settle();
    ASSERT_NE(hands.session.previewed(), nullptr) << hands.refusals.join("; ").toStdString();
    hands.click("acceptPreview");
    const Bounds post = world_bounds(hands.session.document(), hands.named("post"));
    EXPECT_NEAR(post.min.z(), 0.5, 1e-4) << "it stands on the table";
    EXPECT_LT((post.middle().head<2>() - Vec2(0.5, 0.5)).norm(), 1e-4);
}

/// The arrow reaches three tenths of the model's length before its nose.
TEST(Landing, TheArrowBeforeItsFrontIsInTheViewFromEverySide) {
    Hands hands(test::look());
    hands.session.run({{"op", "stand_in.add"},
                       {"kind", "box"},
                       {"name", "sledge"},
                       {"length", 2},
                       {"width", 0.4},
                       {"height", 0.3},
                       {"at", {0, 0, 0}}});
    const QRect view = hands.window.view().rect();
    for (const double azimuth : {-1.9, -1.05, 0.0, 0.8, 1.6}) {
        hands.window.view().setDirection(azimuth, 0.32);
        hands.key(Qt::Key_F, Qt::ShiftModifier);
        const Vec3 tip = hands.window.view().camera().project({1 + 0.6, 0, 0});
        EXPECT_TRUE(view.contains(QPoint(static_cast<int>(tip.x()), static_cast<int>(tip.y()))))
            << azimuth << ": " << tip.x() << ", " << tip.y();
    }
    hands.key(Qt::Key_4);
    hands.key(Qt::Key_F, Qt::ShiftModifier);
    const double without = hands.window.view().camera().distance;
    hands.key(Qt::Key_1);
    hands.key(Qt::Key_F, Qt::ShiftModifier);
    EXPECT_GT(hands.window.view().camera().distance, without) << "elsewhere nothing but the model counts";
}

}  // namespace
}  // namespace pivrak
