#include "core/io/project/project_file.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/base/guarded.h"
#include "core/io/atomic_file.h"
#include "core/io/gltf/gltf_read.h"
#include "core/io/gltf/gltf_values.h"
#include "core/io/gltf/gltf_write.h"
#include "core/io/output_path.h"
#include "core/io/project/project_json.h"
#include "core/model/element_channels.h"
#include "core/model/rig_parts.h"

namespace pivrak {
namespace {

using nlohmann::json;

/// Names of the groups of the runs that are written; empty when none has one.
std::vector<std::string> group_names(const Mesh& mesh) {
    std::vector<std::string> names;
    for (const Submesh& run : mesh.submeshes)
        if (run.index_count > 0) names.push_back(run.group);
    const bool any = std::any_of(names.begin(), names.end(), [](const std::string& n) { return !n.empty(); });
    return any ? names : std::vector<std::string>{};
}

/// A shape's own node below its part's node, unless both frames are the same.
void add_part_nodes(const Document& document, GltfBuilder& builder,
                    const std::unordered_map<ShapeId, int>& mesh_of, GltfIndices& indices) {
    std::unordered_map<PartId, int> node_of;
    for (const Part& part : document.parts) {
        const auto found = mesh_of.find(part.shape);
        const int mesh = found == mesh_of.end() ? -1 : found->second;
        const bool direct = part.part_from_shape == Frame{};
        const int node = builder.add_node(part.name, part.parent_from_rest, direct ? mesh : -1);
        int shape_node = -1;
        if (part.shape && !direct) {
            shape_node = builder.add_node(part.name + " shape", part.part_from_shape, mesh);
            builder.add_child(node, shape_node);
        }
        node_of[part.id] = node;
        indices.nodes.push_back(node);
        indices.shape_nodes.push_back(shape_node);
    }
    for (const Part& part : document.parts) {
        if (part.parent)
            builder.add_child(node_of.at(part.parent), node_of.at(part.id));
        else
            builder.add_root(node_of.at(part.id));
    }
}

}  // namespace

bool is_project_path(const std::filesystem::path& path) {
    return path.filename().string().ends_with(".pivrak.glb");
}

Result<std::string> project_bytes(const Document& document) {
    GltfBuilder builder(document);
    GltfIndices indices;
    std::unordered_map<ShapeId, int> mesh_of;
    for (const Shape& shape : document.shapes) {
        const int mesh = shape.mesh->indices.empty() ? -1 : builder.add_mesh(*shape.mesh, shape.name);
        indices.meshes.push_back(mesh);
        mesh_of[shape.id] = mesh;
        indices.groups.push_back(group_names(*shape.mesh));
    }
    for (const Image& image : document.images) indices.images.push_back(builder.image_view(image.id));
    add_part_nodes(document, builder, mesh_of, indices);
    json rig = project_to_json(document, indices);
    builder.add_material_ids(rig["material_of_gltf"]);
    builder.model().extras = to_value(json{{"pivrak", rig}});
    return builder.finish();
}

Result<void> check_project_path(const Document& document, const std::filesystem::path& path) {
    if (!is_project_path(path))
        return Error{"project.name",
                     fmt::format("'{}' should end in .pivrak.glb, so that it is known as a project",
                                 path.filename().string()),
                     path.string()};
    return check_output_path(document, path);
}

Result<void> save_project(const Document& document, const std::filesystem::path& path) {
    PIVRAK_CHECK(check_project_path(document, path));
    PIVRAK_TRY(bytes, project_bytes(document));
    return write_file_atomically(path, bytes);
}

namespace {

Error damaged(const std::string& what) {
    return {"project.damaged", "the project is damaged: " + what, ""};
}

Result<void> fill_shapes(const tinygltf::Model& model, const GltfIndices& indices, Document& document) {
    std::size_t i = 0;
    const SharedTable<Shape> shapes = document.shapes;
    for (const Shape& shape : shapes) {
        const int index = indices.meshes[i];
        const std::vector<std::string>& groups = indices.groups[i++];
        Mesh mesh;
        if (index >= 0) {
            PIVRAK_TRY(read, read_mesh(model, index));
            mesh = std::move(read);
        }
        for (Submesh& run : mesh.submeshes) {
            const std::uint64_t number = run.material.value;
            if (number > indices.material_of.size()) return damaged("a mesh has an unknown material");
            run.material = number == 0 ? MaterialId{} : indices.material_of[number - 1];
            if (run.material && !document.materials.contains(run.material))
                return damaged("a mesh has an unknown material");
        }
        for (std::size_t g = 0; g < std::min(groups.size(), mesh.submeshes.size()); ++g)
            mesh.submeshes[g].group = groups[g];
        Shape filled = make_shape(shape.id, shape.name, std::move(mesh));
        filled.made_of = shape.made_of;
        document.shapes.set(std::move(filled));
    }
    return {};
}

Result<void> fill_images(const tinygltf::Model& model, const GltfIndices& indices, Document& document) {
    std::size_t i = 0;
    const SharedTable<Image> images = document.images;
    for (const Image& image : images) {
        const int index = indices.images[i++];
        Image filled = image;
        if (index >= 0) {
            if (static_cast<std::size_t>(index) >= model.bufferViews.size())
                return damaged("a picture is missing");
            const auto& view = model.bufferViews[static_cast<std::size_t>(index)];
            const auto& buffer = model.buffers.at(0).data;
            if (view.byteOffset > buffer.size() || view.byteLength > buffer.size() - view.byteOffset)
                return damaged("a picture lies outside the file");
            const auto first = buffer.begin() + static_cast<std::ptrdiff_t>(view.byteOffset);
            filled.bytes = std::make_shared<const std::vector<unsigned char>>(
                first, first + static_cast<std::ptrdiff_t>(view.byteLength));
        }
        document.images.set(filled);
    }
    return {};
}

/// Parent of every node, or -1. Errors when a node has two parents or a child does not exist.
Result<std::vector<int>> node_parents(const tinygltf::Model& model) {
    std::vector<int> parents(model.nodes.size(), -1);
    for (std::size_t n = 0; n < model.nodes.size(); ++n)
        for (const int child : model.nodes[n].children) {
            if (child < 0 || static_cast<std::size_t>(child) >= parents.size() ||
                parents[static_cast<std::size_t>(child)] >= 0)
                return damaged("its tree of nodes is not a tree");
            parents[static_cast<std::size_t>(child)] = static_cast<int>(n);
        }
    return parents;
}

Result<void> fill_parts(const tinygltf::Model& model, const GltfIndices& indices, Document& document) {
    PIVRAK_TRY(parent_of, node_parents(model));
    std::unordered_map<int, PartId> part_of_node;
    std::size_t i = 0;
    for (const Part& part : document.parts)
        if (!part_of_node.try_emplace(indices.nodes[i++], part.id).second)
            return damaged(fmt::format("node {} belongs to two parts", indices.nodes[i - 1]));
    i = 0;
    const SharedTable<Part> parts = document.parts;
    for (const Part& part : parts) {
        Part filled = part;
        const int node = indices.nodes[i], shape_node = indices.shape_nodes[i];
        ++i;
        PIVRAK_TRY(frame, read_rigid_frame(model, node));
        filled.parent_from_rest = frame;
        filled.name = model.nodes[static_cast<std::size_t>(node)].name;
        if (shape_node >= 0) {
            PIVRAK_TRY(shape_frame, read_rigid_frame(model, shape_node));
            filled.part_from_shape = shape_frame;
        }
        if (filled.shape && !document.shapes.contains(filled.shape))
            return damaged("'" + filled.name + "' has a shape that does not exist");
        const auto parent = part_of_node.find(parent_of[static_cast<std::size_t>(node)]);
        if (parent != part_of_node.end()) filled.parent = parent->second;
        document.parts.set(std::move(filled));
    }
    // A circle of nodes hangs from no root; the pass over the tree would miss it.
    if (Tree(document).all().size() != document.parts.size())
        return damaged("its tree of nodes runs in a circle");
    return {};
}

Result<void> check_references(const Document& document) {
    for (const PartSet& set : document.sets)
        for (const PartId part : set.parts)
            if (!document.parts.contains(part))
                return damaged("set '" + set.name + "' names a part that does not exist");
    for (const PartId part : parts_of_rig(document))
        if (!document.parts.contains(part)) return damaged("the rig names a part that does not exist");
    for (const Part& part : document.parts)
        if (part.chain && !document.chains.contains(part.chain))
            return damaged("'" + part.name + "' is the datum of a chain that does not exist");
    for (const Material& material : document.materials) {
        bool all = true;
        each_picture(material, [&](const std::string&, const PictureUse& use) {
            all &= !use || document.images.contains(use.image);
        });
        if (!all) return damaged("material '" + material.name + "' has a picture that does not exist");
    }
    for (const Print& print : document.prints)
        if (print.material && !document.materials.contains(print.material))
            return damaged("print '" + print.name + "' has a material that does not exist");
    for (const Part& part : document.parts)
        if (part.ride && !document.paths.contains(part.ride->path))
            return damaged("'" + part.name + "' rides a path that does not exist");
    if (names_missing_owner(document))
        return damaged("the rig takes a channel of an element that does not exist");
    for (const Clip& clip : document.clips)
        for (const Track& track : clip.tracks)
            if (is_of_part(track.channel.kind) ? !document.parts.contains(track.channel.part())
                                               : !has_owner(document, track.channel.owner))
                return damaged("clip '" + clip.name + "' has keys of a part or element that does not exist");
    for (const Clip& clip : document.clips)
        for (const ClipLayer& layer : clip.layers)
            if (!document.clips.contains(layer.clip))
                return damaged("clip '" + clip.name + "' has a layer that does not exist");
    if (const auto circle = layer_circle(document))
        return damaged("clip '" + *circle + "' is added to itself");
    return {};
}

Result<json> rig_json(const tinygltf::Model& model, const std::string& file) {
    const json extras = model.extras_json_string.empty()
                            ? json::object()
                            : json::parse(model.extras_json_string, nullptr, false);
    if (!extras.is_object() || !extras.contains("pivrak"))
        return Error{"project.no_rig",
                     fmt::format("'{}' is a glTF file, but no project: import it as a model instead", file),
                     file};
    return extras["pivrak"];
}

Result<Document> read_project(const std::string& bytes, const std::string& file) {
    PIVRAK_TRY(model, read_glb(bytes, file));
    PIVRAK_TRY(rig, rig_json(model, file));
    if (!rig.is_object()) return damaged("its rig data is no object");
    PIVRAK_TRY(contents, project_from_json(rig));
    PIVRAK_CHECK(fill_shapes(model, contents.indices, contents.document));
    PIVRAK_CHECK(fill_images(model, contents.indices, contents.document));
    PIVRAK_CHECK(fill_parts(model, contents.indices, contents.document));
    PIVRAK_CHECK(check_references(contents.document));
    return std::move(contents.document);
}

}  // namespace

Result<Document> project_from_bytes(const std::string& bytes, const std::string& file) {
    auto read = guarded(fmt::format("reading '{}'", file), [&] { return read_project(bytes, file); });
    if (read || read.error().message.find(file) != std::string::npos) return read;
    return Error{read.error().code, fmt::format("'{}': {}", file, read.error().message), file};
}

Result<Document> open_project(const std::filesystem::path& path) {
    PIVRAK_TRY(bytes, read_file(path));
    return project_from_bytes(bytes, path.filename().string());
}

}  // namespace pivrak
