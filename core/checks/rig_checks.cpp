#include <fmt/format.h>

#include <cmath>

#include "core/base/words.h"
#include "core/checks/element_check.h"
#include "core/model/each_element.h"
#include "core/motion/bake.h"
#include "core/rig/driven_by.h"

namespace pivrak {

void check_rig(const Document& document, MeshFacts& known, std::vector<Finding>& findings) {
    if (const auto evaluator = Evaluator::compile(document, {}, &known.rig()); !evaluator)
        findings.push_back({Stage::Rig, evaluator.error().code, {}, evaluator.error().message});
    ElementCheck out(document, known.rig(), findings);
    each_element(document, [&](const auto&... element) { check(element..., out); });
}

namespace {

/// Tells the first frame at which a driven channel stands at its limit: there its driver runs on without it.
void check_limits(const Document& document, const Clip& clip, MeshFacts& known,
                  std::vector<Finding>& findings) {
    const auto evaluator = Evaluator::compile(document, clip.id, &known.rig());
    if (!evaluator) return;
    struct Limited {
        const Part* part;
        ChannelKind kind;
        Limits limits;
        std::size_t slot;
    };
    std::vector<Limited> limited;
    for (const Coupling& c : document.couplings) {
        const ChannelRef driven = c.driven();
        const Part* part = document.parts.find(driven.part);
        const auto slot = evaluator->channel_slot(driven);
        if (!part || !slot || !part->has(driven.kind)) continue;
        if (const auto& limits = part->joint.channel(driven.kind).limits)
            limited.push_back({part, driven.kind, *limits, *slot});
    }
    if (limited.empty()) return;
    Pose pose = evaluator->make_pose();
    for (const double frame : clip_frames(clip)) {
        evaluator->evaluate(frame, pose);
        std::erase_if(limited, [&](const Limited& l) {
            const double value = pose.channels[l.slot];
            if (value > l.limits.min && value < l.limits.max) return false;
            findings.push_back(
                {Stage::Keys, "limit.stops_gear", l.part->id,
                 fmt::format("'{}' is stopped by its limit {} from frame {} of '{}'", l.part->name,
                             is_turn(l.kind) ? format_angle(value) : format_length(value), frame,
                             clip.name)});
            return true;
        });
    }
}

void check_track(const Document& document, const Clip& clip, const Track& track,
                 std::vector<Finding>& findings) {
    const Part& part = *document.parts.find(track.channel.part);
    const auto add = [&](const char* code, std::string message) {
        findings.push_back({Stage::Keys, code, part.id, std::move(message), {}, ""});
    };
    if (const auto driver = driver_name(document, track.channel))
        add("keys.driven", fmt::format("{} of '{}' without effect: '{}' drives it",
                                       counted(track.keys.size(), "key"), part.name, *driver));
    else if (!part.has(track.channel.kind))
        add("keys.fixed",
            fmt::format("{} of '{}' without effect: its joint is {}", counted(track.keys.size(), "key"),
                        part.name, part.joint.kind == JointKind::Fixed ? "fixed" : "of another kind"));
    const ChannelKind kind = track.channel.kind;
    const auto& limits = part.joint.channel(kind).limits;
    const auto shown = [&](double value) {
        return is_turn(kind) ? format_angle(value) : format_length(value);
    };
    for (const Key& key : track.keys)
        if (limits && limits->clamp(key.value) != key.value) {
            add("keys.limit",
                fmt::format("'{}' is keyed to {} at frame {}, its limits are {} to {}", part.name,
                            shown(key.value), key.frame, shown(limits->min), shown(limits->max)));
            break;
        }
    if (!track.keys.empty() && track.keys.back().frame > clip.last_frame)
        add("keys.after_end", fmt::format("'{}' has a key at frame {}, clip '{}' ends at {}", part.name,
                                          track.keys.back().frame, clip.name, clip.last_frame));
}

}  // namespace

void check_clips(const Document& document, MeshFacts& known, std::vector<Finding>& findings) {
    for (const Clip& clip : document.clips) {
        for (const Track& track : clip.tracks) check_track(document, clip, track, findings);
        check_limits(document, clip, known, findings);
    }
}

}  // namespace pivrak
