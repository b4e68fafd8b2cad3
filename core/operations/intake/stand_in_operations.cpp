// Simple parts of real dimensions, made and changed.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/model/names/names.h"
#include "core/operations/all_operations.h"
#include "core/operations/intake/stand_in_change.h"
#include "core/operations/intake/stand_in_parts.h"
#include "core/operations/intake/stand_in_shapes.h"

namespace pivrak {
namespace {

std::string default_name(const Arguments& a) {
    const std::string kind = a.text("kind");
    if (kind == "gear") return fmt::format("Gear {}T", a.integer("teeth"));
    if (kind == "ring gear") return fmt::format("Ring gear {}T", a.integer("teeth"));
    if (kind == "bevel gear") return fmt::format("Bevel gear {}T", a.integer("teeth"));
    if (kind == "sprocket") return fmt::format("Sprocket {}T", a.integer("teeth"));
    std::string name = kind;
    name.front() = static_cast<char>(std::toupper(static_cast<unsigned char>(name.front())));
    return name;
}

Result<Outcome> add_stand_in(const Document& document, const Arguments& a, const OperationContext&) {
    PIVRAK_TRY(solid, stand_in_solid(a, document.settings.length_unit));
    Outcome out{document};
    const std::string kind = a.text("kind");
    // Round kinds have their axis along the part's own x, as hinges mostly do.
    if (is_round_stand_in(kind)) solid.lay_along(0);
    Part part;
    part.id = out.document.new_id<PartId>();
    part.name = FreeNames(document).take(a.has("name") ? a.text("name") : default_name(a));
    PIVRAK_CHECK(check_name(part.name));
    Shape shape = make_shape(out.document.new_id<ShapeId>(), part.name,
                             solid_mesh(solid, 1e-3, stand_in_material(out.document)));
    shape.made_of = stand_in_record(a, is_round_stand_in(kind) ? 'x' : 0);
    part.shape = shape.id;
    const std::string axis = a.text("axis");
    if (is_round_stand_in(kind) && axis != "x")
        part.parent_from_rest =
            aimed_frame(Frame{}, 0, axis == "y" ? Vec3(0, 1, 0) : Vec3(0, 0, 1), Vec3(0, 0, 0));
    out.document.shapes.set(shape);
    // Left out, the place is on the floor: at the origin, or to the left of what is there already.
    const Bounds placed = mesh_bounds(*shape.mesh, part.parent_from_rest),
                 present = document_bounds(document);
    const Vec3 beside(present.empty() ? 0 : present.middle().x(),
                      present.empty() ? 0 : present.max.y() + 0.25 * placed.size().y() + 0.1 - placed.min.y(),
                      -placed.min.z());
    part.parent_from_rest.translation = a.point_if("at").value_or(beside);
    if (a.has("on")) part.parent_from_rest.translation = a.point("on") - Vec3(0, 0, placed.min.z());
    if (a.has("under")) {
        part.parent = a.part("under");
        part.parent_from_rest =
            (world_from_rest(document, part.parent).inverse() * part.parent_from_rest).normalized();
    }
    out.document.parts.set(part);
    out.created.push_back(part.id);
    const Vec3 size = placed.size();
    out.messages.push_back(fmt::format("'{}': {} × {} × {}, {} triangles", part.name,
                                       format_length(size.x(), document), format_length(size.y(), document),
                                       format_length(size.z(), document), shape.mesh->triangle_count()));
    return out;
}

}  // namespace

MaterialId stand_in_material(Document& document) {
    for (const Material& m : document.materials)
        if (m.name == "stand-in") return m.id;
    Material m;
    m.id = document.new_id<MaterialId>();
    m.name = "stand-in";
    m.base_color = {0.52, 0.50, 0.44, 1};
    document.materials.set(m);
    return m.id;
}

void add_stand_in_operations(Registry& registry) {
    Operation add{
        "stand_in.add",
        "Add a stand-in",
        "Makes a simple part of real dimensions, to be replaced by a finished shape later.",
        {{"kind",
          ArgumentKind::Choice,
          "what it is; each uses the measures that it has",
          true,
          {},
          stand_in_kinds()},
         {"name", ArgumentKind::Text, "name of the part", false, {}, {}},
         {"at",
          ArgumentKind::Point,
          "where its pivot is; on the floor beside the model when left out",
          false,
          {},
          {}},
         {"on", ArgumentKind::Place, "a place that it is set down on, in place of 'at'", false, {}, {}},
         worded(
             {"axis", ArgumentKind::Choice, "direction of a round one's axis", false, "y", {"x", "y", "z"}},
             "Axis along"),
         {"under", ArgumentKind::Part, "the part that carries it", false, {}, {}}},
        add_stand_in};
    for (ArgumentSpec& spec : stand_in_specs()) add.arguments.push_back(std::move(spec));
    registry.add(std::move(add));
    Operation change{"stand_in.change",
                     "Change a stand-in",
                     "Gives stand-ins other measures; pairs of gears and chains take over new numbers of "
                     "teeth. What shares "
                     "their shape changes with them.",
                     {parts_argument("stand-ins of one kind")},
                     change_stand_ins};
    for (ArgumentSpec& spec : changed_measures()) change.arguments.push_back(std::move(spec));
    registry.add(std::move(change));
}

}  // namespace pivrak
