#include <fmt/format.h>
#include <fmt/ranges.h>

#include <algorithm>
#include <cmath>

#include "core/model/edits/edits.h"
#include "core/motion/evaluator.h"
#include "core/operations/all_operations.h"
#include "core/operations/drive/pair_reader.h"
#include "core/rig/driven_by.h"
#include "core/rig/gears/gear_pair.h"
#include "core/rig/gears/train.h"

namespace pivrak {
namespace {

/// Refuses a pair whose members the rig would move apart, or that would keep its train from turning.
Result<void> check_runs(const Document& before, const Document& after, const GearPair& pair) {
    if (const auto parting = parting_joints(after, pair); !parting.empty())
        return Error{"gear.apart",
                     fmt::format("'{}' would move '{}' away from '{}': carry both axes on one part",
                                 name_of(after, parting.front()), name_of(after, pair.driver.part()),
                                 name_of(after, pair.driven.part())),
                     name_of(after, parting.front())};
    std::vector<std::string> stuck;
    for (const ChannelRef channel : newly_stuck(before, after))
        stuck.push_back(fmt::format("'{}'", name_of(after, channel.part())));
    if (!stuck.empty())
        return Error{"train.stuck",
                     fmt::format("then nothing of {} could turn any more: they would block each other",
                                 fmt::join(stuck, ", ")),
                     name_of(after, pair.driven.part())};
    return {};
}

std::string pair_words(const GearPair& pair, const GearPairMeasure& m, const Document& document) {
    std::string words;
    if (pair.kind == PairKind::Screw)
        words = fmt::format("lead {}", format_length(pair.lead_m, document));
    else if (pair.kind == PairKind::Rack)
        words = fmt::format("pitch radius {}",
                            format_length(std::max(pair.driver_radius_m, pair.driven_radius_m), document));
    else if (pair.driver_radius_m > 0)
        words = fmt::format("radii {} : {}; turns {}", format_length(pair.driver_radius_m, document),
                            format_length(pair.driven_radius_m, document), ratio_words(m.ratio));
    else
        words = fmt::format("{} : {} teeth; turns {}", pair.driver_teeth, pair.driven_teeth,
                            ratio_words(m.ratio));
    if (m.module_m > 0)
        words += fmt::format(", centres {}, tooth phase {}{}", format_length(m.centre_distance_m, document),
                             format_angle(pair.phase, 3), pair.phase_measured ? " found on the shapes" : "");
    return words;
}

/// Puts the pair that arguments make into the rig, under an id of its own or that of the one before.
Result<Outcome> put_gear(const Document& document, const Arguments& a, std::optional<CouplingId> id) {
    PIVRAK_TRY(pair, read_pair(document, a));
    for (const Constraint& constraint : document.constraints)
        if (constraint.part == pair.driven.part() && !constraint.off &&
            constraint.moves(document.parts.find(constraint.part)->joint.kind, pair.driven.kind))
            return Error{"gear.asked",
                         fmt::format("'{}' is moved by '{}'; let that ask the driver instead",
                                     name_of(document, constraint.part), constraint.name),
                         name_of(document, constraint.part)};
    const GearPairMeasure m = measure_gear_pair(document, pair);
    pair.phase = a.number_if("phase").value_or(m.phase_rad);
    pair.phase_measured = m.phase_measured && !a.has("phase");
    Outcome out{document};
    out.document.couplings.set({id ? *id : out.document.new_id<CouplingId>(), pair});
    PIVRAK_CHECK(check_runs(document, out.document, pair));
    if (const auto compiled = Evaluator::check(out.document); !compiled) return compiled.error();
    out.messages.push_back(pair_words(pair, m, document));
    out.readings = {{"kind", word_of(pair_kind_words, pair.kind)},
                    {"ratio", m.ratio},
                    {"centre_distance_m", m.centre_distance_m},
                    {"module_m", m.module_m},
                    {"fitting_m", m.fitting_m},
                    {"phase_rad", pair.phase},
                    {"phase_measured", pair.phase_measured}};
    return out;
}

Result<Outcome> add_gear(const Document& document, const Arguments& a, const OperationContext&) {
    return put_gear(document, a, std::nullopt);
}

/// The pair of two parts, whichever of them it names as the driver.
const Coupling* pair_of(const Document& document, PartId one, PartId other) {
    for (const Coupling& coupling : document.couplings)
        if (const GearPair* pair = coupling.as<GearPair>())
            if ((pair->driver.part() == one && pair->driven.part() == other) ||
                (pair->driver.part() == other && pair->driven.part() == one))
                return &coupling;
    return nullptr;
}

/// What `coupling.gear` would be asked for a pair that stands, with other sizes where they are given.
nlohmann::json asked_anew(const Document& document, const GearPair& pair, const Arguments& a) {
    nlohmann::json asked{{"driver", pair.driver.part().value},
                         {"driven", pair.driven.part().value},
                         {"kind", word_of(pair_kind_words, pair.kind)},
                         {"hand", pair.left_hand ? "left" : "right"}};
    const bool by_teeth = a.has("driver_teeth") || a.has("driven_teeth");
    const bool by_radii = a.has("driver_radius") || a.has("driven_radius");
    const bool rolls = pair.driver_radius_m > 0 || pair.driven_radius_m > 0;
    if (pair.kind == PairKind::Screw) asked["lead"] = pair.lead_m;
    if (rolls && !by_teeth) {
        if (pair.driver_radius_m > 0) asked["driver_radius"] = pair.driver_radius_m;
        if (pair.driven_radius_m > 0) asked["driven_radius"] = pair.driven_radius_m;
    } else if (!rolls && !by_radii && pair.kind != PairKind::Screw) {
        asked["driver_teeth"] = pair.driver_teeth;
        asked["driven_teeth"] = pair.driven_teeth;
    }
    // One that was typed stays.
    if (!pair.phase_measured && pair.phase != measure_gear_pair(document, pair).phase_rad)
        asked["phase"] = pair.phase;
    // Which of the two is called what may be the other way round.
    const bool turned_round = a.part("driver") != pair.driver.part();
    const auto take = [&](const char* given, const char* meant) {
        if (a.has(given)) asked[meant] = a.values().at(given);
    };
    for (const bool of_driver : {true, false}) {
        const bool driver = of_driver != turned_round;
        take(of_driver ? "driver_teeth" : "driven_teeth", driver ? "driver_teeth" : "driven_teeth");
        take(of_driver ? "driver_radius" : "driven_radius", driver ? "driver_radius" : "driven_radius");
    }
    take("lead", "lead");
    return asked;
}

/// As above. Errors: `gear.none`.
Result<const Coupling*> pair_of(const Document& document, const Arguments& a) {
    const PartId one = a.part("driver"), other = a.part("driven");
    if (const Coupling* coupling = pair_of(document, one, other)) return coupling;
    return Error{"gear.none",
                 fmt::format("'{}' and '{}' are no pair", name_of(document, one), name_of(document, other)),
                 name_of(document, other)};
}

/// Moves one gear, with all it carries, along the line of centres until the module fits; then teeth are set
/// anew.
Result<Outcome> fit_centres(const Document& document, const Arguments& a, const OperationContext&) {
    const PartId still = a.part("driver"), moved = a.part("driven");
    PIVRAK_TRY(coupling, pair_of(document, a));
    GearPair pair = *coupling->as<GearPair>();
    const GearPairMeasure m = measure_gear_pair(document, pair);
    const double wanted = a.number_if("distance").value_or(m.fitting_m);
    if (!(wanted > 0))
        return Error{"gear.module", "no module can be measured on these shapes; give 'distance'", "distance"};
    const Frame from = world_from_rest(document, still), to = world_from_rest(document, moved);
    const Vec3 axis = from.axis(document.parts.find(still)->joint.axis);
    Vec3 between = to.translation - from.translation;
    between -= between.dot(axis) * axis;
    if (!(between.norm() > 1e-9))
        return Error{"gear.coaxial",
                     fmt::format("'{}' and '{}' turn about one axis", name_of(document, still),
                                 name_of(document, moved)),
                     name_of(document, moved)};
    Outcome out{document};
    const double step = wanted - between.norm();
    Frame goal = to;
    goal.translation += step * between.normalized();
    align(out.document, moved, goal, AlignWhat::Place);
    if (pair.phase_measured) {
        pair.phase = measure_gear_pair(out.document, pair).phase_rad;
        out.document.couplings.set({coupling->id, pair});
    }
    out.messages.push_back(fmt::format("'{}' moved by {}: centres {}", name_of(document, moved),
                                       format_length(std::abs(step), document),
                                       format_length(wanted, document)));
    out.readings = {{"moved_m", step}, {"centre_distance_m", wanted}};
    return out;
}

/// What moves any channel of a part.
const Coupling* coupling_moving(const Document& document, PartId part) {
    for (const Coupling& coupling : document.couplings)
        if (coupling.driven().part() == part) return &coupling;
    return nullptr;
}

Result<Outcome> remove_coupling(const Document& document, const Arguments& a, const OperationContext&) {
    Outcome out{document};
    for (const PartId part : a.parts("driven")) {
        const Coupling* coupling = a.has("driver") ? pair_of(out.document, a.part("driver"), part)
                                                   : coupling_moving(out.document, part);
        if (!coupling)
            return Error{"gear.none",
                         fmt::format("'{}' is driven by nothing", document.parts.find(part)->name), ""};
        out.document.couplings.erase(coupling->id);
    }
    return out;
}

ArgumentSpec teeth_argument(const char* name, const char* summary) {
    return {name, ArgumentKind::Integer, summary, false, {}, {}};
}
ArgumentSpec length_argument(const char* name, const char* summary) {
    return {name, ArgumentKind::Length, summary, false, {}, {}};
}

/// Those of `coupling.gear`.
std::vector<ArgumentSpec> gear_arguments() {
    return {{"driver", ArgumentKind::Part, "the part that moves: a hinge, or a slide", true, {}, {}},
            {"driven",
             ArgumentKind::Part,
             "the part that is moved; the same one for a screw in a cylinder joint",
             true,
             {},
             {}},
            {"kind",
             ArgumentKind::Choice,
             "how they run on each other; by their axes and teeth when left out",
             false,
             {},
             {pair_kind_words.begin(), pair_kind_words.end()}},
            teeth_argument("driver_teeth",
                           "teeth of the driver, starts of a worm; counted on its shape when left out"),
            teeth_argument("driven_teeth", "teeth of the driven gear; counted on its shape when left out"),
            length_argument("driver_radius",
                            "rolling radius instead of teeth; of pulleys measured when left out"),
            length_argument("driven_radius",
                            "rolling radius instead of teeth; of pulleys measured when left out"),
            length_argument("module", "of a rack; measured on its pinion when left out"),
            length_argument("lead", "of a screw: how far it goes in one turn"),
            {"hand",
             ArgumentKind::Choice,
             "of worms, else found on the thread, and of screws, else right",
             false,
             {},
             {"right", "left"}},
            {"phase",
             ArgumentKind::Angle,
             "turn of the driven gear with the driver at rest; found on the shapes when left out",
             false,
             {},
             {}}};
}

/// The same pair with other sizes: it is asked for anew, with all that is looked at then.
Result<Outcome> set_gear(const Document& document, const Arguments& a, const OperationContext&) {
    PIVRAK_TRY(coupling, pair_of(document, a));
    const GearPair pair = *coupling->as<GearPair>();
    Document without = document;
    without.couplings.erase(coupling->id);
    PIVRAK_TRY(arguments, Arguments::read(without, gear_arguments(), asked_anew(document, pair, a)));
    PIVRAK_TRY(out, put_gear(without, arguments, coupling->id));
    if (out.document == document) return nothing_to_do(document, "it has these sizes already");
    return out;
}

}  // namespace

void add_coupling_operations(Registry& registry) {
    registry.add(
        {"coupling.gear", "Gear pair",
         "Lets one part drive another: gears outside or inside each other, rack, worm, bevel, belt, screw. "
         "Teeth, radii and the tooth phase are found on the shapes.",
         gear_arguments(), add_gear});
    const auto teeth = teeth_argument;
    const auto length = length_argument;
    registry.add(
        {"coupling.set",
         "Change a pair's sizes",
         "Other teeth, radii or another lead of a pair that stands; teeth are set anew.",
         {{"driver", ArgumentKind::Part, "one of the two", true, {}, {}},
          {"driven", ArgumentKind::Part, "the other one; the same for a screw in a cylinder", true, {}, {}},
          teeth("driver_teeth", "of the first"),
          teeth("driven_teeth", "of the second"),
          length("driver_radius", "rolling radius instead of teeth"),
          length("driven_radius", "rolling radius instead of teeth"),
          length("lead", "of a screw")},
         set_gear});
    registry.add(
        {"coupling.fit_centres",
         "Move the shaft to fit",
         "Moves one gear of a pair along the line of centres until the distance is what the module of its "
         "teeth asks for; all it carries comes along, and teeth are set anew.",
         {{"driver", ArgumentKind::Part, "the gear that stays", true, {}, {}},
          {"driven", ArgumentKind::Part, "the gear that is moved", true, {}, {}},
          length("distance", "between the axes; what the module requires when left out")},
         fit_centres});
    registry.add({"coupling.remove",
                  "Remove a coupling",
                  "Frees hinges from what drives them.",
                  {{"driven", ArgumentKind::Parts, "driven parts to free", true, {}, {}},
                   {"driver",
                    ArgumentKind::Part,
                    "of a gear that runs in several pairs: the one with this part",
                    false,
                    {},
                    {}}},
                  remove_coupling});
}

}  // namespace pivrak
