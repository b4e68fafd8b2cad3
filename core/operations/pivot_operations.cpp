#include <fmt/format.h>

#include "core/geometry/cylinder_fit.h"
#include "core/io/project_json.h"
#include "core/model/edits.h"
#include "core/operations/all_operations.h"

namespace pivrak {
namespace {

Result<const Shape*> shape_of(const Document& document, const Part& part) {
    const Shape* shape = document.shapes.find(part.shape);
    if (!shape)
        return Error{"part.no_shape", fmt::format("'{}' has no shape to measure", part.name), part.name};
    return shape;
}

/// Keys count from the frame of the part; they stay, and now turn it about another line.
void report_keys(const Document& document, PartId part, std::vector<std::string>& messages) {
    for (const Clip& clip : document.clips)
        if (const Track* track = clip.track({part, ChannelKind::Turn}))
            messages.push_back(fmt::format("'{}' has {} keys in '{}': they now turn it about the new pivot",
                                           document.parts.find(part)->name, track->keys.size(), clip.name));
}

Result<Outcome> pivot_bounds(const Document& document, const Arguments& a, const OperationContext&) {
    Outcome out{document};
    for (const PartId id : a.parts("parts")) {
        const Part& part = *document.parts.find(id);
        PIVRAK_TRY(shape, shape_of(document, part));
        Frame world = world_from_rest(out.document, id);
        if (a.text("at") == "base") {
            const Bounds bounds =
                mesh_bounds(*shape->mesh, world * out.document.parts.find(id)->part_from_shape);
            world.translation = Vec3(bounds.middle().x(), bounds.middle().y(), bounds.min.z());
        } else {
            world.translation =
                world.point(mesh_bounds(*shape->mesh, out.document.parts.find(id)->part_from_shape).middle());
        }
        move_pivot(out.document, id, world);
        report_keys(document, id, out.messages);
    }
    return out;
}

Result<Outcome> pivot_fit_cylinder(const Document& document, const Arguments& a, const OperationContext&) {
    Outcome out{document};
    const int axis = *axis_from(a.text("axis"));
    out.readings["fits"] = nlohmann::json::array();
    for (const PartId id : a.parts("parts")) {
        const Part& part = *out.document.parts.find(id);
        PIVRAK_TRY(shape, shape_of(out.document, part));
        const auto fit = fit_cylinder(*shape->mesh);
        if (!fit)
            return Error{fit.error().code, fmt::format("'{}' is {}", part.name, fit.error().message),
                         part.name};
        const Frame world_from_shape = world_from_rest(out.document, id) * part.part_from_shape;
        Vec3 direction = world_from_shape.direction(fit->axis_direction);
        // The sign is a convention: mostly forward, left or up, so that parallel shafts turn alike.
        Eigen::Index largest = 0;
        direction.cwiseAbs().maxCoeff(&largest);
        if (direction[largest] < 0) direction = -direction;
        const Frame before = world_from_rest(out.document, id);
        const Frame after = aimed_frame(before, axis, direction, world_from_shape.point(fit->axis_point));
        out.messages.push_back(fmt::format("'{}': radius {}, residual {}, pivot moved {}", part.name,
                                           format_length(fit->radius_m), format_length(fit->residual_m),
                                           format_length((after.translation - before.translation).norm())));
        out.readings["fits"].push_back({{"part", id.value},
                                        {"radius_m", fit->radius_m},
                                        {"residual_m", fit->residual_m},
                                        {"support", fit->support}});
        move_pivot(out.document, id, after);
        report_keys(document, id, out.messages);
    }
    return out;
}

}  // namespace

void add_pivot_operations(Registry& registry) {
    registry.add(
        {"pivot.bounds",
         "Pivot to the bounds",
         "Puts the pivot in the middle of the shape's bounds or of their base; nothing visible moves.",
         {parts_argument("parts whose pivot moves"),
          {"at",
           ArgumentKind::Choice,
           "middle of the box, or middle of its lowest side",
           false,
           "middle",
           {"middle", "base"}}},
         pivot_bounds});
    registry.add(
        {"pivot.fit_cylinder",
         "Pivot to a fitted cylinder",
         "Fits coaxial cylinders to each whole part and puts its pivot on their axis; nothing visible moves.",
         {parts_argument("round parts"),
          {"axis",
           ArgumentKind::Choice,
           "the part's own axis that goes along the fitted one",
           false,
           "x",
           {"x", "y", "z"}}},
         pivot_fit_cylinder});
}

}  // namespace pivrak
