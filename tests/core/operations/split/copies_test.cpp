#include "tests/core/operations/split/blocks.h"

namespace pivrak {
namespace {

/// At every frame, each vertex of the copy is the mirror image of the original's.
TEST(Mirror, TheCopyMovesAsTheImageOfTheOriginal) {
    const Document d = rigged();
    for (const auto& [normal, left, wheel] :
         {std::tuple(Vec3(0, 1, 0), "arm right", "wheel front right"),
          std::tuple(Vec3(1, 0, 0), "arm left 2", "wheel rear left"),
          std::tuple(Vec3(0.2, 0.9, -0.3).normalized().eval(), "arm right", "wheel front right")}) {
        const Vec3 point(0.1, -0.2, 0.3);
        const Document m = run(d, {{"op", "part.mirror"},
                                   {"parts", {"rig"}},
                                   {"point", {point.x(), point.y(), point.z()}},
                                   {"normal", {normal.x(), normal.y(), normal.z()}}});
        EXPECT_EQ(m.couplings.size(), 2u);
        for (const auto& [original, copy] :
             {std::pair("arm left", left), std::pair("wheel front left", wheel)})
            for (const double frame : {0.0, 13.5, 48.0}) {
                SCOPED_TRACE(copy);
                const auto here = places_at(m, test::named(m, original), frame),
                           there = places_at(m, test::named(m, copy), frame);
                ASSERT_EQ(here.size(), there.size());
                for (std::size_t i = 0; i < here.size(); ++i)
                    EXPECT_LT((here[i] - 2 * normal.dot(here[i] - point) * normal - there[i]).norm(), 2e-7);
            }
        const Part& copied = *m.parts.find(test::named(m, left));
        EXPECT_NEAR(mesh_faults(mesh_of(m, copied.id)).turned_faces, 0, 0);
        EXPECT_GT(enclosed_volume(mesh_of(m, copied.id)), 0) << "outside stays outside";
    }
}

TEST(Repeat, RoundAnAxisAndInALineMoveAlike) {
    const Document d = rigged();
    const Document round = run(d, {{"op", "part.repeat_round"},
                                   {"parts", {"rig"}},
                                   {"count", 3},
                                   {"axis", {0, 0, 1}},
                                   {"centre", {1, 0, 0}}});
    EXPECT_EQ(round.parts.size(), 9u);
    EXPECT_EQ(round.couplings.size(), 3u);
    EXPECT_EQ(round.shapes.size(), d.shapes.size()) << "shapes are shared";
    const Quat turn(Eigen::AngleAxisd(2 * pi / 3, Vec3::UnitZ()));
    const auto first = places_at(round, test::named(round, "arm left"), 20),
               second = places_at(round, test::named(round, "arm left 2"), 20);
    for (std::size_t i = 0; i < first.size(); ++i)
        EXPECT_LT((turn * (first[i] - Vec3(1, 0, 0)) + Vec3(1, 0, 0) - second[i]).norm(), 1e-9);
    const Document line =
        run(d, {{"op", "part.repeat_line"}, {"parts", {"rig"}}, {"count", 4}, {"step", {"500 mm", 0, 0}}});
    const auto last = places_at(line, test::named(line, "arm left 4"), 20),
               start = places_at(line, test::named(line, "arm left"), 20);
    EXPECT_LT((last[0] - start[0] - Vec3(1.5, 0, 0)).norm(), 1e-9);
    const Document alone = run(
        d, {{"op", "part.duplicate"}, {"parts", {"arm left"}}, {"shape_alone", true}, {"shift", {1, 0, 0}}});
    EXPECT_EQ(alone.parts.size(), 4u);
    EXPECT_EQ(alone.parts.find(test::named(alone, "arm left 2"))->joint.kind, JointKind::Fixed);
    EXPECT_EQ(refusal(d, {{"op", "part.repeat_round"}, {"parts", {"rig"}}, {"count", 1}}).code,
              "repeat.count");
    EXPECT_EQ(
        refusal(d, {{"op", "part.repeat_round"}, {"parts", {"rig"}}, {"count", 3}, {"axis", {0, 0, 0}}}).code,
        "repeat.axis");
    EXPECT_EQ(
        refusal(d, {{"op", "part.repeat_line"}, {"parts", {"rig"}}, {"count", 3}, {"step", {0, 0, 0}}}).code,
        "repeat.step");
}

TEST(FindRepeatsOperation, SharesOneShapeAndNumbersTheSeries) {
    Document d = empty_document();
    std::mt19937 random(3);
    std::uniform_real_distribution<double> angle(0, 6);
    std::vector<int> order{3, 0, 2, 1, 5, 4};
    for (const int i : order) {
        // Each bolt is a mesh of its own, turned anyhow, baked into its vertices.
        const Frame pose{turn_about_axis(2, angle(random)), Vec3(0.3 * i, 1, 0.5)};
        test::add_shaped(d, fmt::format("bolt.{}", 7 - i), transformed(test::to_mesh(bolt(16)), pose));
    }
    test::add_shaped(d, "bracket", test::box({5, 5, 0}, {6, 6, 1}));
    const auto places = test::vertex_places(d);
    const auto outcome = make_registry().run(d, {{"op", "part.find_repeats"}});
    ASSERT_TRUE(outcome.ok()) << outcome.error().message;
    EXPECT_EQ(outcome->document.shapes.size(), 2u);
    EXPECT_LT(test::largest_move(places, test::vertex_places(outcome->document)), 1e-4)
        << "within the tolerance";
    EXPECT_NE(outcome->messages.front().find("in a line"), std::string::npos) << outcome->messages.front();
    double last = -1;
    for (int i = 1; i <= 6; ++i) {
        const Part& part =
            *outcome->document.parts.find(test::named(outcome->document, fmt::format("bolt {}", i)));
        const double x =
            part.part_from_shape.point(outcome->document.shapes.find(part.shape)->bounds.middle()).x();
        EXPECT_GT(x, last);
        last = x;
    }
    EXPECT_NE(
        test::nothing_done(outcome->document, {{"op", "part.find_repeats"}, {"parts", {"bracket", "bolt 1"}}})
            .find("no two of 2"),
        std::string::npos);
    EXPECT_EQ(refusal(d, {{"op", "part.find_repeats"}, {"tolerance", 0}}).code, "repeats.tolerance");
}

TEST(RecogniseOperation, NamesPartsAndPutsPivotsOnAxes) {
    Document d = empty_document();
    const Solid tyre = wheel({400, 250, 240, 40, 18, 15, 5});
    for (const double x : {1.5, -1.5})
        for (const double y : {0.8, -0.8}) {
            Solid s = tyre;
            s.lay_along(1);
            test::add_shaped(d, "lump",
                             transformed(test::to_mesh(s), Frame{Quat(1, 0, 0, 0), Vec3(x, y, 0.4)}));
        }
    test::add_shaped(
        d, "g",
        transformed(test::to_mesh(gear({51, 8, 80, 42})), Frame{turn_about_axis(0, pi / 2), Vec3(0, 0, 1)}));
    test::add_shaped(d, "block", test::box({-1, -0.4, 0.5}, {1, 0.4, 0.9}));
    const auto places = test::vertex_places(d);
    const auto outcome = make_registry().run(d, {{"op", "part.recognise"}});
    ASSERT_TRUE(outcome.ok()) << outcome.error().message;
    const Document& now = outcome->document;
    for (const char* name : {"Wheel front left", "Wheel front right", "Wheel rear left", "Wheel rear right",
                             "Gear 51T", "block"})
        EXPECT_TRUE(find_part(now, name).ok()) << name;
    const Frame pivot = world_from_rest(now, test::named(now, "Wheel rear right"));
    EXPECT_LT((pivot.translation - Vec3(-1.5, -0.8, 0.4)).norm(), 1e-5);
    EXPECT_NEAR(pivot.axis(0).y(), 1, 1e-9) << "own X lies along the axle";
    EXPECT_LT(test::largest_move(places, test::vertex_places(now)), 1e-6);
    EXPECT_NE(test::nothing_done(d, {{"op", "part.recognise"}, {"parts", {"block"}}}), "");
}

TEST(StandIns, HaveTheMeasuresAskedFor) {
    // Tip circle of a gear, ISO 53: module (z + 2).
    for (const StandIn& s : std::vector<StandIn>{
             {{{"kind", "box"},
               {"length", "6 m"},
               {"width", "2 m"},
               {"height", "1.5 m"},
               {"chamfer", "20 mm"}},
              6,
              2,
              1.5},
             {{{"kind", "plate"},
               {"length", "600 mm"},
               {"width", "300 mm"},
               {"thickness", "12 mm"},
               {"corner", "20 mm"}},
              0.6,
              0.3,
              0.012},
             {{{"kind", "cylinder"}, {"diameter", "80 mm"}, {"length", "1 m"}, {"axis", "z"}}, 0.08, 0.08, 1},
             {{{"kind", "tube"}, {"diameter", "80 mm"}, {"bore", "60 mm"}, {"length", "1 m"}, {"axis", "x"}},
              1,
              0.08,
              0.08},
             {{{"kind", "wheel"},
               {"diameter", "800 mm"},
               {"width", "250 mm"},
               {"lugs", 20},
               {"lug_depth", "12 mm"}},
              0.8,
              0.25,
              0.8},
             {{{"kind", "gear"}, {"module", "4 mm"}, {"teeth", 24}, {"width", "30 mm"}}, 0.104, 0.03, 0.104},
             {{{"kind", "ring gear"},
               {"module", "4 mm"},
               {"teeth", 60},
               {"width", "30 mm"},
               {"diameter", "300 mm"}},
              0.3,
              0.03,
              0.3}}) {
        SCOPED_TRACE(s.step.dump());
        json step = s.step;
        step["op"] = "stand_in.add";
        const Document d = run(empty_document(), step);
        ASSERT_EQ(d.parts.size(), 1u);
        const Bounds bounds = document_bounds(d);
        EXPECT_NEAR(bounds.size().x(), s.x, 2e-3 * s.x);
        EXPECT_NEAR(bounds.size().y(), s.y, 1e-5);
        EXPECT_NEAR(bounds.size().z(), s.z, 2e-3 * s.z);
        EXPECT_NEAR(bounds.min.z(), 0, 1e-6) << "it stands on the floor";
        EXPECT_TRUE(mesh_faults(mesh_of(d, d.parts.begin()->id)).clean());
    }
}

TEST(StandIns, SprocketsAndLinksFitTheirChain) {
    // Source: ISO 606:2015, 08B: pitch 12.70 mm; pin to pin is the pitch.
    const Document d =
        run(empty_document(), {{"op", "stand_in.add"}, {"kind", "inner link"}, {"chain", "08B"}});
    const Bounds link = document_bounds(d);
    EXPECT_NEAR(link.size().x() - link.size().y(), 12.70e-3, 1e-5) << "two round ends a pitch apart";
    const Document s = run(
        empty_document(),
        {{"op", "stand_in.add"}, {"kind", "sprocket"}, {"chain", "08B"}, {"teeth", 19}, {"width", "7 mm"}});
    const auto found = make_registry().run(s, {{"op", "part.recognise"}});
    ASSERT_TRUE(found.ok());
    EXPECT_NEAR(found->readings["parts"][0]["pitch_m"].get<double>(), 12.70e-3, 1e-9);
}

TEST(StandIns, SprocketsAndLinksOfAnyPitch) {
    // Source: the pitch circle's diameter is p / sin(180° / z), ISO 606:2015; seats are half a roller deeper
    // (and 1 % of it).
    const double pitch = 0.35, roller = 0.1, z = 9;
    const Document d = run(empty_document(), {{"op", "stand_in.add"},
                                              {"kind", "sprocket"},
                                              {"chain", "other"},
                                              {"pitch", "350 mm"},
                                              {"roller", "100 mm"},
                                              {"teeth", 9},
                                              {"width", "80 mm"},
                                              {"axis", "z"}});
    const Mesh& mesh = mesh_of(d, d.parts.begin()->id);
    double root = 1e9;
    for (const Vec3f& p : mesh.positions) root = std::min(root, double{p.tail<2>().norm()});
    EXPECT_NEAR(root, pitch / (2 * std::sin(pi / z)) - 0.505 * roller, 1e-3);
    const Document link =
        run(empty_document(), {{"op", "stand_in.add"}, {"kind", "inner link"}, {"pitch", "350 mm"}});
    const Bounds size = document_bounds(link);
    EXPECT_NEAR(size.size().x() - size.size().y(), pitch, 2e-4);
    // Changed to a standard size it has that one's pitch, and back again by a typed one.
    const json part{link.parts.begin()->name};
    const Document small = run(link, {{"op", "stand_in.change"}, {"parts", part}, {"chain", "08B"}});
    EXPECT_NEAR(document_bounds(small).size().x() - document_bounds(small).size().y(), 12.7e-3, 1e-5);
    const Document again = run(small, {{"op", "stand_in.change"}, {"parts", part}, {"pitch", "350 mm"}});
    EXPECT_EQ(again.shapes.begin()->made_of, link.shapes.begin()->made_of);
    EXPECT_EQ(*again.shapes.begin()->mesh, *link.shapes.begin()->mesh);
    for (const json& bad : {json{{"chain", "other"}}, json{{"pitch", "-1 m"}}, json{{"pitch", "20 m"}},
                            json{{"pitch", "100 mm"}, {"roller", "90 mm"}}, json{{"roller", "10 mm"}}}) {
        json step{{"op", "stand_in.add"}, {"kind", "outer link"}};
        step.update(bad);
        EXPECT_EQ(refusal(empty_document(), step).code, "stand_in.measure") << bad.dump();
    }
}

TEST(StandIns, ImpossibleMeasuresAreRefused) {
    const Document d = empty_document();
    for (const json& bad :
         std::vector<json>{{{"kind", "box"}, {"length", 0}},
                           {{"kind", "box"}, {"chamfer", "1 m"}},
                           {{"kind", "tube"}, {"diameter", "50 mm"}, {"bore", "60 mm"}},
                           {{"kind", "gear"}, {"teeth", 2}},
                           {{"kind", "gear"}, {"teeth", 20}, {"module", "1 mm"}, {"bore", "40 mm"}},
                           {{"kind", "gear"}, {"pressure_angle", "60 deg"}},
                           {{"kind", "ring gear"}, {"teeth", 60}, {"diameter", "100 mm"}},
                           {{"kind", "wheel"}, {"rim", "2 m"}},
                           {{"kind", "wheel"}, {"lugs", 2}},
                           {{"kind", "cylinder"}, {"diameter", "-1 m"}}}) {
        json step = bad;
        step["op"] = "stand_in.add";
        EXPECT_EQ(refusal(d, step).code, "stand_in.measure") << bad.dump();
    }
    EXPECT_EQ(refusal(d, {{"op", "stand_in.add"}, {"kind", "box"}, {"name", "a/b"}}).code, "name.slash");
}

TEST(Sets, AreNamedSelections) {
    Document d = rigged();
    d = run(d, {{"op", "set.make"}, {"name", "covers"}, {"parts", {"arm left", "rig"}}});
    d = run(d, {{"op", "set.change"},
                {"set", "covers"},
                {"add", {"wheel front left"}},
                {"take", {"rig"}},
                {"name", "lids"}});
    ASSERT_EQ(d.sets.size(), 1u);
    EXPECT_EQ(d.sets.begin()->parts.size(), 2u);
    EXPECT_EQ(refusal(d, {{"op", "set.make"}, {"name", "lids"}, {"parts", {"rig"}}}).code, "set.duplicate");
    EXPECT_EQ(refusal(d, {{"op", "set.change"}, {"set", "covers"}}).code, "set.unknown");
    const Document less = run(d, {{"op", "part.remove"}, {"parts", {"wheel front left"}}});
    EXPECT_EQ(less.sets.begin()->parts.size(), 1u) << "a part that goes leaves its sets";
    const Document only = run(d, {{"op", "part.show_only"}, {"parts", {"arm left"}}});
    EXPECT_FALSE(only.parts.find(test::named(only, "rig"))->shown);
    EXPECT_TRUE(only.parts.find(test::named(only, "wheel front left"))->shown) << "what it carries";
    EXPECT_TRUE(run(d, {{"op", "part.lock"}, {"parts", {"rig"}}}).parts.find(test::named(d, "rig"))->locked);
    EXPECT_TRUE(run(d, {{"op", "set.remove"}, {"set", "lids"}}).sets.empty());
}

}  // namespace
}  // namespace pivrak
