#include "core/base/shared_table.h"

#include <gtest/gtest.h>

#include <map>
#include <random>

#include "core/base/id.h"

namespace pivrak {
namespace {

struct Entry {
    PartId id;
    int value = 0;
    bool operator==(const Entry&) const = default;
};
using Table = SharedTable<Entry>;

std::map<std::uint64_t, int> contents(const Table& table) {
    std::map<std::uint64_t, int> out;
    for (const Entry& entry : table) out[entry.id.value] = entry.value;
    return out;
}

TEST(SharedTable, BehavesLikeAMapUnderRandomEdits) {
    std::mt19937 random(11);
    Table table;
    std::map<std::uint64_t, int> expected;
    for (int step = 0; step < 20000; ++step) {
        const std::uint64_t id = random() % 700 + 1;
        if (random() % 3 == 0) {
            EXPECT_EQ(table.erase(PartId{id}), expected.erase(id) > 0);
        } else {
            table.set({PartId{id}, step});
            expected[id] = step;
        }
        ASSERT_EQ(table.size(), expected.size());
    }
    EXPECT_EQ(contents(table), expected);
    for (std::uint64_t id = 1; id <= 700; ++id) {
        const Entry* found = table.find(PartId{id});
        ASSERT_EQ(found != nullptr, expected.contains(id));
        if (found) {
            EXPECT_EQ(found->value, expected[id]);
        }
    }
}

TEST(SharedTable, IsOrderedById) {
    Table table;
    for (const std::uint64_t id : {500, 3, 77, 1, 499}) table.set({PartId{id}, 0});
    std::uint64_t before = 0;
    for (const Entry& entry : table) {
        EXPECT_LT(before, entry.id.value);
        before = entry.id.value;
    }
}

TEST(SharedTable, ACopyDoesNotSeeLaterEdits) {
    Table table;
    for (std::uint64_t id = 1; id <= 300; ++id) table.set({PartId{id}, 1});
    const Table before = table;
    table.set({PartId{150}, 2});
    table.erase(PartId{10});
    table.set({PartId{301}, 3});
    EXPECT_EQ(before.find(PartId{150})->value, 1);
    EXPECT_TRUE(before.contains(PartId{10}));
    EXPECT_FALSE(before.contains(PartId{301}));
    EXPECT_EQ(before.size(), 300u);
}

TEST(SharedTable, AnEditSharesTheEntriesItDidNotTouch) {
    Table table;
    for (std::uint64_t id = 1; id <= 300; ++id) table.set({PartId{id}, 1});
    const Table before = table;
    table.set({PartId{150}, 2});
    EXPECT_EQ(before.find(PartId{149}), table.find(PartId{149}));
    EXPECT_EQ(before.find(PartId{290}), table.find(PartId{290}));
    EXPECT_NE(before.find(PartId{150}), table.find(PartId{150}));
}

TEST(SharedTable, EqualityLooksAtValuesNotAtHowTheyAreStored) {
    Table forwards, backwards;
    for (std::uint64_t id = 1; id <= 200; ++id) forwards.set({PartId{id}, static_cast<int>(id)});
    for (std::uint64_t id = 200; id >= 1; --id) backwards.set({PartId{id}, static_cast<int>(id)});
    EXPECT_TRUE(forwards == backwards);
    backwards.set({PartId{7}, 0});
    EXPECT_FALSE(forwards == backwards);
    backwards.erase(PartId{7});
    EXPECT_FALSE(forwards == backwards);
}

TEST(SharedTable, AnEmptyTableHasNothing) {
    Table table;
    EXPECT_TRUE(table.empty());
    EXPECT_EQ(table.find(PartId{1}), nullptr);
    EXPECT_FALSE(table.erase(PartId{1}));
    EXPECT_TRUE(table.begin() == table.end());
}

}  // namespace
}  // namespace pivrak
