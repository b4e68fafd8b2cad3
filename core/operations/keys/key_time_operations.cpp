// Keys moved, scaled, copied, held and turned round.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/base/words.h"
#include "core/model/element_channels.h"
#include "core/motion/curve_edit.h"
#include "core/operations/all_operations.h"
#include "core/operations/keys/clip_access.h"
#include "core/operations/keys/key_picks.h"

namespace pivrak {
namespace {

/// Takes keys out of a track and puts what becomes of them back; answers how many others made room.
template <class Become>
Result<std::size_t> change_keys(Track& track, const PickedKeys& picked, Become become) {
    std::vector<Key> taken;
    std::erase_if(track.keys, [&](const Key& key) {
        if (!picked.has(key.frame)) return false;
        taken.push_back(key);
        return true;
    });
    const std::size_t before = track.keys.size() + taken.size();
    for (Key& key : taken) {
        become(key);
        PIVRAK_CHECK(check_key_frame(key.frame));
    }
    std::sort(taken.begin(), taken.end(), [](const Key& a, const Key& b) { return a.frame < b.frame; });
    for (std::size_t i = 1; i < taken.size(); ++i)
        if (taken[i - 1].frame == taken[i].frame)
            return Error{"key.coincide", fmt::format("two keys would stand on frame {:g}", taken[i].frame),
                         "keys"};
    for (const Key& key : taken) put_key(track, key);
    return before - track.keys.size();
}

std::string moved_words(const std::vector<PickedKeys>& picked, const char* what, std::size_t replaced) {
    std::string words = fmt::format("{} {}", counted(count_of(picked), "key"), what);
    if (replaced) words += fmt::format("; {} on the same frames made room", counted(replaced, "other"));
    return words;
}

/// All keys from the first picked one on.
PickedKeys with_what_follows(const Track& track, PickedKeys picked) {
    const double first = picked.frames.front();
    picked.frames.clear();
    for (const Key& key : track.keys)
        if (key.frame >= first) picked.frames.push_back(key.frame);
    return picked;
}

Result<double> value_for(const Document& document, const Arguments& a, const char* name, ChannelRef channel,
                         double usual) {
    if (!a.has(name)) return usual;
    return a.value(name, dimension_of(channel.kind), document.settings.length_unit);
}

Result<Outcome> key_move(const Document& document, const Arguments& a, const OperationContext&) {
    PIVRAK_TRY(source, clip_named(document, a));
    PIVRAK_TRY(picked, picked_keys(*source, a));
    Clip clip = *source;
    const double frames = a.number_if("frames").value_or(0);
    std::size_t replaced = 0;
    for (const PickedKeys& one : picked) {
        PIVRAK_TRY(value, value_for(document, a, "value", one.channel, 0));
        Track& track = clip.track_or_new(one.channel);
        const PickedKeys moved = a.flag("ripple") ? with_what_follows(track, one) : one;
        PIVRAK_TRY(gone, change_keys(track, moved, [&](Key& key) {
                       const bool is_picked = one.has(key.frame);
                       key.frame += frames;
                       if (is_picked) key.value += value;
                   }));
        replaced += gone;
    }
    if (clip == *source) return nothing_to_do(document, "they would stay where they are");
    return with_clip(document, std::move(clip), moved_words(picked, "moved", replaced));
}

Result<Outcome> key_scale(const Document& document, const Arguments& a, const OperationContext&) {
    PIVRAK_TRY(source, clip_named(document, a));
    PIVRAK_TRY(picked, picked_keys(*source, a));
    const Limits range = frames_of(picked);
    double times = a.number_if("times").value_or(1);
    if (const auto into = a.number_if("into")) {
        if (a.has("times"))
            return Error{"key.scale", "'times' and 'into' say the same: one of them alone", "into"};
        if (!(range.max > range.min))
            return Error{"key.scale", "keys on one frame cannot be made to last longer", "into"};
        times = *into / (range.max - range.min);
    }
    if (!(times > 0))
        return Error{"key.scale",
                     "time can be made longer or shorter, by more than nothing; key.reverse turns it round",
                     "times"};
    const double about = a.number_if("about").value_or(range.min),
                 value_times = a.number_if("value_times").value_or(1);
    const bool whole = a.flag("whole");
    Clip clip = *source;
    std::size_t replaced = 0;
    for (const PickedKeys& one : picked) {
        PIVRAK_TRY(about_value,
                   value_for(document, a, "about_value", one.channel, rest_of(one.channel.kind)));
        PIVRAK_TRY(gone, change_keys(clip.track_or_new(one.channel), one, [&](Key& key) {
                       key.frame = about + times * (key.frame - about);
                       if (whole) key.frame = std::round(key.frame);
                       key.value = about_value + value_times * (key.value - about_value);
                       for (auto* handle : {&key.in, &key.out})
                           if (*handle) (*handle)->slope *= value_times / times;
                   }));
        replaced += gone;
    }
    if (clip == *source) return nothing_to_do(document, "they would stay as they are");
    return with_clip(document, std::move(clip), moved_words(picked, "scaled", replaced));
}

/// Copies at another frame, once or several times end to end, each going on from where the last one got to
/// where that is asked.
Result<Outcome> key_copy(const Document& document, const Arguments& a, const OperationContext&) {
    PIVRAK_TRY(source, clip_named(document, a));
    PIVRAK_TRY(picked, picked_keys(*source, a));
    const Limits range = frames_of(picked);
    const int times = a.integer("count");
    if (times < 1 || times > 10000) return Error{"key.copy", "keys are copied 1 to 10 000 times", "count"};
    if (times > 1 && !(range.max > range.min))
        return Error{"key.copy", "keys on one frame cannot stand end to end", "count"};
    const double by = a.number("to_frame") - range.min;
    Clip clip = *source;
    for (const PickedKeys& one : picked) {
        const Track& from = *source->track(one.channel);
        Track& track = clip.track_or_new(one.channel);
        const double rise = from.key_at(one.frames.back())->value - from.key_at(one.frames.front())->value;
        for (int n = 0; n < times; ++n)
            for (const double frame : one.frames) {
                Key key = *from.key_at(frame);
                key.frame += by + n * (range.max - range.min);
                if (a.flag("add_up")) key.value += n * rise;
                PIVRAK_CHECK(check_key_frame(key.frame));
                put_key(track, key);
            }
    }
    if (clip == *source) return nothing_to_do(document, "they stand there already");
    return with_clip(document, std::move(clip), moved_words(picked, "copied", 0));
}

Result<Outcome> key_reverse(const Document& document, const Arguments& a, const OperationContext&) {
    PIVRAK_TRY(source, clip_named(document, a));
    PIVRAK_TRY(picked, picked_keys(*source, a));
    Clip clip = *source;
    for (const PickedKeys& one : picked) {
        Track& track = clip.track_or_new(one.channel);
        const auto number = [&](double frame) {
            return static_cast<std::size_t>(track.key_at(frame) - track.keys.data());
        };
        reverse_keys(track, number(one.frames.front()), number(one.frames.back()));
    }
    if (clip == *source) return nothing_to_do(document, "one key alone has no way back");
    return with_clip(document, std::move(clip), moved_words(picked, "turned round", 0));
}

/// A straight run becomes one that is bent the same: it can then ease at one of its ends.
void bend_run(Track& track, std::size_t first) {
    Key &a = track.keys[first], &b = track.keys[first + 1];
    if (a.interpolation != Interpolation::Linear) return;
    const double slope = (b.value - a.value) / (b.frame - a.frame);
    freeze_key(track, first);
    a.interpolation = Interpolation::Own;
    a.out = Handle{slope};
    b.in = Handle{slope};
}

/// Stands still for a while, and goes on: all that comes later is that much later.
void hold(Track& track, double frame, double frames, bool eases) {
    insert_key(track, frame);
    const Key* found = track.key_at(frame);
    const auto at = static_cast<std::size_t>(found - track.keys.data());
    if (found && eases) {
        if (at > 0) bend_run(track, at - 1);
        if (at + 1 < track.keys.size()) bend_run(track, at);
    }
    if (found) freeze_key(track, at);
    for (Key& key : track.keys)
        if (key.frame > frame) key.frame += frames;
    if (!found) return;  // before its first key, or behind its last one, it stands anyway
    Key& stops = track.keys[at];
    Key goes_on = stops;
    goes_on.frame += frames;
    goes_on.in.reset();
    stops.interpolation = Interpolation::Linear;
    stops.out.reset();
    if (eases) {
        stops.in = Handle{0};
        if (goes_on.interpolation == Interpolation::Own) goes_on.interpolation = Interpolation::Flat;
        goes_on.out.reset();
    }
    put_key(track, goes_on);
}

Result<Outcome> key_hold(const Document& document, const Arguments& a, const OperationContext&) {
    PIVRAK_TRY(source, clip_named(document, a));
    PIVRAK_TRY(channels, keyed_channels(*source, a));
    const double frame = a.number("frame"), frames = a.number("frames");
    if (!(frames > 0 && frames <= most_clip_frames))
        return Error{"key.hold", "it can stand still for more than no frame, up to 1 000 000", "frames"};
    PIVRAK_CHECK(check_key_frame(frame));
    Clip clip = *source;
    for (const ChannelRef channel : channels) {
        Track& track = clip.track_or_new(channel);
        PIVRAK_CHECK(check_key_frame(track.keys.back().frame + frames));
        hold(track, frame, frames, !a.flag("sudden"));
    }
    return with_clip(document, std::move(clip),
                     fmt::format("{} hold{} for {:g} frames", counted(channels.size(), "channel"),
                                 channels.size() == 1 ? "s" : "", frames));
}

Result<Outcome> key_snap(const Document& document, const Arguments& a, const OperationContext&) {
    PIVRAK_TRY(source, clip_named(document, a));
    PIVRAK_TRY(picked, picked_keys(*source, a));
    Clip clip = *source;
    std::size_t replaced = 0;
    for (const PickedKeys& one : picked) {
        PIVRAK_TRY(grid, value_for(document, a, "values", one.channel, 0));
        if (grid < 0) return Error{"key.snap", "steps of values are more than nothing", "values"};
        PIVRAK_TRY(gone, change_keys(clip.track_or_new(one.channel), one, [&](Key& key) {
                       if (!a.has("values")) key.frame = std::round(key.frame);
                       if (grid > 0) key.value = grid * std::round(key.value / grid);
                   }));
        replaced += gone;
    }
    if (clip == *source) return nothing_to_do(document, "they stand so already");
    return with_clip(document, std::move(clip), moved_words(picked, "snapped", replaced));
}

Result<Outcome> key_drop(const Document& document, const Arguments& a, const OperationContext&) {
    PIVRAK_TRY(source, clip_named(document, a));
    PIVRAK_TRY(picked, picked_keys(*source, a));
    Clip clip = *source;
    for (const PickedKeys& one : picked)
        std::erase_if(clip.track_or_new(one.channel).keys,
                      [&](const Key& key) { return one.has(key.frame); });
    return with_clip(document, std::move(clip), moved_words(picked, "removed", 0));
}

ArgumentSpec number(const char* name, const char* summary, bool required = false) {
    return {name, ArgumentKind::Number, summary, required, {}, {}};
}
ArgumentSpec flag(const char* name, const char* summary) {
    return {name, ArgumentKind::Flag, summary, false, false, {}};
}

}  // namespace

void add_key_time_operations(Registry& registry) {
    registry.add(
        {"key.move", "Move keys",
         "Moves keys in time and value; with 'ripple' all that follows in their channels comes along.",
         picking_keys({number("frames", "so much later"),
                       {"value", ArgumentKind::Value, "so much more", false, {}, {}},
                       flag("ripple", "what follows moves along")}),
         key_move});
    registry.add(
        {"key.scale", "Scale keys",
         "Makes keys last longer or shorter about a frame, and reach further about a value.",
         picking_keys(
             {number("times", "so many times as long"),
              number("into", "all of them in so many frames: 365 in 37"),
              number("about", "the frame that stays; the first when left out"),
              number("value_times", "so many times as far; -1 mirrors them"),
              {"about_value", ArgumentKind::Value, "the value that stays; rest when left out", false, {}, {}},
              flag("whole", "onto whole frames")}),
         key_scale});
    registry.add({"key.copy", "Copy keys",
                  "Copies keys to another frame, several times end to end when asked.",
                  picking_keys({number("to_frame", "where the first of them stands", true),
                                {"count", ArgumentKind::Integer, "so many times, end to end", false, 1, {}},
                                flag("add_up", "each time from where the last one got to")}),
                  key_copy});
    registry.add({"key.drop", "Remove keys", "Takes keys of several channels out at once.", picking_keys({}),
                  key_drop});
    registry.add({"key.reverse", "Turn keys round in time",
                  "What ran from the first to the last of them runs back.", picking_keys({}), key_reverse});
    registry.add(
        {"key.hold", "Hold",
         "Channels stand still for some frames at a frame, and go on; what comes later is later.",
         picking_keys({number("frame", "where they stop", true), number("frames", "for how long", true),
                       flag("sudden", "without easing into the stop and out of it")}),
         key_hold});
    registry.add(
        {"key.snap", "Snap keys", "Puts keys on whole frames, or on whole steps of a value.",
         picking_keys(
             {{"values", ArgumentKind::Value, "steps of their values, instead of frames", false, {}, {}}}),
         key_snap});
}

}  // namespace pivrak
