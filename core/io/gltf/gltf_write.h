#pragma once

#include <tiny_gltf.h>

#include <array>
#include <map>
#include <set>
#include <string>
#include <unordered_map>
#include <vector>

#include "core/model/document.h"

namespace pivrak {

/// Fills a glTF model with buffers, meshes, materials and nodes in glTF's axes. One buffer holds everything.
/// Materials and images are written once, however many meshes use them.
class GltfBuilder {
public:
    explicit GltfBuilder(const Document& document);

    /// A mesh with one primitive for each submesh, all on the same vertices. Pre: the mesh has a triangle.
    int add_mesh(const Mesh& mesh, const std::string& name);
    /// Binds a mesh to two bones: the first moves each vertex by what the second's share leaves.
    /// Pre: as many shares as vertices, 0 to 1.
    void bind(int mesh, const std::vector<float>& share_of_second);
    int add_node(const std::string& name, const Frame& parent_from_node, int mesh = -1);
    void add_child(int parent, int child);
    void add_root(int node);
    /// Float accessors for animation: one number each, or `components` numbers each (3 or 4).
    int add_times(const std::vector<float>& seconds);
    int add_values(const std::vector<float>& values, int components);

    /// The buffer view that holds a picture's bytes, written once; -1 for a missing picture.
    int image_view(ImageId id);
    /// Appends the id of every material written, in glTF's order.
    void add_material_ids(nlohmann::json& list) const;

    tinygltf::Model& model() { return model_; }

    /// The finished GLB bytes.
    Result<std::string> finish();

private:
    int add_indices(std::span<const std::uint32_t> indices, std::size_t vertices);
    int add_colors(const std::vector<Vec4f>& colors);
    int add_view(const void* data, std::size_t bytes, int target);
    int add_accessor(int view, int component_type, std::size_t count, int type);
    int material(MaterialId id);
    int picture(ImageId id);
    int sampler(const PictureUse& use);
    int texture(const PictureUse& use);
    int add_attribute(const std::vector<Vec3f>& values, bool with_range);

    const Document& document_;
    tinygltf::Model model_;
    std::unordered_map<MaterialId, int> materials_;
    std::unordered_map<ImageId, int> pictures_, image_views_;
    std::map<std::array<int, 4>, int> samplers_;
    std::map<std::pair<int, int>, int> textures_;  ///< by picture and sampler
    std::set<std::string> extensions_;             ///< that the file uses
};

}  // namespace pivrak
