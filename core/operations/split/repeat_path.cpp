// Copies along a path: posts of a fence, sleepers of a track, lamps along a road.
#include <fmt/format.h>

#include <cmath>

#include "core/operations/all_operations.h"
#include "core/operations/split/copied_riders.h"
#include "core/operations/split/repeat_branches.h"
#include "core/operations/travel/path_access.h"
#include "core/rig/rig_facts.h"

namespace pivrak {
namespace {

/// Where along a path copies stand.
struct Spacing {
    double start_m = 0, step_m = 0;
    int count = 0;
};

/// What is left of an open path from a place on, in the direction of a step; of a closed one all of it.
double room_for(const PathCurve& curve, double start, double step) {
    return curve.closed() ? curve.length() : step < 0 ? start : curve.length() - start;
}

Result<Spacing> spaced(const Document& document, const PathCurve& curve, double start, const Arguments& a) {
    Spacing out{start, a.number_if("spacing").value_or(0), 0};
    if (!a.has("count") && out.step_m == 0)
        return Error{"argument.missing", "give how many there are, or how far they are apart", "count"};
    if (a.has("count")) {
        PIVRAK_TRY(count, repeat_count(a));
        out.count = count;
    }
    // Evenly, on an open path to the end that is further away.
    if (out.step_m == 0) {
        const double way = curve.closed() || start <= 0.5 * curve.length() ? 1 : -1;
        out.step_m = way * room_for(curve, start, way) / (curve.closed() ? out.count : out.count - 1);
    }
    const double room = room_for(curve, start, out.step_m), slack = 1e-9 * curve.length();
    const double steps = std::floor((room + slack) / std::abs(out.step_m));
    const double most = curve.closed() ? steps : steps + 1;
    if (out.count == 0) out.count = static_cast<int>(std::min(most, 10001.0));
    if (out.count < 2 || out.count > 10000 || out.count > most)
        return Error{"repeat.room",
                     fmt::format("{} apart, {} fit into the {} of path that are left: 2 to 10000 can be made",
                                 format_length(std::abs(out.step_m), document), static_cast<long>(most),
                                 format_length(room, document)),
                     "spacing"};
    return out;
}

/// The path's frame at a place, turned as copies are.
Frame frame_along(const PathCurve& curve, const Frame& world_from_path, double along_m,
                  const std::string& turn) {
    const PathSample at = curve.at(along_m);
    Frame out{Quat::Identity(), world_from_path.point(at.place)};
    if (turn == "fixed") return out;
    const Vec3 ahead = world_from_path.direction(at.tangent);
    const bool level = turn == "level" && ahead.head<2>().norm() > 1e-6;
    const Vec3 x = level ? Vec3(ahead.x(), ahead.y(), 0).normalized() : ahead,
               z = level ? Vec3(0, 0, 1) : world_from_path.direction(at.up);
    Mat3 axes;
    axes << x, z.cross(x), z;
    out.rotation = Quat(axes).normalized();
    return out;
}

Result<Outcome> repeat_path(const Document& document, const Arguments& a, const OperationContext&) {
    PIVRAK_TRY(path, path_named(document, a));
    RigFacts facts;
    PIVRAK_TRY(laid, facts.path(document, *path));
    const PathCurve& curve = laid->curve;
    const Frame world = world_from_path(document, *path);
    const Vec3 pivot = world_from_rest(document, a.parts("parts").front()).translation;
    PIVRAK_TRY(spacing, spaced(document, curve, curve.nearest(world.inverse().point(pivot)), a));
    const Frame first = frame_along(curve, world, spacing.start_m, a.text("turn")).inverse();
    std::vector<Frame> motions;
    for (int i = 1; i < spacing.count; ++i)
        motions.push_back(frame_along(curve, world, spacing.start_m + i * spacing.step_m, a.text("turn")) *
                          first);
    PIVRAK_TRY(out, repeated_by(document, a, motions));
    out.messages.push_back(
        fmt::format("{} apart along '{}'", format_length(std::abs(spacing.step_m), document), path->name));
    return out;
}

}  // namespace

void add_repeat_path_operation(Registry& registry) {
    registry.add(
        {"part.repeat_path",
         "Repeat along a path",
         "Copies parts with all they carry along a path, from where the first stands; it need not be on it.",
         {parts_argument("parts to repeat"), path_argument(),
          worded({"count",
                  ArgumentKind::Integer,
                  "how many there are in the end, the first included; as many as fit when left out",
                  false,
                  {},
                  {}},
                 "Total", "as many as fit"),
          worded({"spacing",
                  ArgumentKind::Length,
                  "from one to the next along the path, below zero backwards; evenly when left out",
                  false,
                  {},
                  {}},
                 "Spacing", "evenly"),
          worded({"turn",
                  ArgumentKind::Choice,
                  "whether copies turn with the path, only about the upright, or not at all",
                  false,
                  "path",
                  {"path", "level", "fixed"}},
                 "Turned"),
          riders_argument(CopiedRiders::Apart), shape_alone_argument()},
         repeat_path});
}

}  // namespace pivrak
