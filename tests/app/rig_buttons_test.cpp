#include "tests/app/panel_hands.h"

namespace pivrak {
namespace {

TEST(PanelButtons, ControlsAreSizedMadePlainAndPickedAlone) {
    Hands hands(test::look());
    runAll(hands, {box("lid", {0, 0, 0.5}), {{"op", "control.add"}, {"parts", {"lid"}}, {"form", "ring"}}});
    hands.key(Qt::Key_4);
    hands.click("tabControls");
    hands.clickRow(hands.named("lid control"));
    const auto size = [&] { return part(hands, "lid control").control->half_m.maxCoeff(); };
    const double fitted = size();
    hands.click("controlSmaller");
    EXPECT_LT(size(), fitted);
    hands.click("controlFit");
    EXPECT_NEAR(size(), fitted, 1e-12);
    hands.click("handsOff");
    EXPECT_TRUE(hands.session.handsOff());
    hands.click("handsOff");
    EXPECT_FALSE(hands.session.handsOff());
    hands.click("controlPlain");
    EXPECT_FALSE(part(hands, "lid control").is_control());
}

TEST(PanelButtons, NamesAreReplaced) {
    Hands hands(test::look());
    runAll(hands, {box("left lid", {0, 0, 0}), box("right lid", {1, 0, 0})});
    hands.key(Qt::Key_4);
    hands.click("tabNames");
    hands.pickNamed({"left lid", "right lid"});
    hands.type("nameFind", "lid", false);
    hands.type("namePut", "door", false);
    hands.click("replaceInNames");
    if (hands.session.previewed()) hands.click("acceptPreview");
    EXPECT_TRUE(find_part(hands.session.document(), "left door").ok());
    EXPECT_TRUE(find_part(hands.session.document(), "right door").ok());
}

TEST(PanelButtons, GearsAreSwappedMovedAndRemoved) {
    Hands hands(test::look());
    runAll(hands, {gear("small", 20, 0),
                   gear("large", 40, 0.13),
                   {{"op", "joint.set"}, {"parts", {"small", "large"}}, {"kind", "hinge"}, {"axis", "x"}}});
    hands.key(Qt::Key_5);
    hands.click("tabGears");
    hands.pickNamed({"small", "large"});
    hands.click("swapGears");
    hands.click("coupleGears");
    if (hands.session.previewed()) hands.click("acceptPreview");
    ASSERT_EQ(hands.session.document().couplings.size(), 1u) << hands.refusals.join("; ").toStdString();
    const auto pair = [&] { return *hands.session.document().couplings.begin()->as<GearPair>(); };
    const PartId first = pair().driver.part();
    hands.click("fitCentres");
    ASSERT_NE(hands.session.previewed(), nullptr) << hands.refusals.join("; ").toStdString();
    hands.click("acceptPreview");
    const auto at = [&](const char* name) {
        return world_from_rest(hands.session.document(), hands.named(name)).translation;
    };
    EXPECT_NEAR((at("large") - at("small")).norm(), 0.004 * 60 / 2, 1e-6)
        << "half of all teeth, times the module (ISO 53)";
    hands.click("removePair");
    EXPECT_EQ(hands.session.document().couplings.size(), 0u);
    hands.pickNamed({"small", "large"});
    hands.click("coupleGears");
    if (hands.session.previewed()) hands.click("acceptPreview");
    ASSERT_EQ(hands.session.document().couplings.size(), 1u);
    EXPECT_NE(pair().driver.part(), first) << "without the swap the other one drives";
}

TEST(PanelButtons, ChainsGetLinksAndGo) {
    Hands hands(test::look());
    runAll(hands, {{{"op", "stand_in.add"},
                    {"kind", "sprocket"},
                    {"name", "left"},
                    {"teeth", 19},
                    {"chain", "16B"},
                    {"axis", "y"},
                    {"at", {0, 0, 1}}},
                   {{"op", "stand_in.add"},
                    {"kind", "sprocket"},
                    {"name", "right"},
                    {"teeth", 19},
                    {"chain", "16B"},
                    {"axis", "y"},
                    {"at", {0.7, 0, 1}}},
                   {{"op", "stand_in.add"},
                    {"kind", "inner link"},
                    {"name", "inner"},
                    {"chain", "16B"},
                    {"at", {3, 0, 0}}},
                   {{"op", "joint.set"}, {"parts", {"left", "right"}}, {"kind", "hinge"}, {"axis", "x"}},
                   {{"op", "chain.add"}, {"wheels", {"left", "right"}}, {"name", "drive"}},
                   {{"op", "chain.build"}, {"chain", "drive"}, {"parts", {"inner"}}}});
    hands.key(Qt::Key_5);
    hands.click("tabChains");
    hands.clickRow(hands.named("drive"));
    const auto chain = [&] { return *hands.session.document().chains.begin(); };
    const int links = chain().link_count;
    hands.type("chainCount", QString::number(links + 2), false);
    hands.click("setLinks");
    accept(hands);
    EXPECT_EQ(chain().link_count, links + 2)
        << hands.told.join("; ").toStdString() << hands.refusals.join("; ").toStdString();
    const std::size_t parts = hands.session.document().parts.size();
    hands.click("removeChain");
    EXPECT_EQ(hands.session.document().chains.size(), 0u);
    EXPECT_GE(hands.session.document().parts.size(), parts - 1) << "its links stay";
    hands.key(Qt::Key_Z, Qt::ControlModifier);
    ASSERT_EQ(hands.session.document().chains.size(), 1u);
    hands.clickRow(hands.named("drive"));
    hands.click("removeChainLinks");
    EXPECT_EQ(hands.session.document().chains.size(), 0u);
    EXPECT_LT(hands.session.document().parts.size(), 6u) << "they went with it";
}

TEST(PanelButtons, PathsAreLaidCarriedSmoothedRolledAndRemoved) {
    Hands hands(test::look());
    runAll(hands, {{{"op", "stand_in.add"},
                    {"kind", "plate"},
                    {"name", "ground"},
                    {"length", 12},
                    {"width", 12},
                    {"at", {0, 0, -0.5}}},
                   box("boat", {0, 0, 1}),
                   {{"op", "path.add"},
                    {"form", "bezier"},
                    {"name", "way"},
                    {"points", {{-2, 0, 0}, {0, 1, 0.4}, {2, 0, 0}, {3, 2, 0}}}},
                   {{"op", "ride.set"}, {"parts", {"boat"}}, {"path", "way"}}});
    hands.key(Qt::Key_5);
    hands.click("tabPaths");
    const auto path = [&] { return *hands.session.document().paths.begin(); };
    hands.choose("pathInHand", QVariant::fromValue<qulonglong>(path().id.value));
    hands.clickPathPoint(1);
    hands.click("cornerPoints");
    EXPECT_LT(path().points[1].before.norm() + path().points[1].after.norm(), 1e-9);
    hands.click("smoothPoints");
    EXPECT_GT(path().points[1].after.norm(), 1e-3);
    hands.clickRow(hands.named("ground"));
    hands.click("drapePath");
    ASSERT_TRUE(path().drape.has_value()) << hands.refusals.join("; ").toStdString();
    EXPECT_EQ(path().drape->ground, hands.named("ground"));
    hands.clickRow(hands.named("ground"));
    hands.click("carryPath");
    EXPECT_EQ(path().carrier, hands.named("ground"));
    hands.click("tabRide");
    hands.clickRow(hands.named("boat"));
    hands.click("leavePath");
    EXPECT_FALSE(part(hands, "boat").ride.has_value());
    hands.click("tabPaths");
    hands.choose("pathInHand", QVariant::fromValue<qulonglong>(path().id.value));
    hands.clickPathPoint(1);
    hands.type("pathRollAt", "1 m", false);
    hands.type("pathRoll", "20", false);
    hands.click("setPathRoll");
    EXPECT_EQ(path().rolls.size(), 1u) << hands.refusals.join("; ").toStdString();
    const std::size_t points = path().points.size();
    hands.click("deletePoints");
    EXPECT_EQ(path().points.size(), points - 1);
    hands.click("removePath");
    EXPECT_EQ(hands.session.document().paths.size(), 0u);
}

TEST(PanelButtons, CarriagesAreCoupledOnTheirBogies) {
    Hands hands(test::look());
    json front = box("front bogie", {0.12, 0, -0.1}), rear = box("rear bogie", {-0.12, 0, -0.1});
    for (json* bogie : {&front, &rear}) {
        (*bogie)["length"] = 0.1;
        (*bogie)["under"] = "car";
    }
    runAll(hands,
           {{{"op", "path.add"}, {"form", "circle"}, {"name", "ring"}, {"centre", {0, 0, 0}}, {"radius", 3}},
            box("car", {0, 0, 0.1}),
            front,
            rear});
    hands.key(Qt::Key_5);
    hands.click("tabPaths");
    hands.choose("pathInHand",
                 QVariant::fromValue<qulonglong>(hands.session.document().paths.begin()->id.value));
    hands.click("tabRide");
    hands.pickNamed({"front bogie", "rear bogie"});
    hands.click("stringBogies");
    hands.clickRow(hands.named("car"));
    hands.type("stringCount", "3", false);
    hands.type("stringGap", "10 cm", false);
    hands.click("coupleString");
    accept(hands);
    ASSERT_EQ(hands.session.document().parts.size(), 9u);
    const Frame body = hands.session.worldFromPart(hands.named("car 3")),
                bogie = hands.session.worldFromPart(hands.named("front bogie 3"));
    EXPECT_LT(
        (bogie.translation - body.point({0.12, 0, bogie.translation.z() - body.translation.z()})).norm(),
        1e-6);
    EXPECT_NEAR(std::acos(bogie.axis(0).dot(body.axis(0))), std::asin(0.12 / 3), 1e-6)
        << "it turned under its body";
}

/// Two tyres are boxes, which no search takes for wheels; they are picked and added. The cart stands sideways
/// first.
TEST(PanelButtons, AVehicleIsTurnedAndWithWheelsThatTheSearchMissed) {
    Hands hands(test::look());
    std::vector<json> steps{box("frame", {0, 0, 0.6})};
    for (const double x : {0.6, -0.6})
        for (const double y : {0.4, -0.4}) {
            const std::string name = fmt::format("wheel {}", steps.size());
            steps.push_back(x > 0 ? round_part("wheel", name.c_str(), {x, y, 0.25})
                                  : box(name.c_str(), {x, y, 0.25}));
        }
    steps.push_back({{"op", "model.stand"}, {"front", "+y"}});
    for (const json& step : steps)
        ASSERT_TRUE(hands.session.run(step)) << step.dump() << hands.refusals.join("; ").toStdString();
    hands.session.select({});
    hands.key(Qt::Key_5);
    hands.click("tabVehicle");
    hands.click("lookForWheels");
    hands.settle();
    EXPECT_TRUE(hands.text("vehicleFacts").contains("2 wheels of ⌀ "))
        << hands.text("vehicleFacts").toStdString();
    hands.click("turnVehicle");
    hands.settle();
    hands.click("acceptPreview");
    hands.click("lookForWheels");
    hands.settle();
    EXPECT_TRUE(hands.text("vehicleFacts").contains("2 wheels on 1 axle"))
        << hands.text("vehicleFacts").toStdString();
    hands.pickNamed({"wheel 3", "wheel 4"});
    hands.click("addVehicleWheels");
    EXPECT_TRUE(hands.text("vehicleFacts").contains("4 wheels on 2 axles"))
        << hands.text("vehicleFacts").toStdString();
    hands.click("makeVehicle");
    hands.settle();
    hands.click("acceptPreview");
    ASSERT_EQ(hands.session.document().vehicles.size(), 1u) << hands.refusals.join("; ").toStdString();
    EXPECT_EQ(hands.session.document().vehicles.begin()->wheels.size(), 4u);
}

TEST(PanelButtons, WheelsAndVehiclesAreFreedAndStandOnWhatIsPicked) {
    Hands hands(test::look());
    std::vector<json> steps{{{"op", "stand_in.add"},
                             {"kind", "plate"},
                             {"name", "ground"},
                             {"length", 12},
                             {"width", 12},
                             {"at", {0, 0, -0.1}}},
                            box("frame", {0, 0, 0.6})};
    json parts{"frame"};
    for (const double x : {0.6, -0.6})
        for (const double y : {0.4, -0.4}) {
            const std::string name = fmt::format("wheel {}", parts.size());
            steps.push_back(round_part("wheel", name.c_str(), {x, y, 0.25}));
            parts.push_back(name);
        }
    steps.push_back({{"op", "vehicle.make"}, {"name", "cart"}, {"parts", parts}});
    for (const json& step : steps)
        ASSERT_TRUE(hands.session.run(step)) << step.dump() << hands.refusals.join("; ").toStdString();
    hands.key(Qt::Key_5);
    hands.click("tabVehicle");
    hands.clickRow(hands.named("ground"));
    hands.click("vehicleOnPicked");
    EXPECT_EQ(hands.session.document().vehicles.begin()->ground, hands.named("ground"));
    hands.click("vehicleOnFloor");
    EXPECT_FALSE(hands.session.document().vehicles.begin()->ground);
    // Each field goes to the vehicle, the travel to all of its wheels.
    for (const auto& [field, text] : {std::pair("made_heave", "50 %"),
                                      {"made_bump", "80 mm"},
                                      {"made_droop", "60 mm"},
                                      {"made_name", "Wagon"}}) {
        hands.type(field, QString::fromUtf8(text));
        hands.settle();
    }
    const Vehicle& vehicle = *hands.session.document().vehicles.begin();
    EXPECT_EQ(vehicle.name, "Wagon") << hands.refusals.join("; ").toStdString();
    EXPECT_NEAR(vehicle.heave, 0.5, 1e-12);
    // What is no number is refused, not taken for nothing.
    hands.type("made_heave", QStringLiteral("much"));
    EXPECT_EQ(hands.refusals.size(), 1) << hands.refusals.join("; ").toStdString();
    EXPECT_NEAR(hands.session.document().vehicles.begin()->heave, 0.5, 1e-12);
    for (const VehicleWheel& wheel : vehicle.wheels) {
        const auto limits = hands.session.document().parts.find(wheel.suspension)->joint.shift.limits;
        ASSERT_TRUE(limits.has_value());
        EXPECT_NEAR(limits->max, 0.08, 1e-9);
        EXPECT_NEAR(limits->min, -0.06, 1e-9);
    }
    // Nor does a field that nobody typed at say anything: the front wheels keep a travel of their own.
    hands.session.run({{"op", "joint.set"},
                       {"parts", {vehicle.wheels.front().suspension.value}},
                       {"channel", "shift"},
                       {"max", 0.0712345678}});
    hands.settle();
    const std::size_t before = hands.session.history().steps().size();
    for (const char* field : {"made_bump", "made_droop", "made_heave"}) hands.enterUntyped(field);
    EXPECT_EQ(hands.session.history().steps().size(), before);
    hands.click("removeVehicle");
    EXPECT_EQ(hands.session.document().vehicles.size(), 0u);
    hands.session.run({{"op", "coupling.roll"}, {"parts", {"wheel 1"}}});
    const auto rolling = hands.session.document().couplings.size();
    ASSERT_GT(rolling, 0u);
    hands.click("tabWheels");
    hands.clickRow(hands.named("wheel 1"));
    hands.click("freeWheels");
    EXPECT_EQ(hands.session.document().couplings.size(), rolling - 1);
}

TEST(PanelButtons, AKeyIsSetByThePanel) {
    Hands hands(test::look());
    runAll(hands, {box("lid", {0, 0, 0.5}),
                   {{"op", "joint.set"}, {"parts", {"lid"}}, {"kind", "hinge"}, {"axis", "y"}}});
    hands.key(Qt::Key_6);
    hands.clickRow(hands.named("lid"));
    hands.click("panelSetKey");
    const Track* track = hands.session.clip().track({hands.named("lid"), ChannelKind::Turn});
    ASSERT_NE(track, nullptr);
    EXPECT_EQ(track->keys.size(), 1u);
}

}  // namespace
}  // namespace pivrak
