#include "core/rig/gears/gear_search.h"

#include <gtest/gtest.h>

#include <cmath>
#include <set>

namespace pivrak {
namespace {

TEST(GearSearch, FindsExactTrainsFirstAndTheSmallest) {
    const auto found = find_gear_trains({.ratio = 6, .stages = 2, .least_teeth = 12, .most_teeth = 60});
    ASSERT_FALSE(found.empty());
    EXPECT_NEAR(found[0].error_ppm, 0, 1e-9);
    double top = 1, bottom = 1;
    for (const auto& [driver, driven] : found[0].stages) top *= driven, bottom *= driver;
    EXPECT_DOUBLE_EQ(top / bottom, 6);
    EXPECT_EQ(found[0].stages.size(), 2u);
    for (std::size_t i = 1; i < found.size(); ++i)
        EXPECT_LE(std::abs(found[i - 1].error_ppm), std::abs(found[i].error_ppm) + 1e-6);
}

TEST(GearSearch, NoneIsBetterThanTheBestOfEveryPair) {
    // An independent answer: all pairs of one stage, by trying them.
    const double wanted = 3.14159265358979;
    double best = 1e9;
    for (int a = 10; a <= 120; ++a)
        for (int b = 10; b <= 120; ++b)
            best = std::min(best, std::abs(static_cast<double>(b) / a / wanted - 1));
    const auto found = find_gear_trains({.ratio = wanted, .stages = 1, .least_teeth = 10, .most_teeth = 120});
    EXPECT_NEAR(std::abs(found.at(0).error_ppm), 1e6 * best, 1e-6);
    // From memory: 355/113 is the best fraction of pi with small numbers; two stages reach it.
    const auto two = find_gear_trains({.ratio = wanted, .stages = 2, .least_teeth = 10, .most_teeth = 120});
    EXPECT_LT(std::abs(two.at(0).error_ppm), 0.1);
}

TEST(GearSearch, AllTwoStageTrainsWereLookedAt) {
    const double wanted = 7.7;
    double best = 1e9;
    for (int a = 12; a <= 30; ++a)
        for (int b = a; b <= 30; ++b)
            for (int c = 12; c <= 30; ++c)
                for (int d = 12; d <= 30; ++d)
                    best = std::min(
                        best,
                        std::abs(static_cast<double>(c) * d / (static_cast<double>(a) * b) / wanted - 1));
    const auto found = find_gear_trains({.ratio = wanted, .stages = 2, .least_teeth = 12, .most_teeth = 30});
    EXPECT_NEAR(std::abs(found.at(0).error_ppm), 1e6 * best, 1e-6);
}

TEST(GearSearch, PairsKeepTheirCentreDistance) {
    const auto found =
        find_gear_trains({.ratio = 9, .stages = 2, .least_teeth = 14, .most_teeth = 80, .teeth_in_pair = 72});
    ASSERT_FALSE(found.empty());
    std::set<double> ratios;
    for (const GearAnswer& answer : found) {
        EXPECT_TRUE(ratios.insert(answer.ratio).second) << "each ratio once";
        for (const auto& [driver, driven] : answer.stages) EXPECT_EQ(driver + driven, 72);
    }
    // 18:54 twice is three times three.
    EXPECT_NEAR(found[0].error_ppm, 0, 1e-9);
}

TEST(GearSearch, EmptyRangesFindNothing) {
    EXPECT_TRUE(find_gear_trains({.ratio = 3, .least_teeth = 50, .most_teeth = 20}).empty());
    EXPECT_TRUE(find_gear_trains({.ratio = -3}).empty());
    EXPECT_TRUE(find_gear_trains({.ratio = 3, .stages = 4}).empty());
}

TEST(EvenPlanets, ByTheAssemblyCondition) {
    // Source: assembly condition, (sun + ring) / planets whole: 78 = 2 x 3 x 13.
    EXPECT_EQ(even_planets(18, 60), (std::vector<int>{2, 3, 6}));
    EXPECT_EQ(even_planets(18, 60, 13), (std::vector<int>{2, 3, 6, 13}));
}

}  // namespace
}  // namespace pivrak
