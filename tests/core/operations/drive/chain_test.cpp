#include "tests/core/operations/drive/chains.h"

namespace pivrak {
namespace {

TEST(ChainAdd, MeasuresTeethPitchAndPlane) {
    const Document d = chained();
    const Chain& chain = only_chain(d);
    EXPECT_NEAR(chain.pitch_m, 0.0254, 1e-12) << "16B, ISO 606, told from the sprocket's tips";
    ASSERT_EQ(chain.wheels.size(), 2u);
    EXPECT_EQ(chain.wheels[0].teeth, 19);
    EXPECT_EQ(chain.wheels[1].teeth, 38);
    // Source: ISO 10823, X0 = 2a/p + (z1+z2)/2 + ((z2-z1)/2pi)^2 p/a = 83.95; the next even number.
    EXPECT_EQ(chain.link_count, 84);
    const Part& datum = *d.parts.find(chain.frame);
    EXPECT_EQ(datum.name, "drive");
    EXPECT_TRUE(datum.has(ChannelKind::Travel));
    EXPECT_NEAR(std::abs(world_from_rest(d, chain.frame).axis(2).y()), 1, 1e-9);
}

TEST(ChainAdd, SprocketsTurnByTheirTeethWhicheverDrives) {
    const auto values = [](Document d, const char* driver, double turn) {
        test::key(d, named(d, driver), {{0, turn, Interpolation::Linear}});
        const auto evaluator = Evaluator::compile(d);
        Pose pose = evaluator->make_pose();
        evaluator->evaluate(0, pose);
        const auto at = [&](const char* name, ChannelKind kind) {
            return pose.channels[*evaluator->channel_slot({named(d, name), kind})];
        };
        const double rest = d.chains.begin()->wheels[1].phase_rad;
        return std::array{at("small", ChannelKind::Turn), at("large", ChannelKind::Turn) - rest,
                          at("drive", ChannelKind::Travel)};
    };
    const Document d = chained();
    const auto by_small = values(d, "small", 2 * pi);
    EXPECT_NEAR(by_small[1], pi, 1e-9);
    EXPECT_NEAR(std::abs(by_small[2]), 19 * 0.0254, 1e-12);
    const double rest = only_chain(d).wheels[1].phase_rad;
    const auto by_large = values(d, "large", rest + pi);
    EXPECT_NEAR(by_large[0], 2 * pi, 1e-9);
}

/// The largest difference between the pitch and the way from each link's pivot to the next one's.
TEST(ChainBuild, MakesRealPartsThatShareTwoShapesAndStayOnePitchApart) {
    Document d = run(chained(), {{"op", "chain.build"}, {"chain", "drive"}, {"parts", {"inner", "outer"}}});
    const Chain& chain = only_chain(d);
    ASSERT_EQ(chain.links.size(), 84u);
    EXPECT_EQ(d.parts.find(chain.links[0])->name, "drive link 01");
    EXPECT_EQ(d.parts.find(chain.links[83])->name, "drive link 84");
    std::set<ShapeId> shapes;
    for (const PartId link : chain.links) shapes.insert(d.parts.find(link)->shape);
    EXPECT_EQ(shapes.size(), 2u);
    EXPECT_NE(d.parts.find(chain.links[0])->shape, d.parts.find(chain.links[1])->shape);
    test::key(d, named(d, "small"), {{0, 0, Interpolation::Linear}, {48, 5 * pi, Interpolation::Linear}});
    for (const double frame : {0.0, 7.3, 31.0, 48.0}) EXPECT_LT(worst_pitch(d, frame), 1e-9);
    EXPECT_TRUE(check_document(d).empty() || check_document(d)[0].stage != Stage::Rig)
        << check_document(d)[0].message;
}

TEST(ChainBuild, RollersSitInTheGapsOfTheTeeth) {
    const Document d =
        run(chained(), {{"op", "chain.build"}, {"chain", "drive"}, {"parts", {"inner", "outer"}}});
    const Chain& chain = only_chain(d);
    const auto evaluator = Evaluator::compile(d);
    Pose pose = evaluator->make_pose();
    evaluator->evaluate(0, pose);
    for (std::size_t w = 0; w < 2; ++w) {
        const Part& wheel = *d.parts.find(chain.wheels[w].part);
        const Frame world = pose.world_from_part[*evaluator->part_slot(wheel.id)] * wheel.part_from_shape;
        const double radius = pitch_radius(chain.pitch_m, chain.wheels[w].teeth);
        int seated = 0;
        for (const PartId link : chain.links) {
            const Vec3 pin = pose.world_from_part[*evaluator->part_slot(link)].translation;
            const Vec3 hub = pose.world_from_part[*evaluator->part_slot(wheel.id)].translation;
            if (std::abs(std::hypot(pin.x() - hub.x(), pin.z() - hub.z()) - radius) > 1e-9) continue;
            ++seated;
            double nearest = 1e9;
            for (const Vec3f& corner : d.shapes.find(wheel.shape)->mesh->positions) {
                const Vec3 at = world.point(corner.cast<double>());
                nearest = std::min(nearest, std::hypot(at.x() - pin.x(), at.z() - pin.z()));
            }
            // Source: ISO 606:2015, roller seating radius 0.505 d1 at least, and 0.069 cube root of d1 [mm]
            // more at most; d1 is 15.88 mm. Every corner of a seat is that far from a pin that sits in its
            // middle.
            EXPECT_GE(nearest, 8.019e-3) << wheel.name;
            EXPECT_LE(nearest, 8.193e-3) << wheel.name;
        }
        EXPECT_GT(seated, 7);
    }
}

TEST(ChainFit, EveryRemedyTakesWholeLinks) {
    Document d =
        run(two_sprockets(0.713), {{"op", "chain.add"}, {"wheels", {"small", "large"}}, {"name", "drive"}});
    const auto remedies = chain_remedies(d, only_chain(d));
    std::set<RemedyKind> kinds;
    for (const ChainRemedy& remedy : remedies) {
        SCOPED_TRACE(remedy_words(d, only_chain(d), remedy));
        kinds.insert(remedy.kind);
        Document fitted = d;
        Chain chain = only_chain(d);
        apply_remedy(fitted, chain, remedy);
        const double needed = needed_length(chain_loop(fitted, chain));
        if (remedy.kind == RemedyKind::Sag) {
            EXPECT_GE(chain.link_count * chain.pitch_m, needed);
        } else {
            EXPECT_NEAR(chain.link_count * chain.pitch_m, needed, 1e-6 * chain.pitch_m);
        }
    }
    EXPECT_EQ(kinds.size(), 3u) << "moved, let sag, pitch off; nothing is carried by an arm";
    // By the operation, with the sprocket really moved.
    const Document moved =
        run(d, {{"op", "chain.fit"}, {"chain", "drive"}, {"remedy", "move"}, {"part", "large"}});
    const double way = (world_from_rest(moved, named(moved, "large")).translation -
                        world_from_rest(d, named(d, "large")).translation)
                           .norm();
    EXPECT_GT(way, 1e-4);
    EXPECT_LT(way, 0.02);
}

TEST(ChainFit, AnArmTurnsItsRollerIntoTheChain) {
    Document d = two_sprockets(0.713);
    const PartId arm = test::add_part(d, "arm", {}, {Quat(1, 0, 0, 0), Vec3(0.15, 0, 0.7)});
    d = run(d, {{"op", "joint.set"}, {"parts", {"arm"}}, {"kind", "hinge"}, {"axis", "y"}});
    d = run(d, {{"op", "tree.parent"}, {"parts", {"roller"}}, {"under", "arm"}});
    d = run(d, {{"op", "chain.add"},
                {"wheels", {"small", "large", "roller"}},
                {"outside", {"roller"}},
                {"name", "drive"}});
    EXPECT_TRUE(only_chain(d).wheels[2].outside);
    const auto remedies = chain_remedies(d, only_chain(d));
    const auto turn = std::find_if(remedies.begin(), remedies.end(),
                                   [](const ChainRemedy& r) { return r.kind == RemedyKind::Turn; });
    ASSERT_NE(turn, remedies.end());
    EXPECT_EQ(turn->part, arm);
    const Document fitted =
        run(d, {{"op", "chain.fit"}, {"chain", "drive"}, {"remedy", "turn"}, {"part", "arm"}});
    const Chain& chain = only_chain(fitted);
    EXPECT_NEAR(chain.link_count * chain.pitch_m, needed_length(chain_loop(fitted, chain)),
                1e-6 * chain.pitch_m);
}

/// Two sprockets whose chain runs by a roller on an arm, with its back.

}  // namespace
}  // namespace pivrak
