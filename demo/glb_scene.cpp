#include "demo/glb_scene.h"

#include <cmath>

#include "core/geometry/mesh/mesh_edit.h"

namespace pivrak::demo {

Frame placed(const Vec3& at, int axis, double angle_rad) {
    return {turn_about_axis(axis, angle_rad), at};
}

void GlbScene::add_material(const std::string& name, const std::array<double, 3>& screen, double metallic,
                            double roughness) {
    Material m;
    m.id = document_.new_id<MaterialId>();
    m.name = name;
    for (std::size_t k = 0; k < 3; ++k)
        m.base_color[k] =
            screen[k] <= 0.04045 ? screen[k] / 12.92 : std::pow((screen[k] + 0.055) / 1.055, 2.4);
    m.metallic = metallic;
    m.roughness = roughness;
    document_.materials.set(m);
    materials_[name] = m.id;
}

void GlbScene::add_picture(const std::string& material, std::vector<unsigned char> png) {
    Image image;
    image.id = document_.new_id<ImageId>();
    image.name = material;
    image.mime_type = "image/png";
    image.bytes = std::make_shared<const std::vector<unsigned char>>(std::move(png));
    document_.images.set(image);
    Material m = *document_.materials.find(materials_.at(material));
    m.base_color_picture.image = image.id;
    document_.materials.set(m);
}

int GlbScene::attach(int node, int parent) {
    if (parent < 0)
        builder_.add_root(node);
    else
        builder_.add_child(parent, node);
    return node;
}

int GlbScene::group(const std::string& name, int parent, const Frame& frame) {
    return attach(builder_.add_node(name, {frame.rotation, per_mm_ * frame.translation}), parent);
}

int GlbScene::part(const std::string& name, int parent, const Solid& solid, const std::string& material,
                   const Frame& frame) {
    return part(name, parent, {{solid, material}}, frame);
}

int GlbScene::part(const std::string& name, int parent,
                   const std::vector<std::pair<Solid, std::string>>& solids, const Frame& frame) {
    Mesh mesh;
    for (const auto& [solid, material] : solids)
        append_mesh(mesh, solid_mesh(solid, per_mm_, materials_.at(material)));
    return part(name, parent, std::move(mesh), frame);
}

int GlbScene::part(const std::string& name, int parent, Mesh mesh, const Frame& frame) {
    const int shape = builder_.add_mesh(mesh, name);
    return attach(builder_.add_node(name, {frame.rotation, per_mm_ * frame.translation}, shape), parent);
}

int GlbScene::again(const std::string& name, int parent, int as, const Frame& frame) {
    const int shape = builder_.model().nodes[static_cast<std::size_t>(as)].mesh;
    return attach(builder_.add_node(name, {frame.rotation, per_mm_ * frame.translation}, shape), parent);
}

void GlbScene::scale(int node, const Vec3& by) {
    // glTF's x, y, z are our y, z, x.
    builder_.model().nodes[static_cast<std::size_t>(node)].scale = {by.y(), by.z(), by.x()};
}

Result<std::string> GlbScene::bytes() {
    return builder_.finish();
}

}  // namespace pivrak::demo
