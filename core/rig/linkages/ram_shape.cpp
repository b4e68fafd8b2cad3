#include "core/rig/linkages/ram_shape.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace pivrak {
namespace {

/// How far a part reaches along a line, from a point on it.
struct AlongLine {
    double least = 1e300, most = -1e300;
};

AlongLine reach_along(const Document& document, PartId id, const Vec3& from, const Vec3& way) {
    AlongLine reach;
    const Part& part = *document.parts.find(id);
    const Shape* shape = document.shapes.find(part.shape);
    if (!shape) return reach;
    const Frame world = world_from_rest(document, id) * part.part_from_shape;
    for (const auto& position : shape->mesh->positions) {
        const double at = (world.point(position.cast<double>()) - from).dot(way);
        reach.least = std::min(reach.least, at);
        reach.most = std::max(reach.most, at);
    }
    return reach;
}

/// A line on which a ram lies, thick as its barrel.
struct RamLine {
    Vec3 from, way;
    double thick_m;
};

/// Of the round eyes of a part that lie across a line, the one that `score` likes best.
template <class Score>
std::optional<RamEye> best_eye(const Document& document, PartId id, const RamLine& line, Score score) {
    std::optional<RamEye> eye;
    double best = 0;
    for (const Barrel& barrel : barrels_of_part(document, id)) {
        if (std::abs(barrel.direction.dot(line.way)) > 0.1) continue;
        const Vec3 apart = barrel.middle - line.from;
        const Vec3 beside = barrel.direction.cross(line.way).normalized();
        const double along = apart.dot(line.way), its = score(along);
        if (std::abs(apart.dot(beside)) > 0.5 * line.thick_m || its <= 0 || (eye && its <= best)) continue;
        best = its;
        eye = RamEye{line.from + along * line.way, barrel.direction, barrel.radius_m};
    }
    return eye;
}

RamEye eye_at(const Document& document, PartId id, const RamEnd& end, const RamLine& line) {
    const double tip = reach_along(document, id, line.from, line.way).most;
    auto eye = best_eye(document, id, line, [](double along) { return along + 1e6; });
    // Of what holds it, one that is near.
    if (!eye && end.held_by)
        eye = best_eye(document, end.held_by, line,
                       [&](double along) { return 3 * line.thick_m - std::abs(along - tip); });
    RamEye found = eye.value_or(RamEye{line.from + tip * line.way});
    if (end.place) found.place = line.from + (*end.place - line.from).dot(line.way) * line.way;
    return found;
}

}  // namespace

Result<RamShape> ram_shape(const Document& document, PartId barrel, PartId rod, const RamEnd& barrel_end,
                           const RamEnd& rod_end) {
    const auto line = common_pin(document, barrel, rod);
    const std::string names = fmt::format("'{}' and '{}'", name_of(document, barrel), name_of(document, rod));
    if (!line)
        return Error{"ram.not_coaxial", names + " have no round surfaces on one line, as a ram has", "rod"};
    RamShape shape;
    shape.way = line->direction;
    const AlongLine of_barrel = reach_along(document, barrel, line->place, shape.way),
                    of_rod = reach_along(document, rod, line->place, shape.way);
    if (of_barrel.least + of_barrel.most > of_rod.least + of_rod.most) shape.way = -shape.way;
    double thick = 0;
    for (const Barrel& one : barrels_of_part(document, barrel))
        if (std::abs(one.direction.dot(shape.way)) > 0.9) thick = std::max(thick, 2 * one.radius_m);
    shape.barrel = eye_at(document, barrel, barrel_end, {line->place, -shape.way, thick});
    shape.rod = eye_at(document, rod, rod_end, {line->place, shape.way, thick});
    shape.length_m = (shape.rod.place - shape.barrel.place).dot(shape.way);
    if (shape.length_m < 1e-6)
        return Error{"ram.no_length", names + " end at one place: there is nothing to stretch", "rod"};
    double rod_thick = 0;
    for (const Barrel& one : barrels_of_part(document, rod))
        if (std::abs(one.direction.dot(shape.way)) > 0.9)
            rod_thick = rod_thick == 0 ? 2 * one.radius_m : std::min(rod_thick, 2 * one.radius_m);
    const AlongLine tube = reach_along(document, barrel, line->place, shape.way),
                    bar = reach_along(document, rod, line->place, shape.way);
    const double head = (shape.rod.place - line->place).dot(shape.way) - 1.5 * shape.rod.radius_m;
    shape.goes_in_m = std::max(0.0, head - tube.most);
    shape.goes_out_m = std::max(0.0, tube.most - bar.least - rod_thick);
    return shape;
}

PartId part_at_eye(const Document& document, const RamEye& eye, const std::vector<PartId>& but) {
    PartId best;
    double best_play = 0;
    for (const Part& part : document.parts) {
        const Shape* shape = document.shapes.find(part.shape);
        if (!shape || eye.radius_m == 0 || std::find(but.begin(), but.end(), part.id) != but.end()) continue;
        const Frame world = world_from_rest(document, part.id) * part.part_from_shape;
        const Vec3 place = world.inverse().point(eye.place);
        const Bounds bounds = mesh_bounds(*shape->mesh, Frame{});
        const double near = 4 * eye.radius_m;
        if (((place - bounds.min).array() < -near).any() || ((bounds.max - place).array() < -near).any())
            continue;
        for (const Barrel& barrel : barrels(*shape->mesh)) {
            const Vec3 direction = world.direction(barrel.direction),
                       apart = world.point(barrel.middle) - eye.place;
            if (direction.cross(eye.axis).norm() > 0.05) continue;
            const double off = apart.cross(direction).norm();
            const double play = off + std::abs(barrel.radius_m - eye.radius_m);
            if (off > 0.25 * eye.radius_m || apart.norm() > 2 * barrel.length_m + 4 * eye.radius_m) continue;
            if (best && play >= best_play) continue;
            best = part.id;
            best_play = play;
        }
    }
    return best;
}

}  // namespace pivrak
