#include <fmt/format.h>

#include "core/model/edits/edits.h"
#include "core/motion/evaluator.h"
#include "core/operations/all_operations.h"
#include "core/operations/linkages/linkage_maker.h"
#include "core/rig/driven_by.h"
#include "core/rig/linkages/ram_shape.h"

namespace pivrak {
namespace {

/// What an end is pinned to: what was said, what its eye sits in, or what carries it already.
Result<PartId> held_by(const Document& document, const Arguments& a, const char* argument, const RamEye& eye,
                       PartId end, const std::vector<PartId>& ram) {
    if (a.has(argument)) return a.part(argument);
    if (const PartId found = part_at_eye(document, eye, ram)) return found;
    const PartId parent = document.parts.find(end)->parent;
    if (parent && parent != ram.front()) return parent;
    return Error{
        "ram.end",
        fmt::format("no round surface of another part is at the eye of '{}'; say what it is pinned to",
                    name_of(document, end)),
        argument};
}

/// The axis of the nearest hinge that carries a part.
std::optional<Vec3> hinge_above(const Document& document, PartId part) {
    for (const Part* p = document.parts.find(part); p; p = document.parts.find(p->parent))
        if (p->joint.kind == JointKind::Hinge) return world_from_rest(document, p->id).axis(p->joint.axis);
    return std::nullopt;
}

Result<void> hang(Document& document, PartId id, PartId carrier, const Frame& pivot, const Joint& joint) {
    if (const auto user = joint_user(document, id, joint))
        return Error{"joint.coupled",
                     fmt::format("'{}' cannot be part of a ram: {} needs its joint as it is",
                                 name_of(document, id), *user),
                     name_of(document, id)};
    PIVRAK_CHECK(reparent(document, id, carrier));
    move_pivot(document, id, pivot);
    Part part = *document.parts.find(id);
    part.joint = joint;
    document.parts.set(part);
    return {};
}

Joint joint_of(JointKind kind, int axis, ChannelKind channel, const std::optional<Limits>& limits) {
    Joint joint;
    joint.kind = kind;
    joint.axis = axis;
    joint.set_channel(channel, {0, limits, false});
    return joint;
}

Result<Outcome> ram_make(const Document& document, const Arguments& a, const OperationContext&) {
    Outcome out{document};
    const PartId barrel = a.part("barrel"), rod = a.part("rod");
    const std::string barrel_name = name_of(document, barrel), rod_name = name_of(document, rod);
    if (barrel == rod) return Error{"ram.itself", "a ram is made of two parts", "rod"};
    const auto end = [&](const char* held, const char* place) {
        return RamEnd{a.has(held) ? a.part(held) : PartId{}, a.point_if(place)};
    };
    PIVRAK_TRY(shape, ram_shape(document, barrel, rod, end("on", "barrel_eye"), end("to", "rod_eye")));
    const std::vector<PartId> ram{barrel, rod};
    PIVRAK_TRY(on, held_by(document, a, "on", shape.barrel, barrel, ram));
    PIVRAK_TRY(to, held_by(document, a, "to", shape.rod, rod, ram));
    if (on == to)
        return Error{"ram.one_end",
                     fmt::format("both ends would be pinned to '{}': a ram moves one part against another",
                                 name_of(document, on)),
                     "to"};
    if (is_below(document, to, barrel) || is_below(document, on, barrel))
        return Error{
            "ram.carries",
            fmt::format("'{}' carries what it is to push; put that under something else first", barrel_name),
            barrel_name};
    Vec3 eye = shape.barrel.radius_m > 0 ? shape.barrel.axis : shape.rod.axis;
    if (eye.norm() < 0.5) eye = hinge_above(document, to).value_or(any_perpendicular(shape.way));
    eye = (eye - eye.dot(shape.way) * shape.way).normalized();
    Mat3 axes;
    axes << shape.way, eye.cross(shape.way), eye;
    const Quat turn = Quat(axes).normalized();
    const Limits stroke{-shape.goes_in_m, shape.goes_out_m};
    const bool measured = shape.goes_in_m > 1e-6 && shape.goes_out_m > 1e-6;
    PIVRAK_CHECK(hang(out.document, barrel, on, {turn, shape.barrel.place},
                      joint_of(JointKind::Hinge, 2, ChannelKind::Turn, {})));
    PIVRAK_CHECK(hang(
        out.document, rod, barrel, {turn, shape.rod.place},
        joint_of(JointKind::Slide, 0, ChannelKind::Shift, measured ? std::optional(stroke) : std::nullopt)));
    const Closure closure = closure_at(out.document, rod, to, {Closes::Pin, shape.rod.place, eye});
    PIVRAK_TRY(id, add_closure(out.document, closure, barrel_name + " ram"));
    // Of a ram that stands alone its length leads, unless something has keys already.
    Linkage linkage = *out.document.linkages.find(id);
    if (linkage.closures.size() == 1) {
        PIVRAK_CHECK(choose_inputs(out.document, linkage, {{rod, ChannelKind::Shift}}, Prefer::AfterKeys));
        out.document.linkages.set(linkage);
    }
    if (const auto compiled = Evaluator::check(out.document); !compiled) return compiled.error();
    out.messages.push_back(
        fmt::format("a ram {} long from '{}' to '{}'{}", format_length(shape.length_m, document),
                    name_of(document, on), name_of(document, to),
                    measured ? fmt::format(": goes in {}, out {}", format_length(shape.goes_in_m, document),
                                           format_length(shape.goes_out_m, document))
                             : "; its stroke does not show in its shapes: set limits of the rod"));
    PIVRAK_TRY(words, mobility_words(out.document, linkage));
    out.messages.push_back(fmt::format("'{}' {}", linkage.name, words));
    out.readings["linkages"].push_back(id.value);
    out.readings["ram"] = {
        {"length_m", shape.length_m}, {"goes_in_m", shape.goes_in_m}, {"goes_out_m", shape.goes_out_m}};
    return out;
}

}  // namespace

void add_ram_operations(Registry& registry) {
    registry.add({"ram.make",
                  "Make a ram",
                  "Two parts that slide in one another become a ram: line, eyes and stroke are measured on "
                  "their shapes, "
                  "both ends are pinned, and its length moves the linkage, or follows it.",
                  {worded({"barrel", ArgumentKind::Part, "the outer half", true, {}, {}}, "Barrel"),
                   worded({"rod", ArgumentKind::Part, "the inner half", true, {}, {}}, "Rod"),
                   worded({"on", ArgumentKind::Part, "what the barrel's eye is pinned to", false, {}, {}},
                          "Barrel on", "what its eye sits in"),
                   worded({"to", ArgumentKind::Part, "what the rod's eye is pinned to", false, {}, {}},
                          "Rod to", "what its eye sits in"),
                   worded({"barrel_eye",
                           ArgumentKind::Place,
                           "where the barrel is pinned; measured when left out",
                           false,
                           {},
                           {}},
                          "Barrel pinned at", "measured"),
                   worded({"rod_eye",
                           ArgumentKind::Place,
                           "where the rod is pinned; measured when left out",
                           false,
                           {},
                           {}},
                          "Rod pinned at", "measured")},
                  ram_make});
}

}  // namespace pivrak
