#include <fmt/format.h>

#include <algorithm>

#include "core/base/words.h"
#include "core/model/edits/edits.h"
#include "core/model/names/names.h"
#include "core/operations/all_operations.h"

namespace pivrak {
namespace {

Result<Outcome> put_under(const Document& document, const std::vector<PartId>& parts, PartId parent) {
    Outcome out{document};
    for (const PartId part : parts) PIVRAK_CHECK(reparent(out.document, part, parent));
    return out;
}

Result<Outcome> add_datum(const Document& document, const Arguments& a, const OperationContext&) {
    PIVRAK_CHECK(check_name(a.text("name")));
    Outcome out{document};
    Part datum;
    datum.id = out.document.new_id<PartId>();
    datum.name = FreeNames(document).take(a.text("name"));
    if (a.has("like")) datum.parent_from_rest = world_from_rest(document, a.part("like"));
    if (a.has("place")) datum.parent_from_rest.translation = a.point("place");
    out.document.parts.set(datum);
    if (a.has("under")) PIVRAK_CHECK(reparent(out.document, datum.id, a.part("under")));
    out.created.push_back(datum.id);
    return out;
}

/// Parts whose carrier, near or far, is among them too: these move with it.
std::vector<PartId> without_carried(const Document& document, std::vector<PartId> parts) {
    const std::vector<PartId> all = parts;
    std::erase_if(parts, [&](PartId part) {
        return std::any_of(all.begin(), all.end(),
                           [&](PartId other) { return other != part && is_below(document, part, other); });
    });
    return parts;
}

Result<Outcome> align_parts(const Document& document, const Arguments& a, const OperationContext&) {
    const PartId to = a.part("to");
    const std::string what = a.text("what");
    Outcome out{document};
    double farthest = 0, widest = 0;
    for (const PartId id : without_carried(document, a.parts("parts"))) {
        if (id == to) continue;
        if (is_below(document, to, id))
            return Error{
                "align.carried",
                fmt::format("'{}' carries '{}' and would move it along; align to something it does not "
                            "carry",
                            document.parts.find(id)->name, document.parts.find(to)->name),
                document.parts.find(id)->name};
        const Frame before = world_from_rest(out.document, id);
        align(out.document, id, world_from_rest(document, to),
              what == "place"  ? AlignWhat::Place
              : what == "axes" ? AlignWhat::Axes
                               : AlignWhat::Both);
        const Frame after = world_from_rest(out.document, id);
        farthest = std::max(farthest, (after.translation - before.translation).norm());
        widest = std::max(widest, angle_between(after.rotation, before.rotation));
        out.created.push_back(id);
    }
    if (out.created.empty())
        return Error{"align.itself", "a part cannot be aligned to itself; pick the one to align to last",
                     "to"};
    out.messages.push_back(fmt::format("{} moved by up to {} and turned by up to {}",
                                       counted(out.created.size(), "part"), format_length(farthest, document),
                                       format_angle(widest)));
    out.readings = {{"moved_m", farthest}, {"turned_rad", widest}};
    return out;
}

Result<Outcome> frame_above(const Document& document, const Arguments& a, const OperationContext&) {
    Outcome out{document};
    FreeNames names(document);
    for (const PartId id : a.parts("parts"))
        out.created.push_back(put_frame_above(out.document, id,
                                              names.take(out.document.parts.find(id)->name + " frame"),
                                              a.flag("takes_joint")));
    out.messages.push_back(counted(out.created.size(), "frame") + " added");
    return out;
}

ArgumentSpec part_argument(std::string name, std::string summary, bool required) {
    return {std::move(name), ArgumentKind::Part, std::move(summary), required, {}, {}};
}

}  // namespace

void add_tree_operations(Registry& registry) {
    registry.add(
        {"tree.parent",
         "Put under",
         "Lets one part carry others; they stay where they stand.",
         {parts_argument("parts to be carried"), part_argument("under", "the part that carries them", true)},
         [](const Document& d, const Arguments& a, const OperationContext&) {
             return put_under(d, a.parts("parts"), a.part("under"));
         }});
    registry.add({"tree.release",
                  "Release",
                  "Takes parts out of what carries them; they stay where they stand.",
                  {parts_argument("parts to release")},
                  [](const Document& d, const Arguments& a, const OperationContext&) {
                      return put_under(d, a.parts("parts"), PartId{});
                  }});
    registry.add(
        {"datum.add",
         "Add a datum",
         "Adds a frame without a shape, to align to, to carry parts or to be animated.",
         {{"name", ArgumentKind::Text, "its name; numbered when taken", false, "Datum", {}},
          {"place", ArgumentKind::Place, "where it stands; the world's origin when left out", false, {}, {}},
          part_argument("like", "a part whose place and axes it takes", false),
          part_argument("under", "what carries it", false)},
         add_datum});
    registry.add(
        {"tree.align",
         "Align",
         "Moves parts, with all they carry, onto another part's frame.",
         {parts_argument("parts to move"),
          part_argument("to", "the part whose frame they take over", true),
          {"what", ArgumentKind::Choice, "place, axes, or both", false, "both", {"place", "axes", "both"}}},
         align_parts});
    registry.add(
        {"tree.frame_above",
         "Put a frame above",
         "Puts a datum at each part's pivot between it and its carrier, so that the motion stays when the "
         "part is exchanged.",
         {parts_argument("parts to get a frame"),
          {"takes_joint",
           ArgumentKind::Flag,
           "the frame takes over joint, limits, keys and couplings",
           false,
           true,
           {}}},
         frame_above});
}

}  // namespace pivrak
