#include <fmt/format.h>

#include "core/motion/evaluator.h"
#include "core/operations/all_operations.h"
#include "core/operations/constraints/posed.h"
#include "core/operations/keys/clip_access.h"
#include "core/operations/named_elements.h"

namespace pivrak {
namespace {

/// The part's own axis that a word names, `-z` the other way.
Vec3 own_axis(const std::string& word) {
    const bool against = word.front() == '-';
    const Vec3 axis = Vec3::Unit(word.back() - 'x');
    return against ? Vec3(-axis) : axis;
}

/// A place that was given in the world, in a part's frame; its pivot when none was.
Result<Vec3> place_on(const Document& document, const Arguments& a, const char* argument, PartId part) {
    const auto place = a.point_if(argument);
    if (!place) return Vec3(0, 0, 0);
    return world_from_rest(document, part).inverse().point(*place);
}

Result<PartId> part_for(const Arguments& a, const char* argument, const char* what) {
    if (a.has(argument)) return a.part(argument);
    return Error{"argument.missing", fmt::format("'{}' is needed: {}", argument, what), argument};
}

Result<void> read_parts(const Document& document, const Arguments& a, Measure& measure) {
    if (measure.is_of_part()) {
        PIVRAK_TRY(part, part_for(a, "a", "the part that is measured"));
        measure.a = part;
    }
    if (measure.has_second()) {
        PIVRAK_TRY(part, part_for(a, "b", "the other part"));
        measure.b = part;
    }
    if (measure.what == Measures::Corner) {
        PIVRAK_TRY(part, part_for(a, "c", "the part with the third place"));
        measure.c = part;
    }
    if (measure.has_place()) {
        PIVRAK_TRY(place, place_on(document, a, "a_at", measure.a));
        measure.place_a = place;
    }
    if (measure.b && measure.has_place()) {
        PIVRAK_TRY(place, place_on(document, a, "b_at", measure.b));
        measure.place_b = place;
    }
    if (measure.c) {
        PIVRAK_TRY(place, place_on(document, a, "c_at", measure.c));
        measure.place_c = place;
    }
    if (measure.has_axes()) {
        measure.axis_a = own_axis(a.text("axis_a"));
        measure.axis_b = own_axis(a.text("axis_b"));
    }
    return {};
}

Result<void> read_lines(const Document& document, const Arguments& a, Measure& measure) {
    const auto first = [&](const char* argument) { return a.elements(argument).front(); };
    if (measure.is_of_path()) {
        if (!a.has("path"))
            return Error{"argument.missing", "'path' is needed: the path that is measured", "path"};
        measure.path = PathId{first("path").value};
        if (!document.paths.contains(measure.path))
            return Error{"path.unknown", fmt::format("'{}' is no path", owner_name(document, first("path"))),
                         "path"};
    }
    if (measure.what == Measures::Pitch) {
        if (!a.has("chain"))
            return Error{"argument.missing", "'chain' is needed: the chain that is measured", "chain"};
        measure.chain = ChainId{first("chain").value};
        if (!document.chains.contains(measure.chain))
            return Error{"chain.unknown",
                         fmt::format("'{}' is no chain", owner_name(document, first("chain"))), "chain"};
    }
    return {};
}

/// What stays the same and cannot be read: told when the measure is made, not only found later.
Result<void> check_readable(const Document& document, const Measure& measure) {
    RigFacts facts;
    if (measure.what == Measures::Teeth && !facts.teeth(document, Tree(document), measure.a))
        return Error{"measure.teeth",
                     fmt::format("no teeth can be counted on '{}'", name_of(document, measure.a)),
                     name_of(document, measure.a)};
    if (measure.what == Measures::Clearance)
        for (const PartId part : {measure.a, measure.b})
            if (!facts.clearance_body(document, Tree(document), part))
                return Error{
                    "measure.shape",
                    fmt::format("'{}' has no shape, nor has what is fixed to it", name_of(document, part)),
                    name_of(document, part)};
    const Part* wheel = document.parts.find(measure.a);
    if (measure.what == Measures::Radius && wheel->joint.kind != JointKind::Hinge)
        return Error{"measure.wheel", fmt::format("'{}' turns on no hinge, so it is no wheel", wheel->name),
                     wheel->name};
    return {};
}

std::string usual_name(const Document& document, const Measure& measure) {
    const std::string word(word_of(measures_words, measure.what));
    if (const Path* path = document.paths.find(measure.path)) return fmt::format("{} {}", path->name, word);
    if (const Chain* chain = document.chains.find(measure.chain))
        return fmt::format("{} {}", chain->name, word);
    return fmt::format("{} {}", name_of(document, measure.a), word);
}

Result<Outcome> measure_add(const Document& document, const Arguments& a, const OperationContext&) {
    Measure measure;
    measure.what = *value_of<Measures>(measures_words, a.text("what"));
    PIVRAK_CHECK(read_parts(document, a, measure));
    PIVRAK_CHECK(read_lines(document, a, measure));
    PIVRAK_CHECK(check_readable(document, measure));
    if (measure.has_second() && measure.a == measure.b && measure.place_a == measure.place_b &&
        measure.axis_a == measure.axis_b)
        return Error{"measure.itself",
                     fmt::format("'{}' would be measured against itself", name_of(document, measure.a)), "b"};
    const std::string wanted = a.has("name") ? a.text("name") : usual_name(document, measure);
    PIVRAK_CHECK(check_name(wanted));
    measure.name = free_entry_name(document.measures, wanted);
    Outcome out{document};
    measure.id = out.document.new_id<MeasureId>();
    out.document.measures.set(measure);
    PIVRAK_TRY(clip, clip_named(out.document, a));
    PIVRAK_TRY(posed, Posed::at(out.document, clip->id, a.number_if("frame").value_or(clip->first_frame)));
    const double value = posed.value({measure.id, measure.gives()});
    out.messages.push_back(
        fmt::format("'{}' is {}", measure.name, format_channel(measure.gives(), value, document)));
    out.readings = {{"measures", {measure.id.value}}, {"value", value}};
    return out;
}

Result<std::vector<Measure>> measures_named(const Document& document, const Arguments& a) {
    return named_elements(document, document.measures, a, "measures", "measure.unknown", "is no measure");
}

Result<Outcome> measure_set(const Document& document, const Arguments& a, const OperationContext&) {
    PIVRAK_TRY(found, measures_named(document, a));
    Outcome out{document};
    for (Measure measure : found) {
        if (a.has("shown")) measure.hidden = !a.flag("shown");
        PIVRAK_CHECK(rename_entry(document.measures, a, "measure.duplicate", "measure", measure));
        out.document.measures.set(measure);
    }
    return out;
}

Result<Outcome> measure_remove(const Document& document, const Arguments& a, const OperationContext&) {
    PIVRAK_TRY(found, measures_named(document, a));
    Outcome out{document};
    for (const Measure& measure : found) {
        out.document.measures.erase(measure.id);
        out.messages.push_back(fmt::format("'{}' removed", measure.name));
    }
    return out;
}

}  // namespace

void add_measure_operations(Registry& registry) {
    const ArgumentSpec measures{"measures", ArgumentKind::Elements, "by name or id", true, {}, {}};
    const ArgumentSpec name{"name", ArgumentKind::Text, "of the measure", false, {}, {}};
    const std::vector<std::string> axes{"x", "y", "z", "-x", "-y", "-z"};
    ArgumentSpec what{"what", ArgumentKind::Choice, "what is measured", true, {}, {}};
    what.choices.assign(measures_words.begin(), measures_words.end());
    registry.add(
        {"measure.add",
         "Measure",
         "A number read from the parts as they move: formulas take it, and the view shows it as a dimension.",
         {worded(what, "Measure"),
          worded({"a", ArgumentKind::Part, "the part that is measured", false, {}, {}}, "From"),
          worded({"b", ArgumentKind::Part, "the other part; the corner of three places", false, {}, {}}, "To",
                 "last picked"),
          worded({"c", ArgumentKind::Part, "the part with the third place of a corner", false, {}, {}},
                 "And"),
          worded({"a_at",
                  ArgumentKind::Place,
                  "a place on the first part; its pivot when left out",
                  false,
                  {},
                  {}},
                 "At its place"),
          worded({"b_at", ArgumentKind::Place, "on the other one; alike", false, {}, {}}, "At the place"),
          worded({"c_at", ArgumentKind::Place, "on the third one; alike", false, {}, {}},
                 "At the third place"),
          worded({"axis_a", ArgumentKind::Choice, "own axis of the first part", false, "z", axes},
                 "Its axis"),
          worded({"axis_b", ArgumentKind::Choice, "own axis of the other", false, "z", axes}, "Other's axis"),
          worded({"path", ArgumentKind::Elements, "a path", false, {}, {}}, "Path"),
          worded({"chain", ArgumentKind::Elements, "a chain", false, {}, {}}, "Chain"), name,
          frame_argument(), clip_argument()},
         measure_add});
    registry.add({"measure.set",
                  "Change a measure",
                  "Gives it another name, shows or hides it in the view.",
                  {measures, {"shown", ArgumentKind::Flag, "drawn in the view", false, {}, {}}, name},
                  measure_set});
    registry.add({"measure.remove",
                  "Remove measures",
                  "What took them keeps the last value.",
                  {measures},
                  measure_remove});
}

}  // namespace pivrak
