#include "core/io/import/import_model.h"

#include <fmt/format.h>
#include <gtest/gtest.h>

#include <cstring>
#include <functional>

#include "core/io/gltf/gltf_write.h"
#include "tests/support/documents.h"
#include "tests/support/temp_folder.h"

namespace pivrak {
namespace {

using test::TempFolder;

const char* const cube_obj =
    "mtllib cube.mtl\no crate\nusemtl wood\n"
    "v 0 0 0\nv 2 0 0\nv 2 0 3\nv 0 0 3\nv 0 1 0\nv 2 1 0\nv 2 1 3\nv 0 1 3\n"
    "f 1 2 3 4\nf 8 7 6 5\nf 1 5 6 2\nf 2 6 7 3\nf 3 7 8 4\nf 4 8 5 1\n";

Result<ImportOutcome> import_text(const TempFolder& folder, const std::string& name, std::string_view bytes,
                                  const ImportOptions& options = {}) {
    return import_model(empty_document(), folder.write(name, bytes), options);
}

/// A glTF file with one box mesh below nodes of the given JSON transforms.
std::string glb_with_node(const std::function<void(tinygltf::Node&)>& shape_node) {
    const Document d = empty_document();
    GltfBuilder builder(d);
    const int mesh = builder.add_mesh(with_normals(test::box({0, 0, 0}, {1, 2, 3})), "block");
    const int node = builder.add_node("block", Frame{}, mesh);
    shape_node(builder.model().nodes[static_cast<std::size_t>(node)]);
    builder.add_root(node);
    return *builder.finish();
}

TEST(Import, ObjKeepsNamesMaterialsAndMeasures) {
    TempFolder folder;
    folder.write("cube.mtl", "newmtl wood\nKd 0.5 0.5 0.5\n");
    const auto in = import_text(folder, "cube.obj", cube_obj);
    ASSERT_TRUE(in.ok()) << in.error().message;
    const Document& d = in->document;
    EXPECT_TRUE(find_part(d, "cube").ok()) << "the file's own node is called after the file";
    EXPECT_TRUE(find_part(d, "cube/crate").ok());
    EXPECT_EQ(triangle_count(d), 12u);
    ASSERT_EQ(d.materials.size(), 1u);
    EXPECT_EQ(d.materials.begin()->name, "wood");
    EXPECT_NEAR(d.materials.begin()->base_color[0], 0.2140, 1e-4)
        << "IEC 61966-2-1: 0.5 on a screen is 0.2140 linear";
    // Y up in the file: its z is our x, its x our y, its y our z.
    EXPECT_LT((document_bounds(d).size() - Vec3(3, 2, 1)).norm(), 1e-6);
    ASSERT_EQ(d.sources.size(), 1u);
}

TEST(Import, UnitAndUpCanBeGiven) {
    TempFolder folder;
    const auto in = import_text(folder, "cube.obj", cube_obj, {.metres_per_unit = 0.01, .up = 'z'});
    ASSERT_TRUE(in.ok());
    EXPECT_LT((document_bounds(in->document).size() - Vec3(0.02, 0.01, 0.03)).norm(), 1e-8);
}

TEST(Import, GuessesMillimetresAndCentimetresAndSaysSo) {
    for (const auto& [size, unit, metres] :
         {std::tuple(2500.0, "millimetres", 2.5), std::tuple(390.0, "centimetres", 3.9),
          std::tuple(4.0, "metres", 4.0)}) {
        TempFolder folder;
        const std::string text = fmt::format("v 0 0 0\nv {} 0 0\nv 0 1 0\nf 1 2 3\n", size);
        const auto in = import_text(folder, "part.obj", text);
        ASSERT_TRUE(in.ok());
        EXPECT_NEAR(document_bounds(in->document).longest(), metres, 1e-6);
        ASSERT_FALSE(in->messages.empty());
        EXPECT_NE(in->messages.front().find(unit), std::string::npos) << in->messages.front();
    }
}

TEST(Import, NormalsAndTextureCoordinatesStay) {
    TempFolder folder;
    const auto in = import_text(
        folder, "p.obj",
        "v 0 0 0\nv 1 0 0\nv 0 0 1\nvt 0.25 0.75\nvt 1 0\nvt 0 1\nvn 0 1 0\nf 1/1/1 3/3/1 2/2/1\n");
    ASSERT_TRUE(in.ok()) << in.error().message;
    const Mesh& mesh = *in->document.shapes.begin()->mesh;
    ASSERT_EQ(mesh.normals.size(), 3u);
    for (const Vec3f& n : mesh.normals) EXPECT_LT((n - Vec3f(0, 0, 1)).norm(), 1e-6f);
    ASSERT_EQ(mesh.uvs.size(), 3u);
    EXPECT_LT((mesh.uvs.front() - Vec2f(0.25f, 0.25f)).norm(), 1e-6f) << "glTF's v runs down from the top";
}

TEST(Import, MissingNormalsAreMade) {
    TempFolder folder;
    const auto in = import_text(folder, "cube.obj", cube_obj);
    ASSERT_TRUE(in.ok());
    const Mesh& mesh = *in->document.shapes.begin()->mesh;
    EXPECT_EQ(mesh.normals.size(), mesh.positions.size());
    EXPECT_EQ(mesh.positions.size(), 24u);
}

TEST(Import, UnevenAndMirroredScaleGoesIntoTheShape) {
    struct Case {
        const char* name;
        std::vector<double> scale;
    };
    for (const Case& c : {Case{"uneven", {2, 3, 0.5}}, Case{"mirrored", {-1, 1, 1}},
                          Case{"mirrored and uneven", {2, -3, 0.5}}}) {
        SCOPED_TRACE(c.name);
        TempFolder folder;
        const auto turn = Eigen::Quaterniond(Eigen::AngleAxisd(0.6, Eigen::Vector3d(1, 2, 3).normalized()));
        const std::string bytes = glb_with_node([&](tinygltf::Node& node) {
            node.scale = c.scale;
            node.rotation = {turn.x(), turn.y(), turn.z(), turn.w()};
            node.translation = {1, 2, 3};
        });
        const auto in = import_text(folder, "block.glb", bytes);
        ASSERT_TRUE(in.ok()) << in.error().message;
        const Part& part = *in->document.parts.find(*find_part(in->document, "block"));
        EXPECT_NEAR(part.parent_from_rest.rotation.norm(), 1, 1e-12);
        // Independent route: the file's own matrix on the corners of the box, in the file's axes.
        Bounds expected;
        for (int corner = 0; corner < 8; ++corner) {
            const Eigen::Vector3d in_file(corner & 1 ? 2 : 0, corner & 2 ? 3 : 0, corner & 4 ? 1 : 0);
            const Eigen::Vector3d world = turn * Eigen::Vector3d(in_file.cwiseProduct(
                                                     Eigen::Vector3d(c.scale[0], c.scale[1], c.scale[2]))) +
                                          Eigen::Vector3d(1, 2, 3);
            expected.add(Vec3(world.z(), world.x(), world.y()));
        }
        const Bounds found = document_bounds(in->document);
        EXPECT_LT((found.min - expected.min).norm() + (found.max - expected.max).norm(), 1e-5);
        // Faces still look outwards: the signed volume stays positive.
        const Mesh& mesh = *in->document.shapes.begin()->mesh;
        double volume = 0;
        for (std::size_t t = 0; t < mesh.triangle_count(); ++t)
            volume += mesh.corner(t, 0).dot(mesh.corner(t, 1).cross(mesh.corner(t, 2))) / 6;
        EXPECT_NEAR(volume, 6 * std::abs(c.scale[0] * c.scale[1] * c.scale[2]), 1e-4);
        for (std::size_t t = 0; t < mesh.triangle_count(); ++t) {
            const Vec3 face = (mesh.corner(t, 1) - mesh.corner(t, 0))
                                  .cross(mesh.corner(t, 2) - mesh.corner(t, 0))
                                  .normalized();
            EXPECT_GT(face.dot(mesh.normals[mesh.indices[3 * t]].cast<double>()), 0.999)
                << "normals go with the faces";
        }
    }
}

TEST(Import, NodesWithOneMeshShareItsShape) {
    const Document d = empty_document();
    GltfBuilder builder(d);
    const int mesh = builder.add_mesh(with_normals(test::box({0, 0, 0}, {1, 1, 1})), "link");
    for (int i = 0; i < 5; ++i)
        builder.add_root(
            builder.add_node("link " + std::to_string(i), {Quat(1, 0, 0, 0), Vec3(i, 0, 0)}, mesh));
    TempFolder folder;
    const auto in = import_text(folder, "links.glb", *builder.finish());
    ASSERT_TRUE(in.ok()) << in.error().message;
    EXPECT_EQ(in->document.shapes.size(), 1u);
}

TEST(Import, AMissingTextureIsToldAndKeptAsMissing) {
    TempFolder folder;
    folder.write("cube.mtl", "newmtl wood\nKd 0.5 0.5 0.5\nmap_Kd planks.png\n");
    const auto in = import_text(folder, "cube.obj", cube_obj);
    ASSERT_TRUE(in.ok());
    ASSERT_EQ(in->document.images.size(), 1u);
    EXPECT_TRUE(in->document.images.begin()->missing());
    bool told = false;
    for (const std::string& message : in->messages)
        told |=
            message.find("'planks.png'") != std::string::npos && message.find("'wood'") != std::string::npos;
    EXPECT_TRUE(told);
}

TEST(Import, ATextureThatIsThereIsCarried) {
    TempFolder folder;
    const std::string png("\x89PNG\r\n\x1a\n-not decoded here-", 27);
    folder.write("planks.png", png);
    folder.write("cube.mtl", "newmtl wood\nmap_Kd planks.png\n");
    const auto in = import_text(folder, "cube.obj", cube_obj);
    ASSERT_TRUE(in.ok());
    const Image& image = *in->document.images.begin();
    EXPECT_EQ(image.mime_type, "image/png");
    EXPECT_EQ(std::string(image.bytes->begin(), image.bytes->end()), png);
}

struct Broken {
    const char* name;
    std::string file, bytes, code, words;
};

class BrokenFile : public testing::TestWithParam<Broken> {};

TEST_P(BrokenFile, IsRefusedInWordsAndTheDocumentStays) {
    TempFolder folder;
    const Document before = test::run(empty_document(), {{"op", "project.set"}, {"frame_rate", 30}});
    const Document copy = before;
    const auto in = import_model(before, folder.write(GetParam().file, GetParam().bytes));
    ASSERT_FALSE(in.ok());
    EXPECT_EQ(in.error().code, GetParam().code) << in.error().message;
    EXPECT_NE(in.error().message.find(GetParam().words), std::string::npos) << in.error().message;
    EXPECT_NE(in.error().message.find(GetParam().file), std::string::npos) << in.error().message;
    EXPECT_TRUE(before == copy);
}

std::string truncated_glb() {
    const std::string whole = glb_with_node([](tinygltf::Node&) {});
    return whole.substr(0, whole.size() * 2 / 3);
}

std::string glb_of_version(char version) {
    std::string whole = glb_with_node([](tinygltf::Node&) {});
    whole[4] = version;
    return whole;
}

/// A container whose second chunk says it has so many bytes more than the file holds behind its head; the
/// buffer asks for all of them.
std::string glb_with_longer_bytes(std::uint32_t beyond) {
    std::string json =
        R"({"asset":{"version":"2.0"},"buffers":[{"byteLength":)" + std::to_string(8 + beyond) + "}]}";
    json.resize((json.size() + 3) / 4 * 4, ' ');
    const auto word = [](std::uint32_t value) {
        std::string bytes(4, '\0');
        std::memcpy(bytes.data(), &value, 4);
        return bytes;
    };
    const auto size = [](const std::string& bytes) { return static_cast<std::uint32_t>(bytes.size()); };
    const std::string chunks =
        word(size(json)) + "JSON" + json + word(8 + beyond) + std::string("BIN\0", 4) + std::string(8, 'b');
    return "glTF" + word(2) + word(12 + size(chunks)) + chunks;
}

INSTANTIATE_TEST_SUITE_P(
    Import, BrokenFile,
    testing::Values(
        Broken{"longer_bytes_glb", "beyond.glb", glb_with_longer_bytes(4), "glb.truncated", "is cut off"},
        Broken{"truncated_glb", "cut.glb", truncated_glb(), "glb.truncated", "is cut off"},
        Broken{"tiny_glb", "tiny.glb", "glTF\2\0\0", "glb.truncated", "is cut off"},
        Broken{"old_glb", "old.glb", glb_of_version(1), "glb.version", "version 1"},
        Broken{"text_as_glb", "note.glb", "Hello, this is no model", "glb.not_glb", "begins with 'Hell'"},
        Broken{"empty_glb", "empty.glb", "", "file.empty", "is empty"},
        Broken{"empty_obj", "empty.obj", "", "file.empty", "is empty"},
        Broken{"obj_nan", "nan.obj", "v 0 0 0\nv nan 0 0\nv 0 1 0\nf 1 2 3\n", "obj.not_finite", "line 2"},
        Broken{"obj_inf", "inf.obj", "v 0 0 0\nv 0 -inf 0\nv 0 1 0\nf 1 2 3\n", "obj.not_finite", "line 2"},
        Broken{"obj_index_too_large", "index.obj", "v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 4\n", "obj.index",
               "line 4"},
        Broken{"obj_index_zero", "zero.obj", "v 0 0 0\nv 1 0 0\nv 0 1 0\nf 0 1 2\n", "obj.index", "index 0"},
        Broken{"obj_index_negative", "negative.obj", "v 0 0 0\nv 1 0 0\nv 0 1 0\nf -1 -2 -4\n", "obj.index",
               "index -4"},
        Broken{"obj_face_of_letters", "letters.obj", "v 0 0 0\nv 1 0 0\nv 0 1 0\nf a b c\n", "obj.index",
               "line 4"},
        Broken{"obj_text", "story.obj", "Once upon a time\n", "obj.no_vertices", "no vertex"},
        Broken{"obj_no_face", "cloud.obj", "v 0 0 0\nv 1 0 0\n", "import.nothing", "no triangle"},
        Broken{"other_format", "model.xyz", "1 2 3", "import.format", ".glb"}),
    [](const auto& info) { return std::string(info.param.name); });

TEST(Import, AFileOrFolderThatCannotBeReadIsNamed) {
    TempFolder folder;
    EXPECT_EQ(import_model(empty_document(), folder / "absent.obj").error().code, "file.read");
    std::filesystem::create_directory(folder / "folder.obj");
    EXPECT_EQ(import_model(empty_document(), folder / "folder.obj").error().code, "file.read");
}

TEST(Import, CanBeCancelled) {
    TempFolder folder;
    const auto in = import_model(empty_document(), folder.write("cube.obj", cube_obj), {},
                                 Progress([](double, std::string_view) { return false; }));
    ASSERT_FALSE(in.ok());
    EXPECT_EQ(in.error().code, "import.cancelled");
}

}  // namespace
}  // namespace pivrak
