#include "core/io/gltf/gltf_read.h"

#include <fmt/format.h>

#include <cmath>
#include <cstring>

#include "core/io/gltf/glb_container.h"
#include "core/io/gltf/gltf_axes.h"

namespace pivrak {

Result<tinygltf::Model> read_glb(const std::string& bytes, const std::string& file) {
    PIVRAK_CHECK(check_glb_container(bytes, file));
    tinygltf::TinyGLTF reader;
    // Pictures are carried as they are; decoding them is the window's business.
    reader.SetImageLoader([](tinygltf::Image*, const int, std::string*, std::string*, int, int,
                             const unsigned char*, int, void*) { return true; },
                          nullptr);
    reader.SetStoreOriginalJSONForExtrasAndExtensions(true);
    tinygltf::Model model;
    std::string error, warning;
    bool read = false;
    try {
        read = reader.LoadBinaryFromMemory(&model, &error, &warning,
                                           reinterpret_cast<const unsigned char*>(bytes.data()),
                                           static_cast<unsigned int>(bytes.size()));
    } catch (const std::exception& problem) {
        error = problem.what();
    }
    if (!read) {
        while (!error.empty() && error.back() == '\n') error.pop_back();
        return Error{"gltf.read", fmt::format("'{}' cannot be read as glTF: {}", file, error), file};
    }
    return model;
}

namespace {

struct Bytes {
    const unsigned char* first;
    std::size_t stride, count;
};

Error accessor_problem(int accessor, const char* what) {
    return {"gltf.accessor", fmt::format("accessor {} {}", accessor, what),
            fmt::format("accessor {}", accessor)};
}

template <class T>
const T* entry(const std::vector<T>& list, int index) {
    return index >= 0 && static_cast<std::size_t>(index) < list.size()
               ? &list[static_cast<std::size_t>(index)]
               : nullptr;
}

Result<Bytes> locate(const tinygltf::Model& model, int index, std::size_t element_bytes) {
    const auto* accessor = entry(model.accessors, index);
    if (!accessor) return accessor_problem(index, "does not exist");
    const auto* view = entry(model.bufferViews, accessor->bufferView);
    if (!view || accessor->sparse.isSparse) return accessor_problem(index, "has no plain buffer view");
    const auto* buffer = entry(model.buffers, view->buffer);
    if (!buffer) return accessor_problem(index, "points to a missing buffer");
    const std::size_t stride = view->byteStride ? view->byteStride : element_bytes;
    const std::size_t size = buffer->data.size();
    if (view->byteOffset > size || view->byteLength > size - view->byteOffset)
        return accessor_problem(index, "lies outside its buffer");
    const std::size_t room = view->byteLength;
    if (accessor->count > 0 &&
        (accessor->byteOffset > room || element_bytes > room - accessor->byteOffset ||
         (accessor->count - 1) > (room - accessor->byteOffset - element_bytes) / stride))
        return accessor_problem(index, "lies outside its buffer view");
    return Bytes{buffer->data.data() + view->byteOffset + accessor->byteOffset, stride, accessor->count};
}

template <class T>
std::vector<std::uint32_t> widened(const Bytes& bytes) {
    std::vector<std::uint32_t> out(bytes.count);
    for (std::size_t i = 0; i < bytes.count; ++i) {
        T value;
        std::memcpy(&value, bytes.first + i * bytes.stride, sizeof(T));
        out[i] = value;
    }
    return out;
}

}  // namespace

Result<std::vector<float>> read_floats(const tinygltf::Model& model, int index, int components) {
    const std::size_t element = static_cast<std::size_t>(components) * sizeof(float);
    PIVRAK_TRY(bytes, locate(model, index, element));
    const auto& accessor = model.accessors[static_cast<std::size_t>(index)];
    if (accessor.componentType != TINYGLTF_COMPONENT_TYPE_FLOAT ||
        tinygltf::GetNumComponentsInType(static_cast<std::uint32_t>(accessor.type)) != components)
        return accessor_problem(index, "does not hold the floats expected");
    std::vector<float> out(bytes.count * static_cast<std::size_t>(components));
    for (std::size_t i = 0; i < bytes.count; ++i)
        std::memcpy(out.data() + i * static_cast<std::size_t>(components), bytes.first + i * bytes.stride,
                    element);
    for (const float value : out)
        if (!std::isfinite(value)) return accessor_problem(index, "holds a number that is not finite");
    return out;
}

Result<std::vector<std::uint32_t>> read_indices(const tinygltf::Model& model, int index) {
    const auto* accessor = entry(model.accessors, index);
    if (!accessor) return accessor_problem(index, "does not exist");
    const int width = tinygltf::GetComponentSizeInBytes(static_cast<std::uint32_t>(accessor->componentType));
    if (width <= 0 || accessor->type != TINYGLTF_TYPE_SCALAR)
        return accessor_problem(index, "does not hold indices");
    PIVRAK_TRY(bytes, locate(model, index, static_cast<std::size_t>(width)));
    switch (accessor->componentType) {
        case TINYGLTF_COMPONENT_TYPE_UNSIGNED_BYTE:
            return widened<std::uint8_t>(bytes);
        case TINYGLTF_COMPONENT_TYPE_UNSIGNED_SHORT:
            return widened<std::uint16_t>(bytes);
        case TINYGLTF_COMPONENT_TYPE_UNSIGNED_INT:
            return widened<std::uint32_t>(bytes);
        default:
            return accessor_problem(index, "does not hold indices");
    }
}

namespace {

template <class V>
std::vector<V> as_vectors(const std::vector<float>& numbers) {
    std::vector<V> out(numbers.size() / static_cast<std::size_t>(V::RowsAtCompileTime));
    for (std::size_t i = 0; i < out.size(); ++i)
        for (int k = 0; k < V::RowsAtCompileTime; ++k)
            out[i][k] =
                numbers[i * static_cast<std::size_t>(V::RowsAtCompileTime) + static_cast<std::size_t>(k)];
    return out;
}

/// Red, green, blue and alpha from 0 to 1, in floats or in bytes.
Result<std::vector<float>> read_colors(const tinygltf::Model& model, int index) {
    const auto* accessor = entry(model.accessors, index);
    if (!accessor || accessor->componentType != TINYGLTF_COMPONENT_TYPE_UNSIGNED_BYTE)
        return read_floats(model, index, 4);
    if (!accessor->normalized || accessor->type != TINYGLTF_TYPE_VEC4)
        return accessor_problem(index, "does not hold colours");
    PIVRAK_TRY(bytes, locate(model, index, 4));
    std::vector<float> out;
    out.reserve(4 * bytes.count);
    for (std::size_t i = 0; i < bytes.count; ++i)
        for (std::size_t k = 0; k < 4; ++k)
            out.push_back(static_cast<float>(bytes.first[i * bytes.stride + k]) / 255.f);
    return out;
}

Error mesh_problem(const std::string& name, const std::string& what) {
    return {"gltf.mesh", fmt::format("mesh '{}' {}", name, what), name};
}

/// The vertex arrays of one primitive, appended to the mesh.
Result<void> append_vertices(const tinygltf::Model& model, const tinygltf::Primitive& primitive,
                             const std::string& name, Mesh& mesh) {
    const auto attribute = [&](const char* key) {
        const auto found = primitive.attributes.find(key);
        return found == primitive.attributes.end() ? -1 : found->second;
    };
    PIVRAK_TRY(positions, read_floats(model, attribute("POSITION"), 3));
    const std::size_t before = mesh.positions.size();
    for (const Vec3f& p : as_vectors<Vec3f>(positions)) mesh.positions.push_back(core_from_gltf(p));
    if (const int normals_at = attribute("NORMAL"); normals_at >= 0) {
        PIVRAK_TRY(normals, read_floats(model, normals_at, 3));
        mesh.normals.resize(before, Vec3f(0, 0, 1));
        for (const Vec3f& n : as_vectors<Vec3f>(normals)) mesh.normals.push_back(core_from_gltf(n));
    }
    if (const int tangents_at = attribute("TANGENT"); tangents_at >= 0) {
        PIVRAK_TRY(tangents, read_floats(model, tangents_at, 4));
        mesh.tangents.resize(before, Vec4f(1, 0, 0, 1));
        for (const Vec4f& t : as_vectors<Vec4f>(tangents))
            mesh.tangents.push_back(with_direction(t, core_from_gltf(Vec3f(t.head<3>()))));
    }
    for (const auto& [key, set] : {std::pair("TEXCOORD_0", &Mesh::uvs), {"TEXCOORD_1", &Mesh::second_uvs}})
        if (const int uvs_at = attribute(key); uvs_at >= 0) {
            PIVRAK_TRY(uvs, read_floats(model, uvs_at, 2));
            (mesh.*set).resize(before, Vec2f(0, 0));
            for (const Vec2f& uv : as_vectors<Vec2f>(uvs)) (mesh.*set).push_back(uv);
        }
    if (const int colors_at = attribute("COLOR_0"); colors_at >= 0) {
        PIVRAK_TRY(colors, read_colors(model, colors_at));
        mesh.colors.resize(before, Vec4f(1, 1, 1, 1));
        for (const Vec4f& c : as_vectors<Vec4f>(colors)) mesh.colors.push_back(c);
    }
    if (!has_whole_attributes(mesh)) return mesh_problem(name, "has attributes of different lengths");
    return {};
}

}  // namespace

Result<Mesh> read_mesh(const tinygltf::Model& model, int index) {
    const auto* source = entry(model.meshes, index);
    if (!source) return mesh_problem(std::to_string(index), "does not exist");
    Mesh mesh;
    int vertices_of = -1;
    std::size_t first_vertex = 0;
    for (const tinygltf::Primitive& primitive : source->primitives) {
        if (primitive.mode != TINYGLTF_MODE_TRIANGLES && primitive.mode != -1)
            return mesh_problem(source->name, "has a primitive that is no triangle list");
        const auto position = primitive.attributes.find("POSITION");
        const int position_accessor = position == primitive.attributes.end() ? -1 : position->second;
        // Primitives of one mesh usually share their vertices; then they are read once.
        if (vertices_of < 0 || position_accessor != vertices_of) {
            first_vertex = mesh.positions.size();
            PIVRAK_CHECK(append_vertices(model, primitive, source->name, mesh));
            vertices_of = position_accessor;
        }
        PIVRAK_TRY(indices, read_indices(model, primitive.indices));
        if (indices.size() % 3 != 0) return mesh_problem(source->name, "has an unfinished triangle");
        mesh.submeshes.push_back({MaterialId{static_cast<std::uint64_t>(primitive.material + 1)},
                                  static_cast<std::uint32_t>(mesh.indices.size()),
                                  static_cast<std::uint32_t>(indices.size()),
                                  {}});
        for (const std::uint32_t i : indices) {
            if (first_vertex + i >= mesh.positions.size())
                return mesh_problem(source->name, fmt::format("has index {} beyond its {} vertices", i,
                                                              mesh.positions.size() - first_vertex));
            mesh.indices.push_back(static_cast<std::uint32_t>(first_vertex + i));
        }
    }
    return mesh;
}

Result<Frame> read_node_frame(const tinygltf::Model& model, int index) {
    const auto* node = entry(model.nodes, index);
    const auto problem = [&](const char* what) {
        return Error{"gltf.node", fmt::format("node {} {}", index, what), fmt::format("node {}", index)};
    };
    if (!node) return problem("does not exist");
    if (!node->matrix.empty()) return problem("has a matrix in place of a frame");
    Frame frame;
    if (node->scale.size() == 3) {
        frame.size = node->scale[0];
        if (!(frame.size > 0) || node->scale[1] != frame.size || node->scale[2] != frame.size)
            return problem("has a scale that is not the same along all axes");
    }
    if (node->translation.size() == 3)
        frame.translation =
            core_from_gltf(Vec3(node->translation[0], node->translation[1], node->translation[2]));
    if (node->rotation.size() == 4)
        frame.rotation =
            core_from_gltf(Quat(node->rotation[3], node->rotation[0], node->rotation[1], node->rotation[2]));
    if (!frame.translation.allFinite() || !(std::abs(frame.rotation.norm() - 1) < 1e-4))
        return problem("has a rotation that is not of unit length");
    return frame;
}

Result<Frame> read_rigid_frame(const tinygltf::Model& model, int node) {
    PIVRAK_TRY(frame, read_node_frame(model, node));
    if (frame.size == 1) return frame;
    return Error{"gltf.node", fmt::format("node {} is not a rigid frame", node),
                 fmt::format("node {}", node)};
}

}  // namespace pivrak
