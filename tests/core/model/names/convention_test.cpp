#include "core/model/names/convention.h"

#include <gtest/gtest.h>

#include "core/model/names/name_pattern.h"
#include "core/model/names/name_words.h"

namespace pivrak {
namespace {

struct NamedCase {
    NamingConvention convention;
    const char *name, *wanted;
};

constexpr NamingConvention small_underscores{NameLetters::Lower, NameSeparator::Underscore, SideTags::Any,
                                             false};
constexpr NamingConvention letters{NameLetters::Any, NameSeparator::Any, SideTags::Letters, false};
constexpr NamingConvention words{NameLetters::Any, NameSeparator::Any, SideTags::Words, false};
constexpr NamingConvention plain{NameLetters::Any, NameSeparator::Any, SideTags::Any, true};
constexpr NamingConvention all{NameLetters::Capital, NameSeparator::Hyphen, SideTags::Letters, true};

TEST(Convention, NamesAsItWantsThem) {
    for (const NamedCase& c : {NamedCase{{}, "Any thing_goes-here", "Any thing_goes-here"},
                               {small_underscores, "Front Left wheel 02", "front_left_wheel_02"},
                               {small_underscores, "a__b  c", "a_b_c"},
                               {letters, "front left wheel", "FL wheel"},
                               {letters, "Wheel_right", "Wheel_R"},
                               {letters, "rear axle", "rear axle"},
                               {letters, "rear right wheel", "BR wheel"},
                               {words, "BR wheel", "rear right wheel"},
                               {words, "Wheel_L", "Wheel_left"},
                               {words, "Deck B", "Deck B"},
                               {plain, "Träger (alt) #2", "Trger alt 2"},
                               {plain, "歯車", "part"},
                               {all, "front left 歯車 arm", "FL-Arm"}}) {
        SCOPED_TRACE(c.name);
        EXPECT_EQ(conformed_name(c.name, c.convention), c.wanted);
    }
}

TEST(Convention, ANameThatKeepsItStays) {
    const char* names[] = {
        "front left wheel", "BL_arm", "Träger 歯車", "  odd   blanks ", "a", "_", "L", "FR", "rear"};
    for (const auto l : {NameLetters::Any, NameLetters::Lower, NameLetters::Capital})
        for (const auto s :
             {NameSeparator::Any, NameSeparator::Space, NameSeparator::Underscore, NameSeparator::Hyphen})
            for (const auto t : {SideTags::Any, SideTags::Words, SideTags::Letters})
                for (const bool p : {false, true})
                    for (const char* name : names) {
                        const NamingConvention c{l, s, t, p};
                        const std::string once = conformed_name(name, c);
                        EXPECT_FALSE(once.empty());
                        EXPECT_EQ(conformed_name(once, c), once) << name;
                    }
}

TEST(Convention, SaysWhatItAsks) {
    EXPECT_EQ(convention_in_words({}), "");
    EXPECT_EQ(convention_in_words(small_underscores), "lower case, words divided by _");
}

TEST(NameWords, CutAndJoinAgain) {
    for (const char* name : {"Front left_wheel-02", "a", "", "_x", "a  b"}) {
        const auto cut = split_name(name);
        std::string whole;
        for (const NameWord& word : cut) whole += word.text + word.behind;
        EXPECT_EQ(whole, name);
    }
}

TEST(NameWords, BaseIsTheNameWithoutSideAndNumber) {
    EXPECT_EQ(base_name("Front left wheel 02"), "wheel");
    EXPECT_EQ(base_name("wheel_FL_3"), "wheel");
    EXPECT_EQ(base_name("12"), "12");
    EXPECT_EQ(base_name("left"), "left") << "never empty";
}

}  // namespace
}  // namespace pivrak
