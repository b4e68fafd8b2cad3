#include "core/rig/gears/train.h"

#include <gtest/gtest.h>

#include <cmath>
#include <random>

#include "core/checks/drive/train_report.h"
#include "core/motion/evaluator.h"
#include "tests/support/documents.h"

namespace pivrak {
namespace {

using test::add_part;
using test::couple;
using test::key;
using test::make_hinge;

ChannelRef turn(PartId part) {
    return {part, ChannelKind::Turn};
}

void couple_inside(Document& d, PartId driver, PartId driven, int driver_teeth, int driven_teeth) {
    d.couplings.set({d.new_id<CouplingId>(), GearPair{turn(driver), turn(driven), driver_teeth, driven_teeth,
                                                      0, false, PairKind::Inside}});
}

void hold(Document& d, PartId id) {
    Part part = *d.parts.find(id);
    part.joint.turn.locked = true;
    d.parts.set(part);
}

PartId hinge_at(Document& d, const char* name, const Vec3& place, PartId parent = {}, int axis = 2) {
    const PartId id = add_part(d, name, parent, {Quat(1, 0, 0, 0), place});
    make_hinge(d, id, axis);
    return id;
}

/// A planetary set: sun and ring about the middle, one planet on a carrier.
struct Set {
    Document d = empty_document();
    PartId sun, ring, carrier, planet;
};

Set planetary(int sun_teeth, int planet_teeth, int ring_teeth) {
    Set s;
    s.sun = hinge_at(s.d, "sun", {0, 0, 0});
    s.ring = hinge_at(s.d, "ring", {0, 0, 0});
    s.carrier = hinge_at(s.d, "carrier", {0, 0, 0});
    s.planet = hinge_at(s.d, "planet", {0.001 * (sun_teeth + planet_teeth), 0, 0}, s.carrier);
    if (sun_teeth > 0) couple(s.d, s.sun, s.planet, sun_teeth, planet_teeth);
    if (ring_teeth > 0) couple_inside(s.d, s.planet, s.ring, planet_teeth, ring_teeth);
    return s;
}

double value(const Document& d, PartId part, double frame = 0) {
    const auto evaluator = Evaluator::compile(d);
    EXPECT_TRUE(evaluator.ok());
    Pose pose = evaluator->make_pose();
    evaluator->evaluate(frame, pose);
    return pose.channels[*evaluator->channel_slot(turn(part))];
}

void drive(Document& d, PartId part, double to) {
    key(d, part, {{0, to, Interpolation::Linear}});
}

TEST(Train, PlanetarySetsTurnByWillisWithAnyMemberHeld) {
    // Source: R. Willis, Principles of Mechanism, 1841: (ring - carrier) / (sun - carrier) = -sun / ring.
    const int sun = 18, planet = 21, ring = 60;
    struct Case {
        const char* name;
        PartId Set::*held, Set::*driver, Set::*asked;
        double ratio;
    };
    for (const Case& c :
         {Case{"ring held, sun drives", &Set::ring, &Set::sun, &Set::carrier, 18.0 / 78},
          Case{"ring held, carrier drives", &Set::ring, &Set::carrier, &Set::sun, 78.0 / 18},
          Case{"sun held, ring drives", &Set::sun, &Set::ring, &Set::carrier, 60.0 / 78},
          Case{"carrier held, sun drives", &Set::carrier, &Set::sun, &Set::ring, -18.0 / 60}}) {
        SCOPED_TRACE(c.name);
        Set s = planetary(sun, planet, ring);
        hold(s.d, s.*c.held);
        drive(s.d, s.*c.driver, 2.0);
        EXPECT_NEAR(value(s.d, s.*c.asked), 2.0 * c.ratio, 1e-12);
    }
}

TEST(Train, AGearCarriedRoundAHeldOne) {
    // Common practice, no source: a 5-tooth gear carried round a held 50-tooth gear turns 10 times per lap
    // relative to its arm, a 10-tooth one 5 times.
    for (const auto& [teeth, turns] : {std::pair{5, 10.0}, std::pair{10, 5.0}}) {
        Set s = planetary(50, teeth, 0);
        hold(s.d, s.sun);
        drive(s.d, s.carrier, 2 * pi);
        EXPECT_NEAR(value(s.d, s.planet) / (2 * pi), turns, 1e-12);
    }
}

TEST(Train, AHeldWheelAndThreeOnOneIdlerSeemToContradictEachOther) {
    // Source: J. Ferguson, Select Mechanical Exercises (1773), his paradox of wheels, from memory: an arm
    // carries an idler round a held wheel of 100 teeth; of three wheels on one shaft in the same idler the
    // one of 100 stands still, the one of 101 goes the arm's way and the one of 99 against it, by a 101st and
    // a 99th of a turn for each of the arm's.
    Set s = planetary(100, 20, 0);
    std::vector<std::pair<PartId, double>> wheels;
    for (const auto& [teeth, turns] : {std::pair{100, 0.0}, {101, 1.0 / 101}, {99, -1.0 / 99}}) {
        const PartId wheel = hinge_at(s.d, "wheel", {0, 0, 0});
        couple(s.d, s.planet, wheel, 20, teeth);
        wheels.emplace_back(wheel, turns);
    }
    hold(s.d, s.sun);
    drive(s.d, s.carrier, 2 * pi);
    for (const auto& [wheel, turns] : wheels) EXPECT_NEAR(value(s.d, wheel) / (2 * pi), turns, 1e-12);
}

TEST(Train, ADifferentialSharesItsTurnsBetweenTwoSides) {
    // Source: Willis: with bevel sides of equal teeth the case turns by the mean of both.
    Document d = empty_document();
    const PartId left = hinge_at(d, "left", {0, 0.1, 0}, {}, 1),
                 right = hinge_at(d, "right", {0, -0.1, 0}, {}, 1),
                 carrier = hinge_at(d, "case", {0, 0, 0}, {}, 1),
                 pinion = hinge_at(d, "pinion", {0.1, 0, 0}, carrier, 0);
    for (const PartId side : {left, right})
        d.couplings.set(
            {d.new_id<CouplingId>(), GearPair{turn(side), turn(pinion), 16, 10, 0, false, PairKind::Bevel}});
    drive(d, left, 1.0);
    drive(d, right, 0.4);
    EXPECT_NEAR(value(d, carrier), 0.7, 1e-12);
    // The pinion turns by half the difference, in the ratio of teeth.
    EXPECT_NEAR(std::abs(value(d, pinion)), 0.3 * 1.6, 1e-12);
    // With the case driven and one side held, the other goes twice as far.
    Document held = d;
    for (const PartId part : {left, right}) {
        Clip clip = clip_or_first(held);
        clip.track_or_new(turn(part)).keys.clear();
        held.clips.set(clip);
    }
    hold(held, right);
    drive(held, carrier, 1.0);
    EXPECT_NEAR(value(held, left), 2.0, 1e-12);
}

TEST(Train, AnyShaftWithKeysDrivesTheOthers) {
    Document d = empty_document();
    std::vector<PartId> shafts;
    for (int i = 0; i < 4; ++i) {
        shafts.push_back(hinge_at(d, ("shaft " + std::to_string(i)).c_str(), {0.3 * i, 0, 0}));
        if (i > 0)
            couple(d, shafts[static_cast<std::size_t>(i - 1)], shafts[static_cast<std::size_t>(i)], 20, 30);
    }
    Document from_end = d;
    drive(from_end, shafts[3], 1.0);
    EXPECT_NEAR(value(from_end, shafts[0]), -std::pow(1.5, 3), 1e-12);
    EXPECT_NEAR(value(from_end, shafts[2]), -1.5, 1e-12);
    // Two drivers: the clash names both.
    drive(from_end, shafts[0], 1.0);
    const TrainReport report = report_trains(from_end);
    ASSERT_EQ(report.clashes.size(), 1u);
    EXPECT_NE(report.clashes[0].find("'shaft 0'"), std::string::npos) << report.clashes[0];
    EXPECT_NE(report.clashes[0].find("'shaft 3'"), std::string::npos);
    EXPECT_TRUE(report_trains(d).clashes.empty());
}

TEST(Train, RatiosAreExactFractions) {
    Document d = empty_document();
    const PartId motor = hinge_at(d, "motor", {0, 0, 0}), layshaft = hinge_at(d, "layshaft", {0.3, 0, 0}),
                 output = hinge_at(d, "output", {0.6, 0, 0});
    couple(d, motor, layshaft, 17, 51);
    couple(d, layshaft, output, 19, 38);
    const auto ties = ties_of(d);
    const auto ratio = train_ratio(ties, solve_trains(d), turn(motor), turn(output));
    ASSERT_TRUE(ratio);
    EXPECT_EQ(ratio->fraction, "51/17 · 38/19");
    EXPECT_NEAR(ratio->value, 17.0 / 51 * 19 / 38, 1e-15);
    Set s = planetary(18, 21, 60);
    hold(s.d, s.ring);
    const auto through = train_ratio(ties_of(s.d), solve_trains(s.d), turn(s.sun), turn(s.carrier));
    ASSERT_TRUE(through);
    EXPECT_EQ(through->fraction, "13/3");  // 78 / 18
}

TEST(Train, RandomTreesOfGearsAgreeWithTheirProducts) {
    std::mt19937 dice(7);
    for (int round = 0; round < 30; ++round) {
        Document d = empty_document();
        std::vector<PartId> shafts{hinge_at(d, "first", {0, 0, 0})};
        std::vector<double> ratio{1};
        for (int i = 1; i < 60; ++i) {
            const auto from = std::uniform_int_distribution<std::size_t>(0, shafts.size() - 1)(dice);
            const int a = std::uniform_int_distribution<int>(9, 90)(dice),
                      b = std::uniform_int_distribution<int>(9, 90)(dice);
            shafts.push_back(hinge_at(d, "next", {1.0 * i, 0, 0}));
            couple(d, shafts[from], shafts.back(), a, b);
            ratio.push_back(-ratio[from] * a / b);
        }
        const auto driver = std::uniform_int_distribution<std::size_t>(0, shafts.size() - 1)(dice);
        drive(d, shafts[driver], 1.0);
        for (std::size_t i = 0; i < shafts.size(); i += 11)
            EXPECT_NEAR(value(d, shafts[i]), ratio[i] / ratio[driver],
                        1e-9 * std::abs(ratio[i] / ratio[driver]));
    }
}

TEST(PairShares, BeltsWormsRacksAndScrewsGoTheRightWay) {
    const PairMember z{{0, 0, 0}, {0, 0, 1}, 20}, beside{{1, 0, 0}, {0, 0, 1}, 40};
    const auto ratio = [](const GearPair& pair, const PairMember& a, const PairMember& b) {
        const auto shares = pair_shares(pair, a, b);
        return -shares[0] / shares[1];
    };
    GearPair pair;
    pair.kind = PairKind::Belt;
    EXPECT_DOUBLE_EQ(ratio(pair, z, beside), 0.5);
    pair.kind = PairKind::CrossedBelt;
    EXPECT_DOUBLE_EQ(ratio(pair, z, beside), -0.5);
    // A pinion that turns left about z below a rack takes it along -x where the rack lies above it (+y).
    pair = GearPair{};
    pair.kind = PairKind::Rack;
    pair.driver_radius_m = 0.05;
    EXPECT_DOUBLE_EQ(ratio(pair, z, {{0, 0.05, 0}, {1, 0, 0}, 0, true}), -0.05);
    EXPECT_DOUBLE_EQ(ratio(pair, z, {{0, -0.05, 0}, {1, 0, 0}, 0, true}), 0.05);
    // A right-hand screw that only turns draws its nut against its axis; one that goes through a nut goes
    // along it.
    pair = GearPair{};
    pair.kind = PairKind::Screw;
    pair.lead_m = 0.005;
    pair.driver.owner = PartId{1};
    pair.driven.owner = PartId{2};
    EXPECT_DOUBLE_EQ(ratio(pair, z, {{0, 0, 1}, {0, 0, 1}, 0, true}), -0.005 / (2 * pi));
    pair.driven.owner = PartId{1};
    EXPECT_DOUBLE_EQ(ratio(pair, z, {{0, 0, 0}, {0, 0, 1}, 0, true}), 0.005 / (2 * pi));
    pair.left_hand = true;
    EXPECT_DOUBLE_EQ(ratio(pair, z, {{0, 0, 0}, {0, 0, 1}, 0, true}), -0.005 / (2 * pi));
    // A worm's thread goes by like a nut: along -z where its axis is z. The wheel's axis is x, the worm
    // passes at +y.
    pair = GearPair{};
    pair.kind = PairKind::Worm;
    const PairMember worm{{0, 0.1, 0}, {0, 0, 1}, 2}, wheel{{0, 0, 0}, {1, 0, 0}, 40};
    // x cross y is z: a positive turn of the wheel moves its rim at the worm along +z.
    EXPECT_DOUBLE_EQ(ratio(pair, worm, wheel), -2.0 / 40);
}

TEST(PairShares, BevelConesHaveTheStandardsAngles) {
    // Source: ISO 23509:2016 (bevel gears), pitch cone: tan d1 = sin(S) / (z2/z1 + cos(S)), d2 = S - d1.
    // Where the cones touch, the speeds of both rims are equal; that is looked at here with the cones' own
    // radii.
    const double sigma = 70 * rad_per_deg;
    const int z1 = 20, z2 = 33;
    const double d1 = std::atan2(std::sin(sigma), static_cast<double>(z2) / z1 + std::cos(sigma)),
                 d2 = sigma - d1;
    EXPECT_NEAR(std::sin(d1) / std::sin(d2), static_cast<double>(z1) / z2, 1e-12);
    const Vec3 first(0, 0, 1), second(std::sin(sigma), 0, std::cos(sigma));
    GearPair pair;
    pair.kind = PairKind::Bevel;
    const auto shares = pair_shares(pair, {first, first, double(z1)}, {second, second, double(z2)});
    const Vec3 touch(std::sin(d1), 0, std::cos(d1));
    const double ratio = -shares[0] / shares[1];
    EXPECT_LT((first.cross(touch) - ratio * second.cross(touch)).norm(), 1e-12);
    // An axis that points the other way turns the other way.
    const auto turned = pair_shares(pair, {first, first, double(z1)}, {second, -second, double(z2)});
    EXPECT_DOUBLE_EQ(-turned[0] / turned[1], -ratio);
}

TEST(Train, GearsOnPartsThatMoveApartAreFound) {
    Document d = empty_document();
    const PartId slide = add_part(d, "table", {}, {Quat(1, 0, 0, 0), Vec3(1, 0, 0)});
    Part part = *d.parts.find(slide);
    part.joint.kind = JointKind::Slide;
    d.parts.set(part);
    const PartId a = hinge_at(d, "a", {0, 0, 0}), b = hinge_at(d, "b", {0.1, 0, 0}, slide);
    const GearPair pair{turn(a), turn(b), 10, 20};
    const auto parting = parting_joints(d, pair);
    ASSERT_EQ(parting.size(), 1u);
    EXPECT_EQ(parting[0], slide);
}

}  // namespace
}  // namespace pivrak
