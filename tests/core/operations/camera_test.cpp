// Cameras as datums: where they look, and that they go with files, carriers and paths.
#include <gtest/gtest.h>

#include "core/io/project/project_file.h"
#include "tests/core/elements/linkages.h"

namespace pivrak {
namespace {

using namespace test;
using nlohmann::json;

TEST(Cameras, LookAtWhatTheyAreToldUpright) {
    const Document d = run(
        empty_document(),
        {{"op", "camera.add"}, {"name", "side"}, {"at", {4, -3, 2}}, {"to", {0, 0, 1}}, {"field", "40 deg"}});
    const Frame frame = world_from_rest(d, named(d, "side"));
    EXPECT_LT((frame.axis(0) - Vec3(-4, 3, -1).normalized()).norm(), 1e-12);
    EXPECT_NEAR(frame.axis(1).z(), 0, 1e-12) << "level";
    EXPECT_GT(frame.axis(2).z(), 0.9);
    EXPECT_NEAR(d.parts.find(named(d, "side"))->lens->field_rad, 40 * rad_per_deg, 1e-12);
    EXPECT_TRUE(*project_from_bytes(*project_bytes(d), "camera") == d);
    const Document down =
        run(d, {{"op", "camera.set"}, {"parts", {"side"}}, {"at", {0, 0, 9}}, {"to", {0, 0, 0}}});
    EXPECT_LT((world_from_rest(down, named(d, "side")).axis(0) - Vec3(0, 0, -1)).norm(), 1e-9);
    for (const auto& [step, code] :
         {std::pair(json{{"op", "camera.add"}, {"name", "x"}, {"at", {1, 1, 1}}, {"to", {1, 1, 1}}},
                    "camera.direction"),
          {json{{"op", "camera.add"},
                {"name", "x"},
                {"at", {1, 1, 1}},
                {"to", {0, 0, 0}},
                {"field", "200 deg"}},
           "camera.field"},
          {json{{"op", "camera.add"}, {"name", " "}, {"at", {1, 1, 1}}, {"to", {0, 0, 0}}}, "name.empty"}})
        EXPECT_EQ(refusal(d, step).code, code);
}

TEST(Cameras, AreCarriedAndKeyedAsAnyPart) {
    Document d = empty_document();
    make_hinge(d, add_part(d, "turntable"));
    key(d, named(d, "turntable"), {{0, 0, Interpolation::Linear}, {90, pi / 2, Interpolation::Linear}});
    d = run(d, {{"op", "camera.add"},
                {"name", "eye"},
                {"at", {2, 0, 1}},
                {"to", {0, 0, 1}},
                {"under", "turntable"}});
    Moved at(d);
    EXPECT_LT((at(90).world("eye").translation - Vec3(0, 2, 1)).norm(), 1e-9);
    EXPECT_LT((at(90).world("eye").axis(0) - Vec3(0, -1, 0)).norm(), 1e-9) << "still at the middle";
}

}  // namespace
}  // namespace pivrak
