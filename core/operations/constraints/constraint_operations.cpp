#include <fmt/format.h>

#include <algorithm>

#include "core/base/words.h"
#include "core/elements/constraint/constraint_motion.h"
#include "core/operations/all_operations.h"
#include "core/operations/channel_access.h"
#include "core/operations/constraints/constraint_reader.h"
#include "core/operations/constraints/posed.h"
#include "core/operations/keys/clip_access.h"
#include "core/operations/named_elements.h"

namespace pivrak {
namespace {

using nlohmann::json;

std::string usual_name(const Document& document, const Constraint& c) {
    const std::string part = name_of(document, c.part);
    const std::string target = c.target ? name_of(document, c.target) : "";
    switch (c.asks) {
        case Asks::Place:
            return c.target ? fmt::format("{} goes with {}", part, target) : part + " held in place";
        case Asks::Turn:
            return c.target ? fmt::format("{} turns with {}", part, target) : part + " held upright";
        case Asks::Aim:
            return c.target ? fmt::format("{} aims at {}", part, target) : part + " aims";
        case Asks::Rest:
            return c.target ? fmt::format("{} rests on {}", part, target) : part + " rests on the floor";
        case Asks::Plumb:
            return part + " hangs plumb";
        case Asks::Inside:
            return part + " stays inside";
    }
    return part;
}

Result<Constraint> constraint_from(const Document& document, const Arguments& a, PartId part,
                                   const Posed& posed) {
    Constraint c;
    c.part = part;
    c.asks = *value_of<Asks>(asks_words, a.text("asks"));
    if (a.has("target")) c.target = a.part("target");
    PIVRAK_CHECK(read_settings(document, a, c));
    PIVRAK_CHECK(check_can_answer(document, c));
    read_places(a, posed, c);
    for (const Constraint& other : document.constraints)
        if (other.part == part) c.order = std::max(c.order, other.order + 1);
    return c;
}

/// What a joint leaves of it, told for the frame that was asked for.
std::string answer_words(const Document& document, const Arguments& a, ConstraintId id) {
    const Constraint& c = *document.constraints.find(id);
    const auto clip = clip_named(document, a);
    const auto evaluator = Evaluator::compile(document, clip ? (*clip)->id : ClipId{});
    if (!evaluator) return c.name;
    Pose pose = evaluator->make_pose();
    evaluator->evaluate(a.number_if("frame").value_or((*clip)->first_frame), pose);
    const auto miss = constraint_miss(*evaluator, pose, c);
    if (!miss) return c.name;
    const std::string words = miss_words(*miss, document.settings.length_unit);
    return words.empty() ? c.name : fmt::format("{}: misses by {}", c.name, words);
}

Result<Outcome> constraint_add(const Document& document, const Arguments& a, const OperationContext&) {
    Outcome out{document};
    PIVRAK_TRY(posed, Posed::asked(document, a));
    const auto parts = a.parts("parts");
    if (a.has("place") && parts.size() > 1)
        return Error{"constraint.place", "a place of its own is one part's; ask the others one by one",
                     "place"};
    std::vector<ConstraintId> made;
    for (const PartId part : parts) {
        PIVRAK_TRY(c, constraint_from(out.document, a, part, posed));
        if (a.has("name")) PIVRAK_CHECK(check_name(a.text("name")));
        c.name = free_entry_name(out.document.constraints,
                                 a.has("name") ? a.text("name") : usual_name(document, c));
        c.id = out.document.new_id<ConstraintId>();
        out.document.constraints.set(c);
        made.push_back(c.id);
    }
    if (const auto compiled = Evaluator::check(out.document); !compiled) return compiled.error();
    for (const ConstraintId id : made) {
        out.messages.push_back(answer_words(out.document, a, id));
        out.readings["constraints"].push_back(id.value);
    }
    return out;
}

/// Once, without staying: the joint's channels take what it answers.
Result<Outcome> constraint_match(const Document& document, const Arguments& a, const OperationContext&) {
    PIVRAK_TRY(posed, Posed::asked(document, a));
    PIVRAK_TRY(clip, clip_named(document, a));
    const double frame = a.number_if("frame").value_or(clip->first_frame);
    Document asked = document;
    // What else is asked of them would have the last word.
    for (const PartId part : a.parts("parts"))
        for (const Constraint& other : document.constraints)
            if (other.part == part) asked.constraints.erase(other.id);
    for (const PartId part : a.parts("parts")) {
        PIVRAK_TRY(c, constraint_from(asked, a, part, posed));
        c.id = asked.new_id<ConstraintId>();
        c.name = "match";
        asked.constraints.set(c);
    }
    PIVRAK_TRY(answered, Posed::at(asked, clip->id, frame));
    Outcome out{document};
    Clip changed = *clip;
    std::size_t keys = 0;
    for (const PartId id : a.parts("parts")) {
        Part part = *document.parts.find(id);
        for (const ChannelKind kind : channels_of(part.joint.kind)) {
            const ChannelRef channel{id, kind};
            if (clip->track(channel)) {
                Track& track = changed.track_or_new(channel);
                put_key(track, {frame, answered.value(channel), Interpolation::Smooth});
                ++keys;
                continue;
            }
            Channel moved = part.joint.channel(kind);
            if (!moved.locked) moved.value = answered.value(channel);
            part.joint.set_channel(kind, moved);
        }
        out.document.parts.set(part);
    }
    if (keys) out.document.clips.set(changed);
    out.messages.push_back(
        fmt::format("{} matched once{}", counted(a.parts("parts").size(), "part"),
                    keys ? fmt::format("; {} set at frame {}", counted(keys, "key"), frame) : ""));
    return out;
}

/// The constraints that are named. Errors: `constraint.unknown`.
Result<std::vector<Constraint>> constraints_named(const Document& document, const Arguments& a) {
    return named_elements(document, document.constraints, a, "constraints", "constraint.unknown",
                          "is no constraint");
}

/// Puts one at a place among those of its part, counted from 1.
void put_in_order(Document& document, const Constraint& moved, int place) {
    std::vector<Constraint> row;
    for (const Constraint& c : document.constraints)
        if (c.part == moved.part && c.id != moved.id) row.push_back(c);
    std::stable_sort(row.begin(), row.end(),
                     [](const Constraint& a, const Constraint& b) { return a.order < b.order; });
    const auto at = std::clamp<std::ptrdiff_t>(place - 1, 0, static_cast<std::ptrdiff_t>(row.size()));
    row.insert(row.begin() + at, moved);
    for (std::size_t i = 0; i < row.size(); ++i) {
        row[i].order = static_cast<int>(i);
        document.constraints.set(row[i]);
    }
}

/// Whoever lost what it followed asks again with another one, or when told to as it is.
void find_again(const Arguments& a, Constraint& c) {
    if (c.lost.empty()) return;
    const bool found = a.has("target") || a.has("towards") || a.flag("to_world");
    if (!found && !(a.has("on") && a.flag("on"))) return;
    c.lost.clear();
    if (found) c.off = false;
}

Result<Outcome> constraint_set(const Document& document, const Arguments& a, const OperationContext&) {
    PIVRAK_TRY(found, constraints_named(document, a));
    PIVRAK_TRY(posed, Posed::asked(document, a));
    Outcome out{document};
    for (Constraint c : found) {
        if (a.has("target")) c.target = a.part("target");
        if (a.flag("to_world")) c.target = {};
        find_again(a, c);
        PIVRAK_CHECK(read_settings(document, a, c));
        PIVRAK_CHECK(check_can_answer(document, c));
        read_places(a, posed, c);
        if (a.flag("clear")) {
            c.target_place = Vec3(0, 0, 0);
            c.target_turn = Quat(1, 0, 0, 0);
        }
        if (a.has("on")) c.off = !a.flag("on");
        PIVRAK_CHECK(rename_entry(document.constraints, a, "constraint.duplicate", "constraint", c));
        out.document.constraints.set(c);
        if (a.has("order")) put_in_order(out.document, c, a.integer("order"));
    }
    if (const auto compiled = Evaluator::check(out.document); !compiled) return compiled.error();
    for (const Constraint& c : found) out.messages.push_back(answer_words(out.document, a, c.id));
    return out;
}

Result<Outcome> constraint_remove(const Document& document, const Arguments& a, const OperationContext&) {
    PIVRAK_TRY(found, constraints_named(document, a));
    Outcome out{document};
    for (const Constraint& c : found) {
        out.document.constraints.erase(c.id);
        out.messages.push_back(fmt::format("'{}' removed", c.name));
    }
    return out;
}

std::vector<ArgumentSpec> with_more(std::vector<ArgumentSpec> first, std::vector<ArgumentSpec> more) {
    first.insert(first.end(), more.begin(), more.end());
    return first;
}

ArgumentSpec asks_argument() {
    return worded(
        {"asks",
         ArgumentKind::Choice,
         "go to a place; turn along; aim an axis; rest on a ground; hang an axis plumb; stay inside "
         "bounds",
         true,
         {},
         {asks_words.begin(), asks_words.end()}},
        "Shall");
}

ArgumentSpec constraints_argument() {
    return {"constraints", ArgumentKind::Elements, "constraints, by name or id", true, {}, {}};
}

const std::vector<ArgumentSpec> blend_and_name{
    {"blend", ArgumentKind::Number, "share from 0 to 1 by which the joint answers", false, {}, {}},
    {"name", ArgumentKind::Text, "of the constraint", false, {}, {}}};

}  // namespace

void add_constraint_operations(Registry& registry) {
    registry.add(
        {"constraint.add", "Ask a joint",
         "Asks the joints of parts for something, which they answer as far as their free channels and "
         "limits allow.",
         with_more({parts_argument("parts whose joints answer"), asks_argument()},
                   with_more(settings_arguments(true), blend_and_name)),
         constraint_add});
    registry.add(
        {"constraint.match", "Match now",
         "Asks the same once, without staying: the joint's values, or keys at the frame, are set.",
         with_more({parts_argument("parts whose joints answer"), asks_argument()}, settings_arguments(true)),
         constraint_match});
    registry.add(
        {"constraint.set", "Change a constraint",
         "Changes what a constraint asks, its blend, and its place in the "
         "order of its part's.",
         with_more(
             {constraints_argument(),
              {"on", ArgumentKind::Flag, "whether it asks at all", false, {}, {}},
              {"order", ArgumentKind::Integer, "place among those of its part, from 1", false, {}, {}},
              {"clear", ArgumentKind::Flag, "lets go of the offset", false, false, {}},
              {"to_world", ArgumentKind::Flag, "follows the world instead of a part", false, false, {}}},
             with_more(settings_arguments(false), blend_and_name)),
         constraint_set});
    registry.add({"constraint.remove",
                  "Remove constraints",
                  "Joints are asked no more.",
                  {constraints_argument()},
                  constraint_remove});
}

}  // namespace pivrak
