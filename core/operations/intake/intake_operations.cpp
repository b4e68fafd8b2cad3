#include <fmt/format.h>

#include "core/geometry/fits/round_axis.h"
#include "core/geometry/mesh/extent.h"
#include "core/model/edits/branch_bounds.h"
#include "core/model/edits/edits.h"
#include "core/model/edits/stand.h"
#include "core/operations/all_operations.h"
#include "core/operations/intake/update_model.h"

namespace pivrak {
namespace {

// ---- standing up

Result<Quat> turn_of(const Arguments& a) {
    const int up = *direction_from(a.text("up")), front = *direction_from(a.text("front"));
    const auto turn = upright_turn(up, front);
    if (!turn)
        return Error{"stand.direction",
                     fmt::format("{} cannot be up and {} the front: they lie on one line", direction_word(up),
                                 direction_word(front)),
                     "front"};
    return *turn;
}

/// One of: a plain factor, a side that is to have a length, two points that are to be a length apart.
Result<double> scale_of(const Document& document, const Arguments& a, const Bounds& bounds) {
    const bool by_side = a.has("side"), by_points = a.has("measure_from") || a.has("measure_to");
    if (!a.has("length")) {
        if (by_side || by_points)
            return Error{"stand.length", "give the length that this side or distance is to have", "length"};
        const double factor = a.number("scale");
        if (!(factor > 0) || factor > 1e6 || factor < 1e-6)
            return Error{"stand.scale", fmt::format("a scale of {} is out of range", factor), "scale"};
        return factor;
    }
    const double wanted = a.number("length");
    if (!(wanted > 0))
        return Error{"stand.length",
                     fmt::format("a length of {} is not above zero", format_length(wanted, document)),
                     "length"};
    double present = 0;
    if (by_points) {
        if (!a.has("measure_from") || !a.has("measure_to"))
            return Error{"stand.points", "a distance needs two points: 'measure_from' and 'measure_to'",
                         "measure_to"};
        present = (a.point("measure_to") - a.point("measure_from")).norm();
    } else {
        const std::string side = by_side ? a.text("side") : "x";
        present = bounds.empty() ? 0 : bounds.size()[side.front() - 'x'];
    }
    if (!(present > 1e-9))
        return Error{"stand.no_length",
                     "what is to get that length has none now: pick two different points, or another side",
                     "length"};
    return wanted / present;
}

Result<Outcome> stand(const Document& document, const Arguments& a, const OperationContext&) {
    std::vector<PartId> tops;
    const Tree tree(document);
    if (a.has("parts"))
        tops = a.parts("parts");
    else
        tops.assign(tree.roots().begin(), tree.roots().end());
    if (tops.empty()) return Error{"stand.nothing", "there is no model yet to stand up", "parts"};
    StandOptions options;
    PIVRAK_TRY(turn, turn_of(a));
    options.turn = turn;
    const Bounds before = branch_bounds(document, tops, Frame{options.turn, Vec3(0, 0, 0)});
    PIVRAK_TRY(scale, scale_of(document, a, before));
    options.scale = scale;
    options.to_ground = a.flag("ground") || a.has("touching");
    if (a.has("touching")) options.touching = a.parts("touching");
    options.centred = a.flag("centre");
    Outcome out{document};
    stand_up(out.document, tops, options);
    const Vec3 size = branch_bounds(out.document, tops).size();
    out.messages.push_back(fmt::format("{} long, {} wide, {} high", format_length(size.x(), document),
                                       format_length(size.y(), document), format_length(size.z(), document)));
    if (scale != 1) out.messages.push_back(fmt::format("made {:.6g} times as large", scale));
    out.readings = {{"scale", scale}, {"size_m", {size.x(), size.y(), size.z()}}};
    return out;
}

// ---- swapping shapes

struct AxisLine {
    Vec3 point, direction;
};

Result<AxisLine> axis_of(const Mesh& mesh, const Frame& target_from_mesh, const std::string& name) {
    AxisLine line;
    if (const auto axis = round_axis(mesh))
        line = {axis->point, axis->direction};
    else
        return Error{"swap.not_round",
                     fmt::format("'{}' has no axis: it is not round; match by bounds instead", name), name};
    // The middle of the whole along the axis, so that both are centred alike.
    line.point += extent_along(mesh, line.point, line.direction).middle() * line.direction;
    return AxisLine{target_from_mesh.point(line.point), target_from_mesh.direction(line.direction)};
}

/// Where the donor's shape hangs in the target.
Result<Frame> swapped_offset(const Document& document, const Part& target, const Part& donor,
                             const std::string& match) {
    const Shape& taken = *document.shapes.find(donor.shape);
    if (match == "as is")
        return (world_from_rest(document, target.id).inverse() * world_from_rest(document, donor.id) *
                donor.part_from_shape)
            .normalized();
    const Shape* present = document.shapes.find(target.shape);
    if (!present)
        return Error{"part.no_shape",
                     fmt::format("'{}' has no shape to match; take the new one as it is", target.name),
                     target.name};
    if (match == "bounds") {
        Frame offset = donor.part_from_shape;
        offset.translation += mesh_bounds(*present->mesh, target.part_from_shape).middle() -
                              mesh_bounds(*taken.mesh, donor.part_from_shape).middle();
        return offset;
    }
    PIVRAK_TRY(from, axis_of(*taken.mesh, donor.part_from_shape, donor.name));
    PIVRAK_TRY(to, axis_of(*present->mesh, target.part_from_shape, target.name));
    if (from.direction.dot(to.direction) < 0) to.direction = -to.direction;
    const Quat turn = Quat::FromTwoVectors(from.direction, to.direction);
    return (Frame{turn, to.point - turn * from.point} * donor.part_from_shape).normalized();
}

Result<Outcome> swap_shape(const Document& document, const Arguments& a, const OperationContext&) {
    const Part donor = *document.parts.find(a.part("from"));
    if (!donor.shape)
        return Error{"part.no_shape", fmt::format("'{}' has no shape to give", donor.name), donor.name};
    Outcome out{document};
    for (const PartId id : a.parts("parts")) {
        if (id == donor.id) continue;
        Part part = *out.document.parts.find(id);
        PIVRAK_TRY(offset, swapped_offset(document, part, donor, a.text("match")));
        const Bounds before = part.shape
                                  ? mesh_bounds(*document.shapes.find(part.shape)->mesh, part.part_from_shape)
                                  : Bounds{};
        part.shape = donor.shape;
        part.part_from_shape = offset;
        part.origin = donor.origin;
        out.document.parts.set(part);
        const Bounds after = mesh_bounds(*document.shapes.find(donor.shape)->mesh, offset);
        if (!before.empty())
            out.messages.push_back(
                fmt::format("'{}': size changed by {}, middle by {}; the pivot stays", part.name,
                            format_length((after.size() - before.size()).norm(), document),
                            format_length((after.middle() - before.middle()).norm(), document)));
        out.created.push_back(id);
    }
    if (out.created.empty())
        return Error{"swap.itself", fmt::format("'{}' cannot be swapped for itself", donor.name), donor.name};
    if (!a.flag("keep")) {
        const Tree tree(document);
        if (!tree.children(donor.id).empty())
            return Error{"swap.carries",
                         fmt::format("'{}' carries other parts; keep it, or release them first", donor.name),
                         donor.name};
        remove_branch(out.document, donor.id);
    }
    drop_unused_shapes(out.document);
    return out;
}

}  // namespace

void add_intake_operations(Registry& registry) {
    const std::vector<std::string> directions{"+x", "-x", "+y", "-y", "+z", "-z"};
    registry.add(
        {"model.stand",
         "Stand up",
         "Turns a model upright, gives it its true size, puts it on the ground and centres it.",
         {parts_argument("tops of what is stood up; everything when left out", false),
          {"up", ArgumentKind::Choice, "the present direction that is to be up", false, "+z", directions},
          {"front", ArgumentKind::Choice, "the present direction that is to be the front", false, "+x",
           directions},
          {"scale", ArgumentKind::Number, "how many times as large", false, 1.0, {}},
          {"side",
           ArgumentKind::Choice,
           "the side that is to have a length, once turned",
           false,
           {},
           {"x", "y", "z"}},
          {"measure_from",
           ArgumentKind::Point,
           "one end of a distance that is to have a length",
           false,
           {},
           {}},
          {"measure_to", ArgumentKind::Point, "its other end", false, {}, {}},
          {"length", ArgumentKind::Length, "the true length of that side or distance", false, {}, {}},
          {"ground", ArgumentKind::Flag, "puts the lowest point on the ground", false, false, {}},
          {"touching", ArgumentKind::Parts, "the parts that are to touch the ground instead", false, {}, {}},
          {"centre", ArgumentKind::Flag, "brings the middle above the origin", false, false, {}}},
         stand});
    registry.add({"model.update",
                  "Bring in a newer version",
                  "Gives parts the shapes of a newer version of their model; the rig stays.",
                  {{"file", ArgumentKind::File, "the newer file", true, {}, {}},
                   {"model",
                    ArgumentKind::Text,
                    "file name of the model it replaces; found by name when left out",
                    false,
                    {},
                    {}}},
                  update_model});
    registry.add({"shape.swap",
                  "Swap a shape",
                  "Gives parts the shape of another part; pivots, joints, couplings and keys stay.",
                  {parts_argument("parts that get the new shape"),
                   {"from", ArgumentKind::Part, "the part that has it", true, {}, {}},
                   {"match",
                    ArgumentKind::Choice,
                    "middles of the bounds, axes of round shapes, or where it stands",
                    false,
                    "bounds",
                    {"bounds", "axis", "as is"}},
                   {"keep", ArgumentKind::Flag, "keeps the part that gave the shape", false, false, {}}},
                  swap_shape});
}

}  // namespace pivrak
