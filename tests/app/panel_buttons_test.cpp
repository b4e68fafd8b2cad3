// Buttons of the panels that no longer story goes by: each is clicked by hand, and what it does is looked at.
#include <QListWidget>

#include "core/checks/findings.h"
#include "core/model/edits/stand.h"
#include "tests/app/app_test.h"
#include "tests/support/steps.h"
#include "tests/support/temp_folder.h"
#include "tests/support/window.h"

namespace pivrak {
namespace {

using nlohmann::json;
using test::Hands;
using test::runAll;

json box(const char* name, const Vec3& at) {
    return {{"op", "stand_in.add"},
            {"kind", "box"},
            {"name", name},
            {"length", 0.4},
            {"width", 0.3},
            {"height", 0.2},
            {"at", {at.x(), at.y(), at.z()}}};
}

json round_part(const char* kind, const char* name, const Vec3& at, double diameter = 0.5) {
    return {{"op", "stand_in.add"}, {"kind", kind}, {"name", name}, {"diameter", diameter},
            {"length", 0.2},        {"width", 0.1}, {"axis", "y"},  {"at", {at.x(), at.y(), at.z()}}};
}

const Part& part(Hands& hands, const char* name) {
    return *hands.session.document().parts.find(hands.named(name));
}

/// What shows itself first is taken.
void accept(Hands& hands) {
    if (hands.session.previewed()) hands.click("acceptPreview");
    EXPECT_TRUE(hands.refusals.isEmpty()) << hands.refusals.join("; ").toStdString();
}

/// Clicks in the view on a part, beside each other; all but the first add to what is picked.
int click_across(Hands& hands, PartId id, int count) {
    Viewport& view = hands.window.view();
    int clicks = 0;
    for (int y = 40; y < view.height() - 40 && clicks < count; y += 7) {
        clicks = 0;
        for (int x = 20; x < view.width() - 20 && clicks < count; x += 11) {
            const QPoint pixel(x, y);
            if (!hands.isClear(pixel) || view.partAt(pixel) != id) continue;
            QTest::mouseClick(&view, Qt::LeftButton, clicks == 0 ? Qt::NoModifier : Qt::ShiftModifier, pixel);
            hands.settle();
            ++clicks;
        }
    }
    return clicks;
}

TEST(PanelButtons, ModelAndDeliveryAreChosenByDialog) {
    test::TempFolder folder;
    folder.write("plate.obj", "o plate\nv 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n");
    Hands hands(test::look());
    hands.key(Qt::Key_1);
    hands.open_answer = QString::fromStdString((folder / "plate.obj").string());
    hands.click("chooseModel");
    if (!hands.session.previewed()) hands.click("previewImport");
    ASSERT_NE(hands.session.previewed(), nullptr) << hands.refusals.join("; ").toStdString();
    hands.click("leavePreview");
    EXPECT_EQ(hands.session.previewed(), nullptr);
    EXPECT_EQ(hands.session.document().parts.size(), 0u);
    hands.click("previewImport");
    hands.click("acceptPreview");
    EXPECT_GT(hands.session.document().parts.size(), 0u);
    hands.key(Qt::Key_7);
    hands.save_answer = QString::fromStdString((folder / "out.glb").string());
    hands.click("chooseDelivery");
    hands.click("deliver");
    ASSERT_TRUE(hands.session.lastDelivery().has_value()) << hands.refusals.join("; ").toStdString();
    EXPECT_EQ(hands.session.lastDelivery()->path, folder / "out.glb");
}

TEST(PanelButtons, ADeliveryTakesAsManySamplesAsAsked) {
    Hands hands(test::look());
    test::TempFolder folder;
    runAll(hands,
           {box("ram", {0.4, 0, 0}),
            {{"op", "joint.set"}, {"parts", {"ram"}}, {"kind", "slide"}, {"axis", "z"}},
            {{"op", "clip.set"}, {"first_frame", 0}, {"last_frame", 12}},
            {{"op", "key.set"}, {"parts", {"ram"}}, {"channel", "shift"}, {"frame", 0}, {"value", 0}},
            {{"op", "key.set"}, {"parts", {"ram"}}, {"channel", "shift"}, {"frame", 12}, {"value", 2}}});
    hands.key(Qt::Key_7);
    hands.type("deliveryPath", QString::fromStdString((folder / "ram.glb").string()), false);
    hands.click("deliver");
    ASSERT_TRUE(hands.session.lastDelivery().has_value()) << hands.refusals.join("; ").toStdString();
    const double once_a_frame = hands.session.lastDelivery()->read_back.between.largest_m;
    EXPECT_GT(once_a_frame, 1e-4);
    EXPECT_EQ(hands.find("deliverTolerance"), nullptr) << "asked for only where it counts";
    hands.choose("deliverSamples", "4");
    hands.click("deliver");
    EXPECT_LT(hands.session.lastDelivery()->read_back.between.largest_m, 0.2 * once_a_frame);
    hands.choose("deliverSamples", "0");
    hands.type("deliverTolerance", "a little", false);
    hands.click("deliver");
    EXPECT_EQ(hands.refusals.size(), 1);
    hands.type("deliverTolerance", "0.02 mm", false);
    hands.click("deliver");
    EXPECT_LE(hands.session.lastDelivery()->read_back.between.largest_m, 2e-5);
    EXPECT_EQ(hands.refusals.size(), 1) << hands.refusals.join("; ").toStdString();
}

TEST(PanelButtons, TidyFlattensJoinsGroupsAndMends) {
    Hands hands(test::look());
    runAll(hands, {box("a", {0, 0, 0}), box("b", {1, 0, 0}), box("c", {2, 0, 0})});
    hands.key(Qt::Key_1);
    hands.click("tabTidy");
    hands.pickNamed({"a", "b"});
    hands.click("groupParts");
    const PartId group = hands.named("Group");
    EXPECT_EQ(part(hands, "a").parent, group);
    runAll(hands, {{{"op", "tree.group"}, {"parts", {"a"}}, {"name", "inner"}}});
    hands.pickNamed({"Group"});
    hands.click("flattenParts");
    EXPECT_EQ(part(hands, "a").parent, group);
    EXPECT_FALSE(find_part(hands.session.document(), "inner").ok());
    hands.pickNamed({"a", "b"});
    hands.click("joinParts");
    EXPECT_FALSE(find_part(hands.session.document(), "a").ok()) << "it went into the last one";
    EXPECT_TRUE(find_part(hands.session.document(), "b").ok());
    hands.pickNamed({"b"});
    hands.click("repairShapes");
    EXPECT_TRUE(hands.told.last().contains(QStringLiteral("need no mending")))
        << hands.told.last().toStdString();
}

TEST(PanelButtons, PickingGrowsHidesAndShows) {
    Hands hands(test::look());
    runAll(hands, {box("a", {0, 0, 0}), box("b", {1, 0, 0}), round_part("cylinder", "c", {2, 0, 0.3})});
    hands.key(Qt::Key_2);
    hands.click("tabPick");
    hands.pickNamed({"a"});
    hands.click("growSize");
    EXPECT_EQ(hands.session.selection().size(), 2u) << "the other box";
    hands.click("growMaterial");
    EXPECT_EQ(hands.session.selection().size(), 3u);
    hands.pickNamed({"a"});
    hands.click("hidePicked");
    EXPECT_FALSE(part(hands, "a").shown);
    hands.click("showAllParts");
    EXPECT_TRUE(part(hands, "a").shown);
    hands.pickNamed({"b"});
    hands.click("showOnly");
    EXPECT_TRUE(part(hands, "b").shown);
    EXPECT_FALSE(part(hands, "a").shown);
    EXPECT_FALSE(part(hands, "c").shown);
}

TEST(PanelButtons, TrimAndJoin) {
    Hands hands(test::look());
    json bolt = box("bolt", {0.21, 0, 0});
    bolt["length"] = bolt["width"] = bolt["height"] = 0.02;
    runAll(hands, {box("plate", {0, 0, 0}), bolt, box("far", {3, 0, 0})});
    hands.key(Qt::Key_2);
    hands.click("tabBreak");
    hands.click("previewTrim");
    ASSERT_NE(hands.session.previewed(), nullptr) << hands.told.join("; ").toStdString();
    EXPECT_EQ(hands.session.shownDocument().parts.size(), 2u);
    hands.click("leavePreview");
    hands.pickNamed({"far", "plate"});
    hands.click("joinIntoLast");
    EXPECT_FALSE(find_part(hands.session.document(), "far").ok());
}

TEST(PanelButtons, SetsArePickedShownChangedAndForgotten) {
    Hands hands(test::look());
    runAll(hands, {box("a", {0, 0, 0}), box("b", {1, 0, 0}), box("c", {2, 0, 0})});
    hands.key(Qt::Key_2);
    hands.click("tabSets");
    hands.pickNamed({"a", "b"});
    hands.type("setName", "pair", false);
    hands.click("makeSet");
    ASSERT_EQ(hands.session.document().sets.size(), 1u);
    const auto members = [&] { return hands.session.document().sets.begin()->parts; };
    hands.pickNamed({"c"});
    hands.click("addToSet");
    EXPECT_EQ(members().size(), 3u);
    hands.click("takeFromSet");
    EXPECT_EQ(members().size(), 2u);
    hands.click("onlySet");
    EXPECT_FALSE(part(hands, "c").shown);
    EXPECT_TRUE(part(hands, "a").shown);
    hands.click("pickSet");
    EXPECT_EQ(hands.session.selection(), members());
    hands.click("removeSet");
    EXPECT_EQ(hands.session.document().sets.size(), 0u);
}

TEST(PanelButtons, PivotsGoToMiddleCentroidPlacesAndOrigin) {
    Hands hands(test::look());
    runAll(hands, {round_part("cylinder", "can", {0.5, 0.2, 0.4}), box("lid", {2, 1, 0.5})});
    hands.key(Qt::Key_3);
    const auto pivot = [&](const char* name) {
        return world_from_rest(hands.session.document(), hands.named(name));
    };
    runAll(hands, {{{"op", "pivot.to"}, {"parts", {"lid"}}, {"place", {0, 0, 0}}}});
    hands.clickRow(hands.named("lid"));
    hands.click("pivotMiddle");
    accept(hands);
    const Vec3 middle = pivot("lid").translation;
    EXPECT_NEAR(middle.x(), 2, 1e-6);
    runAll(hands, {{{"op", "pivot.to"}, {"parts", {"lid"}}, {"place", {0, 0, 0}}}});
    hands.clickRow(hands.named("lid"));
    hands.click("pivotCentroid");
    accept(hands);
    EXPECT_LT((pivot("lid").translation - middle).norm(), 1e-6);
    hands.click("pivotOrigin");
    accept(hands);
    EXPECT_LT(pivot("lid").translation.norm(), 1e-9);
    hands.click("tabAim");
    hands.click("quarterAxes");
    accept(hands);
    EXPECT_NEAR(angle_between(pivot("lid").rotation, Quat(1, 0, 0, 0)), pi / 2, 1e-9);
}

TEST(PanelButtons, PivotsGoToAPickedPlaceACircleAndRoundFaces) {
    Hands hands(test::look());
    // A long one, which shows more of its side than of its end.
    json long_one = round_part("cylinder", "can", {0.5, 0.2, 0.4}, 0.3);
    long_one["length"] = 3;
    runAll(hands, {long_one});
    hands.key(Qt::Key_3);
    const PartId can = hands.named("can");
    const auto pivot = [&] { return world_from_rest(hands.session.document(), can).translation; };
    const auto away = [&] {
        runAll(hands, {{{"op", "pivot.to"}, {"parts", {"can"}}, {"place", {0, 0, 0}}}});
        hands.clickRow(can);
    };
    away();
    hands.click("pickPlaces");
    EXPECT_EQ(click_across(hands, can, 1), 1);
    ASSERT_EQ(hands.session.picks().places.size(), 1u);
    hands.click("pivotThere");
    accept(hands);
    EXPECT_LT((pivot() - Vec3(0.5, 0.2, 0.4)).norm(), 1.6) << "on the can";
    away();
    ASSERT_EQ(click_across(hands, can, 2), 2);
    hands.click("clearPlaces");
    EXPECT_TRUE(hands.session.picks().places.empty());
    std::vector<QPoint> seen;
    Viewport& view = hands.window.view();
    for (int y = 20; y < view.height(); y += 9)
        for (int x = 20; x < view.width(); x += 9)
            if (const QPoint pixel(x, y); hands.isClear(pixel) && view.partAt(pixel) == can)
                seen.push_back(pixel);
    ASSERT_GT(seen.size(), 50u);
    for (const std::size_t i : {std::size_t{0}, seen.size() / 2, seen.size() - 1}) {
        QTest::mouseClick(&view, Qt::LeftButton, i == 0 ? Qt::NoModifier : Qt::ShiftModifier, seen[i]);
        hands.settle();
    }
    ASSERT_EQ(hands.session.picks().places.size(), 3u);
    hands.click("pivotCircle");
    accept(hands);
    EXPECT_GT(pivot().norm(), 0.01);
    away();
    hands.click("pivotPickFaces");
    ASSERT_EQ(click_across(hands, can, 8), 8);
    ASSERT_FALSE(hands.session.picks().faces.empty());
    hands.click("pivotFaces");
    accept(hands);
    EXPECT_NEAR(pivot().x(), 0.5, 1e-3) << "on the axis of its side";
    EXPECT_NEAR(pivot().z(), 0.4, 1e-3);
}

TEST(PanelButtons, JointsGoBackToRestAndTakeTheirLowest) {
    Hands hands(test::look());
    runAll(hands, {box("lid", {0, 0, 0.5}),
                   {{"op", "joint.set"}, {"parts", {"lid"}}, {"kind", "hinge"}, {"axis", "y"}},
                   {{"op", "channel.set"}, {"parts", {"lid"}}, {"value", "-30 deg"}}});
    hands.key(Qt::Key_4);
    hands.click("tabJoint");
    hands.clickRow(hands.named("lid"));
    hands.click("takeMin");
    hands.type("limitMax", "40");
    ASSERT_TRUE(part(hands, "lid").joint.turn.limits.has_value()) << hands.refusals.join("; ").toStdString();
    EXPECT_NEAR(part(hands, "lid").joint.turn.limits->min, -pi / 6, 1e-9);
    hands.click("toRest");
    EXPECT_EQ(part(hands, "lid").joint.turn.value, 0);
}

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

json gear(const char* name, int teeth, double x) {
    json step = round_part("gear", name, {x, 0, 0.5});
    step["teeth"] = teeth;
    return step;
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
    const PartId first = pair().driver.part;
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
    EXPECT_NE(pair().driver.part, first) << "without the swap the other one drives";
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

/// Boxes to tick, each with what it changes.
TEST(PanelOptions, OfIntake) {
    Hands hands(test::look());
    runAll(hands, {box("a", {1, 0, 0.7}), box("b", {1, 0, 2}), {{"op", "datum.add"}, {"name", "unused"}}});
    hands.key(Qt::Key_1);
    hands.click("tabStand");
    const auto lowest = [&] { return document_bounds(hands.session.shownDocument()).min.z(); };
    hands.clickRow(hands.named("b"));
    hands.click("standTouching");
    hands.click("previewStand");
    ASSERT_NE(hands.session.previewed(), nullptr) << hands.refusals.join("; ").toStdString();
    EXPECT_LT(lowest(), -1) << "the upper box stands on the floor";
    hands.click("standTouching");
    hands.click("previewStand");
    EXPECT_NEAR(lowest(), 0, 1e-6);
    EXPECT_NEAR(document_bounds(hands.session.shownDocument()).middle().x(), 0, 1e-6);
    hands.click("standCentre");
    hands.click("previewStand");
    EXPECT_NEAR(document_bounds(hands.session.shownDocument()).middle().x(), 1, 1e-6) << "not centred";
    hands.click("standGround");
    hands.click("previewStand");
    EXPECT_GT(lowest(), 0.3) << "nor put down";
    hands.click("leavePreview");
    hands.click("tabTidy");
    hands.click("tidyEmpty");
    accept(hands);
    EXPECT_FALSE(find_part(hands.session.document(), "unused").ok());
    for (const char* nothing : {"tidyChains", "tidyScale"})
        if (hands.find(nothing)->isEnabled()) {
            hands.click(nothing);
            EXPECT_TRUE(hands.told.last().contains(QStringLiteral("nothing")))
                << hands.told.last().toStdString();
        }
    hands.click("tabStand-ins");
    EXPECT_NE(hands.find("previewStandIn"), nullptr);
}

TEST(PanelOptions, OfSplit) {
    Hands hands(test::look());
    runAll(hands, {box("lid", {0, 0, 0.5}),
                   round_part("cylinder", "can", {1, 0, 0.5}),
                   round_part("cylinder", "can", {2, 0, 0.5}),
                   {{"op", "datum.add"}, {"name", "mark"}, {"under", "lid"}}});
    hands.key(Qt::Key_2);
    hands.click("tabPick");
    hands.click("pickEdges");
    EXPECT_EQ(hands.session.pickSettings().kind, PickKind::Edges);
    hands.click("pickParts");
    hands.click("tabCopy");
    hands.clickRow(hands.named("lid"));
    hands.choose("copyWay", "part.repeat_line");
    hands.click("copyAlone");
    hands.type("copyCount", "2", false);
    hands.type("copyX", "3 m", false);
    hands.click("previewCopy");
    const std::size_t before = hands.session.document().parts.size();
    accept(hands);
    EXPECT_EQ(hands.session.document().parts.size(), before + 1) << "without what it carries";
    hands.click("tabFind");
    hands.click("repeatRename");
    hands.click("findRepeats");
    accept(hands);
    EXPECT_TRUE(find_part(hands.session.document(), "can").ok()) << "names stay";
    hands.click("recogniseRename");
    hands.click("lookForParts");
    hands.click("acceptRecognised");
    accept(hands);
    EXPECT_TRUE(find_part(hands.session.document(), "can").ok()) << "names stay: " << [&] {
        std::string all;
        for (const Part& p : hands.session.document().parts) all += p.name + "; ";
        return all;
    }();
    const auto pivot = [&] { return world_from_rest(hands.session.document(), hands.named("lid")); };
    const Frame before_it = pivot();
    hands.click("recogniseRename");
    hands.click("recognisePivot");
    hands.click("lookForParts");
    hands.click("acceptRecognised");
    accept(hands);
    EXPECT_TRUE(pivot() == before_it);
    EXPECT_FALSE(find_part(hands.session.document(), "can").ok()) << "now they are named";
    hands.click("tabBreak");
    hands.clickRow(hands.named("lid"));
    hands.choose("splitBy", "split.plane");
    hands.click("planeCap");
    hands.click("previewSplit");
    accept(hands);
    bool open = false;
    for (const Finding& f : check_document(hands.session.document())) open |= f.code == "surface.open";
    EXPECT_TRUE(open) << "the cut stays open";
}

TEST(PanelOptions, OfTreeKeysAndHandover) {
    test::TempFolder folder;
    Hands hands(test::look());
    runAll(hands, {box("lid", {0, 0, 0.5}),
                   {{"op", "joint.set"}, {"parts", {"lid"}}, {"kind", "hinge"}, {"axis", "y"}},
                   {{"op", "control.add"}, {"parts", {"lid"}}, {"form", "ring"}}});
    hands.key(Qt::Key_4);
    hands.click("tabNames");
    hands.click("conventionPlain");
    EXPECT_TRUE(hands.session.document().settings.naming.plain);
    hands.click("tabCarrier");
    hands.clickRow(hands.named("lid control"));
    hands.click("frameTakesJoint");
    hands.click("frameAbove");
    accept(hands);
    EXPECT_EQ(part(hands, "lid control").joint.kind, JointKind::Hinge) << "it kept its joint";
    hands.key(Qt::Key_6);
    const bool loops = hands.session.clip().loop;
    hands.click("clipLoop");
    EXPECT_NE(hands.session.clip().loop, loops);
    hands.key(Qt::Key_7);
    const auto parts_delivered = [&](const char* name) {
        hands.type("deliveryPath", QString::fromStdString((folder / name).string()), false);
        hands.click("deliver");
        return hands.session.lastDelivery() ? hands.session.lastDelivery()->parts : 0;
    };
    const std::size_t without = parts_delivered("without.glb");
    hands.click("deliverControls");
    EXPECT_GT(parts_delivered("with.glb"), without);
}

TEST(PanelOptions, AContactBelowBecomesTheLowerLimit) {
    Hands hands(test::look());
    json door = box("door", {0.5, 0, 0}), wall = box("wall", {0, -0.55, 0});
    door["length"] = 1;
    door["width"] = 0.1;
    wall["length"] = 4;
    wall["width"] = 0.1;
    runAll(hands, {door,
                   wall,
                   {{"op", "pivot.to"}, {"parts", {"door"}}, {"place", {0, 0, 0}}},
                   {{"op", "joint.set"}, {"parts", {"door"}}, {"kind", "hinge"}, {"axis", "z"}}});
    hands.key(Qt::Key_3);
    hands.click("tabPlace");
    hands.clickRow(hands.named("door"));
    hands.click("tabSwing");
    hands.type("swingFrom", "-90", false);
    hands.type("swingTo", "90", false);
    hands.click("swingRun");
    hands.click("swingLower");
    if (hands.session.previewed()) hands.click("acceptPreview");
    ASSERT_TRUE(part(hands, "door").joint.turn.limits.has_value()) << hands.refusals.join("; ").toStdString();
    // The corner (1, -0.05) comes to y = -0.5.
    EXPECT_NEAR(part(hands, "door").joint.turn.limits->min,
                -(std::asin(0.5 / std::hypot(1, 0.05)) - std::atan(0.05)), 1e-3);
}

}  // namespace
}  // namespace pivrak
