// Sources: assembly condition of planetary sets, (sun + ring) / planets whole; ISO 21771 (centre distances).
#include <fmt/format.h>
#include <fmt/ranges.h>

#include <algorithm>
#include <cmath>
#include <sstream>

#include "core/base/words.h"
#include "core/geometry/fits/recognise.h"
#include "core/geometry/teeth/gear_shapes.h"
#include "core/model/edits/branch_copy.h"
#include "core/model/edits/edits.h"
#include "core/model/names/names.h"
#include "core/operations/all_operations.h"
#include "core/operations/intake/stand_in_parts.h"
#include "core/rig/gears/gear_pair.h"
#include "core/rig/gears/gear_search.h"
#include "core/rig/gears/train.h"

namespace pivrak {
namespace {

/// A planetary set as asked for: its members' teeth, typed or counted.
struct Planetary {
    PartId sun, ring, carrier;
    std::vector<PartId> planets;  ///< those there are: one that is copied round, or all of them
    int sun_teeth = 0, ring_teeth = 0, planet_teeth = 0, count = 3;
};

Result<int> teeth(const Document& document, const Arguments& a, const char* argument, PartId part) {
    const auto counted = a.has(argument) ? std::optional(a.integer(argument)) : teeth_of(document, part);
    if (counted && *counted >= 3 && *counted <= 1000) return *counted;
    return Error{
        "gear.teeth",
        counted
            ? fmt::format("{} teeth on '{}' is out of range: 3 to 1000", *counted, name_of(document, part))
            : fmt::format("no teeth can be counted on '{}'; give '{}'", name_of(document, part), argument),
        argument};
}

Result<void> check_hinge(const Document& document, PartId id) {
    const Part& part = *document.parts.find(id);
    if (part.joint.kind == JointKind::Hinge) return {};
    return Error{"gear.not_hinge",
                 fmt::format("'{}' is no hinge: give it a pivot and a hinge joint first", part.name),
                 part.name};
}

/// The hinge that carries the planet about the sun's axis.
Result<PartId> carrier_of(const Document& document, PartId planet) {
    for (const Part* p = document.parts.find(document.parts.find(planet)->parent); p;
         p = document.parts.find(p->parent))
        if (p->joint.kind == JointKind::Hinge) return p->id;
    return Error{"planet.no_carrier",
                 fmt::format("no hinge carries '{}': put it under a carrier that turns about the middle",
                             name_of(document, planet)),
                 name_of(document, planet)};
}

Result<Planetary> read_planetary(const Document& document, const Arguments& a) {
    Planetary set;
    set.planets = a.parts("planets");
    for (const PartId planet : set.planets) PIVRAK_CHECK(check_hinge(document, planet));
    PIVRAK_TRY(carrier, carrier_of(document, set.planets.front()));
    set.carrier = carrier;
    set.count = set.planets.size() > 1 ? static_cast<int>(set.planets.size()) : a.integer("count");
    if (set.count < 1 || set.count > 24)
        return Error{"planet.count", fmt::format("{} planets are out of range: 1 to 24", set.count), "count"};
    PIVRAK_TRY(planet_teeth, teeth(document, a, "planet_teeth", set.planets.front()));
    set.planet_teeth = planet_teeth;
    if (!a.has("sun") && !a.has("ring"))
        return Error{"planet.alone", "planets run on a sun, in a ring, or both: give 'sun' or 'ring'", "sun"};
    if (a.has("sun")) {
        PIVRAK_TRY(sun_teeth, teeth(document, a, "sun_teeth", a.part("sun")));
        set.sun = turning_hinge(document, a.part("sun")).value_or(a.part("sun"));
        PIVRAK_CHECK(check_hinge(document, set.sun));
        set.sun_teeth = sun_teeth;
    }
    if (a.has("ring")) {
        PIVRAK_TRY(ring_teeth, teeth(document, a, "ring_teeth", a.part("ring")));
        set.ring = turning_hinge(document, a.part("ring")).value_or(a.part("ring"));
        PIVRAK_CHECK(check_hinge(document, set.ring));
        set.ring_teeth = ring_teeth;
    }
    return set;
}

/// Planets that stand evenly round must all find teeth opposite gaps, on the sun and in the ring at once.
Result<void> check_assembly(const Planetary& set) {
    if (!set.sun || !set.ring) return {};
    if (set.ring_teeth <= set.planet_teeth)
        return Error{
            "planet.teeth",
            fmt::format("a ring of {} teeth holds no planet of {}", set.ring_teeth, set.planet_teeth),
            "ring_teeth"};
    if ((set.sun_teeth + set.ring_teeth) % set.count == 0) return {};
    return Error{"planet.assembly",
                 fmt::format("{} + {} teeth over {} planets is {:.3f}, not whole: evenly round they would "
                             "not all mesh; {} would",
                             set.sun_teeth, set.ring_teeth, set.count,
                             static_cast<double>(set.sun_teeth + set.ring_teeth) / set.count,
                             fmt::join(even_planets(set.sun_teeth, set.ring_teeth), ", ")),
                 "count"};
}

/// Neighbours must not touch: their tips need room on the circle of their centres.
Result<void> check_room(const Document& document, const Planetary& set, double arm_m) {
    if (set.count < 2) return {};
    const Vec3 axis = world_from_rest(document, set.planets.front())
                          .axis(document.parts.find(set.planets.front())->joint.axis);
    const ToothedPart shown =
        toothed_part(document, set.planets.front(), set.planet_teeth, axis, any_perpendicular(axis));
    const double apart = 2 * arm_m * std::sin(pi / set.count);
    if (!shown.shape_part || apart > 2 * shown.tip_radius_m) return {};
    return Error{"planet.room",
                 fmt::format("{} planets of {} across stand only {} apart: they would touch", set.count,
                             format_length(2 * shown.tip_radius_m, document), format_length(apart, document)),
                 "count"};
}

void couple(Document& document, PartId driver, PartId driven, int driver_teeth, int driven_teeth,
            PairKind kind) {
    GearPair pair{
        {driver, ChannelKind::Turn}, {driven, ChannelKind::Turn}, driver_teeth, driven_teeth, 0, false, kind};
    const GearPairMeasure m = measure_gear_pair(document, pair);
    pair.phase = m.phase_rad;
    pair.phase_measured = m.phase_measured;
    document.couplings.set({document.new_id<CouplingId>(), pair});
}

Result<Outcome> planets(const Document& document, const Arguments& a, const OperationContext&) {
    PIVRAK_TRY(set, read_planetary(document, a));
    PIVRAK_CHECK(check_assembly(set));
    for (const Coupling& known : document.couplings)
        for (const PartId one : set.planets)
            if (const GearPair* pair = known.as<GearPair>();
                pair && (pair->driven.part() == one || pair->driver.part() == one))
                return Error{
                    "gear.driven_twice",
                    fmt::format("'{}' runs in a pair already; remove that first", name_of(document, one)),
                    name_of(document, one)};
    const Frame carrier = world_from_rest(document, set.carrier),
                planet = world_from_rest(document, set.planets.front());
    const Vec3 axis = carrier.axis(document.parts.find(set.carrier)->joint.axis);
    Vec3 arm = planet.translation - carrier.translation;
    arm -= arm.dot(axis) * axis;
    PIVRAK_CHECK(check_room(document, set, arm.norm()));
    Outcome out{document};
    std::vector<PartId> all = set.planets;
    for (int k = 1; set.planets.size() == 1 && k < set.count; ++k) {
        const Quat turn(Eigen::AngleAxisd(2 * pi * k / set.count, axis));
        const BranchCopy copy = copy_branches(
            out.document, set.planets,
            {Frame{turn, carrier.translation - turn * carrier.translation}, std::nullopt, false});
        all.push_back(copy.tops.front());
        out.created.push_back(copy.tops.front());
    }
    for (const PartId one : all) {
        if (set.sun) couple(out.document, set.sun, one, set.sun_teeth, set.planet_teeth, PairKind::Outside);
        if (set.ring) couple(out.document, one, set.ring, set.planet_teeth, set.ring_teeth, PairKind::Inside);
    }
    const TrainSolution solution = solve_trains(out.document);
    double worst = 0;
    for (const Tie& tie : ties_of(out.document))
        worst = std::max(worst, std::abs(missed_teeth(tie, solution)));
    out.messages.push_back(fmt::format("{} on '{}', teeth meet within {:.3f} of a tooth",
                                       counted(all.size(), "planet"), name_of(document, set.carrier), worst));
    out.readings = {{"planets", set.count}, {"missed_teeth", worst}};
    return out;
}

/// `17:51 19:38`
Result<std::vector<std::pair<int, int>>> stages_of(const std::string& text) {
    std::vector<std::pair<int, int>> stages;
    std::istringstream words(text);
    for (std::string word; words >> word;) {
        int driver = 0, driven = 0;
        char colon = 0, more = 0;
        std::istringstream one(word);
        if (!(one >> driver >> colon >> driven) || colon != ':' || one >> more || driver < 5 || driven < 5 ||
            driver > 400 || driven > 400)
            return Error{"gears.stages",
                         fmt::format("'{}' is no pair of gears; write '17:51', 5 to 400 teeth", word),
                         "stages"};
        stages.emplace_back(driver, driven);
    }
    if (stages.empty() || stages.size() > 3)
        return Error{"gears.stages", "one to three pairs are built at once, such as '17:51 19:38'", "stages"};
    return stages;
}

Result<Outcome> build_gears(const Document& document, const Arguments& a, const OperationContext&) {
    PIVRAK_TRY(stages, stages_of(a.text("stages")));
    const double module = a.number("module"), width = a.number("width");
    if (!(module > 0) || module > 1 || !(width > 0) || width > 10)
        return Error{"gears.size",
                     "the module is above zero and at most 1 m, the width above zero and at most 10 m",
                     "module"};
    Outcome out{document};
    const Vec3 start = a.point_if("at").value_or(Vec3(0, 0, 0.5 * module * (stages.front().first + 4)));
    const PartId under = a.has("under") ? a.part("under") : PartId{};
    // Shafts stand in a row along x, their axes along y; each carries the driven gear of one pair and the
    // driver of the next.
    FreeNames names(document);
    Vec3 place = start;
    PartId shaft;
    const auto add_shaft = [&](std::size_t number) {
        Part part;
        part.id = out.document.new_id<PartId>();
        part.name = names.take(fmt::format("Shaft {}", number));
        part.joint.kind = JointKind::Hinge;
        part.joint.axis = 1;
        part.parent = under;
        part.parent_from_rest = Frame{Quat(1, 0, 0, 0), place};
        if (under) part.parent_from_rest = world_from_rest(document, under).inverse() * part.parent_from_rest;
        out.document.parts.set(part);
        out.created.push_back(part.id);
        return part.id;
    };
    const auto add_gear = [&](PartId on, int z, double along) {
        GearShape shape{z, module * 1e3, width * 1e3, 0.3 * module * 1e3 * std::max(4.0, 0.2 * z)};
        Solid solid = gear(shape);
        solid.lay_along(1);
        Part part;
        part.id = out.document.new_id<PartId>();
        part.name = names.take(fmt::format("Gear {}T", z));
        Shape made = make_shape(out.document.new_id<ShapeId>(), part.name,
                                solid_mesh(solid, 1e-3, stand_in_material(out.document)));
        made.made_of = {{"kind", "gear"},
                        {"teeth", z},
                        {"module", module},
                        {"width", width},
                        {"bore", 2e-3 * shape.bore_radius},
                        {"web", false},
                        {"lies_along", "y"}};
        part.shape = made.id;
        part.parent = on;
        part.parent_from_rest.translation = Vec3(0, along, 0);
        out.document.shapes.set(made);
        out.document.parts.set(part);
    };
    shaft = add_shaft(1);
    for (std::size_t i = 0; i < stages.size(); ++i) {
        const auto [driver, driven] = stages[i];
        const double along = 1.2 * width * static_cast<double>(i);
        place.x() += 0.5 * module * (driver + driven);
        const PartId next = add_shaft(i + 2);
        add_gear(shaft, driver, along);
        add_gear(next, driven, along);
        couple(out.document, shaft, next, driver, driven, PairKind::Outside);
        shaft = next;
    }
    out.messages.push_back(fmt::format("{} of module {}", counted(stages.size(), "gear pair"),
                                       format_length(module, LengthUnit::Millimetre, 2)));
    return out;
}

}  // namespace

void add_train_operations(Registry& registry) {
    const auto count = [](const char* name, const char* summary) {
        return ArgumentSpec{name, ArgumentKind::Integer, summary, false, {}, {}};
    };
    registry.add(
        {"coupling.planets",
         "Planets round the axis",
         "Puts planets evenly round their carrier's axis and couples each with sun and ring; the assembly "
         "condition is "
         "checked, and teeth are set so that all of them mesh.",
         {{"planets",
           ArgumentKind::Parts,
           "one hinge under its carrier, which is a hinge too, to be copied round; or all of them",
           true,
           {},
           {}},
          {"sun", ArgumentKind::Part, "the gear in the middle; may be left out", false, {}, {}},
          {"ring", ArgumentKind::Part, "the ring round them; may be left out", false, {}, {}},
          {"count", ArgumentKind::Integer, "how many planets in all, of one that is copied", false, 3, {}},
          count("sun_teeth", "counted when left out"),
          count("planet_teeth", "counted when left out"),
          count("ring_teeth", "counted when left out")},
         planets});
    registry.add({"gears.build",
                  "Build gears",
                  "Makes shafts with stand-in gears for one to three pairs in a row, and couples them.",
                  {{"stages", ArgumentKind::Text, "teeth of each pair, such as '17:51 19:38'", true, {}, {}},
                   {"module", ArgumentKind::Length, "ISO 54", false, 0.004, {}},
                   {"width", ArgumentKind::Length, "of each gear", false, 0.03, {}},
                   {"at",
                    ArgumentKind::Point,
                    "the first shaft; on the floor at the origin when left out",
                    false,
                    {},
                    {}},
                   {"under", ArgumentKind::Part, "carries the shafts", false, {}, {}}},
                  build_gears});
}

}  // namespace pivrak
