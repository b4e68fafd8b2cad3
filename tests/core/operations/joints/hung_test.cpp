// From raw to hung doors, hatches and wheels by a job: pivots against what the generator knows.
#include <gtest/gtest.h>

#include "core/checks/pivots/spin_check.h"
#include "demo/vehicles.h"
#include "tests/support/documents.h"
#include "tests/support/hinge_truth.h"
#include "tests/support/jobs.h"

namespace pivrak {
namespace {

using nlohmann::json;
using test::by_job;
using test::named;

json barrel_line(const std::string& part, const std::string& first, const std::string& second) {
    return {{"op", "pivot.line"},
            {"parts", {part}},
            {"from", {{"part", first}, {"at", "middle"}}},
            {"to", {{"part", second}, {"at", "middle"}}},
            {"axis", "z"}};
}

json hinge(const json& parts, const char* axis, const char* low, const char* high) {
    return {{"op", "joint.set"}, {"parts", parts}, {"kind", "hinge"},
            {"axis", axis},      {"min", low},     {"max", high}};
}

TEST(Hung, GroomerDoorsCoverAndWheelsStandOnTheGeneratorsLines) {
    json wheels = json::array({"wheel"});
    for (int i = 2; i <= 10; ++i) wheels.push_back(fmt::format("wheel {}", i));
    const Document d =
        by_job(demo::groomer(),
               {{"import", {{"file", "model.glb"}, {"unit", "auto"}, {"up", "auto"}}},
                {"steps",
                 {{{"op", "model.stand"}, {"up", "+z"}, {"front", "-x"}, {"ground", true}, {"centre", true}},
                  {{"op", "tree.tidy"}, {"what", "all"}},
                  barrel_line("door", "door/hinge", "door/hinge 2"),
                  barrel_line("door 2", "door 2/hinge 3", "door 2/hinge 4"),
                  barrel_line("engine cover", "engine/hinge 5", "engine/hinge 6"),
                  {{"op", "tree.parent"}, {"parts", {"door", "door 2"}}, {"under", "cab shell"}},
                  hinge({"door"}, "z", "-75 deg", "0"),
                  hinge({"door 2"}, "z", "0", "75 deg"),
                  hinge({"engine cover"}, "z", "-60 deg", "0"),
                  {{"op", "pivot.fit_cylinder"}, {"parts", wheels}, {"axis", "x"}},
                  {{"op", "joint.set"}, {"parts", wheels}, {"kind", "hinge"}, {"axis", "x"}}}}});
    test::expect_hinges_true(d, demo::groomer_hinges(),
                             {{"door left", {"door", "door 2"}},
                              {"door right", {"door", "door 2"}},
                              {"engine cover", {"engine cover"}},
                              {"wheel", wheels.get<std::vector<std::string>>()}});
    for (const json& wheel : wheels) {
        const auto spin = spin_check(d, named(d, wheel));
        ASSERT_TRUE(spin.ok()) << spin.error().message;
        EXPECT_TRUE(spin->is_true()) << wheel << " runs out " << spin->run_out_m;
    }
}

TEST(Hung, TruckDoorsTailgateAndWheelsStandOnTheGeneratorsLines) {
    json tyres = json::array();
    for (int i = 1; i <= 8; ++i) tyres.push_back(fmt::format("tyres {}", i));
    const Document d =
        by_job(demo::supply_truck(),
               {{"import", {{"file", "model.glb"}, {"unit", "auto"}, {"up", "auto"}}},
                {"steps",
                 {{{"op", "model.stand"}, {"scale", 0.01}, {"ground", true}, {"centre", true}},
                  {{"op", "tree.tidy"}, {"what", "all"}},
                  {{"op", "split.pieces"}, {"parts", {"tyres"}}},
                  barrel_line("door left", "door left/door hinge", "door left/door hinge 2"),
                  barrel_line("door right", "door right/door hinge 3", "door right/door hinge 4"),
                  barrel_line("tailgate", "tailgate/tailgate hinge", "tailgate/tailgate hinge 2"),
                  {{"op", "tree.parent"}, {"parts", {"door left", "door right"}}, {"under", "cab shell"}},
                  hinge({"door left"}, "z", "-70 deg", "0"),
                  hinge({"door right"}, "z", "0", "70 deg"),
                  hinge({"tailgate"}, "z", "-90 deg", "0"),
                  {{"op", "pivot.fit_cylinder"}, {"parts", tyres}, {"axis", "x"}},
                  {{"op", "joint.set"}, {"parts", tyres}, {"kind", "hinge"}, {"axis", "x"}}}}});
    test::expect_hinges_true(d, demo::truck_hinges(),
                             {{"door left", {"door left"}},
                              {"door right", {"door right"}},
                              {"tailgate", {"tailgate"}},
                              {"wheel", tyres.get<std::vector<std::string>>()}});
}

}  // namespace
}  // namespace pivrak
