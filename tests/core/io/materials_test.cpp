// Materials from a glTF file through a project into a delivery, judged by the JSON of both files.
#include <gtest/gtest.h>

#include <cstring>
#include <nlohmann/json.hpp>

#include "core/io/delivery/deliver.h"
#include "core/io/import/import_model.h"
#include "core/io/project/project_file.h"
#include "core/operations/registry.h"
#include "tests/support/documents.h"
#include "tests/support/temp_folder.h"

namespace pivrak {
namespace {

using nlohmann::json;
using test::TempFolder;

const std::filesystem::path surfaces_file = OUTSIDE_FILES "/surfaces.gltf";

std::string from_base64(const std::string& text) {
    std::string out;
    std::uint32_t bits = 0;
    int have = 0;
    for (const char c : text.substr(text.find(',') + 1)) {
        const auto digit =
            std::string("ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/").find(c);
        if (digit == std::string::npos) break;
        bits = bits << 6 | static_cast<std::uint32_t>(digit);
        if ((have += 6) >= 8) out += static_cast<char>(bits >> (have -= 8) & 0xFF);
    }
    return out;
}

/// A glTF file's JSON, and the bytes of each of its pictures.
struct Opened {
    json model;
    std::vector<std::string> pictures;
};

Opened opened_text(const std::string& text) {
    Opened out{json::parse(text), {}};
    for (const json& image : out.model["images"]) out.pictures.push_back(from_base64(image["uri"]));
    return out;
}

Opened opened_binary(const std::string& bytes) {
    std::uint32_t size = 0;
    std::memcpy(&size, bytes.data() + 12, 4);
    Opened out{json::parse(bytes.substr(20, size)), {}};
    for (const json& image : out.model["images"]) {
        const json& view = out.model["bufferViews"][image["bufferView"].get<std::size_t>()];
        out.pictures.push_back(
            bytes.substr(20 + size + 8 + view.value("byteOffset", std::size_t{0}), view["byteLength"]));
    }
    return out;
}

/// In place of numbers of textures: the picture's bytes and how it is sampled. What the standard takes for
/// granted is written out.
void spell_out(json& entry, const Opened& file) {
    if (entry.is_array())
        for (json& one : entry) spell_out(one, file);
    if (!entry.is_object()) return;
    if (entry.contains("index")) {
        const json& texture = file.model["textures"][entry["index"].get<std::size_t>()];
        entry["picture"] = json::binary({}, 0);
        const std::string& bytes = file.pictures[texture["source"].get<std::size_t>()];
        entry["picture"] = json::binary({bytes.begin(), bytes.end()}, 0);
        json sampler = texture.contains("sampler")
                           ? file.model["samplers"][texture["sampler"].get<std::size_t>()]
                           : json::object();
        for (const char* wrap : {"wrapS", "wrapT"})
            if (!sampler.contains(wrap)) sampler[wrap] = 10497;
        entry["sampler"] = sampler;
        entry.erase("index");
        if (entry.value("texCoord", 0) == 0) entry.erase("texCoord");
    }
    for (auto& [key, value] : entry.items()) spell_out(value, file);
}

std::vector<json> spelled_out(const Opened& file) {
    std::vector<json> all;
    for (json material : file.model["materials"]) {
        const json plain = {{"alphaMode", "OPAQUE"}, {"doubleSided", false}, {"emissiveFactor", {0, 0, 0}}};
        for (const auto& [key, value] : plain.items())
            if (!material.contains(key)) material[key] = value;
        if (material["alphaMode"] == "MASK" && !material.contains("alphaCutoff"))
            material["alphaCutoff"] = 0.5;
        json& pbr = material["pbrMetallicRoughness"];
        const json surface = {
            {"baseColorFactor", {1, 1, 1, 1}}, {"metallicFactor", 1}, {"roughnessFactor", 1}};
        for (const auto& [key, value] : surface.items())
            if (!pbr.contains(key)) pbr[key] = value;
        spell_out(material, file);
        all.push_back(material);
    }
    return all;
}

Document imported() {
    const auto in = import_model(empty_document(), surfaces_file, {});
    EXPECT_TRUE(in.ok()) << in.error().message;
    for (const std::string& line : in->messages) ADD_FAILURE() << line;
    return in->document;
}

/// Each plate is painted with the material whose number its name ends in, as the file has it.
void expect_the_same(const json& delivered, const Opened& by, const Opened& from, const std::string& what) {
    const std::vector<json> wanted = spelled_out(from), got = spelled_out(by);
    std::size_t plates = 0;
    for (const json& node : delivered["nodes"]) {
        const std::string name = node.value("name", "");
        if (!name.starts_with("plate ") || !node.contains("mesh")) continue;
        const json& mesh = delivered["meshes"][node["mesh"].get<std::size_t>()];
        const std::size_t number = std::stoul(name.substr(6));
        const auto material = mesh["primitives"][0]["material"].get<std::size_t>();
        EXPECT_EQ(got[material], wanted[number]) << what << ", " << wanted[number]["name"];
        ++plates;
    }
    EXPECT_EQ(plates, 10u) << what;
}

TEST(Materials, GoInAndOutWhole) {
    TempFolder folder;
    const Opened from = opened_text(folder.read(std::filesystem::absolute(surfaces_file).string()));
    const Document d = imported();
    EXPECT_EQ(d.materials.size(), 10u);
    EXPECT_EQ(d.images.size(), 5u) << "each picture once";
    ASSERT_TRUE(deliver(d, folder / "out.glb", {}).ok());
    const Opened out = opened_binary(folder.read("out.glb"));
    expect_the_same(out.model, out, from, "delivered");
    ASSERT_TRUE(save_project(d, folder / "kept.pivrak.glb").ok());
    const Opened kept = opened_binary(folder.read("kept.pivrak.glb"));
    expect_the_same(kept.model, kept, from, "the project as others see it");
    const auto loaded = open_project(folder / "kept.pivrak.glb");
    ASSERT_TRUE(loaded.ok()) << loaded.error().message;
    for (const Material& material : d.materials) EXPECT_EQ(*loaded->materials.find(material.id), material);
    ASSERT_TRUE(deliver(*loaded, folder / "again.glb", {}).ok());
    const Opened again = opened_binary(folder.read("again.glb"));
    expect_the_same(again.model, again, from, "delivered from the project");
}

/// Twos and fours of numbers that a file's accessor holds.
std::vector<float> numbers_at(const std::string& bytes, const json& model, std::size_t accessor) {
    const json &about = model["accessors"][accessor],
               &view = model["bufferViews"][about["bufferView"].get<std::size_t>()];
    std::uint32_t size = 0;
    std::memcpy(&size, bytes.data() + 12, 4);
    std::vector<float> out(about["count"].get<std::size_t>() * (about["type"] == "VEC4" ? 4 : 2));
    std::memcpy(out.data(), bytes.data() + 28 + size + view.value("byteOffset", std::size_t{0}),
                out.size() * sizeof(float));
    return out;
}

constexpr float second_places[] = {0.25f, 0.5f, 0.75f, 0.5f, 0.25f, 1};
constexpr float sides[] = {0.6f, 0.8f, 0, -1, 0.6f, 0.8f, 0, -1, 0.6f, 0.8f, 0, -1};

/// The plates with second texture coordinates and tangents, by which one of the pictures lies.
std::filesystem::path with_second_places(const TempFolder& folder) {
    json model = opened_text(folder.read(std::filesystem::absolute(surfaces_file).string())).model;
    std::string bytes(sizeof second_places + sizeof sides, 0);
    std::memcpy(bytes.data(), second_places, sizeof second_places);
    std::memcpy(bytes.data() + sizeof second_places, sides, sizeof sides);
    folder.write("more.bin", bytes);
    const std::size_t views = model["bufferViews"].size(), accessors = model["accessors"].size();
    model["buffers"].push_back({{"uri", "more.bin"}, {"byteLength", bytes.size()}});
    model["bufferViews"].push_back({{"buffer", 1}, {"byteLength", sizeof second_places}});
    model["bufferViews"].push_back(
        {{"buffer", 1}, {"byteOffset", sizeof second_places}, {"byteLength", sizeof sides}});
    for (const char* type : {"VEC2", "VEC4"})
        model["accessors"].push_back({{"bufferView", views + (type[3] == '4')},
                                      {"componentType", 5126},
                                      {"count", 3},
                                      {"type", type}});
    for (json& mesh : model["meshes"]) {
        mesh["primitives"][0]["attributes"]["TEXCOORD_1"] = accessors;
        mesh["primitives"][0]["attributes"]["TANGENT"] = accessors + 1;
    }
    model["materials"][4]["normalTexture"]["texCoord"] = 1;
    return folder.write("second.gltf", model.dump());
}

/// Whoever lays light or occlusion by a second set, or has made tangents, gets them back.
TEST(Materials, SecondTextureCoordinatesAndTangentsGoThrough) {
    TempFolder folder;
    const auto in = import_model(empty_document(), with_second_places(folder), {});
    ASSERT_TRUE(in.ok()) << in.error().message;
    for (const std::string& line : in->messages) ADD_FAILURE() << line;
    ASSERT_TRUE(save_project(in->document, folder / "kept.pivrak.glb").ok());
    const auto kept = open_project(folder / "kept.pivrak.glb");
    ASSERT_TRUE(kept.ok()) << kept.error().message;
    for (const Shape& shape : in->document.shapes) {
        ASSERT_EQ(shape.mesh->second_uvs.size(), 3u) << shape.name;
        EXPECT_EQ(*kept->shapes.find(shape.id)->mesh, *shape.mesh) << shape.name;
    }
    ASSERT_TRUE(deliver(*kept, folder / "out.glb", {}).ok());
    const std::string bytes = folder.read("out.glb");
    const Opened out = opened_binary(bytes);
    std::size_t by_second = 0;
    for (const json& material : out.model["materials"])
        by_second +=
            material.contains("normalTexture") && material["normalTexture"].value("texCoord", 0) == 1;
    EXPECT_EQ(by_second, 1u);
    for (const json& mesh : out.model["meshes"]) {
        const json& attributes = mesh["primitives"][0]["attributes"];
        ASSERT_TRUE(attributes.contains("TEXCOORD_1") && attributes.contains("TANGENT")) << attributes;
        EXPECT_EQ(numbers_at(bytes, out.model, attributes["TEXCOORD_1"]),
                  std::vector<float>(std::begin(second_places), std::end(second_places)));
        const std::vector<float> tangents = numbers_at(bytes, out.model, attributes["TANGENT"]);
        ASSERT_EQ(tangents.size(), std::size(sides));
        for (std::size_t i = 0; i < tangents.size(); ++i) EXPECT_NEAR(tangents[i], sides[i], 1e-6) << i;
    }
}

/// What is none of the standard's, and pictures by third coordinates, are told and left out.
TEST(Materials, WhatCannotBeCarriedIsTold) {
    TempFolder folder;
    json model = opened_text(folder.read(std::filesystem::absolute(surfaces_file).string())).model;
    model["materials"][0]["extensions"]["EXAMPLE_rust"] = {{"amount", 1}};
    model["materials"][4]["normalTexture"]["texCoord"] = 2;
    model["materials"][1]["pbrMetallicRoughness"] = {{"metallicFactor", 7}, {"roughnessFactor", -1}};
    const auto in = import_model(empty_document(), folder.write("odd.gltf", model.dump()), {});
    ASSERT_TRUE(in.ok()) << in.error().message;
    std::string told;
    for (const std::string& line : in->messages) told += line + "\n";
    EXPECT_NE(told.find("'EXAMPLE_rust' of material 'steel'"), std::string::npos) << told;
    EXPECT_NE(told.find("a picture of material 'planks'"), std::string::npos) << told;
    for (const Material& material : in->document.materials) {
        if (material.name == "planks") EXPECT_FALSE(material.normal_picture);
        if (material.name != "standard") continue;
        EXPECT_EQ(material.metallic, 1);
        EXPECT_EQ(material.roughness, 0);
    }
}

/// A delivered file comes back as it went; a picture that lies outside its buffer is told as missing.
TEST(Materials, PicturesInABufferComeBack) {
    TempFolder folder;
    ASSERT_TRUE(deliver(imported(), folder / "out.glb", {}).ok());
    const auto again = import_model(empty_document(), folder / "out.glb", {});
    ASSERT_TRUE(again.ok()) << again.error().message;
    EXPECT_EQ(again->document.images.size(), 5u);
    for (const Image& image : again->document.images) EXPECT_FALSE(image.missing()) << image.name;
    std::string bytes = folder.read("out.glb");
    const Opened out = opened_binary(bytes);
    const auto view = out.model["images"][0]["bufferView"].get<std::size_t>();
    const std::string length =
        "\"byteLength\":" + std::to_string(out.model["bufferViews"][view]["byteLength"].get<int>());
    const auto at = bytes.find(length);
    ASSERT_NE(at, std::string::npos);
    bytes.replace(at + length.size() - 2, 2, "99999");
    std::uint32_t size = 0;
    std::memcpy(&size, bytes.data() + 12, 4);
    std::string grown = bytes;
    size += 3;
    std::memcpy(grown.data() + 12, &size, 4);
    const auto damaged = import_model(empty_document(), folder.write("damaged.glb", grown), {});
    if (damaged)
        EXPECT_FALSE(damaged->messages.empty());
    else
        EXPECT_FALSE(damaged.error().message.empty());
}

/// Files of before say nothing of it: what is not opaque blends. What says otherwise is kept.
TEST(Materials, OpacityIsKeptAsItWasSaid) {
    TempFolder folder;
    for (const double opacity : {1.0, 0.4})
        for (const AlphaMode mode : {AlphaMode::Opaque, AlphaMode::Mask, AlphaMode::Blend}) {
            Document d = empty_document();
            Material glass;
            glass.id = d.new_id<MaterialId>();
            glass.name = "glass";
            glass.base_color[3] = opacity;
            glass.alpha = mode;
            d.materials.set(glass);
            const auto bytes = project_bytes(d);
            ASSERT_TRUE(bytes.ok());
            const bool is_usual = mode == (opacity < 1 ? AlphaMode::Blend : AlphaMode::Opaque);
            EXPECT_EQ(bytes->find("\"alpha\":") == std::string::npos, is_usual);
            const auto read = project_from_bytes(*bytes, "a file");
            ASSERT_TRUE(read.ok()) << read.error().message;
            EXPECT_EQ(read->materials.begin()->alpha, mode);
        }
}

/// Two projects in one: the pictures of what is brought in go with their materials.
TEST(Materials, OfAProjectThatIsBroughtInKeepTheirPictures) {
    TempFolder folder;
    ASSERT_TRUE(save_project(imported(), folder / "other.pivrak.glb").ok());
    const auto both = make_registry().run(
        imported(), {{"op", "project.add"}, {"file", (folder / "other.pivrak.glb").string()}});
    ASSERT_TRUE(both.ok()) << both.error().message;
    EXPECT_EQ(both->document.materials.size(), 20u);
    for (const Material& material : both->document.materials)
        each_picture(material, [&](const std::string& name, const PictureUse& use) {
            if (use) EXPECT_TRUE(both->document.images.contains(use.image)) << material.name << " " << name;
        });
    ASSERT_TRUE(deliver(both->document, folder / "both.glb", {}).ok());
}

}  // namespace
}  // namespace pivrak
