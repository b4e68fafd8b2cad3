#include "tests/app/station.h"

namespace pivrak {
namespace {

/// The whole way of a new user, by mouse and keys, and the same through a job.
TEST(Window, FromARawModelToADeliveredClip) {
    Hands hands(test::look());
    TempFolder folder;
    const QString delivery = QString::fromStdString((folder / "window.glb").string());
    const std::string motor = piece_name("Motor shaft"), pinion = piece_name("Pinion 17T"),
                      layshaft = piece_name("Layshaft"), wheel = piece_name("Wheel 51T");

    hands.type("importPath", raw_station);
    ASSERT_NE(hands.session.previewed(), nullptr);
    EXPECT_TRUE(hands.text("previewText").contains("millimetres")) << hands.text("previewText").toStdString();
    EXPECT_TRUE(hands.text("modelSize").contains("2.586 m long"));
    EXPECT_TRUE(hands.session.document().parts.empty()) << "a preview changes nothing";
    hands.click("acceptPreview");
    EXPECT_EQ(hands.session.document().parts.size(), 4u);

    hands.key(Qt::Key_2);
    ASSERT_EQ(hands.session.stage(), Stage::Split);
    hands.clickRow(hands.named("steel"));
    hands.clickRow(hands.named("paint"), Qt::ControlModifier);
    hands.clickRow(hands.named("cast"), Qt::ControlModifier);
    hands.click("previewSplit");
    ASSERT_NE(hands.session.previewed(), nullptr);
    EXPECT_EQ(hands.text("splitCount"), "99 pieces");
    EXPECT_EQ(hands.find<QTableWidget>("pieceTable")->rowCount(), 99);
    hands.key(Qt::Key_Return);
    EXPECT_EQ(hands.session.document().parts.size(), 4u + 99u);

    hands.key(Qt::Key_3);
    hands.clickInView(hands.named(pinion));
    EXPECT_EQ(hands.session.selection(), std::vector<PartId>{hands.named(pinion)});
    hands.clickInView(hands.named(wheel), Qt::ShiftModifier);
    hands.clickRow(hands.named(motor), Qt::ControlModifier);
    hands.clickRow(hands.named(layshaft), Qt::ControlModifier);
    EXPECT_EQ(hands.session.selection().size(), 4u);
    hands.click("pivotCylinder");
    ASSERT_NE(hands.session.previewed(), nullptr) << hands.refusals.join("; ").toStdString();
    EXPECT_TRUE(hands.text("previewText").contains("residual"));
    hands.click("acceptPreview");

    hands.key(Qt::Key_4);
    hands.clickRow(hands.named(pinion));
    hands.clickRow(hands.named(motor), Qt::ControlModifier);
    hands.key(Qt::Key_U);
    hands.clickRow(hands.named(wheel));
    hands.clickRow(hands.named(layshaft), Qt::ControlModifier);
    hands.click("putUnder");
    EXPECT_EQ(hands.session.document().parts.find(hands.named(wheel))->parent, hands.named(layshaft));
    hands.clickRow(hands.named(motor));
    hands.clickRow(hands.named(layshaft), Qt::ControlModifier);
    hands.click("tabJoint");
    hands.choose("jointKind", "hinge");
    EXPECT_EQ(hands.session.document().parts.find(hands.named(motor))->joint.kind, JointKind::Hinge);

    hands.key(Qt::Key_5);
    EXPECT_EQ(hands.find<QLineEdit>("driverTeeth")->text(), "17") << "counted on the shape";
    EXPECT_EQ(hands.find<QLineEdit>("drivenTeeth")->text(), "51");
    EXPECT_TRUE(hands.text("gearFacts").contains("272.00 mm = 8.00 mm × 34"))
        << hands.text("gearFacts").toStdString();
    hands.click("coupleGears");
    ASSERT_EQ(hands.session.document().couplings.size(), 1u) << hands.refusals.join("; ").toStdString();

    hands.key(Qt::Key_6);
    hands.clickRow(hands.named(motor));
    hands.type("clipLast", "72");
    hands.choose("keyInterpolation", "linear");
    hands.type("keyValue", "0");
    hands.type("frameEntry", "72");
    hands.type("keyValue", "1080");
    const Track* track = hands.session.clip().track({hands.named(motor), ChannelKind::Turn});
    ASSERT_NE(track, nullptr) << hands.refusals.join("; ").toStdString();
    ASSERT_EQ(track->keys.size(), 2u);
    EXPECT_NEAR(track->keys[1].value, 6 * pi, 1e-12);

    hands.key(Qt::Key_Left, Qt::ControlModifier);
    const double before = hands.session.turnOf(hands.named(layshaft));
    hands.key(Qt::Key_Space);
    EXPECT_TRUE(QTest::qWaitFor([&] { return hands.session.frame() > 5; }, 30000)) << "it plays";
    hands.key(Qt::Key_Space);
    EXPECT_NEAR(hands.session.turnOf(hands.named(layshaft)) - before, -hands.session.frame() / 72 * 2 * pi,
                1e-9)
        << "a third of the motor, the other way";
    const double stopped = hands.session.frame();
    QTest::qWait(120);
    EXPECT_EQ(hands.session.frame(), stopped);

    hands.key(Qt::Key_7);
    hands.type("deliveryPath", delivery, false);
    hands.click("deliver");
    ASSERT_TRUE(hands.session.lastDelivery().has_value()) << hands.refusals.join("; ").toStdString();
    EXPECT_LE(hands.session.lastDelivery()->read_back.at_frames.largest_m, 1e-5);
    EXPECT_LE(hands.session.lastDelivery()->read_back.at_frames.largest_rad, 0.001 * rad_per_deg);
    EXPECT_TRUE(hands.text("deliveryVerdict").contains("✓ read back at 73 frames"));
    EXPECT_TRUE(hands.refusals.isEmpty()) << hands.refusals.join("; ").toStdString();

    // The same through one job: an equal project, and the same bytes delivered.
    const json job{
        {"import", {{"file", raw_station.toStdString()}, {"unit", "auto"}, {"up", "auto"}}},
        {"steps",
         {{{"op", "split.pieces"}, {"parts", {"steel", "paint", "cast"}}, {"weld", "0.01 mm"}},
          {{"op", "pivot.fit_cylinder"}, {"parts", {pinion, wheel, motor, layshaft}}, {"axis", "x"}},
          {{"op", "tree.parent"}, {"parts", {pinion}}, {"under", motor}},
          {{"op", "tree.parent"}, {"parts", {wheel}}, {"under", layshaft}},
          {{"op", "joint.set"}, {"parts", {motor, layshaft}}, {"kind", "hinge"}},
          {{"op", "coupling.gear"},
           {"driver", motor},
           {"driven", layshaft},
           {"driver_teeth", 17},
           {"driven_teeth", 51}},
          {{"op", "clip.set"}, {"last_frame", 72}},
          {{"op", "key.set"},
           {"parts", {motor}},
           {"frame", 0},
           {"value", "0 deg"},
           {"interpolation", "linear"}},
          {{"op", "key.set"},
           {"parts", {motor}},
           {"frame", 72},
           {"value", "1080 deg"},
           {"interpolation", "linear"}}}},
        {"deliver", "job.glb"}};
    const auto done = run_job(make_registry(), job, {folder.path(), {}});
    ASSERT_TRUE(done.ok()) << done.error().message;
    EXPECT_TRUE(done->document == hands.session.document());
    EXPECT_EQ(folder.read("job.glb"), folder.read("window.glb"));

    // Undo back to nothing and redo to the end.
    const Document end = hands.session.document();
    while (hands.session.history().can_undo()) hands.key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_TRUE(hands.session.document() == empty_document());
    while (hands.session.history().can_redo()) hands.key(Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
    EXPECT_TRUE(hands.session.document() == end);
}

TEST_F(Station, TheNeedleTurnsAHingeAndWhatItDrives) {
    hands.session.run({{"op", "key.remove"}, {"parts", "Motor shaft"}});
    hands.clickRow(hands.named("Motor shaft"));
    const auto dial = hands.window.view().gauge();
    ASSERT_TRUE(dial.has_value());
    EXPECT_FALSE(dial->driven);
    const Camera& camera = hands.window.view().camera();
    const auto pixel = [&](double angle) {
        const Vec3 seen = camera.project(dial->place(angle));
        return QPoint(static_cast<int>(std::lround(seen.x())), static_cast<int>(std::lround(seen.y())));
    };
    const double layshaft = hands.session.turnOf(hands.named("Layshaft"));
    hands.drag(&hands.window.view(), pixel(0), pixel(0.9));
    const double turned = hands.session.turnOf(hands.named("Motor shaft"));
    EXPECT_NEAR(turned, 0.9, 0.08);
    EXPECT_NEAR(hands.session.turnOf(hands.named("Layshaft")) - layshaft, -turned / 3, 1e-12);
    EXPECT_EQ(hands.session.history().undo_title(), "Turn or shift") << "one edit for the whole drag";
    hands.key(Qt::Key_Z, Qt::ControlModifier);
    EXPECT_EQ(hands.session.turnOf(hands.named("Motor shaft")), 0);
}

TEST_F(Station, ATurnCanBeTypedWithUnitsAndIsRefusedInWords) {
    hands.session.run({{"op", "key.remove"}, {"parts", "Motor shaft"}});
    hands.clickRow(hands.named("Motor shaft"));
    hands.type("gaugeEntry", "1/3 turn");
    EXPECT_NEAR(hands.session.turnOf(hands.named("Motor shaft")), 2 * pi / 3, 1e-12);
    const Document before = hands.session.document();
    hands.type("gaugeEntry", "3 mm");
    ASSERT_FALSE(hands.refusals.isEmpty());
    EXPECT_TRUE(hands.refusals.back().contains("cannot be read as an angle"))
        << hands.refusals.back().toStdString();
    EXPECT_TRUE(hands.session.document() == before);
}

TEST_F(Station, OnAKeyedHingeTheGaugeKeysAtTheFrame) {
    hands.clickRow(hands.named("Motor shaft"));
    hands.type("frameEntry", "36");
    hands.type("gaugeEntry", "90");
    const Track* track = hands.session.clip().track({hands.named("Motor shaft"), ChannelKind::Turn});
    ASSERT_NE(track->key_at(36), nullptr) << "nothing turned by hand is lost";
    EXPECT_NEAR(track->key_at(36)->value, pi / 2, 1e-12);
}

TEST_F(Station, TheEntryOfAKnobBesideTheEyeStaysAtTheNearestEdge) {
    // Straight above the eye a place is seen endlessly far up.
    const Camera& camera = hands.window.view().camera();
    const Vec3 place = camera.eye() + camera.up() - 1e-12 * camera.back();
    hands.session.run({{"op", "datum.add"}, {"name", "high"}, {"place", {place.x(), place.y(), place.z()}}});
    hands.session.run({{"op", "joint.set"}, {"parts", {"high"}}, {"kind", "slide"}, {"axis", "z"}});
    hands.clickRow(hands.named("high"));
    const Vec3 seen = hands.window.view().camera().project(place);
    ASSERT_LT(seen.y(), -1e10);
    EXPECT_EQ(hands.find("gaugeEntry")->y(), 4);
}

TEST_F(Station, ADrivenHingeSaysWhoDrivesIt) {
    hands.clickRow(hands.named("Layshaft"));
    const auto dial = hands.window.view().gauge();
    ASSERT_TRUE(dial.has_value());
    EXPECT_TRUE(dial->driven);
    const Document before = hands.session.document();
    const Vec2 knob = dial->knob(hands.window.view().camera());
    hands.drag(&hands.window.view(), QPoint(static_cast<int>(knob.x()), static_cast<int>(knob.y())),
               QPoint(10, 10));
    ASSERT_FALSE(hands.refusals.isEmpty());
    EXPECT_TRUE(hands.refusals.back().contains("driven by 'Motor shaft'"));
    EXPECT_TRUE(hands.session.document() == before);
    EXPECT_TRUE(hands.find<QLineEdit>("gaugeEntry")->isReadOnly());
}

TEST_F(Station, LimitsAreTypedTakenAndHold) {
    hands.session.run({{"op", "key.remove"}, {"parts", "Motor shaft"}});
    hands.clickRow(hands.named("Motor shaft"));
    hands.key(Qt::Key_4);
    hands.click("tabJoint");
    hands.type("limitMin", "-20", true);
    hands.type("limitMax", "1/8 turn", true);
    const auto limits = [&] {
        return hands.session.document().parts.find(hands.named("Motor shaft"))->joint.turn.limits;
    };
    ASSERT_TRUE(limits().has_value());
    EXPECT_NEAR(limits()->max, pi / 4, 1e-12);
    hands.type("gaugeEntry", "80");
    EXPECT_NEAR(hands.session.turnOf(hands.named("Motor shaft")), pi / 4, 1e-12);
    EXPECT_TRUE(hands.told.back().contains("stops at its limit"));
    hands.type("gaugeEntry", "10");
    hands.click("takeMax");
    EXPECT_NEAR(limits()->max, 10 * rad_per_deg, 1e-6);
    hands.click("noLimits");
    EXPECT_FALSE(limits().has_value());
}

/// The finished demo is among the examples, whole: its first clip runs, and every machine moves in it.
TEST(Examples, TheWholePassIsOpenedAndPlays) {
    test::Hands hands(test::look(), QStringLiteral(DEMO_MODELS));
    QAction* example = nullptr;
    for (QAction* action : hands.window.findChildren<QAction*>())
        if (action->objectName() == "example_saddle.pivrak.glb") example = action;
    ASSERT_NE(example, nullptr);
    EXPECT_TRUE(example->text().contains("finished project"));
    example->trigger();
    hands.settle();
    ASSERT_EQ(hands.session.document().clips.size(), 6u) << hands.refusals.join(" ").toStdString();
    EXPECT_EQ(hands.session.clip().name, "whole pass");
    const std::vector<const char*> machines{"Bull wheel", "cabin 2", "Groomer body", "Truck body", "Hook"};
    std::vector<Frame> before;
    for (const char* name : machines) before.push_back(hands.session.worldFromPart(hands.named(name)));
    hands.session.setFrame(260);
    hands.settle();
    for (std::size_t i = 0; i < machines.size(); ++i) {
        const Frame now = hands.session.worldFromPart(hands.named(machines[i]));
        EXPECT_GT((now.translation - before[i].translation).norm() +
                      angle_between(now.rotation, before[i].rotation),
                  0.1)
            << machines[i];
    }
}

}  // namespace
}  // namespace pivrak
