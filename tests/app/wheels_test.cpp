// Leaning wheels, printed tracks, crawlers, trailers and upright work planes by hands.
#include "app/stages/rig/vehicle_card.h"
#include "core/rig/paths/path_curve.h"
#include "demo/vehicles.h"
#include "tests/app/app_test.h"
#include "tests/support/pixels.h"
#include "tests/support/steps.h"
#include "tests/support/temp_folder.h"

namespace pivrak {
namespace {

using nlohmann::json;
using test::Hands;
using test::pixelOf;
using test::runAll;

/// A wheel of half a metre across, its axle to the left, under a cart that goes 4 m ahead.
void addWheel(Hands& hands) {
    runAll(hands, {{{"op", "stand_in.add"},
                    {"kind", "box"},
                    {"name", "Cart"},
                    {"at", {0, 0, 1.2}},
                    {"length", 0.4},
                    {"width", 0.2},
                    {"height", 0.1}},
                   {{"op", "joint.set"}, {"parts", {"Cart"}}, {"kind", "free"}},
                   {{"op", "stand_in.add"},
                    {"kind", "cylinder"},
                    {"name", "Wheel"},
                    {"under", "Cart"},
                    {"at", {0, 0, 0.25}},
                    {"length", 0.1}},
                   {{"op", "joint.set"}, {"parts", {"Wheel"}}, {"kind", "hinge"}, {"axis", "x"}},
                   {{"op", "clip.set"}, {"first_frame", 0}, {"last_frame", 40}}});
    for (const auto& [frame, value] : {std::pair{0, 0.0}, {40, 4.0}})
        runAll(hands, {{{"op", "key.set"},
                        {"parts", {"Cart"}},
                        {"channel", "shift_x"},
                        {"frame", frame},
                        {"value", value},
                        {"interpolation", "linear"}}});
}

TEST(WheelsByHand, AWheelLeansOverItsEdge) {
    Hands hands(test::look());
    addWheel(hands);
    hands.key(Qt::Key_5);
    hands.click("tabWheels");
    const PartId wheel = hands.named("Wheel");
    hands.clickRow(wheel);
    hands.click("letLean");
    const PartId lean = hands.named("Wheel lean");
    EXPECT_TRUE(hands.session.isSelected(lean)) << "the frame that leans it comes to hand";
    EXPECT_TRUE(hands.text("leanFacts").contains("turn x of Wheel lean"))
        << hands.text("leanFacts").toStdString();
    hands.typeAtGauge({lean, ChannelKind::TurnX}, "0.6 rad");
    // By hand: the hub turns about the lower edge of its tread.
    const double r = 0.25, w = 0.05;
    const Vec3 hub = hands.session.worldFromPart(wheel).translation;
    EXPECT_NEAR(hub.z(), r * std::cos(0.6) + w * std::sin(0.6), 1e-4);
    EXPECT_NEAR(hub.y(), -w + w * std::cos(0.6) - r * std::sin(0.6), 1e-4);
    EXPECT_NEAR(hands.session.valueOf({lean, ChannelKind::TurnX}), 0.6, 1e-9);
    EXPECT_FALSE(hands.session.mayMove({lean, ChannelKind::ShiftZ}).ok()) << "the ground holds it";
    hands.click("removeLean");
    EXPECT_TRUE(hands.session.mayMove({lean, ChannelKind::ShiftZ}).ok()) << "a plain frame again";
    for (int i = 0; i < 3; ++i) hands.session.undo();
    EXPECT_EQ(hands.session.document().couplings.size(), 0u);
}

TEST(WheelsByHand, ALeaningWheelStandsOnThePartThatIsTaken) {
    Hands hands(test::look());
    addWheel(hands);
    runAll(hands, {{{"op", "stand_in.add"},
                    {"kind", "box"},
                    {"name", "Kerb"},
                    {"at", {0, 0, 0}},
                    {"length", 4},
                    {"width", 2},
                    {"height", 0.2}}});
    hands.key(Qt::Key_5);
    hands.click("tabWheels");
    hands.clickRow(hands.named("Kerb"));
    hands.click("leanGround");
    hands.clickRow(hands.named("Wheel"));
    hands.click("letLean");
    const double hub = hands.session.worldFromPart(hands.named("Wheel")).translation.z();
    EXPECT_NEAR(hub, 0.2 + 0.25, 1e-6) << hands.refusals.join("; ").toStdString();
}

TEST(WheelsByHand, APrintedTrackGrowsAsTheWheelGoes) {
    Hands hands(test::look());
    addWheel(hands);
    hands.key(Qt::Key_5);
    hands.click("tabWheels");
    hands.clickRow(hands.named("Wheel"));
    hands.click("letRoll");
    hands.type("printWidth", "300 mm", false);
    hands.click("leavePrints");
    Viewport& view = hands.window.view();
    view.setDirection(-pi / 2, 1.3);
    view.camera().target = Vec3(2, 0, 0);
    view.camera().distance = 9;
    EXPECT_TRUE(QTest::qWaitFor([&] { return hands.text("printFacts").contains(" of "); }, 30000));
    hands.session.setFrame(20);
    hands.settle();
    EXPECT_TRUE(hands.text("printFacts").contains("2.000 m of 4.000 m"))
        << hands.text("printFacts").toStdString();
    const auto colour = [&](double x, double y) {
        return test::fullPicture(view).pixelColor(pixelOf(hands, {x, y, 0}) * view.devicePixelRatioF());
    };
    const auto differ = [](const QColor& a, const QColor& b) {
        return std::abs(a.red() - b.red()) + std::abs(a.green() - b.green()) + std::abs(a.blue() - b.blue()) >
               12;
    };
    EXPECT_TRUE(differ(colour(1.03, 0.1), colour(1.03, 0.6))) << "printed behind the wheel";
    EXPECT_FALSE(differ(colour(3.03, 0.1), colour(3.03, 0.6))) << "and not before it";
    const QColor printed = colour(1.03, 0.1);
    hands.session.setFrame(35);
    hands.settle();
    EXPECT_TRUE(differ(colour(3.03, 0.1), colour(3.03, 0.6)));
    EXPECT_FALSE(differ(colour(1.03, 0.1), printed)) << "what is printed stays as it is";
    hands.type("printWidth", "500 mm", false);
    hands.click("changePrints");
    EXPECT_EQ(hands.session.document().prints.begin()->width_m, 0.5);
    hands.click("removePrints");
    EXPECT_TRUE(hands.session.document().prints.empty());
    hands.settle();
    EXPECT_FALSE(differ(colour(1.03, 0.1), colour(1.03, 0.6)));
}

TEST(WheelsByHand, ACrawlerIsFoundWithItsSprocketsAndIdlers) {
    Hands hands(test::look());
    const auto bytes = demo::groomer();
    ASSERT_TRUE(bytes.ok());
    test::TempFolder folder;
    folder.write("groomer.glb", *bytes);
    runAll(hands, {{{"op", "model.import"}, {"file", (folder / "groomer.glb").string()}},
                   {{"op", "model.stand"}, {"up", "+z"}, {"front", "-x"}, {"ground", true}}});
    hands.key(Qt::Key_5);
    hands.click("tabVehicle");
    hands.click("lookForWheels");
    hands.settle();
    EXPECT_TRUE(hands.text("vehicleFacts").contains("10 wheels on 5 axles"))
        << hands.text("vehicleFacts").toStdString();
    EXPECT_TRUE(hands.text("vehicleFacts").contains("4 sprockets and idlers"));
    auto* track = hands.find<QLineEdit>("vehicleTrack");
    ASSERT_NE(track, nullptr);
    EXPECT_TRUE(track->text().startsWith("40")) << track->text().toStdString();
    // One idler is dragged off the picture, as it shall not turn.
    auto* picture = hands.find<LayoutPicture>("layoutPicture");
    hands.drag(picture, picture->runnerBox(3).center().toPoint(), QPoint(40, -60));
    EXPECT_TRUE(hands.text("vehicleFacts").contains("3 sprockets and idlers"));
    hands.type("vehicleName", "Groomer", false);
    hands.click("makeVehicle");
    hands.settle();
    hands.click("acceptPreview");
    ASSERT_EQ(hands.session.document().vehicles.size(), 1u) << hands.refusals.join("; ").toStdString();
    const Vehicle& groomer = *hands.session.document().vehicles.begin();
    EXPECT_EQ(groomer.runners.size(), 3u);
    // It stays a part of the body.
    int kept = 0;
    for (const Part& part : hands.session.document().parts)
        if (part.name == "idler" || part.name == "drive sprocket") {
            ++kept;
            EXPECT_TRUE(is_below(hands.session.document(), part.id, groomer.body));
        }
    EXPECT_EQ(kept, 4);
    EXPECT_FALSE(groomer.steering);
    hands.typeAtGauge({groomer.place, ChannelKind::ShiftX}, "1 m");
    for (const PartId runner : groomer.runners) EXPECT_GT(std::abs(hands.session.turnOf(runner)), 2.0);
}

TEST(WheelsByHand, ATrailersTurntableIsNamedByPicking) {
    Hands hands(test::look());
    const auto bytes = demo::supply_truck();
    test::TempFolder folder;
    folder.write("truck.glb", *bytes);
    runAll(hands, {{{"op", "model.import"}, {"file", (folder / "truck.glb").string()}},
                   {{"op", "model.stand"}, {"scale", 0.01}, {"ground", true}, {"centre", true}},
                   {{"op", "tree.tidy"}},
                   {{"op", "split.pieces"}, {"parts", {"tyres"}}},
                   {{"op", "vehicle.make"},
                    {"parts", {"truck", "tyres 1", "tyres 2", "tyres 3", "tyres 4"}},
                    {"name", "Truck"}}});
    hands.key(Qt::Key_5);
    hands.click("tabVehicle");
    std::vector<PartId> trailer{hands.named("trailer")};
    for (const char* tyre : {"tyres 5", "tyres 6", "tyres 7", "tyres 8"})
        trailer.push_back(hands.named(tyre));
    hands.pickRows(trailer);
    hands.click("lookForWheels");
    hands.settle();
    EXPECT_EQ(hands.find("takeTurntable"), nullptr) << "only what is pulled has one";
    hands.choose("vehicleHitch", QString::number(hands.named("Truck body").value));
    hands.pickRows({hands.named("turntable")});
    hands.click("takeTurntable");
    hands.pickRows({hands.named("drawbar"), hands.named("drawbar eye")});
    hands.click("takeDrawbar");
    EXPECT_EQ(hands.find<QPushButton>("takeDrawbar")->text(), "drawbar and 1 more");
    hands.type("vehicleName", "Trailer", false);
    hands.click("makeVehicle");
    hands.settle();
    hands.click("acceptPreview");
    ASSERT_EQ(hands.session.document().vehicles.size(), 2u) << hands.refusals.join("; ").toStdString();
    const Part* root = hands.session.document().parts.find(hands.named("Trailer place"));
    ASSERT_TRUE(root && root->tow);
    EXPECT_TRUE(root->tow->turntable);
    EXPECT_TRUE(root->tow->drawbar);
}

TEST(PathsByHand, AreDrawnAndDraggedOnUprightPlanes) {
    Hands hands(test::look());
    hands.key(Qt::Key_5);
    Viewport& view = hands.window.view();
    view.setDirection(-pi / 2, 0.1);
    view.camera().target = Vec3(0, 0, 1);
    view.camera().distance = 12;
    hands.click("tabPaths");
    hands.choose("pathForm", "polyline");
    hands.choose("pathWhere", "y");
    hands.click("drawPath");
    for (const Vec3& p : {Vec3(-2, 0, 0.5), Vec3(0, 0, 2), Vec3(2, 0, 1)}) {
        QTest::mouseClick(&view, Qt::LeftButton, {}, pixelOf(hands, p));
        hands.settle();
    }
    hands.key(Qt::Key_Return);
    ASSERT_EQ(hands.session.document().paths.size(), 1u) << hands.refusals.join("; ").toStdString();
    const auto points = [&] { return hands.session.document().paths.begin()->points; };
    for (const PathPoint& p : points()) EXPECT_NEAR(p.place.y(), 0, 1e-9);
    EXPECT_NEAR(points()[1].place.z(), 2, 0.05);
    hands.drag(&view, pixelOf(hands, points()[1].place), pixelOf(hands, {0.3, 0, 2.6}));
    EXPECT_LT((points()[1].place - Vec3(0.3, 0, 2.6)).norm(), 0.06) << "in its own plane";
    EXPECT_NEAR(points()[1].place.y(), 0, 1e-9);
    hands.choose("pathWhere", "x");
    hands.type("circleRadius", "1 m", false);
    hands.click("addCircle");
    ASSERT_EQ(hands.session.document().paths.size(), 2u) << hands.refusals.join("; ").toStdString();
    const auto circle =
        PathCurve::make(*hands.session.document().paths.find(newest_path(hands.session.document())));
    for (int i = 0; i < 8; ++i) EXPECT_NEAR(circle->place(circle->length() * i / 8).x(), 0, 1e-12);
    hands.choose("pathWhere", "face");
    QWidget* draw = hands.find("drawPath");
    QTest::mouseClick(draw, Qt::LeftButton);
    EXPECT_FALSE(hands.session.pathTool().drawing) << "no face is picked";
    EXPECT_FALSE(hands.refusals.isEmpty());
}

}  // namespace
}  // namespace pivrak
