// Every open format that is read: small files of our own, and the test models that come with the reader.
#include <gtest/gtest.h>

#include <array>
#include <cstdio>
#include <filesystem>
#include <set>

#include "core/io/delivery/deliver.h"
#include "core/io/gltf/gltf_write.h"
#include "core/io/gltf/picture.h"
#include "core/io/import/import_formats.h"
#include "core/io/import/import_model.h"
#include "core/io/project/project_file.h"
#include "core/motion/evaluator.h"
#include "tests/support/documents.h"
#include "tests/support/temp_folder.h"

namespace pivrak {
namespace {

using test::TempFolder;

ImportOutcome import(const std::filesystem::path& file) {
    auto in = import_model(empty_document(), file);
    EXPECT_TRUE(in.ok()) << (in ? "" : in.error().message);
    return in ? std::move(*in) : ImportOutcome{};
}

const char* const tetrahedron_stl =
    "solid t\nfacet normal 0 0 0\nouter loop\nvertex 0 0 0\nvertex 0 2 0\nvertex 1 0 0\nendloop\nendfacet\n"
    "facet normal 0 0 0\nouter loop\nvertex 0 0 0\nvertex 1 0 0\nvertex 0 0 3\nendloop\nendfacet\n"
    "facet normal 0 0 0\nouter loop\nvertex 0 0 0\nvertex 0 0 3\nvertex 0 2 0\nendloop\nendfacet\n"
    "facet normal 0 0 0\nouter loop\nvertex 1 0 0\nvertex 0 2 0\nvertex 0 0 3\nendloop\nendfacet\nendsolid "
    "t\n";
const char* const tetrahedron_ply =
    "ply\nformat ascii 1.0\nelement vertex 4\nproperty float x\nproperty float y\nproperty float z\n"
    "property uchar red\nproperty uchar green\nproperty uchar blue\nelement face 4\nproperty list uchar int "
    "vertex_indices\n"
    "end_header\n0 0 0 255 0 0\n1 0 0 255 0 0\n0 2 0 255 0 0\n0 0 3 188 0 0\n3 0 2 1\n3 0 1 3\n3 0 3 2\n3 1 "
    "2 3\n";
const char* const tetrahedron_off =
    "OFF\n4 4 6\n0 0 0\n1 0 0\n0 2 0\n0 0 3\n3 0 2 1\n3 0 1 3\n3 0 3 2\n3 1 2 3\n";
const char* const tetrahedron_amf =
    "<?xml version=\"1.0\"?>\n<amf unit=\"inch\"><object id=\"1\"><mesh><vertices>"
    "<vertex><coordinates><x>0</x><y>0</y><z>0</z></coordinates></vertex>"
    "<vertex><coordinates><x>1</x><y>0</y><z>0</z></coordinates></vertex>"
    "<vertex><coordinates><x>0</x><y>2</y><z>0</z></coordinates></vertex>"
    "<vertex><coordinates><x>0</x><y>0</y><z>3</z></coordinates></vertex></vertices>"
    "<volume><triangle><v1>0</v1><v2>2</v2><v3>1</v3></triangle><triangle><v1>0</v1><v2>1</v2><v3>3</v3></"
    "triangle>"
    "<triangle><v1>0</v1><v2>3</v2><v3>2</v3></triangle><triangle><v1>1</v1><v2>2</v2><v3>3</v3></triangle></"
    "volume>"
    "</mesh></object></amf>\n";
const char* const tetrahedron_x3d =
    "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<X3D profile=\"Interchange\" version=\"3.0\"><Scene><Shape>"
    "<Appearance><Material diffuseColor=\"0.2 0.4 0.6\"/></Appearance>"
    "<IndexedFaceSet coordIndex=\"0 2 1 -1 0 1 3 -1 0 3 2 -1 1 2 3 -1\"><Coordinate point=\"0 0 0 1 0 0 0 2 "
    "0 0 0 3\"/>"
    "</IndexedFaceSet></Shape></Scene></X3D>\n";

std::string collada(const std::string& unit, const std::string& up) {
    return "<?xml version=\"1.0\" encoding=\"utf-8\"?>\n<COLLADA "
           "xmlns=\"http://www.collada.org/2005/11/COLLADASchema\" version=\"1.4.1\">"
           "<asset><unit name=\"u\" meter=\"" +
           unit + "\"/><up_axis>" + up +
           "</up_axis></asset><library_geometries><geometry id=\"g\" name=\"g\">"
           "<mesh><source id=\"p\"><float_array id=\"pa\" count=\"12\">0 0 0 1 0 0 0 2 0 0 0 "
           "3</float_array><technique_common>"
           "<accessor source=\"#pa\" count=\"4\" stride=\"3\"><param name=\"X\" type=\"float\"/><param "
           "name=\"Y\" type=\"float\"/>"
           "<param name=\"Z\" type=\"float\"/></accessor></technique_common></source><vertices "
           "id=\"v\"><input semantic=\"POSITION\" source=\"#p\"/>"
           "</vertices><triangles count=\"4\"><input semantic=\"VERTEX\" source=\"#v\" offset=\"0\"/><p>0 2 "
           "1 0 1 3 0 3 2 1 2 3</p></triangles>"
           "</mesh></geometry></library_geometries><library_visual_scenes><visual_scene id=\"s\"><node "
           "id=\"n\" name=\"arm\">"
           "<instance_geometry "
           "url=\"#g\"/></node></visual_scene></library_visual_scenes><scene><instance_visual_scene "
           "url=\"#s\"/></scene></COLLADA>\n";
}

struct FormatCase {
    const char* name;
    std::string text;
    Vec3 size;  ///< in our axes [m]
};

TEST(Formats, EachIsReadWithItsUnitAndAxes) {
    TempFolder folder;
    // The tetrahedron is 1, 2, 3 along its file's x, y, z. Y up has z to the front and x to the left.
    for (const FormatCase& c :
         std::vector<FormatCase>{{"t.stl", tetrahedron_stl, {1, 2, 3}},
                                 {"t.ply", tetrahedron_ply, {1, 2, 3}},
                                 {"t.off", tetrahedron_off, {1, 2, 3}},
                                 {"t.amf", tetrahedron_amf, Vec3(1, 2, 3) * 0.0254},
                                 {"t.x3d", tetrahedron_x3d, {3, 1, 2}},
                                 {"t.dae", collada("0.01", "Y_UP"), Vec3(3, 1, 2) * 0.01}}) {
        SCOPED_TRACE(c.name);
        const ImportOutcome in = import(folder.write(c.name, c.text));
        EXPECT_EQ(triangle_count(in.document), 4u);
        EXPECT_LT((document_bounds(in.document).size() - c.size).norm(), 1e-6)
            << document_bounds(in.document).size().transpose();
    }
    // COLLADA's own up axis stands in the file: its z comes up.
    const ImportOutcome up = import(folder.write("z.dae", collada("1", "Z_UP")));
    EXPECT_NEAR(document_bounds(up.document).size().z(), 3, 1e-6);
    EXPECT_TRUE(find_part(up.document, "arm").ok()) << "names are kept";
}

TEST(Formats, AnUnknownOneIsRefusedWithAListOfThoseRead) {
    TempFolder folder;
    const auto refused = import_model(empty_document(), folder.write("model.xyz", "anything"));
    ASSERT_FALSE(refused.ok());
    EXPECT_EQ(refused.error().code, "import.format");
    for (const ModelFormat& format : model_formats())
        EXPECT_NE(refused.error().message.find(format.title), std::string::npos) << format.title;
}

TEST(Formats, AWrongEndingIsSaid) {
    TempFolder folder;
    for (const char* ending : {".gltf", ".dae", ".x3d", ".3mf", ".amf", ".ply"}) {
        const auto refused =
            import_model(empty_document(), folder.write(std::string("t") + ending, "v 0 0 0\nhello"));
        ASSERT_FALSE(refused.ok());
        EXPECT_EQ(refused.error().code, "import.not_format") << ending;
    }
    const auto vast =
        import_model(empty_document(), folder.write("vast.off", "OFF\n353535235358 6 0\n0 0 0\n"));
    ASSERT_FALSE(vast.ok());
    EXPECT_EQ(vast.error().code, "off.count");
}

TEST(Formats, VertexColoursArriveAndGoOn) {
    TempFolder folder;
    const ImportOutcome in = import(folder.write("t.ply", tetrahedron_ply));
    const Mesh& mesh = *in.document.shapes.begin()->mesh;
    ASSERT_EQ(mesh.colors.size(), mesh.positions.size());
    bool half = false;
    // 188 of 255 on a screen is half the light (sRGB, IEC 61966-2-1).
    for (const Vec4f& c : mesh.colors) half |= std::abs(c.x() - 0.503f) < 0.005f;
    EXPECT_TRUE(half);
    const auto project = project_from_bytes(*project_bytes(in.document), "p");
    ASSERT_TRUE(project.ok()) << project.error().message;
    EXPECT_TRUE(*project == in.document);
    const auto delivered = delivery_bytes(in.document, {}, {});
    ASSERT_TRUE(delivered.ok());
    folder.write("d.glb", delivered->bytes);
    EXPECT_EQ(import(folder / "d.glb").document.shapes.begin()->mesh->colors.size(), mesh.colors.size());
}

TEST(Formats, PicturesThatGltfDoesNotKnowBecomePng) {
    // A TGA of two by one pixels: blue, red.
    PictureBytes tga{0, 0, 2, 0, 0, 0, 0, 0, 0, 0, 0, 0, 2, 0, 1, 0, 24, 0x20, 255, 0, 0, 0, 0, 255};
    EXPECT_EQ(picture_type(tga), "");
    EXPECT_EQ(picture_type(as_png(tga)), "image/png");
    EXPECT_TRUE(as_png({1, 2, 3}).empty());
    EXPECT_TRUE(as_png({}).empty());
    TempFolder folder;
    folder.write("skin.tga", std::string(tga.begin(), tga.end()));
    folder.write("m.mtl", "newmtl skin\nmap_Kd skin.tga\n");
    const ImportOutcome in = import(folder.write(
        "m.obj",
        "mtllib m.mtl\nv 0 0 0\nv 1 0 0\nv 0 1 0\nvt 0 0\nvt 1 0\nvt 0 1\nusemtl skin\nf 1/1 2/2 3/3\n"));
    ASSERT_EQ(in.document.images.size(), 1u);
    EXPECT_EQ(in.document.images.begin()->mime_type, "image/png");
}

TEST(Formats, NamesOfAnyAlphabetAndSlashesArrive) {
    TempFolder folder;
    std::string text;
    for (const char* name : {"Müller-Rad", "歯車⚙", "a/b",
                             "Gr\xF6\xDF"
                             "e"})  // the last one is ISO 8859-1
        text += std::string("o ") + name + "\nv 0 0 0\nv 1 0 0\nv 0 1 0\nf -3 -2 -1\n";
    const ImportOutcome in = import(folder.write("m.obj", text));
    for (const char* name : {"Müller-Rad", "歯車⚙", "a-b", "Größe"})
        EXPECT_TRUE(find_part(in.document, name).ok()) << name;
}

/// A delivered clip comes back as a clip: the pose agrees at every frame.
TEST(Formats, AFilesOwnAnimationArrivesAsAClip) {
    Document d = empty_document();
    const PartId base = test::add_shaped(d, "base", with_normals(test::box({0, 0, 0}, {1, 1, 1})), {},
                                         test::world_poses()[1]);
    const PartId hinge = test::add_shaped(d, "lid", with_normals(test::box({0, 0, 0}, {1, 1, 0.1})), base,
                                          test::world_poses()[2]);
    const PartId free =
        test::add_shaped(d, "drone", with_normals(test::box({0, 0, 0}, {0.2, 0.3, 0.1})), hinge);
    test::make_hinge(d, hinge, 1);
    Part flying = *d.parts.find(free);
    flying.joint.kind = JointKind::Free;
    d.parts.set(flying);
    Clip clip = clip_or_first(d);
    clip.name = "fly";
    clip.last_frame = 48;
    clip.track_or_new({hinge, ChannelKind::Turn}).keys = {{0, 0, Interpolation::Linear},
                                                          {48, 9, Interpolation::Linear}};
    clip.track_or_new({free, ChannelKind::ShiftZ}).keys = {{0, 0, Interpolation::Smooth},
                                                           {48, 2, Interpolation::Smooth}};
    clip.track_or_new({free, ChannelKind::TurnX}).keys = {{0, 0, Interpolation::Smooth},
                                                          {48, 1.2, Interpolation::Smooth}};
    clip.track_or_new({free, ChannelKind::TurnZ}).keys = {{0, 0, Interpolation::Smooth},
                                                          {48, -2, Interpolation::Smooth}};
    d.clips.set(clip);
    TempFolder folder;
    folder.write("fly.glb", delivery_bytes(d, {}, {})->bytes);
    const ImportOutcome in = import(folder / "fly.glb");
    ASSERT_EQ(in.document.clips.size(), 1u) << "the empty first clip gives way";
    EXPECT_EQ(clip_or_first(in.document).name, "fly");
    EXPECT_EQ(in.document.parts.find(test::named(in.document, "lid"))->joint.kind, JointKind::Hinge);
    EXPECT_EQ(in.document.parts.find(test::named(in.document, "drone"))->joint.kind, JointKind::Free);
    const auto before = Evaluator::compile(d), after = Evaluator::compile(in.document);
    Pose p = before->make_pose(), q = after->make_pose();
    for (double frame = 0; frame <= 48; ++frame) {
        before->evaluate(frame, p);
        after->evaluate(frame, q);
        for (const char* name : {"base", "lid", "drone"}) {
            const Frame& a = p.world_from_part[*before->part_slot(test::named(d, name))];
            const Frame& b = q.world_from_part[*after->part_slot(test::named(in.document, name))];
            EXPECT_LT((a.translation - b.translation).norm(), 1e-5) << name << " " << frame;
            EXPECT_LT(angle_between(a.rotation, b.rotation), 0.001 * rad_per_deg) << name << " " << frame;
        }
    }
}

// ---- the reader's own test models

const std::filesystem::path models = "/usr/share/assimp/models";

std::vector<std::filesystem::path> open_models() {
    std::vector<std::filesystem::path> files;
    std::error_code ignored;
    for (const auto& entry : std::filesystem::recursive_directory_iterator(models, ignored))
        if (entry.is_regular_file() && model_format(entry.path())) files.push_back(entry.path());
    std::sort(files.begin(), files.end());
    return files;
}

/// Faces that the tool `assimp info` counts once polygons are divided; none when it cannot read the file.
std::optional<std::size_t> counted_by_the_tool(const std::filesystem::path& file) {
    const std::string command = "assimp info '" + file.string() + "' -tri 2>/dev/null";
    FILE* pipe = popen(command.c_str(), "r");
    std::optional<std::size_t> faces;
    std::array<char, 512> line{};
    while (pipe && std::fgets(line.data(), line.size(), pipe)) {
        std::size_t count = 0;
        if (std::sscanf(line.data(), "Faces: %zu", &count) == 1) faces = count;
    }
    if (pipe) pclose(pipe);
    return faces;
}

/// Source: package assimp-testmodels 5.2.5; its tool counts lines and points as faces, we do not take those.
TEST(TestModels, AllImportOrAreRefusedInWordsAndCountsAgree) {
    const auto files = open_models();
    ASSERT_GT(files.size(), 90u) << "the package assimp-testmodels is not installed";
    const std::set<std::string> with_lines_or_points{"testmixed.obj", "Cube_v1.gltf", "Cube.gltf",
                                                     "invalid.off"};
    // One mesh that nodes show at several sizes becomes a shape for each size.
    const std::set<std::string> at_several_sizes{"TwoBoxes.gltf", "TextureTransformTest.gltf"};
    std::size_t read = 0, compared = 0;
    for (const auto& file : files) {
        SCOPED_TRACE(file.string());
        const auto in = import_model(empty_document(), file);
        if (!in) {
            EXPECT_FALSE(in.error().message.empty());
            EXPECT_NE(in.error().message.find(file.filename().string()), std::string::npos)
                << "names the file: " << in.error().message;
            continue;
        }
        ++read;
        EXPECT_TRUE(Evaluator::compile(in->document).ok());
        std::size_t in_shapes = 0;
        for (const Shape& shape : in->document.shapes) in_shapes += shape.mesh->triangle_count();
        const auto counted = counted_by_the_tool(file);
        if (!counted || with_lines_or_points.contains(file.filename().string())) continue;
        ++compared;
        if (at_several_sizes.contains(file.filename().string())) {
            EXPECT_GT(in_shapes, *counted);
        } else {
            EXPECT_EQ(in_shapes, *counted);
        }
    }
    EXPECT_GT(read, 85u);
    EXPECT_GT(compared, 80u);
}

TEST(TestModels, A3mfHasItsUnit) {
    const ImportOutcome in = import(models / "3MF" / "box.3mf");
    EXPECT_EQ(triangle_count(in.document), 12u);
    EXPECT_LT(document_bounds(in.document).longest(), 1) << "millimetres, as its model says";
}

}  // namespace
}  // namespace pivrak
