// Stand-ins get other measures, and what counted on them follows.
#include <filesystem>

#include "core/operations/drive/chain_steps.h"
#include "core/operations/history.h"
#include "tests/core/operations/drive/chains.h"
#include "tests/support/temp_folder.h"

namespace pivrak {
namespace {

Vec3 size_of(const Document& d, const char* name) {
    const Part& part = *d.parts.find(named(d, name));
    return d.shapes.find(part.shape)->bounds.size();
}

TEST(StandInChange, MeasuresChangeInPlaceAndWhatSharesTheShapeChangesToo) {
    Document d = run(empty_document(), {{"op", "stand_in.add"},
                                        {"kind", "wheel"},
                                        {"name", "wheel"},
                                        {"diameter", 0.8},
                                        {"width", 0.2},
                                        {"axis", "y"},
                                        {"at", {1, 2, 0.4}}});
    d = run(d, {{"op", "part.duplicate"}, {"parts", {"wheel"}}});
    const Document changed =
        run(d, {{"op", "stand_in.change"}, {"parts", {"wheel"}}, {"diameter", "900 mm"}});
    EXPECT_LT((size_of(changed, "wheel") - Vec3(0.2, 0.9, 0.9)).cwiseAbs().maxCoeff(), 5e-3);
    for (const Part& part : d.parts) {
        const Part& now = *changed.parts.find(part.id);
        EXPECT_EQ(now, part) << "it stands, turns and is named as before";
        EXPECT_NEAR(changed.shapes.find(now.shape)->bounds.size().z(), 0.9, 5e-3) << part.name;
    }
    // The measures that were not given are as they were.
    EXPECT_EQ(changed.shapes.find(changed.parts.begin()->shape)->made_of["width"], 0.2);
    EXPECT_NE(
        test::nothing_done(changed, {{"op", "stand_in.change"}, {"parts", {"wheel"}}, {"diameter", 0.9}}),
        "");
}

// Source: ISO 53, tips of a gear lie one module outside the pitch circle; ratios of turns are those of teeth.
TEST(StandInChange, PairsTakeOverTeethAndInterleaveAnew) {
    Document d = run(empty_document(),
                     {{"op", "gears.build"}, {"stages", "20:40"}, {"module", 0.005}, {"width", 0.03}});
    const Document changed = run(d, {{"op", "stand_in.change"}, {"parts", {"Gear 20T"}}, {"teeth", 25}});
    const Part& gear = *changed.parts.find(named(changed, "Gear 20T"));
    double tip = 0;
    for (const Vec3f& p : changed.shapes.find(gear.shape)->mesh->positions)
        tip = std::max(tip, std::hypot<double>(p.x(), p.z()));
    EXPECT_NEAR(tip, 0.5 * 0.005 * (25 + 2), 1e-5) << "about the axis that it lay along";
    const GearPair& pair = *changed.couplings.begin()->as<GearPair>();
    EXPECT_EQ(pair.driver_teeth, 25);
    EXPECT_EQ(pair.driven_teeth, 40);
    const auto evaluator = Evaluator::compile(changed);
    Pose pose = evaluator->make_pose();
    const HeldChannel held{*evaluator->channel_slot({pair.driver.part(), ChannelKind::Turn}), 0.8};
    evaluator->evaluate(0, pose);
    const std::size_t driven = *evaluator->channel_slot({pair.driven.part(), ChannelKind::Turn});
    const double at_rest = pose.channels[driven];
    evaluator->evaluate(0, pose, held);
    EXPECT_NEAR(pose.channels[driven] - at_rest, -0.8 * 25 / 40, 1e-12);
    // The shafts stand where they were: a finding tells what the module requires.
    bool told = false;
    for (const Finding& f : check_document(changed)) told |= f.code == "gear.centres";
    EXPECT_TRUE(told);
}

// Source: ISO 606 annex, number of links X = 2 a/p + (z1 + z2)/2 + ((z2 - z1)/2 pi)^2 p/a, to the next even
// one.
TEST(StandInChange, AChainTakesAsManyLinksAsItsNewSprocketAsksFor) {
    const Document d =
        run(chained(), {{"op", "chain.build"}, {"chain", "drive"}, {"parts", {"inner", "outer"}}});
    ASSERT_EQ(d.chains.begin()->link_count, 84);
    const Document changed = run(d, {{"op", "stand_in.change"}, {"parts", {"small"}}, {"teeth", 25}});
    const Chain& chain = *changed.chains.begin();
    EXPECT_EQ(chain.wheels[0].teeth + chain.wheels[1].teeth, 25 + 38);
    const double a = 0.7, p = chain.pitch_m,
                 links = 2 * a / p + 0.5 * (25 + 38) + std::pow((38 - 25) / (2 * pi), 2) * p / a;
    EXPECT_EQ(chain.link_count, 2 * static_cast<int>(std::ceil(links / 2)));
    ASSERT_EQ(chain.links.size(), static_cast<std::size_t>(chain.link_count));
    // Judged by where its links are: each is a pitch from the next, and pins sit on the sprocket's pitch
    // circle.
    const auto evaluator = Evaluator::compile(changed);
    Pose pose = evaluator->make_pose();
    evaluator->evaluate(0, pose);
    const auto place = [&](std::size_t i) {
        return pose.world_from_part[*evaluator->part_slot(chain.links[i % chain.links.size()])].translation;
    };
    const double circle = p / (2 * std::sin(pi / 25));
    int seated = 0;
    for (std::size_t i = 0; i < chain.links.size(); ++i) {
        EXPECT_NEAR((place(i + 1) - place(i)).norm(), p, 0.02 * p) << i;
        seated += std::abs((place(i) - Vec3(0, 0, 1)).norm() - circle) < 0.2 * p;
    }
    EXPECT_GE(seated, 25 / 3);
}

// Source: ISO 606:2015, pitches of 08B (12.7 mm) and 16B (25.4 mm), and its number of links, as above.
TEST(StandInChange, AChainTakesOverThePitchThatAllItsSprocketsHave) {
    const Document d =
        run(chained(), {{"op", "chain.build"}, {"chain", "drive"}, {"parts", {"inner", "outer"}}});
    const Document changed =
        run(d, {{"op", "stand_in.change"}, {"parts", {"small", "large"}}, {"chain", "08B"}});
    const Chain& chain = *changed.chains.begin();
    EXPECT_NEAR(chain.pitch_m, 0.0127, 1e-12);
    const double a = 0.7, p = 0.0127,
                 links = 2 * a / p + 0.5 * (19 + 38) + std::pow((38 - 19) / (2 * pi), 2) * p / a;
    EXPECT_EQ(chain.link_count, 2 * static_cast<int>(std::ceil(links / 2)));
    ASSERT_EQ(chain.links.size(), static_cast<std::size_t>(chain.link_count));
    // Links are half as long as before, and half as far apart.
    for (const std::size_t i : {0, 1, 40}) {
        const auto length = [&](const Document& of, PartId link) {
            return of.shapes.find(of.parts.find(link)->shape)->bounds.size().x();
        };
        EXPECT_NEAR(length(changed, chain.links[i]), 0.5 * length(d, d.chains.begin()->links[i]), 1e-3) << i;
        EXPECT_NEAR((world_from_rest(changed, chain.links[i + 1]).translation -
                     world_from_rest(changed, chain.links[i]).translation)
                        .norm(),
                    p, 0.02 * p);
    }
    // A pitch of one alone is refused, and so are two that differ.
    const Error alone = refusal(d, {{"op", "stand_in.change"}, {"parts", {"small"}}, {"chain", "08B"}});
    EXPECT_EQ(alone.code, "stand_in.pitch");
    EXPECT_NE(alone.message.find("'large'"), std::string::npos) << alone.message;
    // Links of one's own keep their shape, and that is told.
    Document own = d;
    for (const PartId link : {d.chains.begin()->links[0], d.chains.begin()->links[1]}) {
        const Shape& shape = *d.shapes.find(d.parts.find(link)->shape);
        own.shapes.set(make_shape(shape.id, shape.name, *shape.mesh));
    }
    const auto told = make_registry().run(
        own, {{"op", "stand_in.change"}, {"parts", {"small", "large"}}, {"pitch", "30 mm"}});
    ASSERT_TRUE(told.ok()) << told.error().message;
    EXPECT_NEAR(told->document.chains.begin()->pitch_m, 0.03, 1e-12);
    bool named = false;
    for (const std::string& message : told->messages)
        named |= message.find("keeps its shape") != std::string::npos;
    EXPECT_TRUE(named);
}

TEST(StandInChange, ARollerCarriesItsPinsAsFarOutsideItsTreadAsBefore) {
    Document d = two_sprockets();
    d = run(d, {{"op", "chain.add"},
                {"wheels", {"small", "large", "roller"}},
                {"teeth", "19 38 0"},
                {"outside", {"roller"}},
                {"name", "drive"}});
    const auto roller = [](const Document& of) {
        const auto& wheels = of.chains.begin()->wheels;
        return std::find_if(wheels.begin(), wheels.end(), [](const ChainWheel& w) { return w.teeth == 0; })
            ->radius_m;
    };
    const Document changed = run(d, {{"op", "stand_in.change"}, {"parts", {"roller"}}, {"diameter", 0.07}});
    EXPECT_NEAR(roller(changed) - roller(d), 0.005, 1e-9);
}

TEST(StandInChange, RefusalsNameTheCause) {
    const Document d = chained();
    const auto why = [&](const Document& at, nlohmann::json step) {
        step["op"] = "stand_in.change";
        return refusal(at, step).message;
    };
    EXPECT_EQ(why(d, {{"parts", {"small"}}}), "give at least one measure");
    EXPECT_EQ(why(d, {{"parts", {"roller"}}, {"teeth", 20}}), "'roller' is a wheel, which has no 'teeth'");
    EXPECT_NE(why(d, {{"parts", {"small"}}, {"teeth", 3}}).find("out of range"), std::string::npos);
    EXPECT_NE(why(d, {{"parts", {"small"}}, {"teeth", 160}}).find("'large'"), std::string::npos)
        << "sprockets that would lie in each other: " << why(d, {{"parts", {"small"}}, {"teeth", 160}});
    // One whose shape was changed since has no measures any more.
    Document cut = d;
    Shape shape = *d.shapes.find(d.parts.find(named(d, "roller"))->shape);
    cut.shapes.set(make_shape(shape.id, shape.name, *shape.mesh));
    EXPECT_NE(why(cut, {{"parts", {"roller"}}, {"diameter", 0.1}}).find("is no stand-in"), std::string::npos);
}

TEST(StandInChange, MeasuresAreKeptInTheProject) {
    const test::TempFolder folder;
    const Document d = chained();
    ASSERT_TRUE(save_project(d, folder / "drive.pivrak.glb").ok());
    const auto read = open_project(folder / "drive.pivrak.glb");
    ASSERT_TRUE(read.ok()) << read.error().message;
    const Document changed = run(*read, {{"op", "stand_in.change"}, {"parts", {"small"}}, {"teeth", 21}});
    EXPECT_EQ(changed.shapes.find(changed.parts.find(named(changed, "small"))->shape)->made_of["teeth"], 21);
    EXPECT_EQ(changed.shapes.find(changed.parts.find(named(changed, "small"))->shape)->made_of["chain"],
              "16B");
}

}  // namespace
}  // namespace pivrak
