#include <fmt/format.h>

#include "core/motion/evaluator.h"
#include "core/operations/all_operations.h"
#include "core/rig/gear_pair.h"

namespace pivrak {
namespace {

Result<int> teeth(const Document& document, const Arguments& a, const char* argument, PartId part) {
    if (a.has(argument)) {
        const int typed = a.integer(argument);
        if (typed < 3 || typed > 1000)
            return Error{"gear.teeth",
                         fmt::format("{} teeth on '{}' is out of range: 3 to 1000", typed,
                                     document.parts.find(part)->name),
                         argument};
        return typed;
    }
    if (const auto counted = teeth_of(document, part)) return *counted;
    return Error{
        "gear.teeth",
        fmt::format("no teeth can be counted on '{}'; give '{}'", document.parts.find(part)->name, argument),
        argument};
}

Result<void> check_pair(const Document& document, PartId driver, PartId driven) {
    const Part &a = *document.parts.find(driver), &b = *document.parts.find(driven);
    if (driver == driven)
        return Error{"gear.itself", fmt::format("'{}' cannot drive itself", a.name), a.name};
    for (const Part* part : {&a, &b})
        if (part->joint.kind != JointKind::Hinge)
            return Error{"gear.not_hinge",
                         fmt::format("'{}' is no hinge: give it a pivot and a hinge joint first", part->name),
                         part->name};
    if (const auto other = driver_name(document, {driven, ChannelKind::Turn}))
        return Error{"gear.driven_twice",
                     fmt::format("'{}' is driven by '{}' already; remove that first", b.name, *other),
                     b.name};
    return {};
}

Result<Outcome> add_gear(const Document& document, const Arguments& a, const OperationContext&) {
    const PartId driver = a.part("driver"), driven = a.part("driven");
    PIVRAK_CHECK(check_pair(document, driver, driven));
    PIVRAK_TRY(driver_teeth, teeth(document, a, "driver_teeth", driver));
    PIVRAK_TRY(driven_teeth, teeth(document, a, "driven_teeth", driven));
    GearPair pair{
        {driver, ChannelKind::Turn}, {driven, ChannelKind::Turn}, driver_teeth, driven_teeth, 0, false};
    const GearPairMeasure m = measure_gear_pair(document, pair);
    pair.phase_rad = a.number_if("phase").value_or(m.phase_rad);
    pair.phase_measured = m.phase_measured && !a.has("phase");
    Outcome out{document};
    out.document.couplings.set({out.document.new_id<CouplingId>(), pair});
    if (const auto compiled = Evaluator::compile(out.document); !compiled) return compiled.error();
    out.messages.push_back(fmt::format("{} : {}, ratio {:.4f}, centres {}, tooth phase {}{}", driver_teeth,
                                       driven_teeth, m.ratio, format_length(m.centre_distance_m),
                                       format_angle(pair.phase_rad, 3),
                                       pair.phase_measured ? " found on the shapes" : ""));
    out.readings = {{"ratio", m.ratio},
                    {"centre_distance_m", m.centre_distance_m},
                    {"module_m", m.module_m},
                    {"phase_rad", pair.phase_rad},
                    {"phase_measured", pair.phase_measured}};
    return out;
}

/// What moves any channel of a part.
const Coupling* coupling_moving(const Document& document, PartId part) {
    for (const Coupling& coupling : document.couplings)
        if (coupling.driven().part == part) return &coupling;
    return nullptr;
}

Result<Outcome> remove_coupling(const Document& document, const Arguments& a, const OperationContext&) {
    Outcome out{document};
    for (const PartId part : a.parts("driven")) {
        const Coupling* coupling = coupling_moving(out.document, part);
        if (!coupling)
            return Error{"gear.none",
                         fmt::format("'{}' is driven by nothing", document.parts.find(part)->name), ""};
        out.document.couplings.erase(coupling->id);
    }
    return out;
}

}  // namespace

void add_coupling_operations(Registry& registry) {
    registry.add({"coupling.gear",
                  "Gear pair",
                  "Lets one hinge drive another through teeth that meet on the outside; the tooth phase is "
                  "found on the shapes.",
                  {{"driver", ArgumentKind::Part, "the hinge that moves", true, {}, {}},
                   {"driven", ArgumentKind::Part, "the hinge that is moved", true, {}, {}},
                   {"driver_teeth",
                    ArgumentKind::Integer,
                    "teeth of the driver; counted on its shape when left out",
                    false,
                    {},
                    {}},
                   {"driven_teeth",
                    ArgumentKind::Integer,
                    "teeth of the driven gear; counted on its shape when left out",
                    false,
                    {},
                    {}},
                   {"phase",
                    ArgumentKind::Angle,
                    "turn of the driven gear with the driver at rest; found on the shapes when left out",
                    false,
                    {},
                    {}}},
                  add_gear});
    registry.add({"coupling.remove",
                  "Remove a coupling",
                  "Frees hinges from what drives them.",
                  {{"driven", ArgumentKind::Parts, "driven parts to free", true, {}, {}}},
                  remove_coupling});
}

}  // namespace pivrak
