// What follows from an element's fields, on an element that is only here.
#include <gtest/gtest.h>

#include "core/io/project/field_json.h"
#include "core/model/part_fields.h"
#include "core/operations/element_arguments.h"
#include "tests/support/documents.h"

namespace pivrak {
namespace {

using nlohmann::json;

constexpr ChoiceWords<2> shade_words{"pale", "deep"};
enum class Shade : std::uint8_t { Pale, Deep };

struct Leg {
    PartId foot;
    double length_m = 1;
    bool operator==(const Leg&) const = default;
    template <class Self, class Visitor>
    static void fields(Self& self, Visitor& v) {
        v.part("foot", self.foot, Role::Held);
        v.number("length_m", self.length_m, {.usual = 1, .in_mirror = InMirror::Flips});
    }
};

struct Stool {
    ChannelRef driven;
    PartId seat, cover;
    std::vector<Leg> legs;
    std::optional<Leg> spare;
    std::vector<PartId> guests;
    double phase = 0, left_m = 0.5;
    int count = 3;
    bool left_hand = false;
    Shade shade = Shade::Pale;
    json unknown = json::object();
    bool operator==(const Stool&) const = default;

    Damaged damaged() const { return count < 1 ? Damaged("a stool counts nothing") : std::nullopt; }
    template <class Self, class Visitor>
    static void fields(Self& self, Visitor& v) {
        v.channel("driven", self.driven, Role::Driven);
        v.part("seat", self.seat, Role::Needed);
        v.part_if("cover", self.cover, Role::Outside);
        v.list("legs", self.legs);
        v.group("spare", self.spare);
        v.parts("guests", self.guests, Role::Outside);
        v.number("phase", self.phase, {.usual = 0, .in_mirror = InMirror::AsDriven, .formerly = "phase_rad"});
        v.number("left_m", self.left_m, {.in_mirror = InMirror::Flips});
        v.count("count", self.count, 3);
        v.handed("left_hand", self.left_hand);
        v.choice("shade", self.shade, shade_words, Shade::Pale);
        v.unknown(self.unknown);
    }
};

constexpr PartId seat{1}, pivot{2}, cover{3}, first_foot{4}, second_foot{5}, third_foot{6}, guest{7};

Stool stool() {
    return {{pivot, ChannelKind::Shift}, seat,    cover, {{first_foot, 2}, {second_foot, 1}},
            Leg{third_foot, 3},          {guest}, 0.25};
}

/// What is left of it, or nothing.
std::optional<Stool> without(PartId part) {
    Stool left = stool();
    const std::unordered_set<PartId> gone{part};
    DropParts drop(gone);
    Stool::fields(left, drop);
    return drop.lost ? std::nullopt : std::optional(left);
}

TEST(Fields, EveryPartThatIsNamedIsFound) {
    std::vector<std::uint64_t> found;
    Stool named = stool();
    EachPart each{[&](PartId& part) { found.push_back(part.value); }};
    Stool::fields(named, each);
    std::sort(found.begin(), found.end());
    EXPECT_EQ(found, (std::vector<std::uint64_t>{1, 2, 3, 4, 5, 6, 7}));
}

TEST(Fields, WhatCannotBeWithoutAPartGoesAndTheRestStays) {
    EXPECT_FALSE(without(seat));
    EXPECT_FALSE(without(pivot));
    EXPECT_FALSE(without(cover)->cover);
    EXPECT_EQ(without(first_foot)->legs, (std::vector<Leg>{{second_foot, 1}})) << "a leg goes by itself";
    EXPECT_FALSE(without(third_foot)->spare);
    EXPECT_TRUE(without(guest)->guests.empty());
    EXPECT_EQ(*without(PartId{99}), stool());
}

TEST(Fields, ACopyNamesCopiesAndKeepsWhatIsOutside) {
    const auto copied = [](CopyOf copies) {
        Stool copy = stool();
        TakeOver over(copies);
        Stool::fields(copy, over);
        return over.whole ? std::optional(copy) : std::nullopt;
    };
    EXPECT_FALSE(copied({{seat, PartId{11}}})) << "its channel was not copied";
    const auto copy = copied({{seat, PartId{11}}, {pivot, PartId{12}}, {first_foot, PartId{14}}});
    ASSERT_TRUE(copy);
    EXPECT_EQ(copy->seat, PartId{11});
    EXPECT_EQ(copy->driven, (ChannelRef{PartId{12}, ChannelKind::Shift}));
    EXPECT_EQ(copy->cover, cover);
    EXPECT_EQ(copy->legs[0].foot, PartId{14});
    EXPECT_EQ(copy->legs[1].foot, second_foot);
}

TEST(Fields, AMirrorTurnsRoundWhatIsSaidToTurn) {
    Stool image = stool();
    MirrorFields mirror(-1);
    Stool::fields(image, mirror);
    EXPECT_EQ(image.left_m, -0.5);
    EXPECT_EQ(image.phase, -0.25);
    EXPECT_TRUE(image.left_hand);
    EXPECT_EQ(image.legs[0].length_m, -2);
    EXPECT_EQ(image.count, 3);
}

TEST(Fields, FilesHoldWhatIsNotUsualAndGiveItBack) {
    const json written = fields::to_json(stool());
    EXPECT_EQ(written["driven_channel"], "shift");
    EXPECT_EQ(written["legs"][0]["length_m"], 2);
    EXPECT_FALSE(written["legs"][1].contains("length_m")) << "as usual";
    EXPECT_FALSE(written.contains("shade"));
    EXPECT_EQ(fields::from_json<Stool>(written), stool());
    Stool other = stool();
    other.cover = {};
    other.spare.reset();
    other.shade = Shade::Deep;
    other.left_hand = true;
    EXPECT_EQ(fields::from_json<Stool>(fields::to_json(other)), other);
}

TEST(Fields, EarlierNamesAreReadAndNewerFieldsKept) {
    json entry = fields::to_json(stool());
    entry.erase("phase");
    entry["phase_rad"] = 0.75;
    entry["gloss"] = {{"of", "a newer version"}};
    const Stool read = fields::from_json<Stool>(entry);
    EXPECT_EQ(read.phase, 0.75);
    EXPECT_EQ(read.unknown, (json{{"gloss", {{"of", "a newer version"}}}}));
    EXPECT_EQ(fields::to_json(read)["gloss"]["of"], "a newer version");
}

TEST(Fields, DamageIsNamed) {
    const auto damage = [](const char* name, const json& value) -> std::string {
        json entry = fields::to_json(stool());
        entry[name] = value;
        try {
            fields::from_json<Stool>(entry);
        } catch (const fields::Damage& found) {
            return found.what;
        } catch (const json::exception&) {
            return "json";
        }
        return "";
    };
    EXPECT_EQ(damage("count", 0), "a stool counts nothing");
    EXPECT_EQ(damage("count", 2.5), "2.5 is no whole number in range");
    EXPECT_EQ(damage("seat", 0), "'seat' is 0, which names nothing");
    EXPECT_EQ(damage("shade", "loud"), "'shade' has an unknown word");
    EXPECT_EQ(damage("driven_channel", "sideways"), "'driven_channel' has an unknown word");
    EXPECT_EQ(damage("left_m", "far"), "json");
    EXPECT_EQ(damage("left_m", 0.1), "");
}

/// What an operation may be told of an element follows from the element's fields.
TEST(Fields, ArgumentsComeFromThem) {
    const auto specs = arguments_of<Ride>({{"axis", "no argument: fields of axes are read otherwise"},
                                           {"upright", "how it is kept up"},
                                           {"against", "looks back"},
                                           {"bank_gain", "of the lean"},
                                           {"side", "off the path"},
                                           {"ahead", "its neighbour"}});
    std::map<std::string, ArgumentSpec> by_name;
    for (const ArgumentSpec& spec : specs) by_name[spec.name] = spec;
    ASSERT_EQ(specs.size(), 5u);
    EXPECT_EQ(by_name["upright"].kind, ArgumentKind::Choice);
    EXPECT_EQ(by_name["upright"].choices,
              (std::vector<std::string>{"world", "path", "bank", "plumb", "level"}));
    EXPECT_EQ(by_name["upright"].fallback, "world");
    EXPECT_EQ(by_name["against"].kind, ArgumentKind::Flag);
    EXPECT_EQ(by_name["bank_gain"].fallback, 1);
    EXPECT_EQ(by_name["side"].kind, ArgumentKind::Length) << "side_m, without its unit";
    EXPECT_TRUE(by_name["side"].fallback.is_null());
    EXPECT_EQ(by_name["ahead"].kind, ArgumentKind::Part);
    Document d = empty_document();
    const PartId car = test::add_part(d, "car");
    const auto given = Arguments::read(
        d, specs,
        {{"op", "x"}, {"upright", "plumb"}, {"side", "-250 mm"}, {"ahead", "car"}, {"against", true}});
    ASSERT_TRUE(given.ok()) << given.error().message;
    Ride ride;
    ride.height_m = 2;
    take_arguments(*given, ride);
    EXPECT_EQ(ride.upright, Upright::Plumb);
    EXPECT_EQ(ride.side_m, -0.25);
    EXPECT_EQ(ride.ahead, car);
    EXPECT_TRUE(ride.against);
    EXPECT_EQ(ride.height_m, 2) << "what is not told stays";
}

}  // namespace
}  // namespace pivrak
