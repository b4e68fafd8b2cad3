// Faces hidden in the view: what lies behind is seen and picked, by its own number, and no document changes.
#include "app/film/film.h"
#include "core/io/import/import_model.h"
#include "tests/app/raw_models.h"
#include "tests/support/temp_folder.h"

namespace pivrak {
namespace {

/// A box seen from above, its faces picked one by one.
void open_box(Hands& hands) {
    hands.click("tabStand-ins");
    hands.choose("standInKind", "box");
    hands.click("previewStandIn");
    hands.click("acceptPreview");
    hands.window.view().setDirection(0.3, 1.2);
    hands.key(Qt::Key_F, Qt::ShiftModifier);
    hands.key(Qt::Key_2);
    hands.click("tabPick");
    hands.click("pickFaces");
}

/// Mean height of the picked faces [m]; the box stands on the floor.
double picked_height(Hands& hands) {
    double height = 0;
    std::size_t count = 0;
    for (const auto& [part, mask] : hands.session.picks().faces) {
        const Document& d = hands.session.document();
        const Mesh& mesh = *d.shapes.find(d.parts.find(part)->shape)->mesh;
        for (std::size_t t = 0; t < mask.size(); ++t)
            for (int k = 0; mask[t] && k < 3; ++k, ++count)
                height += (world_from_rest(d, part) * d.parts.find(part)->part_from_shape)
                              .point(mesh.corner(t, k))
                              .z();
    }
    return count ? height / static_cast<double>(count) : -1;
}

TEST(HiddenFaces, WhatLiesBehindThemIsSeenPickedAndBrokenOff) {
    Hands hands(test::look());
    open_box(hands);
    const Document before = hands.session.document();
    const QPoint middle = hands.window.view().rect().center();
    QTest::mouseClick(&hands.window.view(), Qt::LeftButton, Qt::NoModifier, middle);
    hands.settle();
    hands.click("growAngle");
    const double top = picked_height(hands);
    ASSERT_GT(top, 0.1);
    const QImage closed = hands.window.view().picture();
    hands.key(Qt::Key_H);
    EXPECT_TRUE(hands.session.picks().empty());
    EXPECT_TRUE(hands.text("pickCount").contains("hidden")) << hands.text("pickCount").toStdString();
    EXPECT_NE(hands.window.view().picture(), closed);
    QTest::mouseClick(&hands.window.view(), Qt::LeftButton, Qt::NoModifier, middle);
    hands.settle();
    hands.click("growAngle");
    EXPECT_NEAR(picked_height(hands), 0, 1e-6) << "the bottom, seen through the open top";
    EXPECT_EQ(hands.session.document(), before) << "the view alone leaves them out";
    // What is broken off is the bottom itself, and everything is seen again on shapes that changed.
    hands.click("tabBreak");
    hands.choose("splitBy", "split.faces");
    hands.click("previewSplit");
    ASSERT_NE(hands.session.previewed(), nullptr) << hands.refusals.join("; ").toStdString();
    hands.key(Qt::Key_Return);
    EXPECT_TRUE(hands.session.hiddenFaces().empty());
    double lowest = 1;
    for (const Part& part : hands.session.document().parts)
        if (const Shape* shape = hands.session.document().shapes.find(part.shape))
            lowest = std::min(lowest, shape->bounds.size().z());
    EXPECT_NEAR(lowest, 0, 1e-6) << "a piece that is flat";
}

TEST(HiddenFaces, OnlyPickedOnesStayAndAllComeBack) {
    Hands hands(test::look());
    open_box(hands);
    const QPoint middle = hands.window.view().rect().center();
    QTest::mouseClick(&hands.window.view(), Qt::LeftButton, Qt::NoModifier, middle);
    hands.settle();
    hands.click("growAngle");
    const std::size_t kept = hands.session.picks().face_count(),
                      all = hands.session.document().shapes.begin()->mesh->triangle_count();
    hands.click("showOnly");
    EXPECT_EQ(hands.session.hiddenFaces().count(), all - kept);
    // Through everything, what is hidden is not picked either.
    hands.click("pickThrough");
    const QRect view = hands.window.view().rect();
    hands.drag(&hands.window.view(), QPoint(4, 4), QPoint(view.width() - 5, view.height() - 5));
    EXPECT_EQ(hands.session.picks().face_count(), kept);
    hands.click("showAllParts");
    EXPECT_TRUE(hands.session.hiddenFaces().empty());
    EXPECT_FALSE(hands.find("showAllParts")->isEnabled());
    hands.drag(&hands.window.view(), QPoint(4, 4), QPoint(view.width() - 5, view.height() - 5));
    EXPECT_EQ(hands.session.picks().face_count(), all);
    EXPECT_EQ(hands.session.history().steps().size(), 1u) << "nothing to undo but the box";
}

/// They are out of the way of a hand; what is made of the project has them.
TEST(HiddenFaces, PicturesAndDeliveriesHaveThemAll) {
    Hands hands(test::look());
    open_box(hands);
    const test::TempFolder folder;
    const auto all = [&](const char* name) {
        FilmWish wish;
        wish.path = (folder / (std::string(name) + ".png")).string();
        wish.size = {160, 100};
        wish.form = FilmWish::Form::Sheet;
        wish.every = 1000;
        Film film(hands.session.document(), wish, test::look());
        bool done = false;
        QObject::connect(&film, &Film::finished, &hands.window, [&](const Result<FilmReport>& report) {
            EXPECT_TRUE(report.ok());
            done = true;
        });
        film.start();
        EXPECT_TRUE(QTest::qWaitFor([&] { return done; }));
        hands.key(Qt::Key_7);
        hands.type("deliveryPath", QString::fromStdString((folder / (std::string(name) + ".glb")).string()),
                   false);
        hands.click("deliver");
        const auto back = import_model(empty_document(), folder / (std::string(name) + ".glb"));
        EXPECT_TRUE(back.ok());
        hands.key(Qt::Key_2);
        return std::pair(QImage(QString::fromStdString(wish.path)),
                         back.ok() ? back->document.shapes.begin()->mesh->triangle_count() : 0);
    };
    const auto before = all("before");
    const QImage seen = hands.window.view().picture();
    QTest::mouseClick(&hands.window.view(), Qt::LeftButton, Qt::NoModifier,
                      hands.window.view().rect().center());
    hands.settle();
    hands.click("growAngle");
    hands.key(Qt::Key_H);
    ASSERT_GT(hands.session.hiddenFaces().count(), 0u);
    ASSERT_NE(hands.window.view().picture(), seen);
    const auto after = all("after");
    EXPECT_FALSE(before.first.isNull());
    EXPECT_EQ(after.first, before.first);
    EXPECT_GT(before.second, 0u);
    EXPECT_EQ(after.second, before.second);
}

/// Faces are picked and grown in every stage, by the menu or its keys.
TEST(GrownFaces, GrowByKeysWhereverFacesAreNeeded) {
    Hands hands(test::look());
    open_box(hands);
    hands.key(Qt::Key_4);
    QTest::keyClick(&hands.window, Qt::Key_2, Qt::AltModifier);
    QTest::mouseClick(&hands.window.view(), Qt::LeftButton, Qt::NoModifier,
                      hands.window.view().rect().center());
    hands.settle();
    ASSERT_EQ(hands.session.picks().face_count(), 1u);
    QTest::keyClick(&hands.window, Qt::Key_S, Qt::AltModifier);
    const std::size_t top = hands.session.picks().face_count();
    EXPECT_GE(top, 2u) << "a flat side is two triangles at least";
    EXPECT_GT(picked_height(hands), 0.1);
    QTest::keyClick(&hands.window, Qt::Key_Up, Qt::AltModifier);
    EXPECT_GT(hands.session.picks().face_count(), top);
    QTest::keyClick(&hands.window, Qt::Key_Down, Qt::AltModifier);
    EXPECT_EQ(hands.session.picks().face_count(), top);
    QTest::keyClick(&hands.window, Qt::Key_1, Qt::AltModifier);
    EXPECT_NE(hands.session.whyNotGrown(Growth::Ring), QString()) << "parts have no rings";
}

}  // namespace
}  // namespace pivrak
