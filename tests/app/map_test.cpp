// The drive map in its own window, by mouse and keys.
#include "app/drive_map/map_window.h"
#include "core/elements/follow/follow_words.h"
#include "core/io/atomic_file.h"
#include "tests/app/bank.h"

namespace pivrak {
namespace {

struct MapBank : Bank {
    void chooseFold(MapWindow* window, const char* how) {
        auto* fold = window->findChild<QComboBox*>("mapFold");
        fold->setCurrentIndex(fold->findData(QLatin1String(how)));
        hands.settle();
    }
    MapWindow* opened() {
        hands.click("openMapLarge");
        auto* window = hands.window.findChild<MapWindow*>();
        EXPECT_TRUE(window && window->isVisible());
        return window;
    }
    void follow(const std::vector<PartId>& parts, double gain = 1) {
        hands.pickRows(parts);
        hands.clickRow(handle(), Qt::ShiftModifier);
        hands.type("followGain", QString::number(gain).toUtf8().constData());
        hands.settle();
        hands.click("addFollow");
    }
    static void drag(QWidget& canvas, const QPointF& from, const QPointF& to) {
        QTest::mousePress(&canvas, Qt::LeftButton, {}, from.toPoint());
        for (const double share : {0.3, 0.7, 1.0})
            QTest::mouseMove(&canvas, (from + share * (to - from)).toPoint());
        QTest::mouseRelease(&canvas, Qt::LeftButton, {}, to.toPoint());
    }
};

TEST_F(MapBank, TheDriveMapOpensLargeFoldsFindsZoomsAndIsSaved) {
    hands.pickRows(slats());
    hands.clickRow(handle(), Qt::ShiftModifier);
    hands.click("addFollow");
    ASSERT_EQ(hands.session.document().couplings.size(), 4u);
    hands.click("openMapLarge");
    auto* window = hands.window.findChild<MapWindow*>();
    ASSERT_TRUE(window && window->isVisible());
    MapCanvas& canvas = *window->canvas();
    EXPECT_EQ(canvas.map().channels.size(), 2u) << "four that do the same are one box";
    const ChannelRef first{hands.named("Slat 1"), ChannelKind::Turn}, lead{handle(), ChannelKind::Shift};
    EXPECT_LT(canvas.boxOf(lead).right(), canvas.boxOf(first).left());
    // A click on the box picks all it stands for.
    QTest::mouseClick(&canvas, Qt::LeftButton, {}, canvas.boxOf(first).center().toPoint());
    hands.settle();
    EXPECT_EQ(hands.session.selection(), slats());
    chooseFold(window, "none");
    EXPECT_EQ(canvas.map().channels.size(), 5u);
    // What moves is lit.
    const QImage still = canvas.grab().toImage();
    pull("300 mm");
    EXPECT_NE(canvas.grab().toImage(), still);
    const double before = canvas.zoom();
    QWheelEvent wheel(QPointF(50, 50), canvas.mapToGlobal(QPointF(50, 50)), {}, {0, 240}, Qt::NoButton, {},
                      Qt::NoScrollPhase, false);
    QApplication::sendEvent(&canvas, &wheel);
    EXPECT_GT(canvas.zoom(), before);
    const QRectF stood = canvas.boxOf(lead);
    QTest::mousePress(&canvas, Qt::LeftButton, {}, {5, 5});
    QTest::mouseMove(&canvas, {45, 25});
    QTest::mouseRelease(&canvas, Qt::LeftButton, {}, {45, 25});
    EXPECT_EQ(canvas.boxOf(lead).topLeft() - stood.topLeft(), QPointF(40, 20)) << "it is drawn about";
    QTest::mouseClick(window->findChild<QPushButton*>("mapFit"), Qt::LeftButton);
    EXPECT_TRUE(QRectF(canvas.rect()).contains(canvas.boxOf({hands.named("Slat 4"), ChannelKind::Turn})));
    QTest::keyClicks(window->findChild<QLineEdit*>("mapSearch"), "slat 3");
    hands.settle();
    test::TempFolder folder;
    for (const char* name : {"map.svg", "map.png"}) {
        hands.save_answer = QString::fromStdString((folder / name).string());
        QTest::mouseClick(window->findChild<QPushButton*>("saveMap"), Qt::LeftButton);
        hands.settle();
        EXPECT_FALSE(QImage(hands.save_answer).isNull()) << name;
    }
    const auto drawing = read_file(folder / "map.svg");
    ASSERT_TRUE(drawing.ok());
    EXPECT_NE(drawing->find("Slat 4"), std::string::npos) << "words stay words";
    QTest::mouseClick(window->findChild<QCheckBox*>("mapAround"), Qt::LeftButton, {}, {8, 8});
    hands.session.select({hands.named("Slat 2")});
    hands.settle();
    EXPECT_EQ(canvas.map().channels.size(), 2u) << "it and its handle";
    QTest::keyClick(window, Qt::Key_Escape);
    EXPECT_FALSE(window->isVisible());
}

TEST_F(MapBank, ThreeThatDoTheSameAreOneBox) {
    const auto all = slats();
    follow({all[0], all[1], all[2]});
    EXPECT_EQ(opened()->canvas()->map().channels.size(), 2u) << "as the planets of a gear";
}

TEST_F(MapBank, AGainIsTypedOnItsArrowForAllThatDoTheSame) {
    follow(slats(), 10);
    MapWindow* window = opened();
    MapCanvas& canvas = *window->canvas();
    ASSERT_EQ(canvas.map().edges.size(), 1u);
    const auto type = [&](const char* text) {
        QTest::mouseClick(&canvas, Qt::LeftButton, {}, canvas.labelOf(0).center().toPoint());
        auto* entry = window->findChild<QLineEdit*>("mapNumber");
        ASSERT_TRUE(entry->isVisible());
        QTest::keyClicks(entry, text);
        QTest::keyClick(entry, Qt::Key_Return);
        hands.settle();
    };
    type("50");
    pull("400 mm");
    for (const int i : {1, 4}) EXPECT_NEAR(turned(i), 20, 1e-9) << i;
    type("x");
    EXPECT_TRUE(hands.refusals.join(" ").contains("no number")) << "told, and nothing changed";
    EXPECT_NEAR(turned(1), 20, 1e-9);
    QTest::keyClick(window->findChild<QLineEdit*>("mapNumber"), Qt::Key_Escape);
    EXPECT_FALSE(window->findChild<QLineEdit*>("mapNumber")->isVisible());
    EXPECT_TRUE(window->isVisible()) << "only the entry went";
    // What a formula decides is told where to change it.
    hands.session.run({{"op", "formula.set"},
                       {"parts", {slat(1), slat(2), slat(3), slat(4)}},
                       {"inputs", {{"h", {{"part", "Handle"}}}}},
                       {"text", "h * 30"}});
    hands.settle();
    QTest::mouseClick(&canvas, Qt::LeftButton, {}, canvas.labelOf(0).center().toPoint());
    EXPECT_FALSE(window->findChild<QLineEdit*>("mapNumber")->isVisible());
    EXPECT_TRUE(hands.told.join(" ").contains("Formulas")) << hands.told.join(" ").toStdString();
}

/// The sizes of a gear pair are typed on its arrow, in the arrow's own order.
TEST_F(MapBank, TeethAreTypedOnTheArrowOfAPair) {
    const PartId one = hands.named("Slat 1"), two = hands.named("Slat 2");
    hands.session.run({{"op", "coupling.gear"},
                       {"driver", one.value},
                       {"driven", two.value},
                       {"kind", "outside"},
                       {"driver_teeth", 20},
                       {"driven_teeth", 60}});
    hands.session.run({{"op", "coupling.gear"},
                       {"driver", two.value},
                       {"driven", hands.named("Slat 3").value},
                       {"kind", "belt"},
                       {"driver_radius", 0.1},
                       {"driven_radius", 0.2}});
    hands.settle();
    ASSERT_EQ(hands.session.document().couplings.size(), 2u) << hands.refusals.join(" ").toStdString();
    MapWindow* window = opened();
    MapCanvas& canvas = *window->canvas();
    auto* entry = window->findChild<QLineEdit*>("mapNumber");
    const auto click = [&](PartId to) {
        const auto edge =
            std::ranges::find(canvas.map().edges, ChannelRef{to, ChannelKind::Turn}, &DriveEdge::to);
        ASSERT_NE(edge, canvas.map().edges.end());
        QTest::mouseClick(
            &canvas, Qt::LeftButton, {},
            canvas.labelOf(static_cast<std::size_t>(edge - canvas.map().edges.begin())).center().toPoint());
        ASSERT_TRUE(entry->isVisible());
    };
    const auto type = [&](PartId to, const char* text) {
        click(to);
        QTest::keyClicks(entry, text);
        QTest::keyClick(entry, Qt::Key_Return);
        hands.settle();
    };
    const auto turns = [&](PartId part) {
        hands.typeAtGauge({one, ChannelKind::Turn}, "60 deg");
        return hands.session.valueOf({part, ChannelKind::Turn}) * deg_per_rad;
    };
    ASSERT_NEAR(turns(two), -20, 1e-9);
    type(two, "20 : 40");
    EXPECT_NEAR(turns(two), -30, 1e-9) << hands.refusals.join(" ").toStdString();
    type(hands.named("Slat 3"), "10 cm : 50 cm");
    EXPECT_NEAR(turns(hands.named("Slat 3")), -6, 1e-9);
    // The one that is left as it stands there, rounded, stays what it was.
    hands.session.run({{"op", "coupling.set"},
                       {"driver", two.value},
                       {"driven", hands.named("Slat 3").value},
                       {"driver_radius", 0.123456789}});
    hands.settle();
    type(hands.named("Slat 3"), "123.5 mm : 50 cm");
    const auto pair = std::ranges::find_if(hands.session.document().couplings, [&](const Coupling& c) {
        return c.as<GearPair>() && c.as<GearPair>()->driven.part() == hands.named("Slat 3");
    });
    ASSERT_NE(pair, hands.session.document().couplings.end());
    EXPECT_EQ(pair->as<GearPair>()->driver_radius_m, 0.123456789);
    EXPECT_EQ(pair->as<GearPair>()->driven_radius_m, 0.5);
    for (const auto& [wrong, said] : {std::pair("20", "20 : 60"), {"20 : 4.5", "number of teeth"}}) {
        type(two, wrong);
        EXPECT_TRUE(hands.refusals.join(" ").contains(said)) << hands.refusals.join(" ").toStdString();
        QTest::keyClick(entry, Qt::Key_Escape);
    }
    EXPECT_NEAR(turns(two), -30, 1e-9) << "nothing changed";
    // In the unit of the project.
    hands.session.run({{"op", "project.set"}, {"length_unit", "mm"}});
    type(hands.named("Slat 3"), "100 : 1500");
    click(hands.named("Slat 3"));
    EXPECT_EQ(entry->text().toStdString(), "100.0 mm : 1500.0 mm");
}

TEST_F(MapBank, DraggedFromBoxToBoxACouplingIsOfferedAndTaken) {
    follow({hands.named("Slat 1")}, 10);
    MapWindow* window = opened();
    MapCanvas& canvas = *window->canvas();
    hands.session.select({hands.named("Slat 3")});
    hands.settle();
    const ChannelRef lead{handle(), ChannelKind::Shift}, third{hands.named("Slat 3"), ChannelKind::Turn};
    ASSERT_FALSE(canvas.boxOf(third).isEmpty()) << "a picked part that can move has a box to drag to";
    drag(canvas, canvas.boxOf(lead).center(), canvas.boxOf(third).center());
    hands.settle();
    ASSERT_TRUE(hands.session.previewed()) << hands.refusals.join(" ").toStdString();
    EXPECT_EQ(hands.session.document().couplings.size(), 1u) << "only shown";
    EXPECT_EQ(canvas.map().edges.size(), 2u);
    EXPECT_TRUE(window->findChild<QLabel*>("mapOffer")->text().contains("Handle"));
    QTest::mouseClick(window->findChild<QPushButton*>("mapLeave"), Qt::LeftButton);
    hands.settle();
    EXPECT_EQ(canvas.map().edges.size(), 1u);
    drag(canvas, canvas.boxOf(lead).center(), canvas.boxOf(third).center());
    hands.settle();
    QTest::mouseClick(window->findChild<QPushButton*>("mapTake"), Qt::LeftButton);
    hands.settle();
    ASSERT_EQ(hands.session.document().couplings.size(), 2u);
    pull("500 mm");
    EXPECT_NEAR(turned(3), 0.5, 1e-9);
    // The other way round would be a circle: refused by name, nothing changed.
    drag(canvas, canvas.boxOf(third).center(), canvas.boxOf(lead).center());
    hands.settle();
    EXPECT_FALSE(hands.session.previewed());
    EXPECT_EQ(hands.session.document().couplings.size(), 2u);
    EXPECT_TRUE(hands.refusals.join(" ").contains("circle")) << hands.refusals.join(" ").toStdString();
}

TEST_F(MapBank, BranchesAndSetsAreOneBoxEach) {
    follow(slats(), 10);
    hands.session.run({{"op", "set.make"}, {"name", "Upper"}, {"parts", {slat(3), slat(4)}}});
    MapWindow* window = opened();
    MapCanvas& canvas = *window->canvas();
    chooseFold(window, "set");
    EXPECT_EQ(canvas.map().channels.size(), 4u) << "handle, two slats, and the set";
    EXPECT_EQ(canvas.map().titles.begin()->second, "Upper");
    chooseFold(window, "branch");
    EXPECT_EQ(canvas.map().channels.size(), 5u) << "here each part is a branch";
}

}  // namespace
}  // namespace pivrak
