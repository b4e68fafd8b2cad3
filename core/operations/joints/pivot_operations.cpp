#include <fmt/format.h>

#include "core/geometry/fits/primitive_fits.h"
#include "core/geometry/fits/round_axis.h"
#include "core/io/project/project_json.h"
#include "core/operations/all_operations.h"
#include "core/operations/joints/pivot_mover.h"
#include "core/operations/places.h"
#include "core/rig/linkages/common_pin.h"

namespace pivrak {
namespace {

constexpr double shortest_line_m = 1e-6;

ArgumentSpec axis_argument(std::string summary) {
    return {"axis", ArgumentKind::Choice, std::move(summary), false, "x", {"x", "y", "z"}};
}

Result<Outcome> pivot_bounds(const Document& document, const Arguments& a, const OperationContext&) {
    Outcome out{document};
    PivotMover mover(out);
    for (const PartId id : a.parts("parts")) {
        PIVRAK_TRY(place, shape_place(out.document, id, a.text("at")));
        mover.move(id, {world_from_rest(out.document, id).rotation, place});
    }
    return out;
}

Result<Outcome> pivot_fit_cylinder(const Document& document, const Arguments& a, const OperationContext&) {
    Outcome out{document};
    PivotMover mover(out);
    const int axis = *axis_from(a.text("axis"));
    for (const PartId id : a.parts("parts")) {
        const Part& part = *out.document.parts.find(id);
        const Shape* shape = out.document.shapes.find(part.shape);
        if (!shape)
            return Error{"part.no_shape", fmt::format("'{}' has no shape to measure", part.name), part.name};
        const auto fit = round_axis(*shape->mesh);
        if (!fit)
            return Error{fit.error().code, fmt::format("'{}' is {}", part.name, fit.error().message),
                         part.name};
        const Frame before = world_from_rest(out.document, id),
                    world_from_shape = before * part.part_from_shape;
        mover.move(id,
                   aimed_frame(before, axis, positive_direction(world_from_shape.direction(fit->direction)),
                               world_from_shape.point(fit->point)),
                   fmt::format("radius {}, residual {}", format_length(fit->radius_m, document),
                               format_length(fit->residual_m, document)),
                   {{"radius_m", fit->radius_m}, {"residual_m", fit->residual_m}, {"support", fit->support}});
    }
    return out;
}

/// Onto the line that round surfaces of a part and of another one have in common.
Result<Outcome> pivot_pin(const Document& document, const Arguments& a, const OperationContext&) {
    Outcome out{document};
    PivotMover mover(out);
    const PartId with = a.part("with");
    for (const PartId id : a.parts("parts")) {
        const std::string name = name_of(document, id);
        if (id == with) return Error{"pivot.itself", fmt::format("'{}' has no pin with itself", name), name};
        const auto pin = common_pin(out.document, id, with);
        if (!pin)
            return Error{"pivot.no_pin",
                         fmt::format("'{}' and '{}' have no round surfaces on one line", name,
                                     name_of(document, with)),
                         name};
        const Frame before = world_from_rest(out.document, id);
        const Vec3 own = before.rotation.conjugate() * pin->direction;
        Eigen::Index nearest = 0;
        own.cwiseAbs().maxCoeff(&nearest);
        const int axis = a.has("axis") ? *axis_from(a.text("axis")) : static_cast<int>(nearest);
        const Vec3 way = own[axis] < 0 ? Vec3(-pin->direction) : pin->direction;
        mover.move(id, aimed_frame(before, axis, way, pin->place),
                   fmt::format("play {}", format_length(pin->off_m, document)), {{"off_m", pin->off_m}});
    }
    return out;
}

/// A line in the world that was fitted to faces of one part.
struct FittedLine {
    PartId of;
    Vec3 point, direction;
    RoundFit fit;
};

Result<FittedLine> line_through_faces(const Document& document, const PickedFaces& picked) {
    const Part& part = *document.parts.find(picked.part);
    const Mesh& mesh = *document.shapes.find(part.shape)->mesh;
    std::vector<bool> mask(mesh.triangle_count(), false);
    for (const std::uint32_t f : picked.faces) mask[f] = true;
    auto fit = fit_round_faces(mesh, mask);
    if (!fit)
        return Error{fit.error().code, fmt::format("'{}': {}", part.name, fit.error().message), part.name};
    const Frame world = world_from_rest(document, picked.part) * part.part_from_shape;
    return FittedLine{picked.part, world.point(fit->axis_point),
                      positive_direction(world.direction(fit->axis_direction)), *fit};
}

Result<Outcome> pivot_fit_faces(const Document& document, const Arguments& a, const OperationContext&) {
    Outcome out{document};
    PivotMover mover(out);
    const int axis = *axis_from(a.text("axis"));
    std::vector<FittedLine> lines;
    for (const PickedFaces& picked : a.faces("faces")) {
        PIVRAK_TRY(line, line_through_faces(document, picked));
        lines.push_back(line);
    }
    const auto put = [&](PartId id, const FittedLine& line) {
        mover.move(id, aimed_frame(world_from_rest(out.document, id), axis, line.direction, line.point),
                   fmt::format("radius {}, residual {}, {:.0f} % of the picked area agrees",
                               format_length(line.fit.radius_m, document),
                               format_length(line.fit.residual_m, document), 100 * line.fit.agreeing),
                   {{"radius_m", line.fit.radius_m},
                    {"residual_m", line.fit.residual_m},
                    {"agreeing", line.fit.agreeing}});
    };
    if (!a.has("parts")) {
        for (const FittedLine& line : lines) put(line.of, line);
        return out;
    }
    if (lines.size() > 1)
        return Error{
            "pivot.many_lines",
            fmt::format("faces of {} parts are picked; for the pivots of other parts pick faces of one",
                        lines.size()),
            "faces"};
    for (const PartId id : a.parts("parts")) put(id, lines.front());
    return out;
}

Result<Outcome> pivot_fit_circle(const Document& document, const Arguments& a, const OperationContext&) {
    const auto fit = fit_circle(a.points("places"));
    if (!fit) return fit.error();
    Outcome out{document};
    PivotMover mover(out);
    for (const PartId id : a.parts("parts"))
        mover.move(id,
                   aimed_frame(world_from_rest(out.document, id), *axis_from(a.text("axis")),
                               positive_direction(fit->normal), fit->centre),
                   fmt::format("circle of radius {}, residual {}", format_length(fit->radius_m, document),
                               format_length(fit->residual_m, document)),
                   {{"radius_m", fit->radius_m}, {"residual_m", fit->residual_m}});
    return out;
}

Result<Outcome> pivot_to(const Document& document, const Arguments& a, const OperationContext&) {
    Vec3 place = a.point("place");
    if (a.has("and")) place = 0.5 * (place + a.point("and"));
    Outcome out{document};
    PivotMover mover(out);
    for (const PartId id : a.parts("parts"))
        mover.move(id, {world_from_rest(out.document, id).rotation, place});
    return out;
}

Result<Outcome> pivot_line(const Document& document, const Arguments& a, const OperationContext&) {
    const Vec3 from = a.point("from"), to = a.point("to");
    const double length = (to - from).norm();
    if (!(length > shortest_line_m))
        return Error{"pivot.no_line", "both ends of the hinge line are in one place: no direction is clear",
                     "to"};
    const std::string at = a.text("at");
    const Vec3 place = at == "from" ? from : at == "to" ? to : Vec3(0.5 * (from + to));
    Outcome out{document};
    PivotMover mover(out);
    for (const PartId id : a.parts("parts"))
        mover.move(id,
                   aimed_frame(world_from_rest(out.document, id), *axis_from(a.text("axis")),
                               (to - from) / length, place),
                   fmt::format("hinge line of {}", format_length(length, document)), {{"length_m", length}});
    return out;
}

/// Area-weighted normal of picked faces, in the world.
Vec3 normal_of(const Document& document, const std::vector<PickedFaces>& faces) {
    Vec3 sum(0, 0, 0);
    for (const PickedFaces& picked : faces) {
        const Part& part = *document.parts.find(picked.part);
        const Mesh& mesh = *document.shapes.find(part.shape)->mesh;
        const Frame world = world_from_rest(document, picked.part) * part.part_from_shape;
        for (const std::uint32_t f : picked.faces)
            sum += world.direction(
                (mesh.corner(f, 1) - mesh.corner(f, 0)).cross(mesh.corner(f, 2) - mesh.corner(f, 0)));
    }
    return sum;
}

/// The direction asked for: given, of flat faces, or of an edge between two places.
Result<Vec3> direction_of(const Document& document, const Arguments& a) {
    const bool edge = a.has("from") && a.has("to");
    if (int{a.has("direction")} + int{a.has("face")} + int{edge} != 1)
        return Error{"pivot.direction",
                     "say along what: a direction, a face, both ends of an edge, or like another part",
                     "direction"};
    const Vec3 direction = edge            ? Vec3(a.point("to") - a.point("from"))
                           : a.has("face") ? normal_of(document, a.faces("face"))
                                           : a.point("direction");
    if (!(direction.norm() > 1e-12))
        return Error{"pivot.direction", "that has no direction: its length is nothing", "direction"};
    return Vec3(direction.normalized());
}

/// All axes as those of the world, of what carries the part, or of a part by name.
Result<Quat> axes_like(const Document& document, PartId id, const std::string& like) {
    PartId of;
    if (like == "parent") {
        of = document.parts.find(id)->parent;
    } else if (like != "world") {
        PIVRAK_TRY(found, find_part(document, like));
        of = found;
    }
    return of ? world_from_rest(document, of).rotation : Quat(1, 0, 0, 0);
}

Result<Outcome> pivot_aim(const Document& document, const Arguments& a, const OperationContext&) {
    Outcome out{document};
    PivotMover mover(out);
    for (const PartId id : a.parts("parts")) {
        const Frame before = world_from_rest(out.document, id);
        if (a.has("like")) {
            PIVRAK_TRY(axes, axes_like(document, id, a.text("like")));
            mover.move(id, {axes, before.translation});
        } else {
            PIVRAK_TRY(direction, direction_of(document, a));
            mover.move(id, aimed_frame(before, *axis_from(a.text("axis")), direction, before.translation));
        }
    }
    return out;
}

Result<Outcome> pivot_turn(const Document& document, const Arguments& a, const OperationContext&) {
    Outcome out{document};
    PivotMover mover(out);
    for (const PartId id : a.parts("parts")) {
        const Frame before = world_from_rest(out.document, id);
        mover.move(
            id,
            {(before.rotation * turn_about_axis(*axis_from(a.text("axis")), a.number("angle"))).normalized(),
             before.translation});
    }
    return out;
}

void add_placing(Registry& registry) {
    const ArgumentSpec parts = parts_argument("parts whose pivot moves");
    registry.add({"pivot.bounds",
                  "Pivot to the shape",
                  "Puts the pivot in the middle of the shape's bounds, of their base, or in its centroid.",
                  {parts,
                   {"at",
                    ArgumentKind::Choice,
                    "middle of the box, middle of its lowest side, or centre of mass",
                    false,
                    "middle",
                    {"middle", "base", "centroid"}}},
                  pivot_bounds});
    registry.add(
        {"pivot.to",
         "Pivot to a place",
         "Puts the pivot to a place: typed, picked on a shape, or another part's pivot.",
         {parts,
          {"place", ArgumentKind::Place, "where to", true, {}, {}},
          {"and", ArgumentKind::Place, "a second place; the pivot goes half way between", false, {}, {}}},
         pivot_to});
    registry.add(
        {"pivot.line",
         "Pivot to a hinge line",
         "Puts the pivot on the line between two places, one own axis along it.",
         {parts,
          {"from", ArgumentKind::Place, "one end", true, {}, {}},
          {"to", ArgumentKind::Place, "the other end; the axis points there", true, {}, {}},
          axis_argument("the part's own axis that goes along the line"),
          {"at", ArgumentKind::Choice, "where on the line", false, "middle", {"middle", "from", "to"}}},
         pivot_line});
}

void add_fits(Registry& registry) {
    const ArgumentSpec along = axis_argument("the part's own axis that goes along the fitted one");
    ArgumentSpec pin_axis =
        axis_argument("the part's own axis that goes along the pin; the nearest when left out");
    pin_axis.fallback = {};
    registry.add(
        {"pivot.pin",
         "Pivot on a shared pin",
         "Puts the pivot where round surfaces of a part and of another one lie on one line: an eye on "
         "its bolt.",
         {parts_argument("parts whose pivot moves"),
          {"with", ArgumentKind::Part, "the part that they are pinned to", true, {}, {}},
          pin_axis},
         pivot_pin});
    registry.add({"pivot.fit_cylinder",
                  "Pivot to a fitted cylinder",
                  "Fits coaxial cylinders to each whole part and puts its pivot on their axis.",
                  {parts_argument("round parts"), along},
                  pivot_fit_cylinder});
    registry.add({"pivot.fit_faces",
                  "Pivot to round faces",
                  "Fits a cylinder to picked faces and puts the pivot on its axis.",
                  {{"faces", ArgumentKind::Faces, "the faces, which need not go all round", true, {}, {}},
                   parts_argument(
                       "parts whose pivot moves; those of the faces, each by its own, when left out", false),
                   along},
                  pivot_fit_faces});
    registry.add({"pivot.fit_circle",
                  "Pivot to a circle",
                  "Fits a circle through places and puts the pivot in its centre, one own axis across it.",
                  {parts_argument("parts whose pivot moves"),
                   {"places", ArgumentKind::Places, "three or more places on the circle", true, {}, {}},
                   along},
                  pivot_fit_circle});
}

void add_aiming(Registry& registry) {
    const ArgumentSpec parts = parts_argument("parts whose axes turn");
    registry.add(
        {"pivot.aim",
         "Aim the axes",
         "Turns the axes of a pivot where it is: one along a direction, a face or an edge, or all like "
         "another's.",
         {parts,
          axis_argument("the part's own axis that is aimed"),
          {"direction", ArgumentKind::Vector, "a direction in the world", false, {}, {}},
          {"face", ArgumentKind::Faces, "faces that it is to stand square to", false, {}, {}},
          {"from", ArgumentKind::Place, "one end of an edge", false, {}, {}},
          {"to", ArgumentKind::Place, "the end of the edge that it is to point to", false, {}, {}},
          {"like", ArgumentKind::Text, "'world', 'parent', or a part: all axes as there", false, {}, {}}},
         pivot_aim});
    registry.add({"pivot.turn",
                  "Turn the axes",
                  "Turns the axes of a pivot about one of them; half a turn flips the other two.",
                  {parts,
                   axis_argument("the part's own axis to turn about"),
                   {"angle", ArgumentKind::Angle, "how far", false, "90 deg", {}}},
                  pivot_turn});
}

}  // namespace

void add_pivot_operations(Registry& registry) {
    add_placing(registry);
    add_fits(registry);
    add_aiming(registry);
}

}  // namespace pivrak
