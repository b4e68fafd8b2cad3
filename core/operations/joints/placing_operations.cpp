// Parts moved at rest, and one part in the place of others.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/base/words.h"
#include "core/model/edits/edits.h"
#include "core/model/edits/stand.h"
#include "core/model/rig_parts.h"
#include "core/motion/evaluator.h"
#include "core/operations/all_operations.h"

namespace pivrak {
namespace {

Error takes_its_place(const Part& part, const char* from) {
    return {"place.led", fmt::format("'{}' has its place from {}: move that instead", part.name, from),
            part.name};
}

/// Whether all of them rest where they are put.
Result<void> rest_by_themselves(const Document& document, const std::vector<PartId>& parts) {
    for (const PartId id : parts) {
        const Part& part = *document.parts.find(id);
        if (part.ride) return takes_its_place(part, "the path that it rides");
        if (part.tow) return takes_its_place(part, "what tows it");
    }
    return {};
}

/// One place of what moves onto another; with both normals, face on face first.
Result<Outcome> snap_parts(const Document& document, const Arguments& a, const OperationContext&) {
    const std::vector<PartId> parts = a.parts("parts");
    PIVRAK_CHECK(rest_by_themselves(document, parts));
    const Vec3 from = a.point("from"), to = a.point("to");
    Quat turn = Quat::Identity();
    if (a.has("from_normal") != a.has("to_normal"))
        return Error{"snap.normals",
                     "face on face takes both normals, that of the moved face and the other's", "to_normal"};
    if (a.has("from_normal")) {
        const Vec3 own = a.point("from_normal"), other = a.point("to_normal");
        if (!(own.norm() > 1e-9) || !(other.norm() > 1e-9))
            return Error{"snap.normals", "a normal has no length", "from_normal"};
        // Where they look the same way already, it turns over about any direction in the face.
        turn = own.normalized().dot(other.normalized()) > 1 - 1e-12
                   ? Quat(Eigen::AngleAxisd(pi, any_perpendicular(own.normalized())))
                   : Quat::FromTwoVectors(own, -other);
    }
    Vec3 by = to - from;
    if (a.text("along") != "all") {
        const int axis = a.text("along").front() - 'x';
        by = by[axis] * Vec3::Unit(axis);
    }
    constexpr double nowhere_m = 1e-9, nothing_rad = 1e-9;
    const double angle = 2 * std::acos(std::min(1.0, std::abs(turn.w())));
    if (by.norm() < nowhere_m && angle < nothing_rad)
        return nothing_to_do(document, "both places are one already");
    Outcome out{document};
    move_branches(out.document, parts, Frame{turn, from + by - turn * from});
    out.messages.push_back(fmt::format("{} moved by {} and turned by {}", counted(parts.size(), "part"),
                                       format_length(by.norm(), document), format_angle(angle)));
    return out;
}

/// Moved together, as they stand to each other.
Result<Outcome> place_parts(const Document& document, const Arguments& a, const OperationContext&) {
    const std::vector<PartId> parts = a.parts("parts");
    PIVRAK_CHECK(rest_by_themselves(document, parts));
    const Vec3 by(a.number("forward"), a.number("left"), a.number("up"));
    const std::string axis = a.text("axis");
    const Vec3 about =
        a.has("about") ? a.point("about") : world_from_rest(document, parts.back()).translation;
    const Quat turn = turn_about_axis(axis.front() - 'x', a.number("turn"));
    if (by.norm() == 0 && a.number("turn") == 0)
        return Error{"place.nowhere", "give a way or an angle: nothing would move", "forward"};
    Outcome out{document};
    move_branches(out.document, parts, Frame{turn, about + by - turn * about});
    out.messages.push_back(fmt::format("{} moved by {} and turned by {}", counted(parts.size(), "part"),
                                       format_length(by.norm(), document), format_angle(a.number("turn"))));
    return out;
}

/// What was said of some parts is said of another one; what they carried is carried by it.
Result<Outcome> replace_parts(const Document& document, const Arguments& a, const OperationContext&) {
    const PartId with = a.part("with");
    std::vector<PartId> gone = a.parts("parts");
    std::erase(gone, with);
    if (gone.empty())
        return Error{"replace.itself", "a part cannot take its own place; pick the one that stays last",
                     "with"};
    Outcome out{document};
    for (const PartId id : gone) {
        const Part part = *out.document.parts.find(id);
        if (is_below(document, with, id))
            return Error{"replace.carried",
                         fmt::format("'{}' carries '{}', which is to take its place", part.name,
                                     document.parts.find(with)->name),
                         part.name};
        if (part.joint.kind != JointKind::Fixed || part.ride || part.tow || part.chain)
            return Error{"replace.moves",
                         fmt::format("'{}' moves by a joint of its own, which '{}' does not have", part.name,
                                     document.parts.find(with)->name),
                         part.name};
        const Tree tree(out.document);
        for (const PartId child : tree.children(id)) PIVRAK_CHECK(reparent(out.document, child, with));
        replace_in_rig(out.document, id, with);
        remove_branch(out.document, id);
    }
    if (const auto compiled = Evaluator::check(out.document); !compiled) return compiled.error();
    out.messages.push_back(fmt::format("{} gone, '{}' in {} place", counted(gone.size(), "part"),
                                       document.parts.find(with)->name, gone.size() == 1 ? "its" : "their"));
    return out;
}

}  // namespace

void add_placing_operations(Registry& registry) {
    const auto way = [](const char* name, const char* summary, const char* label) {
        return worded({name, ArgumentKind::Length, summary, false, 0.0, {}}, label);
    };
    registry.add(
        {"tree.place",
         "Place at rest",
         "Moves parts with all they carry, together, as far as is given.",
         {parts_argument("parts to move"),
          way("forward", "along X", "Forward"),
          way("left", "along Y", "To the left"),
          way("up", "along Z", "Up"),
          worded({"turn", ArgumentKind::Angle, "a turn as well", false, 0.0, {}}, "Turned by"),
          worded({"axis", ArgumentKind::Choice, "the world's axis of the turn", false, "z", {"x", "y", "z"}},
                 "About"),
          {"about",
           ArgumentKind::Place,
           "where that axis is; the pivot of the part named last when left out",
           false,
           {},
           {}}},
         place_parts});
    registry.add(
        {"tree.snap",
         "Place onto a place",
         "Moves parts with all they carry so that a place of theirs comes onto another one; face on face "
         "with normals.",
         {parts_argument("parts to move"),
          {"from", ArgumentKind::Place, "a place that moves along", true, {}, {}},
          {"to", ArgumentKind::Place, "where it goes", true, {}, {}},
          worded({"along",
                  ArgumentKind::Choice,
                  "in all directions, or along one axis of the world",
                  false,
                  "all",
                  {"all", "x", "y", "z"}},
                 "Along"),
          {"from_normal", ArgumentKind::Vector, "the way in which the moved face looks out", false, {}, {}},
          {"to_normal",
           ArgumentKind::Vector,
           "the way in which the other face looks out: they lie on each other",
           false,
           {},
           {}}},
         snap_parts});
    registry.add({"tree.replace",
                  "Replace by another part",
                  "Whatever the rig says of parts it says of another one from then on, which carries what "
                  "they carried; they go. Two grounds become one.",
                  {parts_argument("parts that go"),
                   {"with", ArgumentKind::Part, "the part that takes their place", true, {}, {}}},
                  replace_parts});
}

}  // namespace pivrak
