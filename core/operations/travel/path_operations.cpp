#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/base/words.h"
#include "core/io/paths/path_files.h"
#include "core/operations/all_operations.h"
#include "core/operations/travel/path_access.h"
#include "core/operations/travel/put_path.h"
#include "core/rig/paths/path_edit.h"
#include "core/rig/rig_facts.h"

namespace pivrak {
namespace {

std::string free_path_name(const Document& document, std::string wanted) {
    const auto taken = [&](const std::string& name) {
        return std::any_of(document.paths.begin(), document.paths.end(),
                           [&](const Path& p) { return p.name == name; });
    };
    if (wanted.empty()) wanted = "path";
    std::string name = wanted;
    for (int i = 2; taken(name); ++i) name = fmt::format("{} {}", wanted, i);
    return name;
}

Result<void> check_free_name(const Document& document, const std::string& name, PathId self) {
    PIVRAK_CHECK(check_name(name));
    for (const Path& other : document.paths)
        if (other.id != self && other.name == name)
            return Error{"path.duplicate", fmt::format("there is another path '{}'", name), "name"};
    return {};
}

Result<std::vector<PathPoint>> points_from(const Arguments& a, const Frame& path_from_world) {
    std::vector<PathPoint> points;
    for (const Vec3& p : a.points("points")) points.push_back({path_from_world.point(p)});
    for (const char* handle : {"before", "after"}) {
        if (!a.has(handle)) continue;
        const auto given = a.points(handle);
        if (given.size() != points.size())
            return Error{"path.handles",
                         fmt::format("{} for {}; there must be one for each", counted(given.size(), "handle"),
                                     counted(points.size(), "point")),
                         handle};
        for (std::size_t i = 0; i < given.size(); ++i)
            (handle[0] == 'b' ? points[i].before : points[i].after) = path_from_world.direction(given[i]);
    }
    return points;
}

/// Centre and two half axes, square to the axis asked for.
Result<std::vector<PathPoint>> ellipse_from(const Arguments& a, const Frame& path_from_world) {
    if (!a.has("centre") || !a.has("radius"))
        return Error{"argument.missing", "a circle needs 'centre' and 'radius'", "centre"};
    const double first = a.number("radius"), second = a.number_if("radius_2").value_or(first);
    if (!(first > 0) || !(second > 0))
        return Error{"path.radius", "the radius of a circle must be above zero", "radius"};
    const Vec3 centre = a.point("centre");
    const int across = a.text("across")[0] - 'x';
    std::vector<PathPoint> points{{path_from_world.point(centre)}};
    Vec3 one = Vec3::Unit((across + 1) % 3), other = Vec3::Unit((across + 2) % 3);
    if (a.has("normal")) {
        const Vec3 normal = a.point("normal");
        if (!(normal.norm() > 1e-9))
            return Error{"path.normal", "a direction is needed that the circle goes round", "normal"};
        // The first half axis is level, or X where all are.
        const Vec3 level = Vec3::UnitZ().cross(normal);
        one = level.norm() > 1e-6 * normal.norm() ? Vec3(level.normalized()) : Vec3::UnitX();
        other = normal.cross(one).normalized();
    }
    points.push_back({path_from_world.point(centre + first * one)});
    points.push_back({path_from_world.point(centre + second * other)});
    return points;
}

Result<Outcome> path_add(const Document& document, const Arguments& a, const OperationContext&) {
    Document next = document;
    Path path;
    path.id = next.new_id<PathId>();
    const std::string form = a.text("form");
    path.name = free_path_name(document, a.has("name") ? a.text("name") : form);
    PIVRAK_CHECK(check_name(path.name));
    if (a.has("under")) path.carrier = a.part("under");
    const Frame path_from_world = world_from_path(document, path).inverse();
    path.closed = a.flag("closed");
    if (form == "circle" || form == "ellipse") {
        path.form = PathForm::Ellipse;
        path.closed = false;
        PIVRAK_TRY(points, ellipse_from(a, path_from_world));
        path.points = points;
        return put_path(next, path);
    }
    if (!a.has("points"))
        return Error{"argument.missing", fmt::format("a {} needs 'points'", form), "points"};
    path.form = form == "line" ? PathForm::Polyline : *value_of<PathForm>(path_form_words, form);
    PIVRAK_TRY(points, points_from(a, path_from_world));
    path.points = points;
    return put_path(next, path);
}

Result<Outcome> path_set(const Document& document, const Arguments& a, const OperationContext&) {
    PIVRAK_TRY(found, path_named(document, a));
    Path path = *found;
    std::optional<double> deviation;
    if (a.has("name")) {
        PIVRAK_CHECK(check_free_name(document, a.text("name"), path.id));
        path.name = a.text("name");
    }
    if (a.has("form")) {
        PIVRAK_TRY(edit, with_form(path, *value_of<PathForm>(path_form_words, a.text("form"))));
        path = edit.path;
        deviation = edit.deviation_m;
    }
    if (a.has("closed") && path.form != PathForm::Ellipse) path.closed = a.flag("closed");
    if (a.has("points")) {
        if (path.form == PathForm::Ellipse && a.points("points").size() != 3)
            return Error{"path.points",
                         "an ellipse has three points: its centre and the ends of two half axes", "points"};
        PIVRAK_TRY(points, points_from(a, world_from_path(document, path).inverse()));
        path.points = points;
    }
    return put_path(document, path, deviation);
}

Result<Outcome> path_carry(const Document& document, const Arguments& a, const OperationContext&) {
    PIVRAK_TRY(found, path_named(document, a));
    Path path = *found;
    const Frame before = world_from_path(document, path);
    path.carrier = a.has("under") ? a.part("under") : PartId{};
    const Frame now_from_before = world_from_path(document, path).inverse() * before;
    for (PathPoint& p : path.points)
        p = {now_from_before.point(p.place), now_from_before.direction(p.before),
             now_from_before.direction(p.after)};
    return put_path(document, path);
}

Result<Outcome> path_drape(const Document& document, const Arguments& a, const OperationContext&) {
    PIVRAK_TRY(found, path_named(document, a));
    Path path = *found;
    path.drape.reset();
    if (a.has("ground")) {
        const Part& ground = *document.parts.find(a.part("ground"));
        if (!ground.shape)
            return Error{"path.ground", fmt::format("'{}' has no shape to lie on", ground.name), ground.name};
        if (a.number("ease") < 0)
            return Error{"path.ease", "the length to ease over cannot be below zero", "ease"};
        path.drape = Drape{ground.id, a.number("height"), a.number("ease")};
    }
    return put_path(document, path);
}

Result<Outcome> path_remove(const Document& document, const Arguments& a, const OperationContext&) {
    PIVRAK_TRY(found, path_named(document, a));
    Outcome out{document};
    std::size_t riders = 0;
    for (const Part& part : document.parts) {
        if (!part.ride || part.ride->path != found->id) continue;
        Part free = part;
        free.ride.reset();
        out.document.parts.set(free);
        ++riders;
    }
    for (const Constraint& constraint : document.constraints) {
        if (constraint.path != found->id) continue;
        out.document.constraints.erase(constraint.id);
        out.messages.push_back(
            fmt::format("'{}' goes with it: it was asked to follow a place on it", constraint.name));
    }
    out.document.paths.erase(found->id);
    if (riders) out.messages.push_back(counted(riders, "rider") + " stand where they rest");
    return out;
}

Result<Outcome> path_import(const Document& document, const Arguments& a, const OperationContext& context) {
    PIVRAK_TRY(unit, length_unit_from(a.text("unit")));
    PIVRAK_TRY(read, read_paths(context.folder / a.text("file"), metres_per(unit)));
    Outcome out{document};
    for (Path path : read) {
        path.id = out.document.new_id<PathId>();
        path.name = free_path_name(out.document, path.name);
        out.document.paths.set(path);
        PIVRAK_TRY(curve, PathCurve::make(path));
        out.messages.push_back(fmt::format("'{}': {}, {}", path.name, format_length(curve.length(), document),
                                           counted(path.points.size(), "point")));
        out.readings["paths"].push_back(path.id.value);
    }
    return out;
}

}  // namespace

void add_path_operations(Registry& registry) {
    const ArgumentSpec points{
        "points", ArgumentKind::Places, "places that it runs through, or that control it", false, {}, {}};
    const ArgumentSpec before{
        "before", ArgumentKind::Places, "handles before the points, against them", false, {}, {}};
    const ArgumentSpec after{
        "after", ArgumentKind::Places, "handles after the points, against them", false, {}, {}};
    registry.add(
        {"path.add",
         "Add a path",
         "Makes a curve for parts to ride along.",
         {{"form",
           ArgumentKind::Choice,
           "how it runs: straight, as a cubic B-spline or Bézier curves, or round",
           false,
           "smooth",
           {"line", "polyline", "smooth", "bezier", "circle", "ellipse"}},
          {"name", ArgumentKind::Text, "name of the path", false, {}, {}},
          points,
          before,
          after,
          {"closed", ArgumentKind::Flag, "whether it runs back to its start", false, false, {}},
          {"centre", ArgumentKind::Place, "of a circle or an ellipse", false, {}, {}},
          {"radius", ArgumentKind::Length, "of a circle, or an ellipse's first half axis", false, {}, {}},
          {"radius_2", ArgumentKind::Length, "an ellipse's second half axis", false, {}, {}},
          {"across", ArgumentKind::Choice, "axis that a circle goes round", false, "z", {"x", "y", "z"}},
          {"normal", ArgumentKind::Vector, "direction that a circle goes round, instead", false, {}, {}},
          {"under", ArgumentKind::Part, "the part it moves with", false, {}, {}}},
         path_add});
    registry.add({"path.set",
                  "Change a path",
                  "Changes a path's name, form, points, and whether it is closed.",
                  {path_argument(),
                   {"name", ArgumentKind::Text, "new name", false, {}, {}},
                   {"form", ArgumentKind::Choice, "new form", false, {}, {"polyline", "smooth", "bezier"}},
                   {"closed", ArgumentKind::Flag, "whether it runs back to its start", false, {}, {}},
                   points,
                   before,
                   after},
                  path_set});
    registry.add(
        {"path.carry",
         "Carry a path",
         "Puts a path under a part, to move with it, or back into the world; it stays where it is.",
         {path_argument(), {"under", ArgumentKind::Part, "the part; the world when left out", false, {}, {}}},
         path_carry});
    registry.add({"path.drape",
                  "Lay a path on the ground",
                  "Lays a path on a part's mesh and keeps it there; takes it off when no ground is given.",
                  {path_argument(),
                   {"ground", ArgumentKind::Part, "the part that is the ground", false, {}, {}},
                   {"height", ArgumentKind::Length, "above the ground", false, 0.0, {}},
                   {"ease", ArgumentKind::Length, "bumps shorter than this are evened out", false, 0.0, {}}},
                  path_drape});
    registry.add({"path.remove",
                  "Remove a path",
                  "Removes a path; its riders stand where they rest.",
                  {path_argument()},
                  path_remove});
    registry.add(
        {"path.import",
         "Import paths",
         "Reads paths from the lines of an OBJ file or the paths of an SVG drawing.",
         {{"file", ArgumentKind::File, ".obj or .svg", true, {}, {}},
          {"unit", ArgumentKind::Choice, "what a unit of the file is", false, "m", {"mm", "cm", "m"}}},
         path_import});
}

}  // namespace pivrak
