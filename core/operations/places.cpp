#include "core/operations/places.h"

#include <fmt/format.h>

#include "core/geometry/fits/primitive_fits.h"
#include "core/geometry/mesh/mesh_edit.h"
#include "core/geometry/mesh/regions.h"

namespace pivrak {
namespace {

using nlohmann::json;

constexpr double flat_rad = 0.5 * rad_per_deg;

Error syntax(const json& given) {
    return {"place.syntax",
            fmt::format("{} is no place; write [x, y, z], or an object with a 'part' and, if wanted, 'at', "
                        "'vertex', 'edge', 'face' or 'rim'",
                        given.dump().substr(0, 80)),
            "place"};
}

Result<Vec3> typed_place(const Document& document, const json& given) {
    if (given.size() != 3) return syntax(given);
    Vec3 place;
    for (std::size_t k = 0; k < 3; ++k) {
        if (given[k].is_string()) {
            PIVRAK_TRY(value, parse_quantity(given[k].get<std::string>(), Dimension::Length,
                                             document.settings.length_unit));
            place[static_cast<Eigen::Index>(k)] = value;
        } else if (given[k].is_number() && std::isfinite(given[k].get<double>())) {
            place[static_cast<Eigen::Index>(k)] = given[k].get<double>();
        } else {
            return syntax(given);
        }
    }
    return place;
}

/// Whole numbers below a bound.
Result<std::vector<std::uint32_t>> numbers(const json& given, std::size_t wanted, std::size_t bound) {
    const json list = given.is_array() ? given : json::array({given});
    std::vector<std::uint32_t> out;
    for (const json& one : list) {
        if (!one.is_number_integer() || one.get<std::int64_t>() < 0) return syntax(given);
        if (one.get<std::uint64_t>() >= bound)
            return Error{"place.range",
                         fmt::format("the shape has no number {}: it counts to {}", one.get<std::uint64_t>(),
                                     static_cast<std::int64_t>(bound) - 1),
                         "place"};
        out.push_back(one.get<std::uint32_t>());
    }
    if (out.size() != wanted) return syntax(given);
    return out;
}

/// Centroid of the flat area a triangle lies in.
Vec3 flat_centroid(const Mesh& mesh, std::uint32_t triangle) {
    FaceMask mask(mesh.triangle_count(), false);
    mask[triangle] = true;
    mask = grow_within_angle(mesh, mesh_topology(mesh), mask, flat_rad);
    double area = 0;
    Vec3 sum(0, 0, 0);
    for (std::size_t t = 0; t < mask.size(); ++t) {
        if (!mask[t]) continue;
        const double own = triangle_area(mesh, t);
        sum += own * (mesh.corner(t, 0) + mesh.corner(t, 1) + mesh.corner(t, 2)) / 3;
        area += own;
    }
    return area > 0 ? Vec3(sum / area) : mesh.corner(triangle, 0);
}

Result<PartId> part_of(const Document& document, const json& given) {
    if (given.is_string()) return find_part(document, given.get<std::string>());
    if (!given.is_number_integer() || given.get<std::int64_t>() < 0 ||
        !document.parts.contains(PartId{given.get<std::uint64_t>()}))
        return Error{"part.unknown", fmt::format("there is no part {}", given.dump()), "place"};
    return PartId{given.get<std::uint64_t>()};
}

}  // namespace

Result<Vec3> place_in_shape(const Mesh& mesh, const json& given) {
    const auto at = [&](std::uint32_t v) { return Vec3(mesh.positions[v].cast<double>()); };
    if (given.contains("vertex")) {
        PIVRAK_TRY(v, numbers(given["vertex"], 1, mesh.positions.size()));
        return at(v[0]);
    }
    if (given.contains("edge")) {
        PIVRAK_TRY(v, numbers(given["edge"], 2, mesh.positions.size()));
        return Vec3(0.5 * (at(v[0]) + at(v[1])));
    }
    if (given.contains("face")) {
        PIVRAK_TRY(t, numbers(given["face"], 1, mesh.triangle_count()));
        return flat_centroid(mesh, t[0]);
    }
    PIVRAK_TRY(v, numbers(given["rim"], 2, mesh.positions.size()));
    const auto circle = rim_circle(mesh, mesh_topology(mesh), v[0], v[1]);
    if (!circle) return Error{"place.no_rim", "no round hole or rim goes along that edge", "place"};
    return circle->centre;
}

Vec3 mesh_centroid(const Mesh& mesh) {
    if (mesh.positions.empty()) return {0, 0, 0};
    const Vec3 origin = mesh.positions.front().cast<double>();
    const double volume = enclosed_volume(mesh), area = surface_area(mesh);
    Vec3 by_volume(0, 0, 0), by_area(0, 0, 0);
    Vec3 flux(0, 0, 0);
    for (std::size_t t = 0; t < mesh.triangle_count(); ++t) {
        const Vec3 a = mesh.corner(t, 0) - origin, b = mesh.corner(t, 1) - origin,
                   c = mesh.corner(t, 2) - origin;
        by_volume += a.dot(b.cross(c)) / 6 * (a + b + c) / 4;
        by_area += triangle_area(mesh, t) * (a + b + c) / 3;
        flux += 0.5 * (b - a).cross(c - a);
    }
    // A closed surface looks into all directions alike.
    if (flux.norm() < 1e-4 * area && std::abs(volume) > 1e-4 * std::pow(area / 6, 1.5) / 6)
        return origin + by_volume / volume;
    return area > 0 ? Vec3(origin + by_area / area) : origin;
}

Result<Vec3> shape_place(const Document& document, PartId id, std::string_view at) {
    const Part& part = *document.parts.find(id);
    const Shape* shape = document.shapes.find(part.shape);
    if (!shape)
        return Error{"part.no_shape", fmt::format("'{}' has no shape to measure", part.name), part.name};
    const Frame world = world_from_rest(document, id);
    if (at == "base") {
        const Bounds bounds = mesh_bounds(*shape->mesh, world * part.part_from_shape);
        return Vec3(bounds.middle().x(), bounds.middle().y(), bounds.min.z());
    }
    if (at == "centroid") return (world * part.part_from_shape).point(mesh_centroid(*shape->mesh));
    return world.point(mesh_bounds(*shape->mesh, part.part_from_shape).middle());
}

Result<Vec3> place_from(const Document& document, const json& given) {
    if (given.is_array()) return typed_place(document, given);
    if (!given.is_object() || !given.contains("part")) return syntax(given);
    PIVRAK_TRY(id, part_of(document, given["part"]));
    if (given.size() == 1) return world_from_rest(document, id).translation;
    if (given.contains("at")) {
        const json& at = given["at"];
        if (at != "middle" && at != "base" && at != "centroid") return syntax(given);
        return shape_place(document, id, at.get<std::string>());
    }
    const bool known =
        given.contains("vertex") || given.contains("edge") || given.contains("face") || given.contains("rim");
    if (!known) return syntax(given);
    const Part& part = *document.parts.find(id);
    const Shape* shape = document.shapes.find(part.shape);
    if (!shape)
        return Error{"part.no_shape", fmt::format("'{}' has no shape to measure", part.name), part.name};
    const auto in_shape = place_in_shape(*shape->mesh, given);
    if (!in_shape)
        return Error{in_shape.error().code, fmt::format("'{}': {}", part.name, in_shape.error().message),
                     part.name};
    return (world_from_rest(document, id) * part.part_from_shape).point(*in_shape);
}

}  // namespace pivrak
