#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/base/words.h"
#include "core/io/project/project_json.h"
#include "core/model/edits/branch_copy.h"
#include "core/model/names/names.h"
#include "core/operations/all_operations.h"
#include "core/operations/channel_access.h"
#include "core/operations/travel/path_access.h"
#include "core/rig/paths/path_curve.h"

namespace pivrak {
namespace {

const std::vector<std::string> axes_with_sign{"x", "-x", "y", "-y", "z", "-z"};
const std::vector<std::string> upright_choices{"world", "path", "bank", "plumb", "level"};

/// What every way of riding shares: path, axes, how it is kept upright, offsets.
Result<Ride> ride_from(const Document& document, const Arguments& a, const Ride& before) {
    Ride ride = before;
    if (a.has("path")) {
        PIVRAK_TRY(path, path_named(document, a));
        ride.path = path->id;
    }
    if (!document.paths.contains(ride.path))
        return Error{"argument.missing", "'path' is needed: name of the path", "path"};
    if (a.has("lead")) {
        const std::string lead = a.text("lead");
        ride.against = lead[0] == '-';
        ride.axis = lead.back() - 'x';
    }
    if (a.has("up_axis")) ride.up_axis = *axis_from(a.text("up_axis"));
    if (ride.axis == ride.up_axis)
        return Error{"ride.axes",
                     fmt::format("own axis {} cannot both lead and be kept up", axis_word(ride.axis)),
                     "up_axis"};
    if (a.has("upright")) ride.upright = *value_of<Upright>(upright_words, a.text("upright"));
    const auto take = [&](const char* name, double& value) { value = a.number_if(name).value_or(value); };
    take("speed", ride.bank_speed_m_s);
    take("gain", ride.bank_gain);
    take("side", ride.side_m);
    take("height", ride.height_m);
    take("front", ride.front_m);
    take("rear", ride.rear_m);
    if (ride.front_m < 0 || ride.rear_m < 0)
        return Error{"ride.points",
                     "the points that carry a rider lie ahead of and behind its pivot: no lengths below zero",
                     "front"};
    return ride;
}

Result<Outcome> ride_set(const Document& document, const Arguments& a, const OperationContext&) {
    Outcome out{document};
    for (const PartId id : a.parts("parts")) {
        Part part = *document.parts.find(id);
        if (part.tow)
            return Error{"ride.towed", fmt::format("'{}' is towed; it cannot ride a path too", part.name),
                         part.name};
        PIVRAK_TRY(ride, ride_from(document, a, part.ride.value_or(Ride{})));
        part.ride = ride;
        if (a.has("at")) {
            const auto curve = PathCurve::make(*document.paths.find(ride.path));
            PIVRAK_TRY(at,
                       typed_along(a.text("at"), curve ? curve->length() : 0, document.settings.length_unit));
            part.joint.along.value = at;
        }
        out.document.parts.set(part);
    }
    return out;
}

Result<Outcome> ride_remove(const Document& document, const Arguments& a, const OperationContext&) {
    Outcome out{document};
    for (const PartId id : a.parts("parts")) {
        Part part = *document.parts.find(id);
        if (!part.ride) return Error{"ride.none", fmt::format("'{}' rides no path", part.name), part.name};
        part.ride.reset();
        part.joint.along = {};
        out.document.parts.set(part);
    }
    return out;
}

/// Extent of a part with all it carries along one of its own axes, from its pivot.
Limits extent_along(const Document& document, PartId id, int axis) {
    const Frame own_from_world = world_from_rest(document, id).inverse();
    Bounds bounds;
    for (const PartId below : Tree(document).branch(id)) {
        const Part& part = *document.parts.find(below);
        if (const Shape* shape = document.shapes.find(part.shape))
            bounds.add(mesh_bounds(*shape->mesh,
                                   own_from_world * world_from_rest(document, below) * part.part_from_shape));
    }
    return bounds.empty() ? Limits{-0.5, 0.5} : Limits{bounds.min[axis], bounds.max[axis]};
}

/// A carriage and the two bogies that turn under it, the front one first; none where it has none.
struct Carriage {
    PartId body;
    std::vector<PartId> bogies;
};

/// Each carriage with those of `bogies` that it carries.
Result<std::vector<Carriage>> with_bogies(const Document& document, const std::vector<PartId>& bodies,
                                          const std::vector<PartId>& bogies) {
    std::vector<Carriage> all;
    std::size_t found = 0;
    const Tree tree(document);
    for (const PartId body : bodies) {
        Carriage carriage{body, {}};
        const std::vector<PartId> branch = tree.branch(body);
        for (const PartId id : bogies)
            if (id != body && std::find(branch.begin(), branch.end(), id) != branch.end())
                carriage.bogies.push_back(id);
        found += carriage.bogies.size();
        const std::string& name = document.parts.find(body)->name;
        if (!bogies.empty() && carriage.bogies.size() != 2)
            return Error{
                "ride.bogies",
                fmt::format("a carriage runs on two bogies that it carries; '{}' carries {} of those named",
                            name, carriage.bogies.size()),
                name};
        all.push_back(std::move(carriage));
    }
    if (found != bogies.size())
        return Error{"ride.bogies", "a bogie that is named lies under none of the carriages", "bogies"};
    return all;
}

/// Copies of one carriage, named in its series.
std::vector<Carriage> carriages_of(Outcome& out, std::vector<Carriage> given, int count) {
    if (given.size() != 1) return given;
    const Carriage first = given.front();
    for (int i = 1; i < count; ++i) {
        const BranchCopy copy = copy_branches(out.document, {first.body}, {});
        Carriage made{copy.tops.front(), {}};
        for (const PartId id : first.bogies) made.bogies.push_back(copy.copy_of.at(id));
        given.push_back(made);
        out.created.push_back(made.body);
    }
    return given;
}

struct StringPlan {
    std::string coupling;
    double gap_m;
    bool has_points;  ///< front and rear were given
};

/// Points and couplers of a carriage: as given, or measured on its shape.
void measure_carriage(const Document& document, PartId id, const StringPlan& plan, Ride& ride) {
    const Limits extent = extent_along(document, id, ride.axis);
    const double front = ride.against ? -extent.min : extent.max,
                 rear = ride.against ? extent.max : -extent.min;
    constexpr double support_share = 0.7;
    if (!plan.has_points && plan.coupling != "path") {
        ride.front_m = support_share * std::max(front, 0.0);
        ride.rear_m = support_share * std::max(rear, 0.0);
    }
    const bool shared = plan.coupling == "shared";
    // The point that two share lies in the middle of the gap between them.
    if (shared && !plan.has_points) {
        ride.front_m = std::max(front, 0.0) + 0.5 * plan.gap_m;
        ride.rear_m = std::max(rear, 0.0) + 0.5 * plan.gap_m;
    }
    ride.coupler_front_m = shared ? ride.front_m : std::max(front, ride.front_m);
    ride.coupler_rear_m = shared ? ride.rear_m : std::max(rear, ride.rear_m);
    ride.gap_m = shared ? 0 : plan.gap_m;
    ride.along_path = plan.coupling == "path";
}

/// Where a bogie's pivot lies under its carriage: ahead of it, and off the path.
struct BogiePlace {
    double ahead_m, side_m, height_m;
};

BogiePlace bogie_place(const Document& document, const Ride& ride, PartId body, PartId bogie) {
    const Frame own = world_from_rest(document, body);
    const Vec3 to =
        own.rotation.conjugate() * (world_from_rest(document, bogie).translation - own.translation);
    const double sign = ride.against ? -1 : 1;
    const Vec3 lead = sign * Vec3::Unit(ride.axis), up = Vec3::Unit(ride.up_axis);
    return {to.dot(lead), ride.side_m + to.dot(up.cross(lead)), ride.height_m + to.dot(up)};
}

/// The body is carried where its bogies' pivots are, and they look along the path there: the front one goes
/// with the body, the rear one straight behind the front one.
Result<void> put_on_bogies(Document& document, Ride& ride, const Carriage& carriage) {
    std::vector<PartId> order = carriage.bogies;
    const auto place = [&](PartId id) { return bogie_place(document, ride, carriage.body, id); };
    if (place(order[0]).ahead_m < place(order[1]).ahead_m) std::swap(order[0], order[1]);
    const BogiePlace front = place(order[0]), rear = place(order[1]);
    if (!(front.ahead_m > 0) || !(rear.ahead_m < 0))
        return Error{"ride.bogies",
                     fmt::format("the pivot of '{}' must lie between its bogies",
                                 document.parts.find(carriage.body)->name),
                     document.parts.find(carriage.body)->name};
    ride.front_m = front.ahead_m;
    ride.rear_m = -rear.ahead_m;
    for (int k = 0; k < 2; ++k) {
        const BogiePlace& at = k == 0 ? front : rear;
        Part bogie = *document.parts.find(order[static_cast<std::size_t>(k)]);
        Ride own = ride;
        own.front_m = own.rear_m = own.coupler_front_m = own.coupler_rear_m = 0;
        own.side_m = at.side_m;
        own.height_m = at.height_m;
        own.ahead = k == 0 ? carriage.body : order[0];
        own.along_path = k == 0;
        own.gap_m = k == 0 ? -ride.front_m : ride.front_m + ride.rear_m;
        bogie.ride = own;
        document.parts.set(bogie);
    }
    return {};
}

Result<Outcome> ride_string(const Document& document, const Arguments& a, const OperationContext&) {
    const int count = a.integer("count");
    const std::vector<PartId> given = a.parts("parts");
    PIVRAK_TRY(carriages,
               with_bogies(document, given, a.has("bogies") ? a.parts("bogies") : std::vector<PartId>{}));
    const bool has_bogies = a.has("bogies");
    if (given.size() == 1 && (count < 2 || count > 1000))
        return Error{"ride.count", fmt::format("{} carriages are out of range: 2 to 1000", count), "count"};
    PIVRAK_TRY(path, path_named(document, a));
    PIVRAK_TRY(curve, PathCurve::make(*path));
    Outcome out{document};
    const std::vector<Carriage> all = carriages_of(out, carriages, count);
    StringPlan plan{a.text("coupling"), a.number_if("gap").value_or(0.3),
                    a.has("front") || a.has("rear") || has_bogies};
    if (plan.coupling == "shared" && has_bogies)
        return Error{"ride.bogies",
                     "carriages with bogies of their own share no points; couple them straight", "coupling"};
    if (has_bogies && (a.has("front") || a.has("rear")))
        return Error{"ride.bogies", "'front' and 'rear' are where the bogies are; leave them out", "front"};
    if (plan.coupling == "shared" && plan.has_points && a.has("gap"))
        return Error{"ride.gap", "on shared points the gap is what 'front' and 'rear' leave; give either",
                     "gap"};
    if (plan.gap_m < 0) return Error{"ride.gap", "the gap cannot be below zero", "gap"};
    if (plan.coupling == "path" && !a.has("gap")) {
        if (!curve.closed())
            return Error{"ride.gap",
                         "an open path needs a 'gap'; only round a closed one are they spread evenly", "gap"};
        plan.gap_m = curve.length() / static_cast<double>(all.size());
    }
    PartId ahead;
    for (const Carriage& carriage : all) {
        const PartId id = carriage.body;
        Part part = *out.document.parts.find(id);
        PIVRAK_TRY(ride, ride_from(document, a, part.ride.value_or(Ride{})));
        ride.ahead = {};
        if (has_bogies) PIVRAK_CHECK(put_on_bogies(out.document, ride, carriage));
        measure_carriage(out.document, id, plan, ride);
        ride.ahead = ahead;
        part.ride = ride;
        if (!ahead && a.has("at")) {
            PIVRAK_TRY(at, typed_along(a.text("at"), curve.length(), document.settings.length_unit));
            part.joint.along.value = at;
        }
        out.document.parts.set(part);
        ahead = id;
    }
    const Ride& first = *out.document.parts.find(all.front().body)->ride;
    const Limits extent = extent_along(document, given.front(), first.axis);
    const double left = first.front_m + first.rear_m - (extent.max - extent.min);
    if (plan.coupling == "shared" && left < 0)
        out.messages.push_back(fmt::format("neighbours overlap by {}: their points lie inside them",
                                           format_length(-left, document)));
    out.messages.push_back(fmt::format(
        "{}{} on '{}', {}", counted(all.size(), "carriage"), has_bogies ? " on bogies" : "", path->name,
        plan.coupling == "shared" ? fmt::format("neighbours on shared points, {} between them",
                                                format_length(std::max(left, 0.0), document))
                                  : fmt::format("gap {}{}", format_length(plan.gap_m, document),
                                                plan.coupling == "path" ? " along the path" : "")));
    return out;
}

std::vector<ArgumentSpec> ride_arguments(bool path_required) {
    return {
        {"path", ArgumentKind::Text, "name of the path; as it is when left out", path_required, {}, {}},
        {"lead", ArgumentKind::Choice, "own axis that looks along the path", false, {}, axes_with_sign},
        {"up_axis", ArgumentKind::Choice, "own axis that is kept up", false, {}, {"x", "y", "z"}},
        {"upright",
         ArgumentKind::Choice,
         "up by the world; by the path, which never flips; leaned into bends; or plumb",
         false,
         {},
         upright_choices},
        worded({"speed", ArgumentKind::Number, "m/s that the lean into bends is for", false, {}, {}},
               "Speed for the lean", "m/s"),
        {"gain", ArgumentKind::Number, "of that lean", false, {}, {}},
        worded({"side", ArgumentKind::Length, "off the path, to its left", false, {}, {}}, "To the left",
               "0 mm", "Off the path"),
        worded({"height", ArgumentKind::Length, "off the path, up", false, {}, {}}, "Upwards", "0 mm",
               "Off the path"),
        worded({"front", ArgumentKind::Length, "a point that carries it, ahead of its pivot", false, {}, {}},
               "Ahead at", "0 mm", "Carried by two places on the path"),
        worded({"rear", ArgumentKind::Length, "a point that carries it, behind its pivot", false, {}, {}},
               "Behind at", "0 mm", "Carried by two places on the path"),
        {"at", ArgumentKind::Text, "how far along, as a length or `25 %`", false, {}, {}}};
}

std::vector<ArgumentSpec> with(std::vector<ArgumentSpec> first, std::vector<ArgumentSpec> more) {
    first.insert(first.end(), more.begin(), more.end());
    return first;
}

}  // namespace

void add_ride_operations(Registry& registry) {
    registry.add({"ride.set", "Ride a path",
                  "Lets parts ride a path with even speed; their channel 'along' says how far.",
                  with({parts_argument("parts that ride")}, ride_arguments(false)), ride_set});
    registry.add({"ride.remove",
                  "Leave the path",
                  "Parts ride no more and stand where they rest.",
                  {parts_argument("riders")},
                  ride_remove});
    registry.add(
        {"ride.string", "A string of carriages",
         "Couples carriages on a path, the first one leading; from one carriage, copies are made.",
         with({parts_argument("carriages in their order, or one to be copied")},
              with(ride_arguments(true),
                   {{"count", ArgumentKind::Integer, "how many, of one carriage", false, 2, {}},
                    {"bogies",
                     ArgumentKind::Parts,
                     "two parts under each carriage that turn and ride the path; of the one that is copied",
                     false,
                     {},
                     {}},
                    {"coupling",
                     ArgumentKind::Choice,
                     "by a straight coupler; on shared points; or spaced along the path",
                     false,
                     "straight",
                     {"straight", "shared", "path"}},
                    {"gap",
                     ArgumentKind::Length,
                     "between couplers or bodies, or along the path; spread evenly round a closed path when "
                     "left out",
                     false,
                     {},
                     {}}})),
         ride_string});
}

}  // namespace pivrak
