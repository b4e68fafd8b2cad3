// The demo's awkward models from raw to clean parts, by mouse and keys and by a job, with the same result;
// and the tools of Intake and Split as hands use them.
#include "tests/app/raw_models.h"

namespace pivrak {
namespace {

TEST(RawToClean, GroomerFacesForwardStandsAndIsTidy) {
    Hands hands(test::look());
    open(hands, "groomer.glb");
    hands.session.settle();
    const auto found = [&](const char* code) {
        const auto& all = hands.session.findings();
        return std::any_of(all.begin(), all.end(), [&](const Finding& f) { return f.code == code; });
    };
    EXPECT_TRUE(found("ground.off"));
    EXPECT_TRUE(found("facing.backwards")) << "its names tell";
    EXPECT_TRUE(found("node.empty"));
    hands.click("tabStand");
    hands.choose("standFront", "-x");
    hands.click("previewStand");
    ASSERT_NE(hands.session.previewed(), nullptr) << hands.refusals.join("; ").toStdString();
    hands.click("acceptPreview");
    hands.click("tabTidy");
    EXPECT_GT(hands.find<QListWidget>("tidyList")->count(), 40);
    hands.click("tidyAll");
    EXPECT_EQ(hands.text("tidyState"), "✓ the tree is tidy");
    hands.key(Qt::Key_2);
    hands.click("tabFind");
    hands.click("findRepeats");
    ASSERT_NE(hands.session.previewed(), nullptr) << hands.refusals.join("; ").toStdString();
    hands.click("acceptPreview");
    hands.pickNothing();
    hands.click("lookForParts");
    ASSERT_GT(hands.find<QListWidget>("recognisedList")->count(), 12);

    const Document& d = hands.session.document();
    const demo::VehicleFigures truth;
    const Bounds bounds = document_bounds(d);
    EXPECT_NEAR(bounds.size().x(), truth.groomer_length, 0.02);
    EXPECT_NEAR(bounds.min.z(), 0, 1e-6);
    int road_wheels = 0;
    for (const RecognisedPart& r : recognise_parts(d, Tree(d).all()))
        if (r.shape.element == MachineElement::Wheel &&
            std::abs(r.shape.radius_m - truth.road_wheel_radius) < 1e-4 &&
            std::abs(r.shape.width_m - truth.road_wheel_width) < 1e-4)
            ++road_wheels;
    EXPECT_EQ(road_wheels, 2 * truth.road_wheels_a_side);
    const Document same =
        by_job({{"import", {{"file", models + "/groomer.glb"}, {"unit", "auto"}, {"up", "auto"}}},
                {"steps",
                 {{{"op", "model.stand"}, {"up", "+z"}, {"front", "-x"}, {"ground", true}, {"centre", true}},
                  {{"op", "tree.tidy"}, {"what", "all"}},
                  {{"op", "part.find_repeats"}, {"tolerance", "0.1 mm"}, {"rename", true}}}}});
    EXPECT_TRUE(same == d);
    EXPECT_TRUE(hands.refusals.isEmpty()) << hands.refusals.join("; ").toStdString();
}

TEST(RawToClean, TruckGetsItsTrueSizeAndEightNamedWheels) {
    Hands hands(test::look());
    open(hands, "supply-truck.glb");
    hands.click("tabStand");
    EXPECT_TRUE(hands.text("standReason").contains("centimetres read as metres?"));
    hands.click("standGuess");
    hands.click("acceptPreview");
    EXPECT_LT(document_bounds(hands.session.document()).longest(), 10);
    hands.key(Qt::Key_2);
    hands.clickRow(hands.named("tyres"));
    hands.click("previewSplit");
    EXPECT_EQ(hands.text("splitCount"), "8 pieces");
    EXPECT_EQ(hands.find<QTableWidget>("pieceTable")->rowCount(), 8);
    hands.key(Qt::Key_Return);
    ASSERT_EQ(hands.session.selection().size(), 8u) << "what was made is picked";
    hands.click("tabFind");
    hands.click("lookForParts");
    EXPECT_EQ(hands.find<QListWidget>("recognisedList")->count(), 8);
    hands.click("acceptRecognised");
    const Document& d = hands.session.document();
    const demo::VehicleFigures truth;
    // Two axles of the truck, two of the trailer, from the front.
    const PartId front_left = hands.named("Wheel axle 1 left"),
                 rear_right = hands.named("Wheel axle 2 right");
    const Vec3 between =
        world_from_rest(d, front_left).translation - world_from_rest(d, rear_right).translation;
    EXPECT_NEAR(between.x(), truth.truck_wheelbase, 1e-4);
    EXPECT_NEAR(between.y(), truth.truck_track, 1e-4);
    EXPECT_NEAR(std::abs(world_from_rest(d, front_left).axis(0).y()), 1, 1e-6);
    json tyres = json::array();
    for (int i = 1; i <= 8; ++i) tyres.push_back(fmt::format("tyres {}", i));
    // The window lists the large ones first, so its job names the pieces as it did.
    const auto& steps = hands.session.history().steps();
    json job_steps = json::array();
    for (std::size_t i = 1; i < steps.size(); ++i) job_steps.push_back(steps[i]);
    const Document same =
        by_job({{"import", {{"file", models + "/supply-truck.glb"}, {"unit", "auto"}, {"up", "auto"}}},
                {"steps", job_steps}});
    EXPECT_TRUE(same == d);
    EXPECT_EQ(d.images.size(), 1u) << "its picture came along";
}

TEST(RawToClean, CabinAndGround) {
    Hands hands(test::look());
    open(hands, "cabin.glb");
    hands.click("tabTidy");
    hands.click("tidyNames");
    EXPECT_TRUE(find_part(hands.session.document(), "post 4").ok());
    hands.key(Qt::Key_2);
    hands.clickRow(hands.named("cabin/hanger"));
    hands.click("tabFind");
    hands.pickNothing();
    hands.click("findRepeats");
    ASSERT_NE(hands.session.previewed(), nullptr);
    hands.click("acceptPreview");
    const Document same =
        by_job({{"import", {{"file", models + "/cabin.glb"}, {"unit", "auto"}, {"up", "auto"}}},
                {"steps",
                 {{{"op", "tree.tidy"}, {"what", "names"}},
                  {{"op", "part.find_repeats"}, {"tolerance", "0.1 mm"}, {"rename", true}}}}});
    EXPECT_TRUE(same == hands.session.document());

    hands.session.newProject();
    hands.key(Qt::Key_1);
    hands.click("tabModel");
    open(hands, "saddle-ground.glb");
    hands.session.settle();
    EXPECT_EQ(triangle_count(hands.session.document()),
              static_cast<std::size_t>(demo::VehicleFigures{}.ground_triangles));
    for (const Finding& f : hands.session.findings())
        EXPECT_NE(f.code, "surface.open") << "a ground is a sheet: " << f.message;
    // The finding offers the fix.
    hands.click("fixFinding");
    hands.click("acceptPreview");
    EXPECT_NEAR(document_bounds(hands.session.document()).min.z(), 0, 1e-6);
}

/// Many findings of one kind are one row until they are asked for, and can be those of what is picked alone.
TEST(FindingsByHand, AreOneRowForEachKind) {
    Hands hands(test::look());
    ASSERT_TRUE(hands.session.run({{"op", "model.import"}, {"file", DEMO_MODELS "/groomer.glb"}}));
    hands.settle();
    const auto mine = [&] {
        std::map<std::string, std::size_t> count;
        for (const Finding& finding : hands.session.findings())
            if (finding.stage == hands.session.stage()) ++count[finding.code];
        return count;
    };
    int stage = 0;
    for (; stage < stage_count; ++stage) {
        hands.key(Qt::Key_1 + stage);
        const auto kinds = mine();
        if (std::ranges::any_of(kinds, [](const auto& kind) { return kind.second >= 6; })) break;
    }
    ASSERT_LT(stage, stage_count) << "a raw model has many of a kind";
    const auto shown = [&] {
        std::size_t rows = 0;
        for (const QLabel* label : hands.window.findChildren<QLabel*>("findingText"))
            rows += label->isVisible() ? 1 : 0;
        return rows;
    };
    const std::size_t kinds = mine().size();
    EXPECT_EQ(shown(), kinds);
    hands.click("moreFindings");
    EXPECT_GE(shown(), kinds + 5);
    hands.click("moreFindings");
    EXPECT_EQ(shown(), kinds) << "closed again";
    const auto& all = hands.session.findings();
    const auto one = std::ranges::find_if(
        all, [&](const Finding& f) { return f.stage == hands.session.stage() && bool(f.part); });
    ASSERT_NE(one, all.end());
    const PartId part = one->part;
    std::set<std::string> codes;
    for (const Finding& f : all)
        if (f.stage == hands.session.stage() && f.part == part) codes.insert(f.code);
    hands.session.select({part});
    hands.settle();
    hands.click("findingsOfPicked");
    EXPECT_EQ(shown(), codes.size());
    hands.click("findingsOfPicked");
    EXPECT_EQ(shown(), kinds);
}

}  // namespace
}  // namespace pivrak
