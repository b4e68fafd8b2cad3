#include "demo/obj_file.h"

#include <fmt/format.h>

#include "core/geometry/mesh/creases.h"
#include "core/io/gltf/gltf_axes.h"

namespace pivrak::demo {
namespace {

Mesh to_mesh(const Solid& solid) {
    Mesh mesh;
    for (const Vec3& v : solid.vertices()) mesh.positions.push_back(v.cast<float>());
    for (const auto& t : solid.triangles()) mesh.indices.insert(mesh.indices.end(), t.begin(), t.end());
    return with_normals(mesh, 32 * rad_per_deg);
}

/// Running vertex and normal numbers of one OBJ text. A solid keeps its shared corners, so its file does too.
class ObjWriter {
public:
    void object(const std::string& name) { text += fmt::format("o {}\nusemtl {}\n", name, name); }

    void solid(const Solid& solid) {
        const Mesh shaded = to_mesh(solid);
        for (const Vec3& v : solid.vertices()) {
            const Vec3 out = gltf_from_core(v);
            text += fmt::format("v {:.3f} {:.3f} {:.3f}\n", out.x(), out.y(), out.z());
        }
        for (const Vec3f& n : shaded.normals) {
            const Vec3f out = gltf_from_core(n);
            text += fmt::format("vn {:.4f} {:.4f} {:.4f}\n", out.x(), out.y(), out.z());
        }
        for (std::size_t t = 0; t < solid.triangles().size(); ++t) {
            text += 'f';
            for (std::size_t k = 0; k < 3; ++k)
                text += fmt::format(" {}//{}", vertices_ + solid.triangles()[t][k] + 1,
                                    normals_ + shaded.indices[3 * t + k] + 1);
            text += '\n';
        }
        vertices_ += solid.vertices().size();
        normals_ += shaded.normals.size();
    }

    std::string text;

private:
    std::size_t vertices_ = 0, normals_ = 0;
};

}  // namespace

ObjTexts obj_texts(const std::vector<Component>& components, const std::string& mtl_name) {
    ObjWriter writer;
    writer.text = fmt::format(
        "# Drive station of Hollin Saddle, an invented ropeway. Millimetres.\nmtllib {}\n", mtl_name);
    for (const char* lump : {"steel", "paint", "cast"}) {
        writer.object(lump);
        for (const Component& c : components)
            if (c.lump == lump) writer.solid(c.solid);
    }
    const std::string mtl =
        "newmtl steel\nKd 0.74 0.78 0.80\nPm 0.8\nPr 0.35\n\n"
        "newmtl paint\nKd 0.42 0.62 0.64\nPm 0.0\nPr 0.55\n\n"
        "newmtl cast\nKd 0.56 0.57 0.56\nPm 0.2\nPr 0.7\n";
    return {std::move(writer.text), mtl};
}

}  // namespace pivrak::demo
