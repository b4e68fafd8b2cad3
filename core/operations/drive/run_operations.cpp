// Open runs: hoists, cords over rollers, cable chains that fold.
#include <fmt/format.h>

#include <algorithm>

#include "core/geometry/fits/recognise.h"
#include "core/operations/all_operations.h"
#include "core/operations/drive/chain_steps.h"
#include "core/rig/chains/run_builder.h"

namespace pivrak {
namespace {

/// A part that a run is tied to: at its pivot, or at the place that is given.
Result<ChainTie> tie_of(const Document& document, const Arguments& a, const std::string& part,
                        const std::string& place) {
    ChainTie tie{a.part(part), {0, 0, 0}};
    if (!a.has(place)) return tie;
    const std::vector<Vec3> given = a.points(place);
    if (given.size() != 1) return Error{"run.place", "give one place where it is tied", place};
    tie.place = world_from_rest(document, tie.part).inverse().point(given.front());
    return tie;
}

Result<void> check_tie(const Document& document, const ChainTie& tie, const RunPlan& plan) {
    for (const PartId wheel : plan.wheels)
        if (is_below(document, tie.part, wheel))
            return Error{"run.tied",
                         fmt::format("'{}' turns with the wheel '{}'; a run that is wound on a wheel names "
                                     "it first, and no start",
                                     name_of(document, tie.part), name_of(document, wheel)),
                         name_of(document, tie.part)};
    return {};
}

std::vector<PartId> all_parts(const ChainTie& from, const ChainTie& to, std::vector<PartId> wheels) {
    if (from.part) wheels.push_back(from.part);
    wheels.push_back(to.part);
    return wheels;
}

/// The datum stands still while what it goes to is pulled: it is carried by what carries the wheels.
PartId carrier_of_run(const Document& document, const Arguments& a, const RunPlan& plan) {
    if (a.has("under")) return a.part("under");
    return common_carrier(document, all_parts(plan.from, plan.to, plan.wheels));
}

Result<Outcome> run(const Document& document, const Arguments& a, const OperationContext&) {
    RunPlan plan;
    plan.wheels = a.parts("wheels");
    if (a.has("from")) {
        PIVRAK_TRY(from, tie_of(document, a, "from", "from_at"));
        plan.from = from;
        PIVRAK_CHECK(check_tie(document, from, plan));
    } else {
        plan.start = a.flag("loose") ? RunStart::Loose : RunStart::Wound;
    }
    PIVRAK_TRY(to, tie_of(document, a, "to", "to_at"));
    plan.to = to;
    PIVRAK_CHECK(check_tie(document, to, plan));
    PIVRAK_TRY(teeth, teeth_list(a));
    plan.teeth = teeth;
    PIVRAK_TRY(pitch, pitch_asked(a));
    plan.pitch_m = pitch;
    plan.pin_height_m = a.number("pin_height");
    plan.keep_pitch = a.has("size") || (a.has("links") && a.has("pitch"));
    if (a.has("links")) plan.link_count = a.integer("links");
    if (a.has("other_side")) plan.other_side = a.parts("other_side");
    plan.wound_turns = a.number("wound");
    PIVRAK_TRY(built, build_run(document, plan));
    Outcome out{document};
    Chain chain = built.chain;
    PIVRAK_CHECK(read_take_up(document, a, "pulls", chain));
    PIVRAK_CHECK(add_chain_datum(out, chain, built.plane, a.has("name") ? a.text("name") : "Cord",
                                 carrier_of_run(document, a, plan)));
    PIVRAK_CHECK(check_turns(document, out.document));
    tell_chain(out, chain);
    return out;
}

/// Along its end's slide, or the direction given.
Result<Vec3> way_of_fold(const Document& document, const Arguments& a, PartId to) {
    if (a.has("way")) return a.point("way");
    for (const Part* p = document.parts.find(to); p; p = document.parts.find(p->parent))
        if (p->joint.kind == JointKind::Slide) return world_from_rest(document, p->id).axis(p->joint.axis);
    return Error{
        "fold.way",
        fmt::format("'{}' slides nowhere; give the way its cable chain folds along", name_of(document, to)),
        name_of(document, to)};
}

Result<Outcome> fold(const Document& document, const Arguments& a, const OperationContext&) {
    FoldPlan plan;
    PIVRAK_TRY(from, tie_of(document, a, "from", "from_at"));
    PIVRAK_TRY(to, tie_of(document, a, "to", "to_at"));
    PIVRAK_TRY(way, way_of_fold(document, a, to.part));
    plan.from = from;
    plan.to = to;
    plan.way = a.flag("back") ? Vec3(-way) : way;
    plan.pitch_m = a.number("pitch");
    if (a.has("links")) plan.link_count = a.integer("links");
    plan.reach_m = a.number_if("reach").value_or(0);
    plan.least_bend_m = a.number("bend");
    PIVRAK_TRY(built, build_fold(document, plan));
    Outcome out{document};
    Chain chain = built.chain;
    const PartId under = a.has("under") ? a.part("under") : common_carrier(document, all_parts(from, to, {}));
    PIVRAK_CHECK(
        add_chain_datum(out, chain, built.plane, a.has("name") ? a.text("name") : "Cable chain", under));
    tell_chain(out, chain);
    return out;
}

}  // namespace

void add_run_operations(Registry& registry) {
    std::vector<std::string> sizes;
    for (const ChainSize& size : roller_chains()) sizes.emplace_back(size.name);
    const ArgumentSpec to{"to", ArgumentKind::Part, "what its end is tied to", true, {}, {}};
    const ArgumentSpec to_at{"to_at", ArgumentKind::Places, "where; its pivot when left out", false, {}, {}};
    const ArgumentSpec from_at{"from_at", ArgumentKind::Places, "where; its pivot when left out", false, {},
                               {}};
    const ArgumentSpec links{
        "links", ArgumentKind::Integer, "how many; as many as it takes when left out", false, {}, {}};
    const ArgumentSpec under{
        "under", ArgumentKind::Part, "carries the run; what carries all of it when left out", false, {}, {}};
    const ArgumentSpec name{"name", ArgumentKind::Text, "of the run and its datum", false, {}, {}};
    registry.add(
        {"chain.run",
         "Open run over wheels",
         "Lays a rope, cord or chain from a drum, or from a part it is tied to, over wheels to a part it is "
         "tied "
         "to. Wheels turn with it; what it pulls is moved so that its length stays.",
         {worded({"wheels",
                  ArgumentKind::Parts,
                  "hinges in the order from its start to its end; a drum is the first",
                  true,
                  {},
                  {}},
                 "Over wheels", "take picked"),
          worded({"from",
                  ArgumentKind::Part,
                  "what its start is tied to; wound on the first wheel when left out",
                  false,
                  {},
                  {}},
                 "Starts at", "take picked"),
          from_at,
          to,
          to_at,
          {"loose",
           ArgumentKind::Flag,
           "its start hangs down from the first wheel, which carries it along",
           false,
           false,
           {}},
          worded(
              {"pulls",
               ArgumentKind::Part,
               "a hinge or slide that carries an end or a wheel, or the drum: moved so that the length stays",
               false,
               {},
               {}},
              "Pulls", "nothing: take picked"),
          worded({"pitch", ArgumentKind::Length, "of its links", false, {}, {}}, "Links of"),
          {"size", ArgumentKind::Choice, "a roller chain of ISO 606", false, {}, sizes},
          {"teeth", ArgumentKind::Text, "of each wheel, such as '8 0'; none when left out", false, {}, {}},
          worded({"pin_height",
                  ArgumentKind::Length,
                  "from a wheel's tread to the middle of the rope",
                  false,
                  0.0,
                  {}},
                 "Middle off wheels", "0 mm"),
          links,
          worded({"wound", ArgumentKind::Number, "turns on the drum at rest", false, 3.0, {}},
                 "Turns on the drum"),
          worded({"other_side",
                  ArgumentKind::Parts,
                  "wheels that it passes on the other side than the shortest way",
                  false,
                  {},
                  {}},
                 "Other side of", "none: take picked"),
          under,
          name},
         run});
    registry.add(
        {"chain.fold",
         "Cable chain",
         "Lays a chain that folds between a part that stands and one that slides: straight, about a half "
         "circle, "
         "and back.",
         {{"from", ArgumentKind::Part, "what its start is tied to", true, {}, {}},
          from_at,
          to,
          to_at,
          {"pitch", ArgumentKind::Length, "of its links", true, {}, {}},
          links,
          {"reach", ArgumentKind::Length, "how far its end is to go beyond its start", false, {}, {}},
          {"bend", ArgumentKind::Length, "the radius below which its links do not bend", false, 0.0, {}},
          {"way",
           ArgumentKind::Vector,
           "where it leaves its start; along the slide of its end when left out",
           false,
           {},
           {}},
          {"back", ArgumentKind::Flag, "it leaves its start the other way", false, false, {}},
          under,
          name},
         fold});
}

}  // namespace pivrak
