#include "core/rig/rig_facts.h"

#include <fmt/format.h>

#include "core/geometry/mesh/mesh_edit.h"
#include "core/rig/gears/gear_pair.h"

namespace pivrak {

std::shared_ptr<const GroundMap> RigFacts::ground(const Document& document, PartId id) {
    const Part* part = document.parts.find(id);
    const Shape* shape = part ? document.shapes.find(part->shape) : nullptr;
    if (!shape) return nullptr;
    const Frame frame = world_from_rest(document, id) * part->part_from_shape;
    GroundEntry& entry = grounds_[id];
    if (entry.mesh != shape->mesh || !(entry.world_from_mesh == frame))
        entry = {shape->mesh, frame, std::make_shared<const GroundMap>(*shape->mesh, frame)};
    return entry.map;
}

Result<std::shared_ptr<const DrapedPath>> RigFacts::path(const Document& document, const Path& path) {
    const Frame frame = world_from_rest(document, path.carrier);
    std::shared_ptr<const GroundMap> map;
    if (path.drape && !(map = ground(document, path.drape->ground)))
        return Error{"path.ground", fmt::format("the ground below path '{}' has no shape", path.name),
                     path.name};
    const auto known = paths_.find(path.id);
    // Where it stands matters to a draped path alone.
    if (known != paths_.end() && known->second.path == path && known->second.ground == map &&
        (!map || known->second.world_from_path == frame))
        return known->second.draped;
    std::shared_ptr<const DrapedPath> made;
    if (map) {
        PIVRAK_TRY(draped, drape(path, frame, *map));
        made = std::make_shared<const DrapedPath>(std::move(draped));
    } else {
        PIVRAK_TRY(curve, PathCurve::make(path));
        made = std::make_shared<const DrapedPath>(DrapedPath{std::move(curve)});
    }
    paths_[path.id] = {path, frame, map, made};
    return made;
}

RigFacts::WheelEntry& RigFacts::measured_wheel(const Document& document, const Tree& tree, PartId hinge) {
    WheelShapes shapes = wheel_shapes(document, tree, hinge);
    const auto known = wheels_.find(hinge);
    if (known != wheels_.end() && known->second.shapes == shapes) return known->second;
    const WheelSize size = measure_wheel(shapes);
    return wheels_[hinge] = {std::move(shapes), size, nullptr};
}

WheelSize RigFacts::wheel(const Document& document, const Tree& tree, PartId hinge) {
    return measured_wheel(document, tree, hinge).size;
}

std::shared_ptr<const WheelProfile> RigFacts::profile(const Document& document, const Tree& tree,
                                                      PartId hinge) {
    WheelEntry& entry = measured_wheel(document, tree, hinge);
    if (!entry.profile && !entry.shapes.shapes.empty())
        entry.profile = std::make_shared<const WheelProfile>(measure_profile(entry.shapes));
    return entry.profile && !entry.profile->circles.empty() ? entry.profile : nullptr;
}

std::optional<int> RigFacts::teeth(const Document& document, const Tree& tree, PartId gear) {
    const auto hinge = turning_hinge(document, gear);
    if (!hinge) return std::nullopt;
    WheelShapes shapes = wheel_shapes(document, tree, *hinge);
    const auto known = teeth_.find(gear);
    if (known != teeth_.end() && known->second.shapes == shapes) return known->second.teeth;
    const auto counted = teeth_of(document, gear);
    teeth_[gear] = {std::move(shapes), counted};
    return counted;
}

std::shared_ptr<const LongShape> RigFacts::long_shape(const Document& document, const Part& part,
                                                      bool evenly) {
    const Shape* shape = document.shapes.find(part.shape);
    if (!shape) return nullptr;
    LongEntry& entry = long_shapes_[{part.id, evenly}];
    if (entry.mesh == shape->mesh) return entry.shape;
    auto measured = pivrak::long_shape(*shape->mesh, evenly);
    entry = {shape->mesh, measured ? std::make_shared<const LongShape>(std::move(*measured)) : nullptr};
    return entry.shape;
}

std::shared_ptr<const ClearanceBody> RigFacts::clearance_body(const Document& document, const Tree& tree,
                                                              PartId part) {
    if (!document.parts.contains(part)) return nullptr;
    WheelShapes shapes = wheel_shapes(document, tree, part);
    BodyEntry& entry = bodies_[part];
    if (entry.body && entry.shapes == shapes) return entry.body;
    Mesh all;
    for (const auto& [mesh, part_from_mesh] : shapes.shapes) append_mesh(all, *mesh, part_from_mesh);
    entry = {std::move(shapes), all.indices.empty() ? nullptr : std::make_shared<const ClearanceBody>(all)};
    return entry.body;
}

}  // namespace pivrak
