// What is done to the points of a path, and to how it runs.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/operations/all_operations.h"
#include "core/operations/split/face_ranges.h"
#include "core/operations/travel/path_access.h"
#include "core/operations/travel/put_path.h"
#include "core/rig/paths/path_edit.h"

namespace pivrak {
namespace {

Result<std::vector<std::uint32_t>> point_numbers(const Arguments& a, const Path& path) {
    const auto numbers = faces_from_ranges(a.text("points"), path.points.size());
    if (numbers) return *numbers;
    return Error{"path.index",
                 fmt::format("'{}' names no points of '{}', which has 0 to {}", a.text("points"), path.name,
                             path.points.size() - 1),
                 "points"};
}

Result<Outcome> path_move_point(const Document& document, const Arguments& a, const OperationContext&) {
    PIVRAK_TRY(found, path_named(document, a));
    Path path = *found;
    const int i = a.integer("point");
    if (i < 0 || static_cast<std::size_t>(i) >= path.points.size())
        return Error{
            "path.index",
            fmt::format("path '{}' has points 0 to {}, not {}", path.name, path.points.size() - 1, i),
            "point"};
    PathPoint& point = path.points[static_cast<std::size_t>(i)];
    const Vec3 place = world_from_path(document, path).inverse().point(a.point("place"));
    const std::string what = a.text("what");
    if (what == "point") {
        // The centre of an ellipse takes its axes along.
        if (path.form == PathForm::Ellipse && i == 0)
            for (std::size_t k : {1u, 2u}) path.points[k].place += place - point.place;
        point.place = place;
    } else if (path.form != PathForm::Bezier) {
        return Error{"path.handles",
                     fmt::format("'{}' has no handles; make it a Bézier path first", path.name), path.name};
    } else {
        Vec3& moved = what == "before" ? point.before : point.after;
        Vec3& other = what == "before" ? point.after : point.before;
        const bool straight =
            moved.norm() > 0 && other.norm() > 0 && (moved.normalized() + other.normalized()).norm() < 1e-6;
        moved = place - point.place;
        // A smooth point stays smooth: the other handle turns along and keeps its length.
        if (straight && moved.norm() > 0) other = -other.norm() * moved.normalized();
    }
    return put_path(document, path);
}

Result<Outcome> path_insert(const Document& document, const Arguments& a, const OperationContext&) {
    PIVRAK_TRY(found, path_named(document, a));
    PIVRAK_TRY(curve, PathCurve::make(*found));
    double along = 0;
    if (a.has("near")) {
        along = curve.nearest(world_from_path(document, *found).inverse().point(a.point("near")));
    } else if (a.has("at")) {
        PIVRAK_TRY(typed, typed_along(a.text("at"), curve.length(), document.settings.length_unit));
        along = typed;
    } else {
        return Error{"argument.missing", "give 'at' or 'near': where the point goes", "at"};
    }
    PIVRAK_TRY(edit, with_point(*found, along));
    return put_path(document, edit.path, edit.deviation_m);
}

Result<Outcome> path_delete(const Document& document, const Arguments& a, const OperationContext&) {
    PIVRAK_TRY(found, path_named(document, a));
    PIVRAK_TRY(numbers, point_numbers(a, *found));
    PIVRAK_TRY(path, without_points(*found, numbers));
    return put_path(document, path);
}

Result<Outcome> path_handles(const Document& document, const Arguments& a, const OperationContext&) {
    PIVRAK_TRY(found, path_named(document, a));
    Path path = *found;
    if (path.form != PathForm::Bezier) {
        PIVRAK_TRY(edit, with_form(path, PathForm::Bezier));
        path = edit.path;
    }
    PIVRAK_TRY(numbers, point_numbers(a, path));
    return put_path(document, with_handles(path, numbers, a.text("as") == "smooth"));
}

Result<Outcome> path_reverse(const Document& document, const Arguments& a, const OperationContext&) {
    PIVRAK_TRY(found, path_named(document, a));
    return put_path(document, reversed(*found));
}

Result<Outcome> path_respace(const Document& document, const Arguments& a, const OperationContext&) {
    PIVRAK_TRY(found, path_named(document, a));
    PIVRAK_TRY(edit, respaced(*found, a.integer("count")));
    return put_path(document, edit.path, edit.deviation_m);
}

Result<Outcome> path_roll(const Document& document, const Arguments& a, const OperationContext&) {
    PIVRAK_TRY(found, path_named(document, a));
    Path path = *found;
    PIVRAK_TRY(curve, PathCurve::make(path));
    PIVRAK_TRY(at, typed_along(a.text("at"), curve.length(), document.settings.length_unit));
    if (at < 0 || at > curve.length())
        return Error{"path.along",
                     fmt::format("'{}' is {} long; {} is not on it", path.name,
                                 format_length(curve.length(), document), format_length(at, document)),
                     "at"};
    std::erase_if(path.rolls, [&](const PathRoll& r) { return std::abs(r.at_m - at) < 1e-6; });
    if (a.has("roll")) path.rolls.push_back({at, a.number("roll")});
    std::sort(path.rolls.begin(), path.rolls.end(),
              [](const PathRoll& x, const PathRoll& y) { return x.at_m < y.at_m; });
    return put_path(document, path);
}

}  // namespace

void add_path_point_operations(Registry& registry) {
    const ArgumentSpec numbers{"points", ArgumentKind::Text, "numbers of points from 0, as `0-3 5`", true, {},
                               {}};
    registry.add({"path.move_point",
                  "Move a path's point",
                  "Puts a point of a path, or one of its handles, somewhere else.",
                  {path_argument(),
                   {"point", ArgumentKind::Integer, "number of the point from 0", true, {}, {}},
                   {"place", ArgumentKind::Place, "where to", true, {}, {}},
                   {"what",
                    ArgumentKind::Choice,
                    "the point or a handle",
                    false,
                    "point",
                    {"point", "before", "after"}}},
                  path_move_point});
    registry.add({"path.insert",
                  "Insert a point",
                  "Gives a path a point more; polylines and Bézier paths keep their shape.",
                  {path_argument(),
                   {"at", ArgumentKind::Text, "how far along, as a length or `25 %`", false, {}, {}},
                   {"near", ArgumentKind::Place, "or a place that it is to be near", false, {}, {}}},
                  path_insert});
    registry.add({"path.delete_points",
                  "Take points out",
                  "Takes points out of a path.",
                  {path_argument(), numbers},
                  path_delete});
    registry.add({"path.handles",
                  "Corner or smooth",
                  "Makes points of a path corners or smooth ones; the path becomes a Bézier path.",
                  {path_argument(),
                   numbers,
                   {"as", ArgumentKind::Choice, "what they become", true, {}, {"corner", "smooth"}}},
                  path_handles});
    registry.add({"path.reverse",
                  "Reverse a path",
                  "Turns the direction of a path round.",
                  {path_argument()},
                  path_reverse});
    registry.add({"path.respace",
                  "Respace a path",
                  "Gives a path points at even distances, with no short piece at its end.",
                  {path_argument(), {"count", ArgumentKind::Integer, "number of points", true, {}, {}}},
                  path_respace});
    registry.add(
        {"path.roll",
         "Roll along a path",
         "Rolls riders about the path's direction from somewhere on; takes that away without an angle.",
         {path_argument(),
          {"at", ArgumentKind::Text, "how far along, as a length or `25 %`", true, {}, {}},
          {"roll", ArgumentKind::Angle, "right above zero", false, {}, {}}},
         path_roll});
}

}  // namespace pivrak
