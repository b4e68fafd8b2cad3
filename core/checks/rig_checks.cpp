#include <fmt/format.h>

#include <cmath>

#include "core/base/words.h"
#include "core/checks/element_check.h"
#include "core/model/each_element.h"
#include "core/model/edits/one_measure.h"
#include "core/model/element_channels.h"
#include "core/model/limit_ends.h"
#include "core/motion/bake.h"
#include "core/rig/driven_by.h"

namespace pivrak {

void check_rig(const Document& document, MeshFacts& known, std::vector<Finding>& findings) {
    if (const auto evaluator = Evaluator::compile(document, {}, &known.rig()); !evaluator)
        findings.push_back({Stage::Rig, evaluator.error().code, {}, evaluator.error().message});
    for (const Part& part : document.parts)
        if (const auto across = part.joint.size ? measured_across(document, part.id) : std::nullopt)
            findings.push_back(
                {Stage::Rig, "size.across", part.id,
                 fmt::format("'{}' grows by itself, but '{}' counts lengths across it: let a part "
                             "grow that carries all of '{}'",
                             part.name, *across, *across)});
    ElementCheck out(document, known.rig(), findings);
    each_element(document, [&](const auto&... element) { check(element..., out); });
}

namespace {

void check_track(const Drivers& drivers, const Clip& clip, const Track& track,
                 std::vector<Finding>& findings) {
    const Document& document = drivers.document();
    const std::string name = owner_name(document, track.channel.owner);
    const auto channel = find_channel(document, track.channel);
    const Part* part = document.parts.find(track.channel.part());
    const auto add = [&](const char* code, std::string message) {
        const PartId where = home_of(document, track.channel.owner);
        findings.push_back({Stage::Keys, code, where, std::move(message), {}, ""});
    };
    if (const auto driver = drivers.name(track.channel))
        add("keys.driven", fmt::format("{} of '{}' without effect: '{}' drives it",
                                       counted(track.keys.size(), "key"), name, *driver));
    else if (!channel)
        add("keys.fixed",
            fmt::format("{} of '{}' without effect: {}", counted(track.keys.size(), "key"), name,
                        !part ? fmt::format("it has no {} now", channel_word(track.channel.kind))
                        : part->joint.kind == JointKind::Fixed ? "its joint is fixed"
                                                               : "its joint is of another kind"));
    const ChannelKind kind = track.channel.kind;
    // Keys of a joint that is none now are still held against its limits.
    const Channel of = channel ? *channel : part ? part->joint.channel(kind) : Channel{};
    const bool limited = of.limits.has_value();
    const Limits limits = of.limits.value_or(Limits{});
    const auto shown = [&](double value) { return format_channel(kind, value, document); };
    for (const Key& key : track.keys)
        if (limited && limits.clamp(key.value) != key.value) {
            add("keys.limit", fmt::format("'{}' is keyed to {} at frame {}, its limits are {} to {}", name,
                                          shown(key.value), key.frame, format_end(kind, limits.min, document),
                                          format_end(kind, limits.max, document)));
            break;
        }
    if (!track.keys.empty() && track.keys.back().frame > clip.last_frame)
        add("keys.after_end", fmt::format("'{}' has a key at frame {}, clip '{}' ends at {}", name,
                                          track.keys.back().frame, clip.name, clip.last_frame));
}

}  // namespace

void check_clips(const Document& document, std::vector<Finding>& findings) {
    const Drivers drivers(document);
    for (const Clip& clip : document.clips)
        for (const Track& track : clip.tracks) check_track(drivers, clip, track, findings);
}

}  // namespace pivrak
