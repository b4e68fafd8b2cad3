#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/base/words.h"
#include "core/model/edits/edits.h"
#include "core/operations/all_operations.h"
#include "core/operations/travel/vehicle_builder.h"

namespace pivrak {
namespace {

Result<const Vehicle*> vehicle_named(const Document& document, const Arguments& a) {
    std::string names;
    for (const Vehicle& vehicle : document.vehicles) {
        if (vehicle.name == a.text("vehicle")) return &vehicle;
        names += (names.empty() ? "'" : ", '") + vehicle.name + "'";
    }
    return Error{"vehicle.unknown",
                 names.empty()
                     ? fmt::format("there is no vehicle '{}', nor any other", a.text("vehicle"))
                     : fmt::format("there is no vehicle '{}'; there are {}", a.text("vehicle"), names),
                 "vehicle"};
}

Result<PartId> ground_from(const Document& document, const Arguments& a) {
    if (!a.has("ground")) return PartId{};
    const Part& ground = *document.parts.find(a.part("ground"));
    if (ground.shape) return ground.id;
    return Error{"vehicle.ground", fmt::format("'{}' has no shape to stand on", ground.name), ground.name};
}

Result<VehiclePlan> plan_from(const Document& document, const Arguments& a, const VehicleLayout& layout) {
    VehiclePlan plan;
    plan.name = a.text("name");
    PIVRAK_CHECK(check_name(plan.name));
    for (const Vehicle& other : document.vehicles)
        if (other.name == plan.name)
            return Error{"vehicle.duplicate", fmt::format("there is another vehicle '{}'", plan.name),
                         "name"};
    const double radius = layout.wheels.front().radius_m;
    plan.bump_m = a.number_if("bump").value_or(0.3 * radius);
    plan.droop_m = a.number_if("droop").value_or(0.3 * radius);
    plan.kingpin_m = a.number("kingpin");
    plan.track_thickness_m = a.number_if("track").value_or(layout.track_thickness_m);
    plan.track_pitch_m = a.number_if("track_pitch").value_or(0);
    if (plan.track_thickness_m < 0 || plan.track_pitch_m < 0)
        return Error{"vehicle.track", "a track cannot be thinner than nothing", "track"};
    if (plan.bump_m < 0 || plan.droop_m < 0)
        return Error{"vehicle.travel", "the travel of a suspension cannot be below zero", "bump"};
    PIVRAK_TRY(ground, ground_from(document, a));
    plan.ground = ground;
    if (a.has("hitch")) {
        if (!a.has("hitch_at"))
            return Error{"argument.missing", "'hitch_at' is needed: the place of the hitch", "hitch_at"};
        plan.hitch = a.part("hitch");
        plan.hitch_place = a.point("hitch_at");
        if (a.has("turntable")) plan.turntable = a.parts("turntable");
        if (a.has("drawbar")) plan.drawbar = a.parts("drawbar");
        for (const PartId id : plan.drawbar)
            if (std::find(plan.turntable.begin(), plan.turntable.end(), id) == plan.turntable.end())
                plan.turntable.push_back(id);
        return plan;
    }
    if (a.has("steered")) {
        const auto steered = a.parts("steered");
        for (const FoundWheel& wheel : layout.wheels)
            for (const PartId id : wheel.parts)
                if (std::find(steered.begin(), steered.end(), id) != steered.end())
                    plan.steered.insert(wheel.axle_index);
    } else if (layout.axles_x_m.size() > 1 && a.flag("steers") && layout.runners.empty()) {
        plan.steered.insert(0);
    }
    return plan;
}

std::string layout_words(const VehicleLayout& layout, const Document& document) {
    std::string words = fmt::format("{} on {}", counted(layout.wheels.size(), "wheel"),
                                    counted(layout.axles_x_m.size(), "axle"));
    if (layout.axles_x_m.size() > 1)
        words += fmt::format(", wheelbase {}", format_length(layout.wheelbase_m(), document));
    if (!layout.runners.empty())
        words += fmt::format(", {} of its tracks",
                             counted(layout.runners.size(), "sprocket or idler", "sprockets and idlers"));
    if (layout.track_m() > 0)
        words += fmt::format(", track width {}", format_length(layout.track_m(), document));
    return words;
}

/// Keeps those sprockets and idlers that are asked for; the others belong to the body.
void keep_runners(VehicleLayout& layout, const Arguments& a) {
    const auto wanted = a.has("runners") ? a.parts("runners") : std::vector<PartId>{};
    std::vector<FoundWheel> kept;
    for (const FoundWheel& runner : layout.runners) {
        const bool keeps =
            a.flag("tracks") &&
            (wanted.empty() || std::any_of(runner.parts.begin(), runner.parts.end(), [&](PartId id) {
                 return std::find(wanted.begin(), wanted.end(), id) != wanted.end();
             }));
        if (keeps) {
            kept.push_back(runner);
            continue;
        }
        layout.body.insert(layout.body.end(), runner.parts.begin(), runner.parts.end());
        layout.body.insert(layout.body.end(), runner.pins.begin(), runner.pins.end());
    }
    layout.runners = std::move(kept);
    if (layout.runners.empty()) layout.track_thickness_m = 0;
}

Result<Outcome> vehicle_make(const Document& document, const Arguments& a, const OperationContext& context) {
    const auto chosen = a.has("wheels") ? a.parts("wheels") : std::vector<PartId>{};
    PIVRAK_TRY(layout, vehicle_layout(document, a.parts("parts"), chosen, context.progress));
    keep_runners(layout, a);
    PIVRAK_TRY(plan, plan_from(document, a, layout));
    Outcome out{document};
    PIVRAK_TRY(built, build_vehicle(out.document, layout, plan));
    out.created = built.created;
    out.messages.push_back(fmt::format("'{}': {}", plan.name, layout_words(layout, document)));
    out.readings = {{"wheels", layout.wheels.size()},
                    {"axles", layout.axles_x_m.size()},
                    {"wheelbase_m", layout.wheelbase_m()},
                    {"track_m", layout.track_m()},
                    {"radius_m", layout.wheels.front().radius_m}};
    return out;
}

Result<Outcome> vehicle_set(const Document& document, const Arguments& a, const OperationContext&) {
    PIVRAK_TRY(found, vehicle_named(document, a));
    Vehicle vehicle = *found;
    Outcome out{document};
    if (a.has("name")) {
        PIVRAK_CHECK(check_name(a.text("name")));
        for (const Vehicle& other : document.vehicles)
            if (other.id != vehicle.id && other.name == a.text("name"))
                return Error{"vehicle.duplicate", fmt::format("there is another vehicle '{}'", other.name),
                             "name"};
        vehicle.name = a.text("name");
    }
    if (a.has("ground") || a.flag("floor")) {
        PIVRAK_TRY(ground, ground_from(document, a));
        vehicle.ground = a.flag("floor") ? PartId{} : ground;
    }
    vehicle.track_thickness_m = a.number_if("track").value_or(vehicle.track_thickness_m);
    if (vehicle.track_thickness_m < 0)
        return Error{"vehicle.track", "a track cannot be thinner than nothing", "track"};
    for (const auto& [name, share] : {std::pair{"heave", &vehicle.heave}, std::pair{"pitch", &vehicle.pitch},
                                      std::pair{"roll", &vehicle.roll}}) {
        *share = a.number_if(name).value_or(*share);
        if (*share < 0 || *share > 1)
            return Error{"vehicle.share", fmt::format("{} is out of range: 0 (stays) to 1 (follows)", *share),
                         name};
    }
    for (const VehicleWheel& wheel : vehicle.wheels) {
        if (!wheel.suspension || (!a.has("bump") && !a.has("droop"))) continue;
        Part part = *document.parts.find(wheel.suspension);
        const Limits before = part.joint.shift.limits.value_or(Limits{});
        part.joint.shift.limits = Limits{a.has("droop") ? -a.number("droop") : before.min,
                                         a.number_if("bump").value_or(before.max)};
        if (part.joint.shift.limits->min > 0 || part.joint.shift.limits->max < 0)
            return Error{"vehicle.travel", "the travel of a suspension cannot be below zero", "bump"};
        out.document.parts.set(part);
    }
    out.document.vehicles.set(vehicle);
    return out;
}

/// Its frames and wheels stay as parts; what drives them goes.
Result<Outcome> vehicle_remove(const Document& document, const Arguments& a, const OperationContext&) {
    PIVRAK_TRY(found, vehicle_named(document, a));
    Outcome out{document};
    std::vector<CouplingId> dropped;
    for (const Coupling& c : document.couplings)
        for (const VehicleWheel& wheel : found->wheels)
            if (c.driven().part() == wheel.wheel || (wheel.steering && c.driven().part() == wheel.steering))
                dropped.push_back(c.id);
    for (const Coupling& c : document.couplings)
        if (std::find(found->runners.begin(), found->runners.end(), c.driven().part()) !=
            found->runners.end())
            dropped.push_back(c.id);
    for (const CouplingId id : dropped) out.document.couplings.erase(id);
    Part root = *document.parts.find(found->place);
    root.tow.reset();
    out.document.parts.set(root);
    out.document.vehicles.erase(found->id);
    return out;
}

}  // namespace

void add_vehicle_operations(Registry& registry) {
    const auto length = [](const char* name, const char* summary) {
        return ArgumentSpec{name, ArgumentKind::Length, summary, false, {}, {}};
    };
    const ArgumentSpec ground{
        "ground", ArgumentKind::Part, "the part that is the ground; the floor when left out", false, {}, {}};
    registry.add(
        {"vehicle.make",
         "Rig a vehicle",
         "Finds wheels and axles among parts that face X, and makes controls, suspension, steering and "
         "rolling "
         "wheels that stand on the ground; a trailer when it has a hitch.",
         {parts_argument("the vehicle: all its parts, or what carries them"),
          {"name", ArgumentKind::Text, "name of the vehicle", false, "Vehicle", {}},
          {"wheels", ArgumentKind::Parts, "its wheels (tyres); found when left out", false, {}, {}},
          {"steered", ArgumentKind::Parts, "wheels whose axles are steered", false, {}, {}},
          {"steers",
           ArgumentKind::Flag,
           "whether the first axle is steered when none is named",
           false,
           true,
           {}},
          ground,
          length("bump", "travel of each wheel up; 30 % of its radius when left out"),
          length("droop", "travel of each wheel down; 30 % of its radius when left out"),
          {"kingpin", ArgumentKind::Length, "how far inside its wheel a kingpin stands", false, 0.0, {}},
          {"tracks",
           ArgumentKind::Flag,
           "whether sprockets and idlers are looked for, beside three axles",
           false,
           true,
           {}},
          {"runners", ArgumentKind::Parts, "its sprockets and idlers, of those found", false, {}, {}},
          length("track", "of a crawler: thickness of its track under the wheels; measured when left out"),
          length("track_pitch", "of a crawler: from link to link, for the radius of its sprockets"),
          {"hitch", ArgumentKind::Part, "the part that pulls it", false, {}, {}},
          {"hitch_at", ArgumentKind::Place, "where the hitch is", false, {}, {}},
          {"turntable",
           ArgumentKind::Parts,
           "what turns with a drawbar that steers the first axle",
           false,
           {},
           {}},
          {"drawbar", ArgumentKind::Parts, "of these, what nods towards the hitch", false, {}, {}}},
         vehicle_make});
    registry.add(
        {"vehicle.set",
         "Change a vehicle",
         "Changes a vehicle's ground, the travel of its wheels, and how much its body follows them.",
         {{"vehicle", ArgumentKind::Text, "name of the vehicle", true, {}, {}},
          {"name", ArgumentKind::Text, "new name", false, {}, {}},
          ground,
          {"floor", ArgumentKind::Flag, "stands on the level floor", false, false, {}},
          {"heave", ArgumentKind::Number, "0 to 1: how much the body goes up and down", false, {}, {}},
          {"pitch", ArgumentKind::Number, "0 to 1: how much it pitches", false, {}, {}},
          {"roll", ArgumentKind::Number, "0 to 1: how much it rolls", false, {}, {}},
          length("track", "thickness of its track under the wheels"),
          length("bump", "travel of each wheel up"),
          length("droop", "travel of each wheel down")},
         vehicle_set});
    registry.add({"vehicle.remove",
                  "Take a vehicle's rig away",
                  "Its frames and wheels stay as parts; nothing drives them any more.",
                  {{"vehicle", ArgumentKind::Text, "name of the vehicle", true, {}, {}}},
                  vehicle_remove});
}

}  // namespace pivrak
