#include "core/io/project/project_file.h"
#include "core/io/project/project_json.h"

#include <fmt/format.h>
#include <gtest/gtest.h>
#include <sys/resource.h>
#include <csignal>
#include <cstring>
#include <functional>

#include <random>

#include "core/io/atomic_file.h"
#include "core/motion/bake.h"
#include "tests/support/documents.h"
#include "tests/support/temp_folder.h"

namespace pivrak {
namespace {

using nlohmann::json;
using test::TempFolder;

/// A project with something of everything.
Document full_document() {
    Document d = empty_document();
    d.settings = {LengthUnit::Millimetre, 25};
    Image image;
    image.id = d.new_id<ImageId>();
    image.name = "planks.png";
    image.mime_type = "image/png";
    image.bytes = std::make_shared<const std::vector<unsigned char>>(
        std::vector<unsigned char>{0x89, 'P', 'N', 'G', 1, 2, 3});
    d.images.set(image);
    Image lost;
    lost.id = d.new_id<ImageId>();
    lost.name = "lost.jpg";
    d.images.set(lost);
    Material wood;
    wood.id = d.new_id<MaterialId>();
    wood.name = "wood";
    wood.base_color = {0.1, 0.2, 1.0 / 3, 1};
    wood.base_color_picture.image = image.id;
    d.materials.set(wood);
    Material unused;
    unused.id = d.new_id<MaterialId>();
    unused.name = "unused";
    d.materials.set(unused);
    Mesh mesh = with_normals(test::box({0, 0, 0}, {1, 2, 1.0 / 3}));
    mesh.uvs.assign(mesh.positions.size(), Vec2f(0.25f, 0.5f));
    mesh.submeshes = {{wood.id, 0, 18}, {MaterialId{}, 18, 18}};
    const PartId hall = test::add_part(d, "Hall");
    const PartId a = test::add_shaped(d, "Gear ü ∿", mesh, hall, test::world_poses()[1]);
    const PartId b =
        test::add_shaped(d, "Gear b", test::to_mesh(gear({17, 8, 20, 20})), hall, test::world_poses()[2]);
    test::make_hinge(d, a, 1, 0.1);
    test::make_hinge(d, b, 2);
    Part part = *d.parts.find(a);
    part.part_from_shape = test::world_poses()[3];
    part.joint.turn.limits = Limits{-1.0 / 3, 20};
    part.shown = false;
    d.parts.set(part);
    test::couple(d, a, b, 17, 51, 1.0 / 7);
    test::key(d, a,
              {{0, 0, Interpolation::Linear},
               {12.5, 1.0 / 3, Interpolation::Smooth},
               {40, -0.2, Interpolation::Smooth}});
    d.sources.push_back({"models/hall.obj"});
    return d;
}

TEST(ProjectFile, GivesBackAnEqualDocument) {
    TempFolder folder;
    const Document d = full_document();
    ASSERT_TRUE(save_project(d, folder / "hall.pivrak.glb").ok());
    const auto back = open_project(folder / "hall.pivrak.glb");
    ASSERT_TRUE(back.ok()) << back.error().message;
    EXPECT_TRUE(*back == d);
    EXPECT_EQ(*project_bytes(*back), *project_bytes(d)) << "and the same bytes again";
}

TEST(ProjectFile, EveryFieldOfARideComesBack) {
    Document d = empty_document();
    const PartId first = test::add_part(d, "first"), second = test::add_part(d, "second");
    d = test::run(
        d, {{"op", "path.add"}, {"form", "circle"}, {"name", "ring"}, {"centre", {0, 0, 0}}, {"radius", 7}});
    Ride ride;
    ride.path = d.paths.begin()->id;
    ride.axis = 1;
    ride.up_axis = 0;
    ride.upright = Upright::Path;
    ride.against = true;
    ride.along_path = true;
    ride.ahead = first;
    ride.bank_speed_m_s = 3.5;
    ride.bank_gain = 0.4;
    ride.side_m = 0.1;
    ride.height_m = 0.2;
    ride.front_m = 0.3;
    ride.rear_m = 0.45;
    ride.gap_m = 0.5;
    ride.coupler_front_m = 0.6;
    ride.coupler_rear_m = 0.7;
    Part part = *d.parts.find(first);
    part.ride = ride;
    part.ride->ahead = {};
    d.parts.set(part);
    part = *d.parts.find(second);
    part.ride = ride;
    d.parts.set(part);
    const auto back = project_from_bytes(*project_bytes(d), "ring");
    ASSERT_TRUE(back.ok()) << back.error().message;
    EXPECT_TRUE(*back == d);
    EXPECT_EQ(back->parts.find(second)->ride->bank_gain, 0.4);
    EXPECT_EQ(back->parts.find(second)->ride->coupler_rear_m, 0.7);
}

TEST(ProjectFile, EvaluatesIdenticallyAtEveryFrame) {
    const Document d = full_document();
    const auto back = project_from_bytes(*project_bytes(d), "hall.pivrak.glb");
    ASSERT_TRUE(back.ok());
    const auto before = bake_clip(d, {}), after = bake_clip(*back, {});
    ASSERT_EQ(before->world_from_part.size(), after->world_from_part.size());
    for (std::size_t i = 0; i < before->world_from_part.size(); ++i)
        ASSERT_TRUE(before->world_from_part[i] == after->world_from_part[i]);
}

/// Numbers that fit into fewer bytes are written in fewer, and every one comes back as it was.
TEST(ProjectFile, MeshesTakeNoMoreRoomThanTheyNeedAndLoseNothing) {
    const auto with_mesh = [](std::size_t vertices, float shades) {
        Document d = empty_document();
        Mesh mesh;
        for (std::size_t i = 0; i < vertices; ++i) {
            mesh.positions.emplace_back(static_cast<float>(i) / 3.f, static_cast<float>(i % 7), 0.f);
            mesh.colors.emplace_back(static_cast<float>(i % 256) / shades, 1.f, 0.f, 128.f / 255.f);
        }
        for (std::uint32_t i = 0; i + 2 < vertices; ++i)
            mesh.indices.insert(mesh.indices.end(), {i, i + 1, i + 2});
        test::add_shaped(d, "sheet", mesh);
        return d;
    };
    const auto bytes_of = [](const Document& d) {
        const auto bytes = project_bytes(d);
        const auto back = project_from_bytes(*bytes, "sheet");
        EXPECT_TRUE(back.ok());
        const Mesh &was = *d.shapes.begin()->mesh, &is = *back->shapes.begin()->mesh;
        EXPECT_TRUE(is.positions == was.positions && is.colors == was.colors && is.indices == was.indices);
        return static_cast<double>(bytes->size());
    };
    // Of a vertex: twelve bytes of place, four or sixteen of colour, three indices of two or four.
    const double coarse = bytes_of(with_mesh(65535, 255.f)) / 65535;
    EXPECT_NEAR(coarse, 12 + 4 + 6, 0.1);
    EXPECT_NEAR(bytes_of(with_mesh(65535, 300.f)) / 65535, 12 + 16 + 6, 0.1) << "no colour is rounded";
    EXPECT_NEAR(bytes_of(with_mesh(65537, 255.f)) / 65537, 12 + 4 + 12, 0.1) << "no vertex is cut off";
}

TEST(ProjectFile, AnEmptyProjectIsAProject) {
    const auto back = project_from_bytes(*project_bytes(empty_document()), "empty");
    ASSERT_TRUE(back.ok()) << back.error().message;
    EXPECT_TRUE(*back == empty_document());
}

TEST(ProjectFile, APartWithoutNameAndPlaceIsAPart) {
    Document d = empty_document();
    test::add_part(d, "");
    const auto back = project_from_bytes(*project_bytes(d), "plain");
    ASSERT_TRUE(back.ok()) << back.error().message;
    EXPECT_TRUE(*back == d);
}

/// glTF's writer has no nulls: what is nothing is left out at once, not at the second saving.
TEST(ProjectFile, WhatIsNothingAmongUnknownFieldsGoesAtOnce) {
    Document d = full_document();
    d.unknown = {{"weather", {{"wind", 3}, {"rain", nullptr}, {"gusts", json::array()}}},
                 {"list", {1, nullptr, 2}}};
    const auto once = project_from_bytes(*project_bytes(d), "once");
    ASSERT_TRUE(once.ok()) << once.error().message;
    EXPECT_EQ(once->unknown, (json{{"weather", {{"wind", 3}}}, {"list", {1, 2}}}));
    EXPECT_EQ(*project_bytes(*once), *project_bytes(*project_from_bytes(*project_bytes(*once), "twice")));
}

TEST(ProjectFile, FieldsOfNewerVersionsAreKept) {
    Document d = full_document();
    d.unknown = {{"weather", {{"wind", 3}}}};
    Part part = *d.parts.begin();
    part.unknown = {{"sets", {"frame", "covers"}}};
    d.parts.set(part);
    const auto back = project_from_bytes(*project_bytes(d), "hall");
    ASSERT_TRUE(back.ok());
    EXPECT_EQ(back->unknown, d.unknown);
    EXPECT_EQ(back->parts.begin()->unknown, part.unknown);
}

TEST(ProjectFile, RefusesToOverwriteASourceOrToUseAnotherName) {
    TempFolder folder;
    Document d = full_document();
    EXPECT_EQ(save_project(d, folder / "hall.glb").error().code, "project.name");
    EXPECT_EQ(save_project(d, folder / "absent/hall.pivrak.glb").error().code, "output.folder");
    d.sources = {{(folder / "loader.pivrak.glb").string()}};
    folder.write("loader.pivrak.glb", "precious");
    EXPECT_EQ(save_project(d, folder / "loader.pivrak.glb").error().code, "output.overwrites_source");
    EXPECT_EQ(folder.read("loader.pivrak.glb"), "precious");
}

TEST(ProjectFile, AFailedSaveLeavesTheOldFile) {
    TempFolder folder;
    folder.write("hall.pivrak.glb", "old");
    // The temporary file beside it cannot be made, since its name is taken by a folder.
    std::filesystem::create_directory((folder / "hall.pivrak.glb").string() + "." + std::to_string(getpid()) +
                                      ".part");
    const auto saved = save_project(full_document(), folder / "hall.pivrak.glb");
    ASSERT_FALSE(saved.ok());
    EXPECT_EQ(saved.error().code, "file.write");
    EXPECT_EQ(folder.read("hall.pivrak.glb"), "old");
}

TEST(ProjectFile, ADiskThatFillsUpLeavesTheOldFile) {
    // A limit on the size of files stands for a disk with no room left.
    TempFolder folder;
    folder.write("hall.pivrak.glb", "old");
    const auto ignored = signal(SIGXFSZ, SIG_IGN);
    rlimit before{};
    getrlimit(RLIMIT_FSIZE, &before);
    const rlimit small{1000, before.rlim_max};
    setrlimit(RLIMIT_FSIZE, &small);
    const auto saved = save_project(full_document(), folder / "hall.pivrak.glb");
    setrlimit(RLIMIT_FSIZE, &before);
    signal(SIGXFSZ, ignored);
    ASSERT_FALSE(saved.ok());
    EXPECT_EQ(saved.error().code, "file.write");
    EXPECT_EQ(folder.read("hall.pivrak.glb"), "old");
    EXPECT_EQ(std::distance(std::filesystem::directory_iterator(folder.path()), {}), 1)
        << "nothing is left beside it";
}

TEST(ProjectFile, PlainGltfAndNewerProjectsAreTold) {
    const Document d = full_document();
    std::string bytes = *project_bytes(d);
    const auto replace = [&](const std::string& from, const std::string& to) {
        std::string changed = bytes;
        const auto at = changed.find(from);
        EXPECT_NE(at, std::string::npos) << from;
        changed.replace(at, from.size(), to);
        return project_from_bytes(changed, "hall.pivrak.glb");
    };
    EXPECT_EQ(replace("\"pivrak\"", "\"pivxxx\"").error().code, "project.no_rig");
    EXPECT_EQ(replace(fmt::format("\"version\":{}}}", format_version), "\"version\":9}").error().code,
              "project.newer");
    EXPECT_EQ(replace("\"kind\":\"gear\"", "\"kind\":\"goar\"").error().code, "project.damaged");
    EXPECT_EQ(replace("\"frame_rate\":25", "\"frame_rate\":-5").error().code, "project.damaged");
    EXPECT_EQ(replace("\"driver_teeth\":17", "\"driver_teeth\":-7").error().code, "project.damaged");
    EXPECT_EQ(replace("\"linear\"", "\"lineal\"").error().code, "project.damaged");
}

/// A project's rig data, changed by hand, and what opening then says.
template <class Change>
std::string told_of(const Document& d, Change change) {
    const std::string bytes = *project_bytes(d);
    // The container: 12 bytes of head, then the JSON chunk with its length before it. Source: glTF 2.0, GLB.
    std::uint32_t length = 0;
    std::memcpy(&length, bytes.data() + 12, 4);
    json whole = json::parse(bytes.substr(20, length));
    change(whole["extras"]["pivrak"]);
    std::string text = whole.dump();
    text.resize((text.size() + 3) / 4 * 4, ' ');
    std::string made = bytes.substr(0, 20) + text + bytes.substr(20 + length);
    const auto put = [&](std::size_t at, std::size_t value) {
        const auto number = static_cast<std::uint32_t>(value);
        std::memcpy(made.data() + at, &number, 4);
    };
    put(8, made.size());
    put(12, text.size());
    const auto opened = project_from_bytes(made, "hall.pivrak.glb");
    return opened ? "" : opened.error().message;
}

TEST(ProjectFile, DamageIsToldByFileFieldAndReason) {
    Document d = full_document();
    const PartId wheel = test::add_shaped(d, "tyre", test::to_mesh(pivrak::shaft(400, -90, 90, 0, 48)));
    test::make_hinge(d, wheel, 2);
    d = test::run(d, {{"op", "coupling.roll"}, {"parts", {"tyre"}}});
    EXPECT_EQ(told_of(d, [](json&) {}), "") << "unchanged it opens";
    const auto roll = [](json& rig) -> json& {
        for (json& entry : rig["couplings"])
            if (entry["kind"] == "roll") return entry;
        return rig["couplings"][0];
    };
    struct Case {
        const char* name;
        std::function<void(json&)> change;
        const char* told;
    };
    const std::vector<Case> cases{
        {"a wheel that is nothing", [&](json& rig) { roll(rig)["driven"] = 0; },
         "couplings[1]: 'driven' is 0"},
        {"a part that is not there", [&](json& rig) { roll(rig)["driven"] = 1; },
         "names a part that does not exist"},
        {"an endless clip", [](json& rig) { rig["clips"][0]["last_frame"] = 1e12; },
         "clips[0]: clip 'clip 1' runs"},
        {"a clip that ends before it begins", [](json& rig) { rig["clips"][0]["last_frame"] = -3; },
         "clips[0]"},
        {"parts out of order", [](json& rig) { std::swap(rig["parts"][0], rig["parts"][1]); },
         "parts[1]: id"},
        {"shapes out of order", [](json& rig) { std::swap(rig["shapes"][0], rig["shapes"][1]); },
         "shapes[1]: id"},
        {"one node for two parts", [](json& rig) { rig["parts"][1]["node"] = rig["parts"][0]["node"]; },
         "node"},
        {"a node that is not there", [](json& rig) { rig["parts"][0]["node"] = 99999; }, "node"},
        {"a node below zero", [](json& rig) { rig["parts"][0]["node"] = -7; }, "node"},
        {"a mesh that is not there", [](json& rig) { rig["shapes"][0]["mesh"] = 4000; }, "mesh"},
        {"no teeth", [](json& rig) { rig["couplings"][0]["driver_teeth"] = 0; },
         "couplings[0]: a gear has no teeth"},
        {"a rate of nothing", [](json& rig) { rig["frame_rate"] = 0; }, "frame rate is 0"},
        {"text for a number", [](json& rig) { rig["clips"][0]["first_frame"] = "soon"; }, "clips[0]"},
        {"a list that is none", [](json& rig) { rig["parts"] = 3; }, "'parts' is no list"},
        {"a key of no part", [](json& rig) { rig["clips"][0]["tracks"][0]["part"] = 0; },
         "tracks[0]: 'part' is 0"},
        {"an id beyond all", [](json& rig) { rig["next_id"] = 2; }, "out of range"},
        {"an id below zero", [](json& rig) { rig["materials"][0]["image"] = -1e12; },
         "materials[0]: -1000000000000.0 is no whole number in range"},
        {"a cut that is none",
         [](json& rig) {
             rig["parts"][0]["origin"] = {
                 {"source", 0}, {"node", ""}, {"frame", {0, 0, 0, 1, 0, 0, 0}}, {"cuts", {{{"label", -3}}}}};
         },
         "parts[0]: cuts[0]"},
        {"half a tooth", [](json& rig) { rig["couplings"][0]["driver_teeth"] = 7.5; }, "couplings[0]: 7.5"},
        {"more than an id can count", [](json& rig) { rig["next_id"] = 1e30; }, "1e+30"},
        {"a mesh of a material that is not there", [](json& rig) { rig["material_of_gltf"][0] = 4711; },
         "unknown material"}};
    for (const Case& c : cases) {
        const std::string told = told_of(d, c.change);
        EXPECT_NE(told.find(c.told), std::string::npos) << c.name << ": " << told;
        EXPECT_NE(told.find("'hall.pivrak.glb'"), std::string::npos) << c.name << ": " << told;
    }
}

/// Whatever bytes change, opening answers: a document or an error, never a crash.
TEST(ProjectFile, SurvivesDamageAnywhere) {
    const std::string whole = *project_bytes(full_document());
    std::mt19937 random(17);
    std::size_t refused = 0;
    for (int round = 0; round < 1500; ++round) {
        std::string bytes = whole;
        if (round % 3 == 0) bytes.resize(random() % bytes.size());
        for (int i = 0; i < 1 + round % 5 && !bytes.empty(); ++i)
            bytes[random() % bytes.size()] = static_cast<char>(random());
        const auto opened = project_from_bytes(bytes, "damaged");
        if (!opened) {
            EXPECT_FALSE(opened.error().message.empty());
            ++refused;
        } else if (const auto evaluator = Evaluator::compile(*opened); evaluator.ok()) {
            Pose pose = evaluator->make_pose();
            evaluator->evaluate(5, pose);
        }
    }
    EXPECT_GT(refused, 500u);
}

}  // namespace
}  // namespace pivrak
