#include "core/io/gltf/gltf_write.h"

#include <algorithm>
#include <sstream>

#include "core/io/gltf/gltf_axes.h"
#include "core/io/gltf/gltf_materials.h"

namespace pivrak {

GltfBuilder::GltfBuilder(const Document& document) : document_(document) {
    model_.asset.version = "2.0";
    model_.asset.generator = "Pivrak";
    model_.scenes.emplace_back();
    model_.defaultScene = 0;
    model_.buffers.emplace_back();
}

int GltfBuilder::add_view(const void* data, std::size_t bytes, int target) {
    std::vector<unsigned char>& buffer = model_.buffers[0].data;
    buffer.resize((buffer.size() + 3) / 4 * 4);
    tinygltf::BufferView view;
    view.buffer = 0;
    view.byteOffset = buffer.size();
    view.byteLength = bytes;
    view.target = target;
    const auto* first = static_cast<const unsigned char*>(data);
    buffer.insert(buffer.end(), first, first + bytes);
    model_.bufferViews.push_back(view);
    return static_cast<int>(model_.bufferViews.size()) - 1;
}

int GltfBuilder::add_accessor(int view, int component_type, std::size_t count, int type) {
    tinygltf::Accessor accessor;
    accessor.bufferView = view;
    accessor.componentType = component_type;
    accessor.count = count;
    accessor.type = type;
    model_.accessors.push_back(accessor);
    return static_cast<int>(model_.accessors.size()) - 1;
}

int GltfBuilder::add_attribute(const std::vector<Vec3f>& values, bool with_range) {
    std::vector<Vec3f> turned(values.size());
    std::transform(values.begin(), values.end(), turned.begin(),
                   [](const Vec3f& v) { return gltf_from_core(v); });
    const int view = add_view(turned.data(), turned.size() * sizeof(Vec3f), TINYGLTF_TARGET_ARRAY_BUFFER);
    const int accessor = add_accessor(view, TINYGLTF_COMPONENT_TYPE_FLOAT, turned.size(), TINYGLTF_TYPE_VEC3);
    if (with_range) {
        Vec3f low = turned.front(), high = turned.front();
        for (const Vec3f& v : turned) {
            low = low.cwiseMin(v);
            high = high.cwiseMax(v);
        }
        for (int k = 0; k < 3; ++k) {
            model_.accessors.back().minValues.push_back(low[k]);
            model_.accessors.back().maxValues.push_back(high[k]);
        }
    }
    return accessor;
}

int GltfBuilder::picture(ImageId id) {
    const Image* image = document_.images.find(id);
    if (!image || image->missing()) return -1;
    const auto [known, added] = pictures_.try_emplace(id, static_cast<int>(model_.images.size()));
    if (!added) return known->second;
    tinygltf::Image out;
    out.name = image->name;
    out.mimeType = image->mime_type;
    out.bufferView = image_view(id);
    model_.images.push_back(out);
    return known->second;
}

/// One that is sampled as most are needs no sampler.
int GltfBuilder::sampler(const PictureUse& use) {
    const std::array<int, 4> asked{use.wrap_s, use.wrap_t, use.magnify, use.minify};
    if (asked == std::array<int, 4>{PictureUse::repeat, PictureUse::repeat, 0, 0}) return -1;
    const auto [known, added] = samplers_.try_emplace(asked, static_cast<int>(model_.samplers.size()));
    if (!added) return known->second;
    tinygltf::Sampler out;
    out.wrapS = use.wrap_s;
    out.wrapT = use.wrap_t;
    out.magFilter = use.magnify ? use.magnify : -1;
    out.minFilter = use.minify ? use.minify : -1;
    model_.samplers.push_back(out);
    return known->second;
}

int GltfBuilder::texture(const PictureUse& use) {
    const int source = picture(use.image);
    if (source < 0) return -1;
    const int sampled = sampler(use);
    const auto [known, added] =
        textures_.try_emplace({source, sampled}, static_cast<int>(model_.textures.size()));
    if (!added) return known->second;
    tinygltf::Texture out;
    out.source = source;
    out.sampler = sampled;
    model_.textures.push_back(out);
    return known->second;
}

int GltfBuilder::material(MaterialId id) {
    const Material* material = document_.materials.find(id);
    if (!material) return -1;
    if (const auto known = materials_.find(id); known != materials_.end()) return known->second;
    model_.materials.push_back(gltf_from_material(
        *material, [this](const PictureUse& use) { return texture(use); }, extensions_));
    materials_[id] = static_cast<int>(model_.materials.size()) - 1;
    return materials_[id];
}

/// In two bytes each where every vertex has such a number; the highest of them means something else.
int GltfBuilder::add_indices(std::span<const std::uint32_t> indices, std::size_t vertices) {
    constexpr int target = TINYGLTF_TARGET_ELEMENT_ARRAY_BUFFER;
    if (vertices > 65535)
        return add_accessor(add_view(indices.data(), indices.size_bytes(), target),
                            TINYGLTF_COMPONENT_TYPE_UNSIGNED_INT, indices.size(), TINYGLTF_TYPE_SCALAR);
    const std::vector<std::uint16_t> narrow(indices.begin(), indices.end());
    return add_accessor(add_view(narrow.data(), 2 * narrow.size(), target),
                        TINYGLTF_COMPONENT_TYPE_UNSIGNED_SHORT, narrow.size(), TINYGLTF_TYPE_SCALAR);
}

/// In a byte for each number where that loses nothing.
int GltfBuilder::add_colors(const std::vector<Vec4f>& colors) {
    std::vector<std::uint8_t> bytes;
    bytes.reserve(4 * colors.size());
    for (const Vec4f& color : colors)
        for (const float part : color) {
            const auto byte = static_cast<std::uint8_t>(std::lround(255 * std::clamp(part, 0.f, 1.f)));
            if (static_cast<float>(byte) / 255.f != part)
                return add_accessor(
                    add_view(colors.data(), colors.size() * sizeof(Vec4f), TINYGLTF_TARGET_ARRAY_BUFFER),
                    TINYGLTF_COMPONENT_TYPE_FLOAT, colors.size(), TINYGLTF_TYPE_VEC4);
            bytes.push_back(byte);
        }
    const int accessor =
        add_accessor(add_view(bytes.data(), bytes.size(), TINYGLTF_TARGET_ARRAY_BUFFER),
                     TINYGLTF_COMPONENT_TYPE_UNSIGNED_BYTE, colors.size(), TINYGLTF_TYPE_VEC4);
    model_.accessors.back().normalized = true;
    return accessor;
}

namespace {

std::vector<Vec4f> tangents_for_gltf(const std::vector<Vec4f>& tangents) {
    std::vector<Vec4f> out;
    out.reserve(tangents.size());
    for (const Vec4f& t : tangents) out.push_back(with_direction(t, gltf_from_core(Vec3f(t.head<3>()))));
    return out;
}

}  // namespace

int GltfBuilder::add_mesh(const Mesh& mesh, const std::string& name) {
    const int positions = add_attribute(mesh.positions, true);
    const int normals = mesh.normals.empty() ? -1 : add_attribute(mesh.normals, false);
    const auto add = [&](const auto& values, int type) {
        if (values.empty()) return -1;
        return add_accessor(
            add_view(values.data(), values.size() * sizeof(values[0]), TINYGLTF_TARGET_ARRAY_BUFFER),
            TINYGLTF_COMPONENT_TYPE_FLOAT, values.size(), type);
    };
    // Sets of texture coordinates are numbered without gaps.
    const int second = add(mesh.second_uvs, TINYGLTF_TYPE_VEC2),
              uvs =
                  add(mesh.uvs.empty() && second >= 0 ? std::vector<Vec2f>(mesh.positions.size(), Vec2f(0, 0))
                                                      : mesh.uvs,
                      TINYGLTF_TYPE_VEC2),
              tangents = normals < 0 ? -1 : add(tangents_for_gltf(mesh.tangents), TINYGLTF_TYPE_VEC4);
    const int colors = mesh.colors.empty() ? -1 : add_colors(mesh.colors);
    std::vector<Submesh> runs = mesh.submeshes;
    if (runs.empty()) runs.push_back({MaterialId{}, 0, static_cast<std::uint32_t>(mesh.indices.size()), {}});
    tinygltf::Mesh out;
    out.name = name;
    for (const Submesh& run : runs) {
        if (run.index_count == 0) continue;
        tinygltf::Primitive primitive;
        primitive.attributes["POSITION"] = positions;
        if (normals >= 0) primitive.attributes["NORMAL"] = normals;
        if (tangents >= 0) primitive.attributes["TANGENT"] = tangents;
        if (uvs >= 0) primitive.attributes["TEXCOORD_0"] = uvs;
        if (second >= 0) primitive.attributes["TEXCOORD_1"] = second;
        if (colors >= 0) primitive.attributes["COLOR_0"] = colors;
        primitive.indices = add_indices(std::span(mesh.indices).subspan(run.first_index, run.index_count),
                                        mesh.positions.size());
        primitive.material = material(run.material);
        primitive.mode = TINYGLTF_MODE_TRIANGLES;
        out.primitives.push_back(primitive);
    }
    model_.meshes.push_back(out);
    return static_cast<int>(model_.meshes.size()) - 1;
}

void GltfBuilder::bind(int mesh, const std::vector<float>& share) {
    std::vector<std::uint8_t> joints;
    std::vector<float> weights;
    for (const float second : share) {
        // A bone of no weight is named as the first one.
        joints.insert(joints.end(), {0, static_cast<std::uint8_t>(second > 0 ? 1 : 0), 0, 0});
        weights.insert(weights.end(), {1 - second, second, 0, 0});
    }
    const int bones = add_accessor(add_view(joints.data(), joints.size(), TINYGLTF_TARGET_ARRAY_BUFFER),
                                   TINYGLTF_COMPONENT_TYPE_UNSIGNED_BYTE, share.size(), TINYGLTF_TYPE_VEC4),
              by = add_accessor(
                  add_view(weights.data(), weights.size() * sizeof(float), TINYGLTF_TARGET_ARRAY_BUFFER),
                  TINYGLTF_COMPONENT_TYPE_FLOAT, share.size(), TINYGLTF_TYPE_VEC4);
    for (tinygltf::Primitive& primitive : model_.meshes[static_cast<std::size_t>(mesh)].primitives) {
        primitive.attributes["JOINTS_0"] = bones;
        primitive.attributes["WEIGHTS_0"] = by;
    }
}

int GltfBuilder::add_node(const std::string& name, const Frame& frame, int mesh) {
    tinygltf::Node node;
    node.name = name;
    node.mesh = mesh;
    const Vec3 t = gltf_from_core(frame.translation);
    const Quat r = gltf_from_core(frame.rotation);
    // A node without anything is written as null, which nobody reads.
    if (!t.isZero(0) || name.empty()) node.translation = {t.x(), t.y(), t.z()};
    if (r.w() != 1 || !r.vec().isZero(0)) node.rotation = {r.x(), r.y(), r.z(), r.w()};
    if (frame.size != 1) node.scale = {frame.size, frame.size, frame.size};
    model_.nodes.push_back(node);
    return static_cast<int>(model_.nodes.size()) - 1;
}

void GltfBuilder::add_child(int parent, int child) {
    model_.nodes[static_cast<std::size_t>(parent)].children.push_back(child);
}

void GltfBuilder::add_root(int node) {
    model_.scenes[0].nodes.push_back(node);
}

int GltfBuilder::add_times(const std::vector<float>& seconds) {
    const int accessor = add_values(seconds, 1);
    model_.accessors.back().minValues = {seconds.front()};
    model_.accessors.back().maxValues = {seconds.back()};
    return accessor;
}

int GltfBuilder::add_values(const std::vector<float>& values, int components) {
    const int type = components == 1   ? TINYGLTF_TYPE_SCALAR
                     : components == 3 ? TINYGLTF_TYPE_VEC3
                                       : TINYGLTF_TYPE_VEC4;
    const int view = add_view(values.data(), values.size() * sizeof(float), 0);
    return add_accessor(view, TINYGLTF_COMPONENT_TYPE_FLOAT,
                        values.size() / static_cast<std::size_t>(components), type);
}

int GltfBuilder::image_view(ImageId id) {
    const Image* image = document_.images.find(id);
    if (!image || image->missing()) return -1;
    const auto [known, added] = image_views_.try_emplace(id, -1);
    if (added) known->second = add_view(image->bytes->data(), image->bytes->size(), 0);
    return known->second;
}

void GltfBuilder::add_material_ids(nlohmann::json& list) const {
    list = nlohmann::json::array();
    for (std::size_t i = 0; i < materials_.size(); ++i) list.push_back(0);
    for (const auto& [id, index] : materials_) list[static_cast<std::size_t>(index)] = id.value;
}

Result<std::string> GltfBuilder::finish() {
    if (model_.buffers[0].data.empty()) model_.buffers.clear();
    if (model_.scenes[0].nodes.empty()) {
        // A scene without nodes is written by leaving the scene out.
        model_.scenes.clear();
        model_.defaultScene = -1;
    }
    model_.extensionsUsed.assign(extensions_.begin(), extensions_.end());
    tinygltf::TinyGLTF writer;
    std::ostringstream stream;
    if (!writer.WriteGltfSceneToStream(&model_, stream, false, true))
        return Error{"gltf.write", "the glTF file could not be put together", ""};
    return std::move(stream).str();
}

}  // namespace pivrak
