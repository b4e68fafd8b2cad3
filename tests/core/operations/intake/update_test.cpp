// A newer version of a model under a rig that exists already.
#include <gtest/gtest.h>

#include "core/geometry/mesh/mesh_edit.h"
#include "core/geometry/mesh/mesh_faults.h"
#include "core/io/delivery/deliver.h"
#include "core/io/project/project_file.h"
#include "tests/support/documents.h"
#include "tests/support/temp_folder.h"

namespace pivrak {
namespace {

using nlohmann::json;
using test::named;
using test::refusal;
using test::run;
using test::TempFolder;

struct Lump {
    std::string name;
    std::vector<Mesh> bits;
    Frame place = {};
};

/// A file of some nodes, each of one mesh made of loose bits.
void write_model(const std::filesystem::path& file, const std::vector<Lump>& lumps) {
    Document d = empty_document();
    for (const Lump& lump : lumps) {
        Mesh mesh;
        for (const Mesh& bit : lump.bits) append_mesh(mesh, with_normals(bit));
        test::add_shaped(d, lump.name, mesh, {}, lump.place);
    }
    std::ofstream(file, std::ios::binary) << delivery_bytes(d, {}, {})->bytes;
}

class Update : public testing::Test {
protected:
    TempFolder folder;
    std::filesystem::path file = folder / "m.glb";

    Document opened(const std::vector<Lump>& lumps) {
        write_model(file, lumps);
        return run(empty_document(), {{"op", "model.import"}, {"file", file.string()}});
    }
    Outcome updated(const Document& d, const std::vector<Lump>& lumps) {
        write_model(file, lumps);
        auto outcome = make_registry().run(d, {{"op", "model.update"}, {"file", file.string()}});
        EXPECT_TRUE(outcome.ok()) << (outcome ? "" : outcome.error().message);
        return outcome ? *outcome : Outcome{d};
    }
    /// Bounds of a part's own shape in the world, at rest.
    static Bounds box_of(const Document& d, const std::string& name) {
        const Part& part = *d.parts.find(named(d, name));
        const Shape* shape = d.shapes.find(part.shape);
        return shape ? mesh_bounds(*shape->mesh, world_from_rest(d, part.id) * part.part_from_shape)
                     : Bounds{};
    }
    static void expect_box(const Document& d, const std::string& name, const Vec3& low, const Vec3& high) {
        const Bounds box = box_of(d, name);
        EXPECT_LT((box.min - low).norm(), 1e-5) << name << " from " << box.min.transpose();
        EXPECT_LT((box.max - high).norm(), 1e-5) << name << " to " << box.max.transpose();
    }
};

Mesh unit_box(double x, double height = 1) {
    return test::box({x, 0, 0}, {x + 1, 1, height});
}

/// A newer file: one part moved and changed, one gone, one new; the rig stays.
TEST_F(Update, NewerVersionsKeepTheRig) {
    const auto box = [](double x, double top) {
        return fmt::format(
            "v {0} 0 0\nv {1} 0 0\nv {0} 1 0\nv {0} 0 {2}\nf -4 -2 -3\nf -4 -3 -1\nf -4 -1 -2\nf -3 -2 -1\n",
            x, x + 1, top);
    };
    folder.write("m.obj",
                 "o arm\n" + box(0, 1) + "o lump\n" + box(3, 1) + box(6, 2) + "o gone\n" + box(9, 1));
    Document d =
        run(empty_document(),
            {{"op", "model.import"}, {"file", (folder / "m.obj").string()}, {"unit", "m"}, {"up", "z"}});
    d = run(d, {{"op", "split.pieces"}, {"parts", {"lump"}}});
    d = run(d, {{"op", "part.rename"}, {"part", "lump 2"}, {"name", "tall one"}});
    d = run(d, {{"op", "joint.set"}, {"parts", {"arm", "tall one"}}, {"kind", "hinge"}, {"axis", "y"}});
    d = run(d, {{"op", "model.stand"}, {"scale", 0.5}});
    folder.write("m.obj",
                 "o arm\n" + box(0, 3) + "o lump\n" + box(3, 1) + box(6.1, 2.2) + "o fresh\n" + box(12, 1));
    const auto outcome =
        make_registry().run(d, {{"op", "model.update"}, {"file", (folder / "m.obj").string()}});
    ASSERT_TRUE(outcome.ok()) << outcome.error().message;
    const Document& now = outcome->document;
    const auto mesh_of = [&](const char* name) {
        return now.shapes.find(now.parts.find(test::named(now, name))->shape)->bounds;
    };
    EXPECT_NEAR(mesh_of("arm").size().z(), 1.5, 1e-6) << "three, at half size";
    EXPECT_NEAR(mesh_of("tall one").size().z(), 1.1, 1e-6) << "the piece is found by size and place";
    EXPECT_EQ(now.parts.find(test::named(now, "tall one"))->joint.kind, JointKind::Hinge);
    EXPECT_TRUE(find_part(now, "fresh").ok());
    EXPECT_TRUE(find_part(now, "gone").ok()) << "kept, and told";
    EXPECT_EQ(outcome->readings["missing"], json({"gone"}));
    EXPECT_EQ(outcome->readings["new"], json({"fresh"}));
    EXPECT_EQ(now.sources.size(), 1u);
    EXPECT_EQ(refusal(empty_document(), {{"op", "model.update"}, {"file", (folder / "m.obj").string()}}).code,
              "update.source");
}

TEST_F(Update, ANewLoosePieceBecomesAPartWhereItStands) {
    Document d = opened({{"lump", {unit_box(0), unit_box(3)}, test::world_poses()[1]}});
    d = run(d, {{"op", "split.pieces"}, {"parts", {"lump"}}});
    const std::vector<Lump> newer{
        {"lump", {unit_box(0), unit_box(3), unit_box(6, 2)}, test::world_poses()[1]}};
    const Outcome after = updated(d, newer);
    EXPECT_EQ(after.readings["replaced"], 2);
    ASSERT_EQ(after.readings["new"], json({"lump new"}));
    const Part& fresh = *after.document.parts.find(named(after.document, "lump new"));
    EXPECT_EQ(fresh.parent, named(after.document, "lump"));
    const Vec3 middle = test::world_poses()[1].point({6.5, 0.5, 1});
    EXPECT_LT((world_from_rest(after.document, fresh.id).translation - middle).norm(), 1e-5)
        << "its pivot is in its middle";
    // The next version finds it again, and adds nothing twice.
    const Outcome again = updated(after.document, newer);
    EXPECT_EQ(again.readings["replaced"], 3);
    EXPECT_EQ(again.readings["new"], json::array());
}

TEST_F(Update, ACutByAPlaneIsMadeAgain) {
    Document d = opened({{"beam", {test::box({0, 0, 0}, {4, 1, 1})}}});
    d = run(d, {{"op", "model.stand"}, {"scale", 2}});
    d = run(d, {{"op", "split.plane"}, {"parts", {"beam"}}, {"point", {2, 0, 0}}, {"normal", {1, 0, 0}}});
    expect_box(d, "beam A", {2, 0, 0}, {8, 2, 2});
    d = run(d, {{"op", "joint.set"}, {"parts", {"beam A"}}, {"kind", "hinge"}, {"axis", "y"}});
    const Outcome after = updated(d, {{"beam", {test::box({0, 0, 0}, {5, 1, 1.5})}}});
    EXPECT_EQ(after.readings["missing"], json::array());
    expect_box(after.document, "beam A", {2, 0, 0}, {10, 2, 3});
    expect_box(after.document, "beam B", {0, 0, 0}, {2, 2, 3});
    const Part& half = *after.document.parts.find(named(after.document, "beam A"));
    EXPECT_EQ(half.joint.kind, JointKind::Hinge);
    EXPECT_TRUE(mesh_faults(*after.document.shapes.find(half.shape)->mesh).clean()) << "capped again";
}

TEST_F(Update, PickedFacesAndDivisionsOfPiecesAreFoundAgain) {
    Document d = opened({{"lump", {unit_box(0), unit_box(3)}}});
    d = run(d, {{"op", "split.pieces"}, {"parts", {"lump"}}});
    // The lid of the second box: its two faces are those at the top.
    const Mesh& box = *d.shapes.find(d.parts.find(named(d, "lump 2"))->shape)->mesh;
    std::string top;
    for (std::uint32_t t = 0; t < box.triangle_count(); ++t)
        if (box.corner(t, 0).z() > 0.9 && box.corner(t, 1).z() > 0.9 && box.corner(t, 2).z() > 0.9)
            top += std::to_string(t) + " ";
    d = run(d, {{"op", "split.faces"}, {"faces", {{{"part", "lump 2"}, {"faces", top}}}}, {"name", "lid"}});
    const Outcome after = updated(d, {{"lump", {unit_box(0, 1.2), unit_box(3, 1.3)}}});
    EXPECT_EQ(after.readings["missing"], json::array());
    expect_box(after.document, "lid", {3, 0, 1.3}, {4, 1, 1.3});
    expect_box(after.document, "lump 2 rest", {3, 0, 0}, {4, 1, 1.3});
    expect_box(after.document, "lump 1", {0, 0, 0}, {1, 1, 1.2});
}

TEST_F(Update, EqualPartsThatShareAShapeStayInTheirPlaces) {
    const auto lumps = [](double height) {
        std::vector<Lump> out{{"row", {}}, {"lone", {unit_box(20, height)}, test::world_poses()[1]}};
        for (int i = 0; i < 4; ++i) out[0].bits.push_back(unit_box(3 * i, height));
        return out;
    };
    Document d = opened(lumps(1));
    d = run(d, {{"op", "split.pieces"}, {"parts", {"row"}}});
    d = run(d, {{"op", "part.find_repeats"}, {"rename", false}});
    ASSERT_EQ(d.shapes.size(), 1u) << "all five show one shape";
    const Outcome after = updated(d, lumps(1.25));
    EXPECT_EQ(after.readings["missing"], json::array());
    for (int i = 0; i < 4; ++i)
        expect_box(after.document, "row " + std::to_string(i + 1), {3.0 * i, 0, 0}, {3.0 * i + 1, 1, 1.25});
    Bounds lone = mesh_bounds(unit_box(20, 1.25), test::world_poses()[1]);
    expect_box(after.document, "lone", lone.min, lone.max);
}

TEST_F(Update, JoinedPiecesComeBackJoined) {
    const auto lumps = [](double height) {
        return std::vector<Lump>{
            {"lump", {unit_box(0, height), test::box({1, 0.4, 0.4}, {1.1, 0.5, 0.5}), unit_box(4)}},
            {"cap", {unit_box(0, 0.5)}, {Quat(1, 0, 0, 0), Vec3(0, 0, height)}}};
    };
    Document d = opened(lumps(1));
    d = run(d, {{"op", "split.pieces"}, {"parts", {"lump"}}});
    d = run(d, {{"op", "split.trim"}, {"parts", {"lump 1", "lump 2"}}, {"share", 0.3}});
    d = run(d, {{"op", "part.join"}, {"parts", {"cap", "lump 1"}}, {"into", "lump 1"}});
    const auto triangles = [](const Document& doc, const char* name) {
        return doc.shapes.find(doc.parts.find(named(doc, name))->shape)->mesh->triangle_count();
    };
    ASSERT_EQ(triangles(d, "lump 1"), 36u);
    // Through a saved project, as it goes in practice.
    ASSERT_TRUE(save_project(d, folder / "p.pivrak.glb").ok());
    const auto reopened = open_project(folder / "p.pivrak.glb");
    ASSERT_TRUE(reopened.ok());
    const Outcome after = updated(*reopened, lumps(1.2));
    EXPECT_EQ(after.readings["missing"], json::array());
    EXPECT_EQ(after.readings["new"], json::array());
    EXPECT_EQ(triangles(after.document, "lump 1"), 36u) << "bolt and cap are still in it";
    expect_box(after.document, "lump 1", {0, 0, 0}, {1.1, 1, 1.7});
}

TEST_F(Update, WhatIsJoinedWithSomethingElseIsLeftAloneAndListed) {
    Document d = opened({{"body", {unit_box(0)}}, {"other", {unit_box(3)}}});
    d = run(d, {{"op", "stand_in.add"}, {"kind", "box"}, {"name", "block"}});
    d = run(d, {{"op", "part.join"}, {"parts", {"block", "body"}}, {"into", "body"}});
    const Bounds before = box_of(d, "body");
    const Outcome after = updated(d, {{"body", {unit_box(0, 2)}}, {"other", {unit_box(3, 2)}}});
    ASSERT_EQ(after.readings["missing"].size(), 1u);
    EXPECT_EQ(after.readings["missing"][0], "body (joined with what is not found)");
    expect_box(after.document, "body", before.min, before.max);
    expect_box(after.document, "other", {3, 0, 0}, {4, 1, 2});
}

TEST_F(Update, PiecesFollowTheirNodeWhenItMovedInTheFile) {
    Document d = opened({{"lump", {unit_box(0), unit_box(3)}, test::world_poses()[1]}});
    d = run(d, {{"op", "split.pieces"}, {"parts", {"lump"}}});
    const Outcome after = updated(d, {{"lump", {unit_box(0), unit_box(3)}, test::world_poses()[2]}});
    for (int i = 0; i < 2; ++i) {
        const Bounds wanted = mesh_bounds(unit_box(3 * i), test::world_poses()[2]);
        expect_box(after.document, "lump " + std::to_string(i + 1), wanted.min, wanted.max);
    }
}

}  // namespace
}  // namespace pivrak
