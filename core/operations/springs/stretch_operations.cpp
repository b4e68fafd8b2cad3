#include <fmt/format.h>

#include <algorithm>

#include "core/model/edits/branch_bounds.h"
#include "core/operations/all_operations.h"
#include "core/operations/named_elements.h"
#include "core/rig/rig_facts.h"

namespace pivrak {
namespace {

/// The two ends of a shape's axis, in the world at rest.
struct Ends {
    Vec3 from, to;
    std::optional<Coil> coil;
};

Result<Ends> ends_of(const Document& document, const Part& part, bool evenly) {
    RigFacts facts;
    const auto shape = facts.long_shape(document, part, evenly);
    if (!shape)
        return Error{"stretch.no_length", fmt::format("'{}' has no shape that could be drawn out", part.name),
                     part.name};
    const Frame world = world_from_rest(document, part.id) * part.part_from_shape;
    return Ends{world.point(shape->from), world.point(shape->to), shape->coil};
}

/// How far a place lies from a box; 0 inside it.
double off_box(const Bounds& box, const Vec3& place) {
    return (place - place.cwiseMax(box.min).cwiseMin(box.max)).norm();
}

/// How far a place lies from what a part shows, with all it carries; from its pivot where it shows nothing.
double off_part(const Document& document, PartId part, const Vec3& place) {
    const Bounds bounds = branch_bounds(document, {part});
    return bounds.empty() ? (world_from_rest(document, part).translation - place).norm()
                          : off_box(bounds, place);
}

/// The part whose own shape is nearest to an end: what a spring stands on.
Result<PartId> held_at(const Document& document, const Part& spring, const Vec3& end, PartId other,
                       double reach_m) {
    PartId best;
    double least = reach_m;
    for (const Part& part : document.parts) {
        const Shape* shape = document.shapes.find(part.shape);
        if (!shape || part.id == spring.id || part.id == other) continue;
        const double off = off_box(
            mesh_bounds(*shape->mesh, world_from_rest(document, part.id) * part.part_from_shape), end);
        if (off < least) least = off, best = part.id;
    }
    if (best) return best;
    return Error{"stretch.no_seat",
                 fmt::format("nothing stands within {} of an end of '{}': say what holds it",
                             format_length(reach_m, document), spring.name),
                 spring.name};
}

Result<void> check_seats(const Document& document, const Stretch& stretch) {
    const Part& part = *document.parts.find(stretch.part);
    if (const auto damaged = stretch.damaged())
        return Error{"stretch.seats",
                     fmt::format("'{}' needs seats on two parts, and on none of its own", part.name),
                     part.name};
    for (const PartId seat : {stretch.from, stretch.to})
        if (is_below(document, seat, part.id))
            return Error{"stretch.itself",
                         fmt::format("'{}' is carried by '{}', so it cannot hold it", name_of(document, seat),
                                     part.name),
                         part.name};
    if (part.ride || part.tow)
        return Error{"stretch.rider",
                     fmt::format("'{}' hangs where its {} puts it", part.name, part.ride ? "path" : "hitch"),
                     part.name};
    for (const Stretch& other : document.stretches)
        if (other.part == stretch.part && other.id != stretch.id)
            return Error{"stretch.twice",
                         fmt::format("'{}' is drawn out by '{}' already", part.name, other.name), part.name};
    return {};
}

std::string made_words(const Document& document, const Stretch& stretch, const Ends& ends) {
    const double length = (ends.to - ends.from).norm();
    const std::string between = fmt::format("from '{}' to '{}', {} long", name_of(document, stretch.from),
                                            name_of(document, stretch.to), format_length(length, document));
    if (!ends.coil) return fmt::format("'{}' drawn out evenly {}", name_of(document, stretch.part), between);
    return fmt::format("'{}': {:.1f} coils of {} wire, {}", name_of(document, stretch.part), ends.coil->turns,
                       format_length(ends.coil->wire_m, LengthUnit::Millimetre), between);
}

Result<Outcome> stretch_add(const Document& document, const Arguments& a, const OperationContext&) {
    Outcome out{document};
    const auto parts = a.parts("parts");
    if (parts.size() > 1 && (a.has("from_at") || a.has("to_at")))
        return Error{"stretch.place", "places of seats are those of one part: take the others one by one",
                     "from_at"};
    for (const PartId id : parts) {
        const Part& part = *document.parts.find(id);
        Stretch stretch;
        stretch.part = id;
        stretch.evenly = a.flag("evenly");
        PIVRAK_TRY(ends, ends_of(document, part, stretch.evenly));
        const double reach = 0.25 * (ends.to - ends.from).norm();
        if (a.has("from")) stretch.from = a.part("from");
        if (a.has("to")) stretch.to = a.part("to");
        // The end that lies nearer to what was named.
        const auto off = [&](PartId seat, const Vec3& end) {
            return seat ? off_part(document, seat, end) : 0;
        };
        if (off(stretch.from, ends.to) + off(stretch.to, ends.from) <
            off(stretch.from, ends.from) + off(stretch.to, ends.to))
            std::swap(ends.from, ends.to);
        if (!stretch.from) {
            PIVRAK_TRY(found, held_at(document, part, ends.from, stretch.to, reach));
            stretch.from = found;
        }
        if (!stretch.to) {
            PIVRAK_TRY(found, held_at(document, part, ends.to, stretch.from, reach));
            stretch.to = found;
        }
        PIVRAK_CHECK(check_seats(out.document, stretch));
        if (const auto at = a.point_if("from_at")) ends.from = *at;
        if (const auto at = a.point_if("to_at")) ends.to = *at;
        stretch.from_place = world_from_rest(document, stretch.from).inverse().point(ends.from);
        stretch.to_place = world_from_rest(document, stretch.to).inverse().point(ends.to);
        const std::string wanted = a.has("name") ? a.text("name") : part.name + " stretch";
        PIVRAK_CHECK(check_name(wanted));
        stretch.name = free_entry_name(out.document.stretches, wanted);
        stretch.id = out.document.new_id<StretchId>();
        out.document.stretches.set(stretch);
        out.messages.push_back(made_words(document, stretch, ends));
        out.readings["stretches"].push_back(stretch.id.value);
        if (ends.coil)
            out.readings["coils"].push_back({{"turns", ends.coil->turns},
                                             {"radius_m", ends.coil->radius_m},
                                             {"wire_m", ends.coil->wire_m},
                                             {"left_handed", ends.coil->left_handed}});
    }
    return out;
}

Result<std::vector<Stretch>> stretches_named(const Document& document, const Arguments& a) {
    return named_elements(document, document.stretches, a, "stretches", "stretch.unknown",
                          "is no spring or cable");
}

Result<Outcome> stretch_set(const Document& document, const Arguments& a, const OperationContext&) {
    PIVRAK_TRY(found, stretches_named(document, a));
    Outcome out{document};
    for (Stretch stretch : found) {
        if (a.has("on")) stretch.off = !a.flag("on");
        if (a.has("evenly")) stretch.evenly = a.flag("evenly");
        PIVRAK_CHECK(rename_entry(document.stretches, a, "stretch.duplicate", "spring or cable", stretch));
        out.document.stretches.set(stretch);
    }
    return out;
}

Result<Outcome> stretch_remove(const Document& document, const Arguments& a, const OperationContext&) {
    PIVRAK_TRY(found, stretches_named(document, a));
    Outcome out{document};
    for (const Stretch& stretch : found) {
        out.document.stretches.erase(stretch.id);
        out.messages.push_back(fmt::format("'{}' removed", stretch.name));
    }
    return out;
}

}  // namespace

void add_stretch_operations(Registry& registry) {
    const ArgumentSpec stretches{"stretches", ArgumentKind::Elements, "by name or id", true, {}, {}};
    const ArgumentSpec name{"name", ArgumentKind::Text, "of the spring or cable", false, {}, {}};
    registry.add(
        {"stretch.add",
         "Stretch between two seats",
         "A spring or cable hangs on one part, points at another, and is drawn out until it ends there; the "
         "wire of a coil keeps its thickness.",
         {parts_argument("springs and cables, as they rest"),
          worded({"from",
                  ArgumentKind::Part,
                  "what holds one end; what stands there when left out",
                  false,
                  {},
                  {}},
                 "One seat on", "what stands there"),
          worded({"to", ArgumentKind::Part, "what holds the other end; alike", false, {}, {}}, "The other on",
                 "what stands there"),
          worded({"from_at",
                  ArgumentKind::Place,
                  "the place of the seat; the end of the shape when left out",
                  false,
                  {},
                  {}},
                 "With its place"),
          worded({"to_at", ArgumentKind::Place, "of the other seat; alike", false, {}, {}}, "To the place"),
          worded({"evenly", ArgumentKind::Flag, "draws a coil out as if it were solid", false, false, {}},
                 "draw out evenly, coils too"),
          name},
         stretch_add});
    registry.add({"stretch.set",
                  "Change a spring or cable",
                  "Turns it off and on, or has a coil drawn out evenly.",
                  {stretches,
                   {"on", ArgumentKind::Flag, "whether it is drawn out at all", false, {}, {}},
                   {"evenly", ArgumentKind::Flag, "draws a coil out as if it were solid", false, {}, {}},
                   name},
                  stretch_set});
    registry.add({"stretch.remove",
                  "Remove springs and cables",
                  "Parts hang in the tree again, as they rest.",
                  {stretches},
                  stretch_remove});
}

}  // namespace pivrak
