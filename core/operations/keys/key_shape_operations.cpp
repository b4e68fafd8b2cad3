// How curves run through their keys and beyond them.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numeric>

#include "core/base/words.h"
#include "core/io/project/project_json.h"
#include "core/model/element_channels.h"
#include "core/motion/curve_edit.h"
#include "core/operations/all_operations.h"
#include "core/operations/keys/clip_access.h"
#include "core/operations/keys/key_picks.h"

namespace pivrak {
namespace {

/// A slope as typed, in degrees or lengths a second, as one of a frame.
Result<std::optional<double>> slope_of(const Document& document, const Arguments& a, const char* name,
                                       ChannelRef channel, double rate) {
    if (!a.has(name)) return std::optional<double>();
    PIVRAK_TRY(second, a.value(name, dimension_of(channel.kind), document.settings.length_unit));
    return std::optional(second / rate);
}

Result<std::optional<double>> weight_of(const Arguments& a, const char* name) {
    const auto weight = a.number_if(name);
    if (weight && !(*weight > 0 && *weight <= 1))
        return Error{"key.weight", "a tangent reaches more than nothing, at most to the next key", name};
    return weight;
}

Result<Outcome> key_shape(const Document& document, const Arguments& a, const OperationContext&) {
    PIVRAK_TRY(source, clip_named(document, a));
    PIVRAK_TRY(picked, picked_keys(*source, a));
    PIVRAK_TRY(weight, weight_of(a, "weight"));
    PIVRAK_TRY(weight_in, weight_of(a, "weight_in"));
    Clip clip = *source;
    const double rate = frame_rate_of(document, *source);
    for (const PickedKeys& one : picked) {
        PIVRAK_TRY(slope, slope_of(document, a, "slope", one.channel, rate));
        PIVRAK_TRY(slope_in, slope_of(document, a, "slope_in", one.channel, rate));
        const bool own = slope || slope_in || weight || weight_in || a.flag("joined");
        Track& track = clip.track_or_new(one.channel);
        const auto now = compile_curve(track.keys, track.before, track.after);
        for (std::size_t i = 0; i < track.keys.size(); ++i) {
            Key& key = track.keys[i];
            if (!one.has(key.frame)) continue;
            if (a.has("runs")) {
                key.interpolation = *interpolation_from(a.text("runs"));
                key.in = key.out = std::nullopt;
            }
            if (!own && key.interpolation != Interpolation::Own) continue;
            key.interpolation = Interpolation::Own;
            const Handle before = key.out.value_or(Handle{now[i].out, now[i].weight_out});
            key.out = Handle{slope.value_or(before.slope), weight.value_or(before.weight)};
            const bool broken = slope_in.has_value() || (key.in && !slope && !a.flag("joined"));
            const Handle in = key.in.value_or(Handle{now[i].in, now[i].weight_in});
            if (broken || weight_in)
                key.in = Handle{slope_in ? *slope_in
                                : broken ? in.slope
                                         : key.out->slope,
                                weight_in.value_or(in.weight)};
            else
                key.in.reset();
        }
    }
    if (clip == *source) return nothing_to_do(document, "they run so already");
    return with_clip(document, std::move(clip), counted(count_of(picked), "key") + " changed");
}

Result<Outcome> key_insert(const Document& document, const Arguments& a, const OperationContext&) {
    PIVRAK_TRY(source, clip_named(document, a));
    PIVRAK_TRY(channels, keyed_channels(*source, a));
    const double frame = a.number("frame");
    PIVRAK_CHECK(check_key_frame(frame));
    Clip clip = *source;
    std::size_t count = 0;
    for (const ChannelRef channel : channels) {
        Track& track = clip.track_or_new(channel);
        const std::size_t before = track.keys.size();
        insert_key(track, frame);
        count += track.keys.size() - before;
    }
    if (count == 0) return nothing_to_do(document, "there are keys already, or none on both sides");
    return with_clip(document, std::move(clip),
                     fmt::format("{} put in, the curves are as before", counted(count, "key")));
}

Result<Outcome> key_thin(const Document& document, const Arguments& a, const OperationContext&) {
    PIVRAK_TRY(source, clip_named(document, a));
    PIVRAK_TRY(picked, picked_keys(*source, a));
    PIVRAK_TRY(length, a.value("length", Dimension::Length, document.settings.length_unit));
    PIVRAK_TRY(angle, a.value("angle", Dimension::Angle, document.settings.length_unit));
    if (!(length > 0 && angle > 0))
        return Error{"key.tolerance", "a tolerance is more than nothing", "length"};
    Clip clip = *source;
    std::size_t gone = 0;
    for (const PickedKeys& one : picked)
        gone += thin_keys(clip.track_or_new(one.channel), one.frames.front(), one.frames.back(),
                          is_turn(one.channel.kind)       ? angle
                          : has_no_unit(one.channel.kind) ? 0.001
                                                          : length);
    if (gone == 0) return nothing_to_do(document, "each of these keys is needed");
    return with_clip(document, std::move(clip),
                     fmt::format("{} of {} taken out", gone, counted(count_of(picked), "key")));
}

/// Each value some way towards the line between its neighbours'.
Result<Outcome> key_smooth(const Document& document, const Arguments& a, const OperationContext&) {
    PIVRAK_TRY(source, clip_named(document, a));
    PIVRAK_TRY(picked, picked_keys(*source, a));
    const double amount = a.number_if("amount").value_or(0.5);
    if (!(amount > 0 && amount <= 1))
        return Error{"key.smooth", "an amount is more than nothing, at most 1", "amount"};
    Clip clip = *source;
    for (const PickedKeys& one : picked) {
        const std::vector<Key> before = source->track(one.channel)->keys;
        Track& track = clip.track_or_new(one.channel);
        for (std::size_t i = 1; i + 1 < before.size(); ++i) {
            if (!one.has(before[i].frame)) continue;
            const double share =
                (before[i].frame - before[i - 1].frame) / (before[i + 1].frame - before[i - 1].frame);
            const double line = before[i - 1].value + share * (before[i + 1].value - before[i - 1].value);
            track.keys[i].value += amount * (line - before[i].value);
        }
    }
    if (clip == *source) return nothing_to_do(document, "they lie in a line already");
    return with_clip(document, std::move(clip), counted(count_of(picked), "key") + " smoothed");
}

Result<Outcome> key_beyond(const Document& document, const Arguments& a, const OperationContext&) {
    PIVRAK_TRY(source, clip_named(document, a));
    PIVRAK_TRY(channels, keyed_channels(*source, a));
    Clip clip = *source;
    for (const ChannelRef channel : channels) {
        Track& track = clip.track_or_new(channel);
        if (a.has("before")) track.before = *beyond_from(a.text("before"));
        if (a.has("after")) track.after = *beyond_from(a.text("after"));
    }
    if (clip == *source) return nothing_to_do(document, "they go on so already");
    return with_clip(document, std::move(clip),
                     counted(channels.size(), "channel") + " go on so beyond their keys");
}

/// After how many frames all that repeats in a clip stands alike again; nothing where that is one cycle, is
/// no whole number, or never within a clip's longest.
std::string common_period_words(const Clip& clip) {
    long common = 1;
    std::size_t count = 0;
    for (const Track& track : clip.tracks) {
        const bool repeats = track.after == Beyond::Repeat || track.after == Beyond::AddUp;
        if (!repeats || track.keys.size() < 2) continue;
        const double period = track.keys.back().frame - track.keys.front().frame;
        if (period != std::round(period) || period > most_clip_frames) return {};
        common = std::lcm(common, static_cast<long>(period));
        if (static_cast<double>(common) > most_clip_frames) return {};
        ++count;
    }
    return count > 1 ? fmt::format("; all cycles meet again after {} frames", common) : std::string();
}

/// What repeats ends where it began; what adds up goes on as it came.
Result<Outcome> cycle_close(const Document& document, const Arguments& a, const OperationContext&) {
    PIVRAK_TRY(source, clip_named(document, a));
    PIVRAK_TRY(channels, keyed_channels(*source, a));
    const Beyond way = a.flag("add_up") ? Beyond::AddUp : Beyond::Repeat;
    Clip clip = *source;
    double most = 0;
    ChannelRef furthest;
    for (const ChannelRef channel : channels) {
        Track& track = clip.track_or_new(channel);
        if (track.keys.size() < 2)
            return Error{
                "key.cycle",
                fmt::format("'{}' has one key alone: a cycle needs two", channel_name(document, channel)),
                channel_name(document, channel)};
        track.before = track.after = way;
        Key &first = track.keys.front(), &last = track.keys.back();
        const double off = last.value - first.value;
        if (way == Beyond::Repeat) {
            if (std::abs(off) > std::abs(most)) most = off, furthest = channel;
            last.value = first.value;
        }
        if (!a.flag("even")) continue;
        for (Key& key : track.keys) key = {key.frame, key.value, Interpolation::Linear};
    }
    if (clip == *source) return nothing_to_do(document, "they close already");
    std::string words = counted(channels.size(), "channel") + " close";
    if (most != 0)
        words += fmt::format("; '{}' moved by {} to end where it began", channel_name(document, furthest),
                             format_channel(furthest.kind, -most, document));
    words += common_period_words(clip);
    return with_clip(document, std::move(clip), words);
}

}  // namespace

void add_key_shape_operations(Registry& registry) {
    const auto value = [](const char* name, const char* summary) {
        return ArgumentSpec{name, ArgumentKind::Value, summary, false, {}, {}};
    };
    const auto number = [](const char* name, const char* summary, bool required = false) {
        return ArgumentSpec{name, ArgumentKind::Number, summary, required, {}, {}};
    };
    const std::vector<std::string> beyond{"hold", "straight", "repeat", "add_up", "swing"};
    registry.add({"key.shape", "Tangents",
                  "How curves run through keys and on from them; slopes and weights make a tangent its own.",
                  picking_keys({{"runs",
                                 ArgumentKind::Choice,
                                 "how it runs on to the next key",
                                 false,
                                 {},
                                 {"linear", "smooth", "stepped", "flat", "own"}},
                                value("slope", "with which it leaves, and is reached, a second"),
                                value("slope_in", "with which it is reached, when that is another one"),
                                number("weight", "how far the tangent reaches towards the next key, 0 to 1"),
                                number("weight_in", "the same towards the key before"),
                                {"joined", ArgumentKind::Flag, "one slope on both sides", false, false, {}}}),
                  key_shape});
    registry.add({"key.insert", "Put a key in", "Keys where curves are at a frame; they go on as they went.",
                  picking_keys({number("frame", "where", true)}), key_insert});
    registry.add({"key.thin", "Thin keys",
                  "Takes out keys without which curves stay within a tolerance at every tenth of a frame.",
                  picking_keys({{"length", ArgumentKind::Value, "tolerance of shifts", false, "0.1 mm", {}},
                                {"angle", ArgumentKind::Value, "tolerance of turns", false, "0.01 deg", {}}}),
                  key_thin});
    registry.add({"key.smooth", "Smooth keys",
                  "Moves values some way towards the line between their neighbours.",
                  picking_keys({number("amount", "0 to 1; a half when left out")}), key_smooth});
    registry.add({"key.beyond", "Beyond the keys",
                  "What channels do before their first and behind their last key.",
                  picking_keys({{"before", ArgumentKind::Choice, "before the first key", false, {}, beyond},
                                {"after", ArgumentKind::Choice, "behind the last key", false, {}, beyond}}),
                  key_beyond});
    registry.add(
        {"cycle.close", "Close a cycle",
         "Lets channels repeat beyond their keys without a jump: the last key takes the first one's value, "
         "or each round goes on from where the last one got to.",
         picking_keys(
             {{"add_up", ArgumentKind::Flag, "each round from where the last one got to", false, false, {}},
              {"even",
               ArgumentKind::Flag,
               "straight from key to key: it neither stops nor eases",
               false,
               false,
               {}}}),
         cycle_close});
}

}  // namespace pivrak
