#pragma once

#include <array>
#include <map>
#include <string>

#include "core/geometry/teeth/gear_shapes.h"
#include "core/io/gltf/gltf_write.h"

namespace pivrak::demo {

/// A glTF scene as some other program might have written it: nested nodes, scales, mirrors. Solids are given
/// in the unit of the file times a factor; axes are ours until they are written.
class GlbScene {
public:
    /// `per_mm`: units of the file for one millimetre of the solids.
    explicit GlbScene(double per_mm) : per_mm_(per_mm), builder_(document_) {}

    void add_material(const std::string& name, const std::array<double, 3>& screen_color, double metallic = 0,
                      double roughness = 0.6);
    /// A picture for a material, PNG bytes.
    void add_picture(const std::string& material, std::vector<unsigned char> png);

    /// A node without a shape. Its frame is in millimetres against its parent; -1 for none.
    int group(const std::string& name, int parent, const Frame& frame = {});
    /// A node with a shape of one material, or of several.
    int part(const std::string& name, int parent, const Solid& solid, const std::string& material,
             const Frame& frame = {});
    int part(const std::string& name, int parent, const std::vector<std::pair<Solid, std::string>>& solids,
             const Frame& frame = {});
    int part(const std::string& name, int parent, Mesh mesh, const Frame& frame = {});
    /// Another node that shows the same mesh.
    int again(const std::string& name, int parent, int as, const Frame& frame = {});
    /// Stretches a node along our axes; below zero mirrors.
    void scale(int node, const Vec3& by);

    MaterialId material(const std::string& name) const { return materials_.at(name); }
    Result<std::string> bytes();

private:
    int attach(int node, int parent);
    double per_mm_;
    Document document_;
    std::map<std::string, MaterialId> materials_;
    GltfBuilder builder_;
};

/// A frame by its place [mm] and a turn about one axis.
Frame placed(const Vec3& at, int axis = 2, double angle_rad = 0);

}  // namespace pivrak::demo
