#include "tests/core/operations/split/blocks.h"

namespace pivrak {
namespace {

TEST(FaceRanges, ThereAndBack) {
    EXPECT_EQ(face_ranges({0, 1, 2, 5, 7, 8}), "0-2 5 7-8");
    EXPECT_EQ(*faces_from_ranges("7-8, 5 0-2 1", 9), (std::vector<std::uint32_t>{0, 1, 2, 5, 7, 8}));
    EXPECT_TRUE(faces_from_ranges("", 9)->empty());
    EXPECT_EQ(faces_from_ranges("0-9", 9).error().code, "faces.range");
    for (const char* bad : {"x", "3-", "3-1", "-1", "1..2", "99999999999"})
        EXPECT_EQ(faces_from_ranges(bad, 9).error().code, "faces.syntax") << bad;
}

TEST(Split, ByCreaseByGroupAndByFaces) {
    const Document d = can();
    const Document creased = run(d, {{"op", "split.crease"}, {"parts", {"can"}}, {"angle", "40 deg"}});
    EXPECT_EQ(creased.parts.size(), 4u) << "the can, its side and its two ends";
    EXPECT_LT(test::largest_move({document_bounds(d).min, document_bounds(d).max},
                                 {document_bounds(creased).min, document_bounds(creased).max}),
              1e-6);
    EXPECT_EQ(refusal(d, {{"op", "split.crease"}, {"parts", {"can"}}, {"angle", 0}}).code, "split.angle");
    EXPECT_NE(test::nothing_done(d, {{"op", "split.crease"}, {"parts", {"can"}}, {"angle", "170 deg"}})
                  .find("'can'"),
              std::string::npos);

    Document grouped = d;
    Mesh mesh = mesh_of(d, test::named(d, "can"));
    const auto all = static_cast<std::uint32_t>(mesh.indices.size());
    mesh.submeshes = {{MaterialId{}, 0, 60, "lid"}, {MaterialId{}, 60, all - 60, "body"}};
    grouped.shapes.set(make_shape(d.parts.find(test::named(d, "can"))->shape, "can", mesh));
    const Document by_group = run(grouped, {{"op", "split.groups"}, {"parts", {"can"}}});
    EXPECT_TRUE(find_part(by_group, "can lid").ok());
    EXPECT_TRUE(find_part(by_group, "can body").ok());

    const json picked = json::array({{{"part", "can"}, {"faces", "0-33"}}});
    const Document by_faces = run(d, {{"op", "split.faces"}, {"faces", picked}, {"name", "lid"}});
    EXPECT_EQ(mesh_of(by_faces, test::named(by_faces, "lid")).triangle_count(), 34u);
    EXPECT_EQ(triangle_count(by_faces), triangle_count(d));
    const json whole = json::array({{{"part", "can"}, {"faces", fmt::format("0-{}", all / 3 - 1)}}});
    EXPECT_EQ(refusal(d, {{"op", "split.faces"}, {"faces", whole}}).code, "split.all_faces");
    EXPECT_EQ(
        refusal(d, {{"op", "split.faces"}, {"faces", json::array({{{"part", "can"}, {"faces", "9999"}}})}})
            .code,
        "faces.range");
    EXPECT_EQ(refusal(d, {{"op", "split.faces"}, {"faces", json::array()}}).code, "argument.missing");
}

TEST(Split, WithAPlaneInTheWorld) {
    Document d = can();
    Material steel;
    steel.id = d.new_id<MaterialId>();
    steel.name = "steel";
    d.materials.set(steel);
    const Frame pose = test::world_poses()[1];
    const Vec3 point = pose.point(Vec3(0, 0, 0.03)), normal = pose.direction(Vec3::UnitZ());
    const json step{{"op", "split.plane"},
                    {"parts", {"can"}},
                    {"point", {point.x(), point.y(), point.z()}},
                    {"normal", {normal.x(), normal.y(), normal.z()}},
                    {"material", "steel"}};
    const Document halves = run(d, step);
    const Mesh &a = mesh_of(halves, test::named(halves, "can A")),
               &b = mesh_of(halves, test::named(halves, "can B"));
    EXPECT_NEAR(enclosed_volume(a) / enclosed_volume(b), 7.0 / 3, 1e-3);
    EXPECT_TRUE(mesh_faults(a).clean());
    EXPECT_EQ(a.submeshes.back().material, steel.id);
    json missing = step;
    missing["point"] = {0, 0, 90};
    EXPECT_EQ(refusal(d, missing).code, "plane.misses");
    missing = step;
    missing["normal"] = {0, 0, 0};
    EXPECT_EQ(refusal(d, missing).code, "plane.no_normal");
    missing = step;
    missing["material"] = "gold";
    EXPECT_EQ(refusal(d, missing).code, "material.unknown");
}

TEST(Trim, SmallPartsGoIntoTheLargestTheyTouch) {
    Document d = empty_document();
    test::add_shaped(d, "plate", test::box({0, 0, 0}, {2, 1, 0.1}));
    test::add_shaped(d, "wall", test::box({1.9, 0, 0.1}, {2, 1, 1.2}));
    for (int i = 0; i < 6; ++i)
        test::add_shaped(d, fmt::format("bolt {}", i), test::to_mesh(bolt(30)), {},
                         {Quat(1, 0, 0, 0), Vec3(0.2 + 0.25 * i, 0.5, 0.1)});
    test::add_shaped(d, "cap", test::box({0.197, 0.497, 0.1256}, {0.203, 0.503, 0.13}));
    test::add_shaped(d, "far bolt", test::to_mesh(bolt(30)), {}, {Quat(1, 0, 0, 0), Vec3(5, 5, 5)});
    const Document trimmed = run(d, {{"op", "split.trim"}, {"share", 0.2}});
    EXPECT_EQ(trimmed.parts.size(), 3u) << "plate, wall, and the bolt that touches nothing";
    EXPECT_EQ(mesh_of(trimmed, test::named(trimmed, "plate")).triangle_count(),
              12u + 6 * test::to_mesh(bolt(30)).triangle_count() + 12u)
        << "the cap went with its bolt";
    EXPECT_NE(test::nothing_done(d, {{"op", "split.trim"}, {"share", 0.001}}).find("0 %"), std::string::npos);
    EXPECT_EQ(refusal(d, {{"op", "split.trim"}, {"share", 2}}).code, "trim.share");
    EXPECT_EQ(refusal(d, {{"op", "split.trim"}, {"gap", -1}}).code, "trim.gap");
}

/// A rigged arm: a hinge that drives another through a pair, keys, a limit.

}  // namespace
}  // namespace pivrak
