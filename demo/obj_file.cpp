#include "demo/obj_file.h"

#include <fmt/format.h>

#include <array>
#include <cmath>
#include <unordered_map>

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
            text +=
                fmt::format("v {} {} {}\n", in_microns(out.x()), in_microns(out.y()), in_microns(out.z()));
        }
        std::vector<std::size_t> number;
        for (const Vec3f& n : shaded.normals) number.push_back(normal(gltf_from_core(n)));
        std::vector<Face> faces;
        for (std::size_t t = 0; t < solid.triangles().size(); ++t) {
            Face face;
            for (std::size_t k = 0; k < 3; ++k)
                face.push_back({solid.triangles()[t][k], number[shaded.indices[3 * t + k]]});
            if (!faces.empty() && make_quad(faces.back(), face, solid)) continue;
            faces.push_back(face);
        }
        for (const Face& face : faces) {
            text += 'f';
            for (const Corner& corner : face)
                text += fmt::format(" {}//{}", vertices_ + corner.vertex + 1, corner.normal);
            text += '\n';
        }
        vertices_ += solid.vertices().size();
    }

    std::string text;

private:
    struct Corner {
        std::size_t vertex, normal;
        bool operator==(const Corner&) const = default;
    };
    using Face = std::vector<Corner>;

    /// A number with three digits behind the point, without those that say nothing.
    static std::string in_microns(double value) {
        return fmt::format("{}", std::round(value * 1e3) / 1e3 + 0.0);
    }

    /// Two triangles of a flat, bulging quad are written as one face, as most programs do.
    static bool make_quad(Face& face, const Face& next, const Solid& solid) {
        if (face.size() != 3 || !(next[0] == face[0]) || !(next[1] == face[2])) return false;
        const auto at = [&](const Corner& corner) { return solid.vertices()[corner.vertex]; };
        const std::array<Vec3, 4> corner{at(face[0]), at(face[1]), at(face[2]), at(next[2])};
        std::array<Vec3, 4> turn;
        for (std::size_t k = 0; k < 4; ++k)
            turn[k] = (corner[(k + 1) % 4] - corner[k]).cross(corner[(k + 2) % 4] - corner[(k + 1) % 4]);
        for (const Vec3& one : turn)
            if (one.normalized().dot(turn[0].normalized()) < 1 - 1e-9) return false;
        face.push_back(next[2]);
        return true;
    }

    /// Equal directions are written once.
    std::size_t normal(const Vec3f& n) {
        const std::string line = fmt::format("vn {:.4f} {:.4f} {:.4f}\n", n.x(), n.y(), n.z());
        const auto [known, added] = normals_.try_emplace(line, normals_.size() + 1);
        if (added) text += line;
        return known->second;
    }

    std::size_t vertices_ = 0;
    std::unordered_map<std::string, std::size_t> normals_;
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
