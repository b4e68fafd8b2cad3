#include "core/motion/step_order.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <random>

namespace pivrak {
namespace {

constexpr std::size_t channels = 40;
// Lists of steps, in the order in which they come where there is a choice.
constexpr std::uint32_t linear_list = 0, steer = 1, nodes = 2, suspend = 3, roll = 4;
constexpr std::array<std::uint32_t, 5> preferred{linear_list, steer, nodes, suspend, roll};

TEST(StepOrder, EveryStepComesAfterWhatGivesItsNeeds) {
    std::mt19937 random(9);
    for (int round = 0; round < 50; ++round) {
        // Channel k is given from lower ones only, put down in any order.
        StepOrder order;
        order.resize(channels, 0);
        std::vector<std::uint32_t> given(channels - 5);
        for (std::uint32_t i = 0; i < given.size(); ++i) given[i] = i + 5;
        std::shuffle(given.begin(), given.end(), random);
        for (const std::uint32_t channel : given) {
            std::vector<std::uint32_t> needs;
            for (int k = 0; k < 3; ++k) needs.push_back(random() % channel);
            order.add({random() % 2 ? linear_list : steer, channel, needs, {channel}});
        }
        const auto sorted = order.sorted(preferred);
        ASSERT_EQ(sorted.steps.size(), given.size());
        EXPECT_TRUE(sorted.circle.empty());
        std::vector<bool> known(channels, false);
        for (std::size_t i = 0; i < 5; ++i) known[i] = true;
        for (const std::size_t s : sorted.steps) {
            for (const std::uint32_t need : order.step(s).needs) EXPECT_TRUE(known[need]);
            for (const std::uint32_t give : order.step(s).gives) known[give] = true;
        }
    }
}

TEST(StepOrder, ACircleIsNamedAndNothingElse) {
    StepOrder order;
    order.resize(6, 2);
    order.add({linear_list, 0, {0}, {1}});
    order.add({linear_list, 1, {4}, {2}});  // 2 <- 4 <- frame 1 <- 2
    order.add({nodes, 1, {2}, {order.frame(1)}});
    order.add({suspend, 0, {order.frame(1)}, {4}});
    order.add({linear_list, 2, {2}, {5}});  // hangs behind the circle
    const auto sorted = order.sorted(preferred);
    std::vector<std::uint32_t> circle = sorted.circle;
    std::sort(circle.begin(), circle.end());
    EXPECT_EQ(circle, (std::vector<std::uint32_t>{2, 4, order.frame(1)}));
    EXPECT_EQ(sorted.steps.size(), 1u) << "only what does not wait for it";
}

TEST(StepOrder, StepsOfAKindStandTogether) {
    StepOrder order;
    order.resize(20, 10);
    for (std::uint32_t i = 0; i < 10; ++i) {
        order.add({nodes, i, {i}, {order.frame(i)}});
        if (i > 0) order.add({linear_list, i, {0}, {i}});
    }
    const auto sorted = order.sorted(preferred);
    std::size_t changes = 0;
    for (std::size_t i = 1; i < sorted.steps.size(); ++i)
        changes += order.step(sorted.steps[i]).list != order.step(sorted.steps[i - 1]).list;
    EXPECT_EQ(changes, 1u) << "all couplings, then all parts";
}

TEST(StepOrder, WhatIsNeededByAStepIsFoundThroughOthers) {
    StepOrder order;
    order.resize(8, 1);
    const std::size_t first = order.add({linear_list, 0, {0}, {1}});
    const std::size_t second = order.add({steer, 0, {1}, {2}});
    const std::size_t apart = order.add({linear_list, 1, {0}, {3}});
    const std::size_t last = order.add({roll, 0, {2}, {4}});
    const auto needed = order.needed_by({last});
    EXPECT_TRUE(needed[first]);
    EXPECT_TRUE(needed[second]);
    EXPECT_TRUE(needed[last]);
    EXPECT_FALSE(needed[apart]);
}

}  // namespace
}  // namespace pivrak
