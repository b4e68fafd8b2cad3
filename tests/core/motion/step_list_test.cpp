#include "core/motion/step_list.h"

#include <gtest/gtest.h>

#include "core/motion/rig_program.h"

namespace pivrak {
namespace {

/// Adds what it counted so far.
struct Counting {
    static constexpr StepRank rank = StepRank::Channels;
    static constexpr bool stateful = false;
    struct Memory {
        int count;
    };
    std::uint32_t channel;
    int first;
    Memory start() const { return {first}; }
    void run(RunContext& context, Memory& memory) const { context.channels[channel] += ++memory.count; }
};

struct Doubling {
    static constexpr StepRank rank = StepRank::Frames;
    static constexpr bool stateful = false;
    std::uint32_t channel;
    void run(RunContext& context) const { context.channels[channel] *= 2; }
};

struct Bench {
    std::vector<std::shared_ptr<StepList>> lists;
    std::vector<double> channels{0, 0, 1};
    RunContext context;

    Bench() {
        auto counting = std::make_shared<ListOf<Counting>>();
        counting->steps = {{0, 10}, {1, 20}};
        auto doubling = std::make_shared<ListOf<Doubling>>();
        doubling->steps = {{2}};
        lists = {counting, doubling};
        context.channels = channels;
    }
};

TEST(StepLists, EachStepHasItsOwnMemoryAndACopyGoesItsOwnWay) {
    Bench b;
    const Memories memories(b.lists);
    Memories copy = memories;
    EXPECT_EQ(memories[1], nullptr) << "it remembers nothing";
    b.lists[0]->run(0, 2, b.context, memories[0]);
    b.lists[0]->run(1, 1, b.context, memories[0]);
    EXPECT_EQ(b.channels[0], 11);
    EXPECT_EQ(b.channels[1], 21 + 22);
    b.channels.assign(3, 0);
    b.lists[0]->run(0, 2, b.context, copy[0]);
    EXPECT_EQ(b.channels[0], 11) << "as if the other had never run";
    copy = memories;
    b.channels.assign(3, 0);
    b.lists[0]->run(0, 2, b.context, copy[0]);
    EXPECT_EQ(b.channels[1], 23) << "from where the other had come to";
}

TEST(StepLists, StepsAreRunInTheOrderInWhichTheyWereArranged) {
    Bench b;
    b.lists[0]->arrange(std::vector<std::uint32_t>{1, 0});
    const Memories memories(b.lists);
    b.lists[0]->run(0, 1, b.context, memories[0]);
    EXPECT_EQ(b.channels[0], 0);
    EXPECT_EQ(b.channels[1], 21);
}

TEST(StepLists, AProgramFindsStepsAndMemoriesByTheirType) {
    Bench b;
    RigProgram program;
    program.lists = b.lists;
    const Memories memories(program.lists);
    ASSERT_TRUE(program.list<Counting>());
    EXPECT_EQ(program.list<Counting>()->steps.size(), 2u);
    EXPECT_EQ(program.memories<Counting>(memories)[1].count, 20);
    struct Absent : Doubling {};
    EXPECT_FALSE(program.list<Absent>());
}

}  // namespace
}  // namespace pivrak
