#include "app/session/element_picks.h"

#include <algorithm>
#include <set>

#include "core/operations/split/face_ranges.h"

namespace pivrak {

nlohmann::json PickedPlace::argument() const {
    nlohmann::json place{{"part", part.value}};
    switch (kind) {
        case Kind::Vertex:
            place["vertex"] = a;
            break;
        case Kind::EdgeMiddle:
            place["edge"] = {a, b};
            break;
        case Kind::FaceCentre:
            place["face"] = a;
            break;
        case Kind::RimCentre:
            place["rim"] = {a, b};
            break;
        case Kind::Pivot:
            break;
        case Kind::Grid:
            return {in_shape.x(), in_shape.y(), in_shape.z()};
    }
    return place;
}

std::optional<Vec3> place_in_world(const Document& document, const PickedPlace& place,
                                   const Frame& world_from_part) {
    if (place.kind == PickedPlace::Kind::Grid) return place.in_shape;
    const Part* part = document.parts.find(place.part);
    if (!part) return std::nullopt;
    if (place.kind == PickedPlace::Kind::Pivot) return world_from_part.translation;
    return (world_from_part * part->part_from_shape).point(place.in_shape);
}

std::size_t ElementPicks::face_count() const {
    std::size_t count = 0;
    for (const auto& [part, mask] : faces)
        count += static_cast<std::size_t>(std::count(mask.begin(), mask.end(), true));
    return count;
}

nlohmann::json ElementPicks::faces_argument() const {
    nlohmann::json list = nlohmann::json::array();
    for (const auto& [part, mask] : faces) {
        std::vector<std::uint32_t> numbers;
        for (std::uint32_t f = 0; f < mask.size(); ++f)
            if (mask[f]) numbers.push_back(f);
        if (!numbers.empty()) list.push_back({{"part", part.value}, {"faces", face_ranges(numbers)}});
    }
    return list;
}

namespace {

FaceMask grown_mask(const Mesh& mesh, const FaceMask& mask, Growth growth, double angle_rad) {
    switch (growth) {
        case Growth::Piece:
            return grow_to_pieces(mesh, mask);
        case Growth::Angle:
            return grow_within_angle(mesh, mesh_topology(mesh), mask, angle_rad);
        case Growth::Material:
            return grow_to_material(mesh, mask);
        case Growth::Ring:
            return grow_ring(mesh, mesh_topology(mesh), mask);
        case Growth::Shrink:
            return shrink_ring(mesh, mesh_topology(mesh), mask);
        case Growth::SameSize:
            return grow_same_size(mesh, mask);
        case Growth::Invert: {
            FaceMask inverted = mask;
            inverted.flip();
            return inverted;
        }
    }
    return mask;
}

}  // namespace

ElementPicks grown(const Document& document, const ElementPicks& picks, Growth growth, double angle_rad) {
    ElementPicks out = picks;
    for (auto& [part, mask] : out.faces)
        mask = grown_mask(*document.shapes.find(document.parts.find(part)->shape)->mesh, mask, growth,
                          angle_rad);
    std::erase_if(out.faces, [](const auto& entry) {
        return std::find(entry.second.begin(), entry.second.end(), true) == entry.second.end();
    });
    return out;
}

namespace {

/// Parts whose shapes measure the same as one of those given, to a hundredth.
std::vector<PartId> parts_of_same_size(const Document& document, const std::vector<PartId>& parts) {
    const auto sizes = [&](PartId id) -> std::optional<Vec3> {
        const Shape* shape = document.shapes.find(document.parts.find(id)->shape);
        if (!shape) return std::nullopt;
        Vec3 size = shape->bounds.size();
        std::sort(size.data(), size.data() + 3);
        return size;
    };
    std::vector<Vec3> wanted;
    for (const PartId part : parts)
        if (const auto size = sizes(part)) wanted.push_back(*size);
    std::vector<PartId> same;
    for (const Part& part : document.parts) {
        const auto size = sizes(part.id);
        if (size && std::any_of(wanted.begin(), wanted.end(), [&](const Vec3& w) {
                return ((*size - w).cwiseAbs().array() <= 0.01 * w.array() + 1e-9).all();
            }))
            same.push_back(part.id);
    }
    return same;
}

std::set<MaterialId> materials_of(const Document& document, const Part& part) {
    std::set<MaterialId> set;
    if (const auto* shape = document.shapes.find(part.shape))
        for (const Submesh& run : shape->mesh->submeshes) set.insert(run.material);
    return set;
}

std::vector<PartId> parts_of_same_material(const Document& document, const std::vector<PartId>& parts) {
    std::set<MaterialId> wanted;
    for (const PartId id : parts) wanted.merge(materials_of(document, *document.parts.find(id)));
    std::vector<PartId> same;
    for (const Part& part : document.parts)
        for (const MaterialId material : materials_of(document, part))
            if (wanted.contains(material)) {
                same.push_back(part.id);
                break;
            }
    return same;
}

}  // namespace

std::vector<PartId> grown_parts(const Document& document, const std::vector<PartId>& parts, Growth growth) {
    if (growth == Growth::SameSize) return parts_of_same_size(document, parts);
    if (growth == Growth::Material) return parts_of_same_material(document, parts);
    std::vector<PartId> others;
    for (const Part& part : document.parts)
        if (part.shape && std::find(parts.begin(), parts.end(), part.id) == parts.end())
            others.push_back(part.id);
    return others;
}

Vec3 picked_place(const Document& document, const PickedPoint& point, const Frame& world_from_part) {
    const Part& part = *document.parts.find(point.part);
    const Mesh& mesh = *document.shapes.find(part.shape)->mesh;
    return (world_from_part * part.part_from_shape).point(mesh.positions[point.vertex].cast<double>());
}

std::optional<Plane> picked_face_plane(const Document& document, const ElementPicks& picks) {
    if (picks.faces.empty()) return std::nullopt;
    const auto& [id, mask] = *picks.faces.begin();
    const Part& part = *document.parts.find(id);
    const Mesh& mesh = *document.shapes.find(part.shape)->mesh;
    const auto face = static_cast<std::size_t>(std::find(mask.begin(), mask.end(), true) - mask.begin());
    if (face >= mesh.triangle_count()) return std::nullopt;
    const Frame world = world_from_rest(document, id) * part.part_from_shape;
    const Vec3 normal = world.direction(
        (mesh.corner(face, 1) - mesh.corner(face, 0)).cross(mesh.corner(face, 2) - mesh.corner(face, 0)));
    if (!(normal.norm() > 0)) return std::nullopt;
    return Plane{world.point(mesh.corner(face, 0)), normal.normalized()};
}

}  // namespace pivrak
