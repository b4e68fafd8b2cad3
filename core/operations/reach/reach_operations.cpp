#include <fmt/format.h>

#include <algorithm>

#include "core/base/words.h"
#include "core/elements/reach/reach_motion.h"
#include "core/model/control_sizes.h"
#include "core/model/names/names.h"
#include "core/operations/all_operations.h"
#include "core/operations/channel_access.h"
#include "core/operations/constraints/posed.h"
#include "core/operations/keys/clip_access.h"
#include "core/operations/named_elements.h"
#include "core/rig/joint_motion.h"

namespace pivrak {
namespace {

using nlohmann::json;

/// A control that can be moved freely, where a row's tip is.
PartId make_handle(Document& document, const Reach& reach, const Frame& at) {
    Part handle;
    handle.id = document.new_id<PartId>();
    handle.name = FreeNames(document).take(name_of(document, reach.tip) + " goal");
    handle.parent_from_rest = at.normalized();
    handle.joint.kind = JointKind::Free;
    document.parts.set(handle);
    handle.control = fitted_symbol(document, reach.tip, ControlForm::Cross, ControlColor::Plum);
    handle.control->middle_m = Vec3(0, 0, 0);
    document.parts.set(handle);
    return handle.id;
}

/// Whether rows have a part in common.
bool overlap(const Document& document, const Reach& a, const Reach& b) {
    for (PartId at = a.tip; at; at = document.parts.find(at)->parent) {
        if (is_below(document, at, b.root) && is_below(document, b.tip, at)) return true;
        if (at == a.root) break;
    }
    return false;
}

/// A row that becomes longer draws what hangs in it apart, so nothing else may hold that together.
Result<void> check_stretch(const Document& document, const Reach& reach) {
    for (const Reach& other : document.reaches)
        if (other.id != reach.id && std::max(reach.most_stretch, other.most_stretch) > 1 &&
            overlap(document, reach, other))
            return Error{"reach.stretch",
                         fmt::format("a row that becomes longer shares no part with another: '{}' has some "
                                     "of its parts, too",
                                     other.name),
                         "stretch"};
    if (reach.most_stretch <= 1) return {};
    for (const Linkage& linkage : document.linkages)
        for (const Closure& closure : linkage.closures) {
            // What the tip carries stays together.
            if (is_below(document, closure.a, reach.tip) && is_below(document, closure.b, reach.tip))
                continue;
            for (const PartId part : {closure.a, closure.b})
                if (part != reach.root && is_below(document, part, reach.root))
                    return Error{"reach.stretch",
                                 fmt::format("the row cannot become longer: '{}' holds '{}' in it",
                                             linkage.name, name_of(document, part)),
                                 "stretch"};
        }
    return {};
}

Result<void> check_parts(const Document& document, const Reach& reach) {
    PIVRAK_TRY(row, reach_row(document, reach));
    for (const PartId part : {reach.goal, reach.side})
        if (part && is_below(document, part, reach.root))
            return Error{
                "reach.itself",
                fmt::format("'{}' is carried by the row that would reach for it", name_of(document, part)),
                name_of(document, part)};
    PIVRAK_CHECK(check_stretch(document, reach));
    Document without = document;
    if (reach.id) without.reaches.erase(reach.id);
    const Drivers drivers(without);
    for (const ChannelRef channel : row.channels)
        if (!drivers.name(channel) &&
            !document.parts.find(channel.part())->joint.channel(channel.kind).locked)
            return {};
    return Error{"reach.driven",
                 fmt::format("all joints from '{}' to '{}' are driven or locked: none is left to reach",
                             name_of(document, reach.root), name_of(document, reach.tip)),
                 name_of(document, reach.tip)};
}

/// What the arguments say, places measured in a pose.
Result<void> read_reach(const Arguments& a, const Posed& posed, Reach& reach) {
    const Document& document = posed.document();
    if (a.has("goal")) reach.goal = a.part("goal");
    if (a.has("side")) reach.side = a.part("side");
    if (a.has("turn")) reach.turns = a.flag("turn");
    if (a.has("place")) reach.not_place = !a.flag("place");
    reach.turn_weight = a.number_if("turn_weight").value_or(reach.turn_weight);
    reach.most_stretch = a.number_if("stretch").value_or(reach.most_stretch);
    if (const auto own = a.point_if("at"))
        reach.place = world_from_rest(document, reach.tip).inverse().point(*own);
    if (const auto to = a.point_if("to"))
        reach.goal_place =
            (reach.goal ? world_from_rest(document, reach.goal) : Frame{}).inverse().point(*to);
    if (a.flag("keep")) {
        const Frame tip = posed.world(reach.tip), offset = posed.world(reach.goal).inverse() * tip;
        reach.goal_place = offset.point(reach.place);
        reach.goal_turn = offset.rotation.normalized();
    }
    if (const auto blend = a.number_if("blend")) {
        PIVRAK_CHECK(check_in_range(ChannelKind::Blend, *blend));
        reach.blend.value = *blend;
    }
    const auto damaged = reach.damaged();
    if (!damaged) return {};
    if (reach.not_place && !reach.turns)
        return Error{"reach.nothing", std::string(*damaged) + ": it goes to a place, or turns, or both",
                     "turn"};
    const bool of_stretch = !(reach.most_stretch >= 1 && reach.most_stretch <= 1000);
    return Error{of_stretch ? "reach.stretch" : "reach.weight", std::string(*damaged),
                 of_stretch ? "stretch" : "turn_weight"};
}

/// What is missed at the frame that was asked for, or the clip's first.
std::string miss_at(const Document& document, const Arguments& a, ReachId id) {
    const Reach& reach = *document.reaches.find(id);
    const auto clip = clip_named(document, a);
    const auto evaluator = Evaluator::compile(document, clip ? (*clip)->id : ClipId{});
    if (!evaluator || !clip) return reach.name;
    Pose pose = evaluator->make_pose();
    evaluator->evaluate(a.number_if("frame").value_or((*clip)->first_frame), pose);
    const auto miss = reach_miss(*evaluator, pose, reach);
    const std::string words =
        miss ? format_miss(miss->place_m, miss->turn_rad, document.settings.length_unit) : "";
    return words.empty() ? reach.name : fmt::format("{}: misses by {}", reach.name, words);
}

Result<Outcome> finished(Outcome out, const Arguments& a, const std::vector<ReachId>& made) {
    if (const auto compiled = Evaluator::check(out.document); !compiled) return compiled.error();
    for (const ReachId id : made) {
        out.messages.push_back(miss_at(out.document, a, id));
        out.readings["reaches"].push_back(id.value);
    }
    return out;
}

Result<Outcome> reach_add(const Document& document, const Arguments& a, const OperationContext&) {
    Outcome out{document};
    PIVRAK_TRY(posed, Posed::asked(document, a));
    Reach reach;
    reach.tip = a.part("tip");
    reach.root = a.part("root");
    PIVRAK_CHECK(read_reach(a, posed, reach));
    PIVRAK_CHECK(check_parts(document, reach));
    if (!reach.goal && !a.has("to")) {
        const Frame tip = posed.world(reach.tip);
        reach.goal = make_handle(out.document, reach, {tip.rotation, tip.point(reach.place)});
        reach.goal_place = Vec3(0, 0, 0);
        reach.goal_turn = Quat(1, 0, 0, 0);
        out.created.push_back(reach.goal);
    }
    const std::string wanted = a.has("name")
                                   ? a.text("name")
                                   : fmt::format("{} reaches {}", name_of(document, reach.tip),
                                                 reach.goal ? name_of(out.document, reach.goal) : "a place");
    PIVRAK_CHECK(check_name(wanted));
    reach.name = free_entry_name(document.reaches, wanted);
    reach.id = out.document.new_id<ReachId>();
    out.document.reaches.set(reach);
    return finished(std::move(out), a, {reach.id});
}

Result<std::vector<Reach>> reaches_named(const Document& document, const Arguments& a) {
    return named_elements(document, document.reaches, a, "reaches", "reach.unknown", "is no reach");
}

Result<Outcome> reach_set(const Document& document, const Arguments& a, const OperationContext&) {
    Outcome out{document};
    PIVRAK_TRY(found, reaches_named(document, a));
    PIVRAK_TRY(posed, Posed::asked(document, a));
    std::vector<ReachId> changed;
    for (Reach reach : found) {
        PIVRAK_CHECK(read_reach(a, posed, reach));
        if (a.flag("no_side")) reach.side = {};
        if (!reach.lost.empty() && a.has("goal")) reach.off = false;
        if (a.has("goal") || (a.has("on") && a.flag("on"))) reach.lost.clear();
        if (a.has("on")) reach.off = !a.flag("on");
        PIVRAK_CHECK(rename_entry(document.reaches, a, "reach.duplicate", "reach", reach));
        PIVRAK_CHECK(check_parts(document, reach));
        out.document.reaches.set(reach);
        changed.push_back(reach.id);
    }
    return finished(std::move(out), a, changed);
}

Result<Outcome> reach_remove(const Document& document, const Arguments& a, const OperationContext&) {
    Outcome out{document};
    PIVRAK_TRY(found, reaches_named(document, a));
    for (const Reach& reach : found) {
        out.document.reaches.erase(reach.id);
        out.messages.push_back(fmt::format("'{}' removed", reach.name));
    }
    return out;
}

/// The frames that are asked for: whole ones, or every so many.
Result<std::vector<double>> frames_asked(const Arguments& a, const Clip& clip) {
    const double from = a.number_if("from").value_or(clip.first_frame),
                 to = a.number_if("until").value_or(clip.last_frame), step = a.number_if("step").value_or(1);
    PIVRAK_CHECK(check_key_frame(from));
    PIVRAK_CHECK(check_key_frame(to));
    if (!(step > 0) || to < from || (to - from) / step > 1e5)
        return Error{"reach.range", "the range has no frames, or more than a hundred thousand", "from"};
    std::vector<double> frames;
    for (std::size_t i = 0; from + static_cast<double>(i) * step <= to + 1e-9; ++i)
        frames.push_back(from + static_cast<double>(i) * step);
    return frames;
}

/// What the joints do while they reach becomes keys of theirs.
Result<Outcome> reach_to_keys(const Document& document, const Arguments& a, const OperationContext&) {
    Outcome out{document};
    PIVRAK_TRY(found, reaches_named(document, a));
    PIVRAK_TRY(clip, clip_named(document, a));
    PIVRAK_TRY(frames, frames_asked(a, *clip));
    PIVRAK_TRY(evaluator, Evaluator::compile(document, clip->id));
    Pose pose = evaluator.make_pose();
    Clip changed = *clip;
    for (const Reach& reach : found) {
        PIVRAK_TRY(row, reach_row(document, reach));
        for (const double frame : frames) {
            evaluator.evaluate(frame, pose);
            for (const ChannelRef channel : row.channels) {
                if (document.parts.find(channel.part())->joint.channel(channel.kind).locked) continue;
                put_key(changed.track_or_new(channel),
                        {frame, pose.channels[*evaluator.channel_slot(channel)], Interpolation::Linear});
            }
        }
        out.messages.push_back(
            fmt::format("'{}': {} of {} keyed at {}", reach.name, counted(row.channels.size(), "channel"),
                        counted(row.joints.size(), "joint"), counted(frames.size(), "frame")));
    }
    out.document.clips.set(changed);
    return out;
}

/// The goal goes where the tip is when its joints are as keyed.
Result<Outcome> goal_to_keys(const Document& document, const Arguments& a, const OperationContext&) {
    Outcome out{document};
    PIVRAK_TRY(found, reaches_named(document, a));
    PIVRAK_TRY(clip, clip_named(document, a));
    PIVRAK_TRY(frames, frames_asked(a, *clip));
    Clip changed = *clip;
    for (const Reach& reach : found) {
        const Part* goal = document.parts.find(reach.goal);
        if (!goal || goal->joint.kind != JointKind::Free)
            return Error{
                "reach.goal",
                fmt::format("the goal of '{}' is not free to go there; make it a free part", reach.name),
                reach.name};
        Document keyed = document;
        Reach off = reach;
        off.off = true;
        keyed.reaches.set(off);
        PIVRAK_TRY(evaluator, Evaluator::compile(keyed, clip->id));
        Pose pose = evaluator.make_pose();
        std::array<double, 6> near{};
        for (const double frame : frames) {
            evaluator.evaluate(frame, pose);
            const Frame tip = pose.world_from_part[*evaluator.part_slot(reach.tip)];
            const Frame reaches{tip.rotation, tip.point(reach.place)};
            const Frame carrier =
                goal->parent ? pose.world_from_part[*evaluator.part_slot(goal->parent)] : Frame{};
            const Frame at =
                (carrier * goal->parent_from_rest).inverse() * reaches * reach.goal_frame().inverse();
            const Vec3 turns = turns_from_rotation(at.rotation, {near[3], near[4], near[5]});
            for (int k = 0; k < 3; ++k) {
                near[static_cast<std::size_t>(k)] = at.translation[k];
                near[static_cast<std::size_t>(k) + 3] = turns[k];
            }
            std::size_t c = 0;
            for (const ChannelKind kind : channels_of(JointKind::Free))
                put_key(changed.track_or_new({goal->id, kind}), {frame, near[c++], Interpolation::Linear});
        }
        out.messages.push_back(
            fmt::format("'{}' goes with the keyed pose at {}", goal->name, counted(frames.size(), "frame")));
    }
    out.document.clips.set(changed);
    return out;
}

std::vector<ArgumentSpec> joined(std::vector<ArgumentSpec> first, const std::vector<ArgumentSpec>& more) {
    first.insert(first.end(), more.begin(), more.end());
    return first;
}

std::vector<ArgumentSpec> settings() {
    return {
        worded(
            {"goal", ArgumentKind::Part, "what it reaches for; a new control when left out", false, {}, {}},
            "Goal", "a new control"),
        worded({"at",
                ArgumentKind::Place,
                "the tip's place that reaches; its pivot when left out",
                false,
                {},
                {}},
               "With its place"),
        worded({"to", ArgumentKind::Place, "where to, on the goal; its pivot when left out", false, {}, {}},
               "To the place"),
        worded({"keep", ArgumentKind::Flag, "keeps the offset that there is", false, false, {}},
               "keep the offset there is"),
        worded({"turn", ArgumentKind::Flag, "turns as the goal does", false, {}, {}},
               "turn as the goal does"),
        worded({"place", ArgumentKind::Flag, "goes where the goal is", false, {}, {}},
               "go where the goal is"),
        {"turn_weight",
         ArgumentKind::Number,
         "where place and turn cannot both be had: how many lengths of the row a radian counts as, 0.001 to "
         "1000",
         false,
         {},
         {}},
        worded({"stretch",
                ArgumentKind::Number,
                "times as long the row may become where the goal is out of its reach; 1 for no longer",
                false,
                {},
                {}},
               "May stretch", "no: 1 time its length"),
        worded({"side", ArgumentKind::Part, "the row bends towards its pivot", false, {}, {}},
               "Bends towards", "as it comes"),
        {"blend", ArgumentKind::Number, "share from 0 to 1 by which joints answer", false, {}, {}},
        {"name", ArgumentKind::Text, "of the reach", false, {}, {}},
        frame_argument(),
        clip_argument()};
}

}  // namespace

void add_reach_operations(Registry& registry) {
    const ArgumentSpec reaches{"reaches", ArgumentKind::Elements, "by name or id", true, {}, {}};
    const std::vector<ArgumentSpec> range{
        reaches,
        clip_argument(),
        {"from", ArgumentKind::Number, "first frame; the clip's when left out", false, {}, {}},
        {"until", ArgumentKind::Number, "last frame; the clip's when left out", false, {}, {}},
        {"step", ArgumentKind::Number, "frames from one key to the next", false, 1, {}}};
    registry.add(
        {"reach.add", "Reach from here to there",
         "The joints from one part down to a tip bring it to a goal, inside their limits and locks.",
         joined({worded({"root", ArgumentKind::Part, "outermost part that moves", true, {}, {}}, "From"),
                 worded({"tip", ArgumentKind::Part, "what reaches", true, {}, {}}, "Tip")},
                settings()),
         reach_add});
    registry.add({"reach.set", "Change a reach", "Changes what a reach asks, and its blend.",
                  joined({reaches,
                          {"on", ArgumentKind::Flag, "whether it reaches at all", false, {}, {}},
                          {"no_side", ArgumentKind::Flag, "bends to no side any more", false, false, {}}},
                         settings()),
                  reach_set});
    registry.add(
        {"reach.remove", "Remove reaches", "Joints are left to keys and hands.", {reaches}, reach_remove});
    registry.add({"reach.key", "Take the solved pose as keys",
                  "Joints get keys as they stand while they reach.", range, reach_to_keys});
    registry.add({"reach.goal", "Bring the goal to the keyed pose",
                  "The goal gets keys where the tip is when its joints are as keyed.", range, goal_to_keys});
}

}  // namespace pivrak
