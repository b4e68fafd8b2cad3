// Paths, riders, wheels and vehicles by hands.
#include "app/stages/rig/vehicle_card.h"
#include "core/rig/paths/path_curve.h"
#include "demo/vehicles.h"
#include "tests/app/app_test.h"
#include "tests/support/pixels.h"
#include "tests/support/temp_folder.h"

namespace pivrak {
namespace {

using nlohmann::json;
using test::Hands;
using test::pixelOf;

void clickAt(Hands& hands, const Vec3& place) {
    QTest::mouseClick(&hands.window.view(), Qt::LeftButton, {}, pixelOf(hands, place));
    hands.settle();
}

const Path& onlyPath(Hands& hands) {
    return *hands.session.document().paths.begin();
}

void standIn(Hands& hands, const char* kind, const char* name, const json& more) {
    json step{{"op", "stand_in.add"}, {"kind", kind}, {"name", name}};
    step.update(more);
    EXPECT_TRUE(hands.session.run(step)) << hands.refusals.join("; ").toStdString();
}

/// The Rig stage from above, where the work plane lies open.
void lookFromAbove(Hands& hands) {
    hands.key(Qt::Key_5);
    hands.window.view().setDirection(-pi / 2, 1.2);
    hands.window.view().camera().target = Vec3(0, 0, 0);
    hands.window.view().camera().distance = 14;
    hands.settle();
}

TEST(PathsByHand, DrawnDraggedLengthenedAndTakenOut) {
    Hands hands(test::look());
    lookFromAbove(hands);
    hands.click("tabPaths");
    hands.choose("pathForm", "polyline");
    hands.click("drawPath");
    for (const Vec3& p : {Vec3(-3, -1, 0), Vec3(0, 1, 0), Vec3(1, 2.5, 0), Vec3(3, -1, 0)}) clickAt(hands, p);
    EXPECT_EQ(hands.session.pathTool().drawn.size(), 4u);
    hands.key(Qt::Key_Backspace);
    hands.key(Qt::Key_Return);
    ASSERT_EQ(hands.session.document().paths.size(), 1u) << hands.refusals.join("; ").toStdString();
    ASSERT_EQ(onlyPath(hands).points.size(), 3u);
    EXPECT_LT((onlyPath(hands).points[1].place - Vec3(0, 1, 0)).norm(), 0.03);
    EXPECT_FALSE(hands.session.pathTool().drawing);
    EXPECT_TRUE(hands.text("pathFacts").contains("3 points"));

    Viewport& view = hands.window.view();
    hands.drag(&view, pixelOf(hands, onlyPath(hands).points[1].place), pixelOf(hands, {0.5, 2, 0}));
    EXPECT_LT((onlyPath(hands).points[1].place - Vec3(0.5, 2, 0)).norm(), 0.05);
    const Vec3 low = onlyPath(hands).points[0].place;
    hands.drag(&view, pixelOf(hands, low), pixelOf(hands, low + Vec3(0, 0, 1)), Qt::ShiftModifier);
    EXPECT_NEAR(onlyPath(hands).points[0].place.z(), 1, 0.1) << "up with Shift";
    EXPECT_LT((onlyPath(hands).points[0].place - low).head<2>().norm(), 1e-9);

    const Vec3 middle = 0.5 * (onlyPath(hands).points[1].place + onlyPath(hands).points[2].place);
    QTest::mouseDClick(&view, Qt::LeftButton, {}, pixelOf(hands, middle));
    hands.settle();
    ASSERT_EQ(onlyPath(hands).points.size(), 4u);
    EXPECT_LT((onlyPath(hands).points[2].place - middle).norm(), 0.05);
    clickAt(hands, onlyPath(hands).points[2].place);
    hands.key(Qt::Key_Delete);
    EXPECT_EQ(onlyPath(hands).points.size(), 3u);

    hands.type("pathCount", "6");
    hands.click("respacePath");
    EXPECT_EQ(onlyPath(hands).points.size(), 6u);
    hands.click("closePath");
    EXPECT_TRUE(onlyPath(hands).closed);
    hands.click("reversePath");
    hands.session.undo();
    hands.session.undo();
    EXPECT_FALSE(onlyPath(hands).closed);
    hands.click("drawPath");
    clickAt(hands, {0, 0, 0});
    hands.key(Qt::Key_Escape);
    EXPECT_FALSE(hands.session.pathTool().drawing);
    EXPECT_EQ(hands.session.document().paths.size(), 1u) << "Esc leaves nothing behind";
}

TEST(PathsByHand, FilesComeInAndGoOut) {
    Hands hands(test::look());
    test::TempFolder folder;
    folder.write("road.svg", "<svg><path id='road' d='M0 0 C 2 0 4 1 6 0'/></svg>");
    hands.key(Qt::Key_5);
    hands.click("tabPaths");
    hands.open_answer = QString::fromStdString((folder / "road.svg").string());
    hands.click("importPaths");
    ASSERT_EQ(hands.session.document().paths.size(), 1u) << hands.refusals.join("; ").toStdString();
    hands.save_answer = QString::fromStdString((folder / "out.obj").string());
    hands.click("exportPath");
    EXPECT_NE(folder.read("out.obj").find("\nl 1 2 3"), std::string::npos);
}

TEST(RidersByHand, RideAreDraggedAlongAndKeyed) {
    Hands hands(test::look());
    standIn(hands, "box", "Car", {{"at", {0, 0, 0}}, {"length", 1}, {"width", 0.5}, {"height", 0.4}});
    hands.session.run({{"op", "path.add"},
                       {"name", "line"},
                       {"form", "line"},
                       {"points", json::array({{-4, 0, 0}, {4, 0, 0}})}});
    lookFromAbove(hands);
    clickAt(hands, {3, 0, 0});
    ASSERT_NE(hands.session.pathInHand(), nullptr) << "a click takes the path in hand";
    hands.clickRow(hands.named("Car"));
    hands.click("tabRide");
    hands.click("setRide");
    const PartId car = hands.named("Car");
    const auto along = [&] { return hands.session.valueOf({car, ChannelKind::Along}); };
    EXPECT_LT((hands.session.worldFromPart(car).translation - Vec3(-4, 0, 0)).norm(), 1e-9);
    hands.type("rideAlong", "25 %");
    EXPECT_NEAR(along(), 2, 1e-9);
    hands.drag(&hands.window.view(), pixelOf(hands, {-2, 0, 0}), pixelOf(hands, {1, 0, 0}));
    EXPECT_NEAR(along(), 5, 0.05);
    hands.key(Qt::Key_K);
    const Track* track = hands.session.clip().track({car, ChannelKind::Along});
    ASSERT_NE(track, nullptr) << hands.refusals.join("; ").toStdString();
    hands.session.setFrame(20);
    hands.drag(&hands.window.view(), pixelOf(hands, hands.session.worldFromPart(car).translation),
               pixelOf(hands, {3, 0, 0}));
    EXPECT_EQ(hands.session.clip().track({car, ChannelKind::Along})->keys.size(), 2u)
        << "a keyed one gets a key";
    hands.choose("stringCoupling", "path");
    hands.type("stringGap", "1.5 m", false);
    hands.type("stringCount", "3", false);
    hands.click("coupleString");
    hands.click("acceptPreview");
    EXPECT_EQ(hands.session.document().parts.size(), 3u) << hands.refusals.join("; ").toStdString();
    hands.key(Qt::Key_6);
    EXPECT_NE(hands.find("keyChannel"), nullptr);
}

TEST(VehicleByHand, TheTruckIsFoundCorrectedRiggedAndMeasured) {
    Hands hands(test::look());
    const auto bytes = demo::supply_truck();
    ASSERT_TRUE(bytes.ok());
    test::TempFolder folder;
    folder.write("truck.glb", *bytes);
    for (const json& step :
         {json{{"op", "model.import"}, {"file", (folder / "truck.glb").string()}},
          json{{"op", "model.stand"}, {"scale", 0.01}, {"ground", true}, {"centre", true}},
          json{{"op", "tree.tidy"}}, json{{"op", "split.pieces"}, {"parts", {"tyres"}}},
          json{{"op", "part.remove"}, {"parts", {"trailer", "tyres 5", "tyres 6", "tyres 7", "tyres 8"}}}})
        ASSERT_TRUE(hands.session.run(step)) << step.dump() << hands.refusals.join("; ").toStdString();
    hands.key(Qt::Key_5);
    hands.click("tabVehicle");
    hands.click("lookForWheels");
    hands.settle();
    auto* picture = hands.find<LayoutPicture>("layoutPicture");
    ASSERT_NE(picture, nullptr) << hands.refusals.join("; ").toStdString();
    EXPECT_TRUE(hands.text("vehicleFacts").contains("4 wheels on 2 axles, wheelbase 3.400 m"))
        << hands.text("vehicleFacts").toStdString();
    // The rear axle is made to steer, and not again.
    for (int i = 0; i < 2; ++i)
        QTest::mouseClick(picture, Qt::LeftButton, {}, picture->wheelBox(2).center().toPoint());
    hands.type("vehicleName", "Truck");
    hands.type("vehicleKingpin", "160 mm");
    hands.click("makeVehicle");
    hands.settle();
    ASSERT_NE(hands.session.previewed(), nullptr) << hands.refusals.join("; ").toStdString();
    hands.click("acceptPreview");
    ASSERT_EQ(hands.session.document().vehicles.size(), 1u);
    const Vehicle& truck = *hands.session.document().vehicles.begin();
    EXPECT_TRUE(truck.steering) << "the front axle steers";
    EXPECT_TRUE(truck.wheels[0].steering);
    EXPECT_FALSE(truck.wheels[3].steering);
    // The root goes on by its gauge: wheels roll.
    const ChannelRef forward{truck.place, ChannelKind::ShiftX};
    const auto rolls_as_it_goes = [&] {
        EXPECT_NEAR(hands.session.turnOf(truck.wheels[0].wheel),
                    hands.session.valueOf(forward) / demo::VehicleFigures{}.truck_wheel_radius, 0.01);
    };
    hands.typeAtGauge(forward, "1 m");
    EXPECT_NEAR(hands.session.valueOf(forward), 1, 1e-9);
    rolls_as_it_goes();
    // They do while a hand drags it, and stay when it lets go.
    Viewport& view = hands.window.view();
    const Vec2 knob = view.gauges().active()->knob(view.camera());
    const QPoint from(static_cast<int>(knob.x()), static_cast<int>(knob.y()));
    double turned = 0;
    hands.drag(&view, from, from + QPoint(40, 0), {}, Qt::LeftButton, [&] {
        EXPECT_GT(std::abs(hands.session.valueOf(forward) - 1), 0.1);
        rolls_as_it_goes();
        turned = hands.session.turnOf(truck.wheels[0].wheel);
    });
    EXPECT_NEAR(hands.session.turnOf(truck.wheels[0].wheel), turned, 1e-3);
    for (const auto& [frame, value] : {std::pair{0, "0 m"}, {40, "6 m"}})
        hands.session.run({{"op", "key.set"},
                           {"parts", {truck.place.value}},
                           {"channel", "shift_x"},
                           {"frame", frame},
                           {"value", value}});
    hands.click("tabWheels");
    hands.click("measureSlip");
    hands.settle();
    EXPECT_TRUE(hands.text("slipRow").contains("gap 0.0000 mm") || hands.text("slipRow").contains("gap 0"))
        << hands.text("slipRow").toStdString();
    ASSERT_NE(hands.find("slipPlot"), nullptr) << "the plot lies below the view";
    hands.session.setFrame(20);
    hands.settle();
}

}  // namespace
}  // namespace pivrak
