#include "core/model/names/names.h"

#include <gtest/gtest.h>

#include <random>
#include <set>

#include "core/model/recognised.h"
#include "tests/support/documents.h"

namespace pivrak {
namespace {

TEST(Names, SeriesAreAsWideAsTheirLargestNumber) {
    EXPECT_EQ(series_name("bolt", 3, 9), "bolt 3");
    EXPECT_EQ(series_name("bolt", 3, 10), "bolt 03");
    EXPECT_EQ(series_name("link", 7, 120), "link 007");
}

TEST(Names, FreeOnesCountOn) {
    Document d = empty_document();
    test::add_part(d, "Bolt");
    test::add_part(d, "Pin 7");
    test::add_part(d, "Pin 8");
    FreeNames names(d);
    EXPECT_EQ(names.take("Nut"), "Nut");
    EXPECT_EQ(names.take("Nut"), "Nut 2");
    EXPECT_EQ(names.take("Bolt"), "Bolt 2");
    EXPECT_EQ(names.take("Pin 7"), "Pin 9");
    names.release("Bolt");
    EXPECT_EQ(names.take("Bolt"), "Bolt");
    EXPECT_EQ(names.take("12"), "12") << "a number alone is a name";
    EXPECT_EQ(names.take("12"), "12 2");
}

/// Whatever was asked for before, the answer is that of counting on from the wanted name.
TEST(Names, FreeOnesAreThoseThatCountingFinds) {
    std::mt19937 random(11);
    const auto chance = [&](int below) { return static_cast<int>(random() % static_cast<unsigned>(below)); };
    FreeNames names(empty_document());
    std::set<std::string> used;
    for (int i = 0; i < 3000; ++i) {
        std::string wanted = chance(2) ? "Bolt" : "Nut";
        if (chance(4)) wanted += fmt::format(" {:0{}}", chance(60), chance(3) ? 1 : 3);
        if (chance(5) == 0 && !used.empty()) {
            const auto gone = std::next(used.begin(), chance(static_cast<int>(used.size())));
            names.release(*gone);
            used.erase(gone);
        }
        std::string expected = wanted;
        if (used.contains(wanted)) {
            const std::size_t space = wanted.find(' ');
            const std::string base = wanted.substr(0, space);
            const int digits = space == std::string::npos ? 1 : static_cast<int>(wanted.size() - space - 1);
            int number = space == std::string::npos ? 1 : std::stoi(wanted.substr(space + 1));
            do expected = fmt::format("{} {:0{}}", base, ++number, digits);
            while (used.contains(expected));
        }
        ASSERT_EQ(names.take(wanted), expected) << i;
        used.insert(expected);
    }
}

struct Swap {
    SideAxis axis;
    const char *name, *wanted;
};

TEST(Names, SidesSwapAsWordsOnly) {
    for (const Swap& c : {Swap{SideAxis::LeftRight, "Wheel front left", "Wheel front right"},
                          Swap{SideAxis::LeftRight, "DOOR_LEFT", "DOOR_RIGHT"},
                          Swap{SideAxis::LeftRight, "Right Track", "Left Track"},
                          Swap{SideAxis::LeftRight, "arm_L", "arm_R"},
                          Swap{SideAxis::LeftRight, "leftover", "leftover"},
                          Swap{SideAxis::LeftRight, "Lid", "Lid"},
                          Swap{SideAxis::FrontRear, "Wheel front left", "Wheel rear left"},
                          Swap{SideAxis::FrontRear, "back window", "front window"},
                          Swap{SideAxis::UpperLower, "Upper link", "Lower link"},
                          Swap{SideAxis::UpperLower, "top", "bottom"},
                          Swap{SideAxis::LeftRight, "", ""},
                          Swap{SideAxis::LeftRight, "Größe links", "Größe links"},
                          Swap{SideAxis::LeftRight, "wheel_FL", "wheel_FR"},
                          Swap{SideAxis::LeftRight, "RR hub", "RL hub"},
                          Swap{SideAxis::LeftRight, "LH door", "RH door"},
                          Swap{SideAxis::LeftRight, "door-bl", "door-br"},
                          Swap{SideAxis::FrontRear, "wheel_FL", "wheel_RL"},
                          Swap{SideAxis::FrontRear, "RR hub", "FR hub"},
                          Swap{SideAxis::LeftRight, "Öl", "Öl"},
                          Swap{SideAxis::LeftRight, "рычаг L", "рычаг R"},
                          Swap{SideAxis::LeftRight, "рычагL", "рычагL"},
                          Swap{SideAxis::LeftRight, "flap", "flap"}}) {
        EXPECT_EQ(swap_sides(c.name, c.axis), c.wanted);
        if (std::string(c.name) != "back window") {
            EXPECT_EQ(swap_sides(swap_sides(c.name, c.axis), c.axis), c.name) << "twice is nothing";
        }
    }
}

TEST(Names, PlacesAreToldAgainstTheWhole) {
    Bounds whole;
    whole.add(Vec3(-2, -1, 0));
    whole.add(Vec3(2, 1, 1));
    EXPECT_EQ(side_words({1.5, 0.9, 0}, whole), "front left");
    EXPECT_EQ(side_words({-1.5, -0.9, 0}, whole), "rear right");
    EXPECT_EQ(side_words({0.01, 0.5, 0}, whole), "left");
    EXPECT_EQ(side_words({0, 0, 0.5}, whole), "");
}

TEST(Recognised, AxlesAreNumberedWhenThereAreMoreThanTwo) {
    Document d = empty_document();
    for (const double x : {3.0, 0.0, -1.5})
        for (const double y : {1.0, -1.0}) {
            Solid s = wheel({400, 250, 240, 40, 0, 0, 5});
            s.lay_along(1);
            test::add_shaped(d, "w", transformed(test::to_mesh(s), Frame{Quat(1, 0, 0, 0), Vec3(x, y, 0.4)}));
        }
    std::set<std::string> names;
    for (const RecognisedPart& r : recognise_parts(d, Tree(d).all())) names.insert(r.name);
    EXPECT_EQ(names,
              (std::set<std::string>{"Wheel axle 1 left", "Wheel axle 1 right", "Wheel axle 2 left",
                                     "Wheel axle 2 right", "Wheel axle 3 left", "Wheel axle 3 right"}));
}

/// The same tyre is surer with a twin on the other side, and surer still on the floor; gears in mesh are
/// surer.
TEST(Recognised, CompanyIsEvidence) {
    const auto confidence = [](const std::vector<std::pair<Solid, Vec3>>& shapes) {
        Document d = empty_document();
        test::add_shaped(d, "frame", test::box({0, 0, 0}, {3, 1, 1}));
        for (const auto& [solid, at] : shapes) {
            Solid s = solid;
            s.lay_along(1);
            test::add_shaped(d, "w", transformed(test::to_mesh(s), Frame{Quat(1, 0, 0, 0), at}));
        }
        return recognise_parts(d, Tree(d).all()).at(0).shape.confidence;
    };
    const Solid tyre = wheel({300, 200, 180, 30}), small = wheel({200, 150, 120, 30});
    const double alone = confidence({{tyre, {0, 1, 0.9}}, {small, {2, 0, 0.2}}}),
                 in_pair = confidence({{tyre, {0, 1, 0.9}}, {tyre, {0, -1, 0.9}}, {small, {2, 0, 0.2}}}),
                 standing = confidence({{tyre, {0, 1, 0.3}}, {tyre, {0, -1, 0.3}}});
    EXPECT_LT(alone, 0.9);
    EXPECT_GT(in_pair, alone);
    EXPECT_GT(standing, in_pair);
    EXPECT_LT(standing, 1);
    // Source: ISO 53, pitch circles of 8 (40 + 20) / 2 mm apart.
    const Solid large = gear({40, 8, 60, 20, 0, 0, 0, 0, 0}), pinion = gear({20, 8, 60, 20, 0, 0, 0, 0, 0});
    EXPECT_GT(confidence({{large, {0, 0, 1}}, {pinion, {0.24, 0, 1}}}),
              confidence({{large, {0, 0, 1}}, {pinion, {0.34, 0, 1}}}));
}

TEST(Recognised, SmallRoundThingsAreNoWheelsAndEqualNamesGetNumbers) {
    Document d = empty_document();
    test::add_shaped(d, "frame", test::box({0, 0, 0}, {5, 1, 1}));
    for (int i = 0; i < 3; ++i)
        test::add_shaped(d, "n",
                         transformed(test::to_mesh(shaft(30, -20, 20, 2, 24)),
                                     Frame{Quat(1, 0, 0, 0), Vec3(0.5 * i, 2, 0)}));
    const auto found = recognise_parts(d, Tree(d).all());
    ASSERT_EQ(found.size(), 3u);
    EXPECT_EQ(found[0].name, "Disc 60 mm 1");
    EXPECT_EQ(found[2].name, "Disc 60 mm 3");
    EXPECT_EQ(describe(found[0].shape, LengthUnit::Metre), "disc, ⌀ 60.0 mm, 40.0 mm wide");
    int asked = 0;
    EXPECT_TRUE(
        recognise_parts(d, Tree(d).all(), Progress([&](double, std::string_view) { return ++asked < 0; }))
            .empty());
}

}  // namespace
}  // namespace pivrak
