#include "core/checks/drive_map.h"

#include <gtest/gtest.h>

#include <algorithm>

#include "tests/support/documents.h"

namespace pivrak {
namespace {

using test::named;
using test::run;

std::vector<std::string> lines(const Document& d, const DriveMap& map) {
    std::vector<std::string> all;
    for (const DriveEdge& edge : map.edges)
        all.push_back(channel_name(d, edge.from) + " > " + channel_name(d, edge.to) + ": " + edge.label);
    std::sort(all.begin(), all.end());
    return all;
}

std::vector<std::string> lines(const Document& d) {
    return lines(d, drive_map(d, clip_or_first(d)));
}

/// Gears a, b, c in a row, and d that nothing drives.
Document row() {
    Document d = empty_document();
    for (const char* name : {"a", "b", "c", "d"}) test::make_hinge(d, test::add_part(d, name));
    test::couple(d, named(d, "a"), named(d, "b"), 17, 51);
    test::couple(d, named(d, "b"), named(d, "c"), 20, 30);
    return d;
}

TEST(DriveMap, ShowsTeethFromDriverToDriven) {
    EXPECT_EQ(lines(row()),
              (std::vector<std::string>{"a turn > b turn: 17 : 51", "b turn > c turn: 20 : 30"}));
    EXPECT_EQ(drive_map(row(), clip_or_first(row())).channels.size(), 3u) << "what moves nothing is left out";
}

TEST(DriveMap, TurnsRoundWithTheKeysThatDrive) {
    Document d = row();
    test::key(d, named(d, "c"), {{0, 0}, {10, 1}});
    EXPECT_EQ(lines(d), (std::vector<std::string>{"b turn > a turn: 51 : 17", "c turn > b turn: 30 : 20"}));
}

TEST(DriveMap, KeepsToWhatIsAbout) {
    Document d = row();
    test::couple(d, named(d, "a"), named(d, "d"), 10, 10);
    const DriveMap map = drive_map(d, clip_or_first(d));
    EXPECT_EQ(lines(d, around(map, {named(d, "b")})),
              (std::vector<std::string>{"a turn > b turn: 17 : 51", "b turn > c turn: 20 : 30"}));
    EXPECT_EQ(around(map, {named(d, "a")}), map);
}

TEST(DriveMap, NamesWhatAHoistMoves) {
    Document d = empty_document();
    for (const auto& [name, x, z] : {std::tuple("drum", -1.5, 2.0), std::tuple("pulley", 0.0, 4.0)})
        d = run(d, {{"op", "stand_in.add"},
                    {"kind", "wheel"},
                    {"name", name},
                    {"diameter", 0.3},
                    {"width", 0.1},
                    {"axis", "y"},
                    {"at", {x, 0, z}}});
    d = run(d, {{"op", "joint.set"}, {"parts", {"drum", "pulley"}}, {"kind", "hinge"}, {"axis", "x"}});
    d = run(d, {{"op", "stand_in.add"}, {"kind", "box"}, {"name", "hook"}, {"at", {0.15, 0, 1}}});
    d = run(d, {{"op", "joint.set"}, {"parts", {"hook"}}, {"kind", "slide"}, {"axis", "z"}});
    const auto rope = [&](const char* pulls) {
        return lines(run(d, {{"op", "chain.run"},
                             {"wheels", {"drum", "pulley"}},
                             {"to", "hook"},
                             {"pulls", pulls},
                             {"pitch", 0.03},
                             {"name", "rope"}}));
    };
    EXPECT_EQ(rope("hook"), (std::vector<std::string>{"drum turn > rope travel: pays out",
                                                      "rope travel > hook shift: pulls",
                                                      "rope travel > pulley turn: r 150.0 mm"}));
    EXPECT_EQ(rope("drum"), (std::vector<std::string>{"hook shift > rope travel: draws",
                                                      "rope travel > drum turn: pays out",
                                                      "rope travel > pulley turn: r 150.0 mm"}));
}

}  // namespace
}  // namespace pivrak
