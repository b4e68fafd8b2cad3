#include "core/base/words.h"

#include <gtest/gtest.h>

namespace pivrak {
namespace {

TEST(Counted, PutsTheNounInItsNumberAndGroupsDigits) {
    EXPECT_EQ(counted(0, "part"), "0 parts");
    EXPECT_EQ(counted(1, "part"), "1 part");
    EXPECT_EQ(counted(999, "part"), "999 parts");
    EXPECT_EQ(counted(1000, "part"), "1,000 parts");
    EXPECT_EQ(counted(1001000, "part"), "1,001,000 parts");
    EXPECT_EQ(counted(2, "axis", "axes"), "2 axes");
    EXPECT_EQ(counted(1, "axis", "axes"), "1 axis");
}

}  // namespace
}  // namespace pivrak
