#include "core/model/units.h"

#include <gtest/gtest.h>

#include "core/geometry/types.h"

namespace pivrak {
namespace {

struct Read {
    const char* text;
    Dimension dimension;
    LengthUnit bare;
    double value;
};

TEST(ParseQuantity, ReadsWhatPeopleType) {
    constexpr auto L = Dimension::Length;
    constexpr auto A = Dimension::Angle;
    for (const Read& c :
         {Read{"2", L, LengthUnit::Metre, 2}, Read{"2", L, LengthUnit::Millimetre, 0.002},
          Read{"3*25.4 mm", L, LengthUnit::Metre, 0.0762}, Read{"2 m + 40 mm", L, LengthUnit::Metre, 2.04},
          Read{"12cm", L, LengthUnit::Metre, 0.12}, Read{"1 in", L, LengthUnit::Millimetre, 0.0254},
          Read{"-5 mm", L, LengthUnit::Metre, -0.005}, Read{"8/4", L, LengthUnit::Centimetre, 0.02},
          Read{"45", A, LengthUnit::Metre, pi / 4}, Read{"45°", A, LengthUnit::Metre, pi / 4},
          Read{"45 deg", A, LengthUnit::Metre, pi / 4}, Read{"1/3 turn", A, LengthUnit::Metre, 2 * pi / 3},
          Read{"3 turns", A, LengthUnit::Metre, 6 * pi}, Read{"0.5 rad", A, LengthUnit::Metre, 0.5},
          Read{"1 turn + 90 deg", A, LengthUnit::Metre, 2.5 * pi},
          Read{"(10+20)*2", A, LengthUnit::Metre, pi / 3},
          Read{"7/2", Dimension::None, LengthUnit::Metre, 3.5},
          Read{"−30°", A, LengthUnit::Metre, -pi / 6}}) {
        SCOPED_TRACE(c.text);
        const auto value = parse_quantity(c.text, c.dimension, c.bare);
        ASSERT_TRUE(value.ok()) << value.error().message;
        EXPECT_NEAR(*value, c.value, 1e-12);
    }
}

TEST(ParseQuantity, RefusesWithAReason) {
    struct Refused {
        const char* text;
        Dimension dimension;
        const char* code;
    };
    for (const Refused& c : {Refused{"", Dimension::Length, "quantity.empty"},
                             Refused{"   ", Dimension::Angle, "quantity.empty"},
                             Refused{"abc", Dimension::Length, "quantity.syntax"},
                             Refused{"3 +", Dimension::Length, "quantity.syntax"},
                             Refused{"45 deg", Dimension::Length, "quantity.syntax"},
                             Refused{"3 mm", Dimension::Angle, "quantity.syntax"},
                             Refused{"1/0", Dimension::None, "quantity.not_finite"},
                             Refused{"1e30 turn", Dimension::Angle, "quantity.range"},
                             Refused{"-2e9 m", Dimension::Length, "quantity.range"},
                             Refused{"3 mm", Dimension::None, "quantity.syntax"},
                             Refused{"((2)", Dimension::None, "quantity.syntax"}}) {
        SCOPED_TRACE(c.text);
        const auto value = parse_quantity(c.text, c.dimension);
        ASSERT_FALSE(value.ok());
        EXPECT_EQ(value.error().code, c.code);
        EXPECT_FALSE(value.error().message.empty());
    }
}

TEST(FormatLength, PutsTheUnitBesideTheNumber) {
    EXPECT_EQ(format_length(0.272, LengthUnit::Millimetre, 1), "272.0 mm");
    EXPECT_EQ(format_length(0.272, LengthUnit::Metre, 3), "0.272 m");
    EXPECT_EQ(format_length(0, LengthUnit::Metre), "0.000 mm");
    EXPECT_EQ(format_length(-0.0, LengthUnit::Metre), "0.000 mm") << "nothing has no sign";
    EXPECT_EQ(format_length(-4e-7, LengthUnit::Millimetre, 2), "0.00 mm");
    EXPECT_EQ(format_length(-0.013, LengthUnit::Metre), "-13.0 mm");
    EXPECT_EQ(format_angle(-1e-9, 2), "0.00°");
    EXPECT_EQ(format_angle(-pi / 2, 1), "-90.0°");
    EXPECT_EQ(format_length(3.2e-9, LengthUnit::Metre), "below 0.001 mm");
    EXPECT_EQ(format_angle(pi / 4), "45.00°");
}

TEST(FormatLength, IsTheProjectsUnit) {
    constexpr LengthUnit mm = LengthUnit::Millimetre, cm = LengthUnit::Centimetre, m = LengthUnit::Metre;
    struct Told {
        double metres;
        LengthUnit unit;
        const char* words;
    };
    for (const Told& t :
         {Told{6.4, m, "6.400 m"}, Told{6.4, cm, "640.00 cm"}, Told{6.4, mm, "6400.0 mm"},
          Told{-0.13, m, "-130.0 mm"}, Told{-0.13, cm, "-13.00 cm"}, Told{-0.13, mm, "-130.0 mm"},
          Told{0.001, m, "1.000 mm"}, Told{0.001, cm, "0.1000 cm"}, Told{0.001, mm, "1.000 mm"},
          Told{0, cm, "0.0000 cm"}, Told{1e-7, cm, "below 0.0001 cm"}, Told{1e-7, mm, "below 0.001 mm"}})
        EXPECT_EQ(format_length(t.metres, t.unit), t.words);
}

TEST(LengthUnit, FromItsSymbolAndBack) {
    for (const LengthUnit unit : {LengthUnit::Millimetre, LengthUnit::Centimetre, LengthUnit::Metre})
        EXPECT_EQ(*length_unit_from(symbol(unit)), unit);
    EXPECT_FALSE(length_unit_from("yd").ok());
}

}  // namespace
}  // namespace pivrak
