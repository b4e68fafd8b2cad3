// Motion of any origin made into keys, and keys into a response.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/base/words.h"
#include "core/elements/follow/follow_motion.h"
#include "core/model/element_channels.h"
#include "core/motion/curve_edit.h"
#include "core/motion/evaluator.h"
#include "core/operations/all_operations.h"
#include "core/operations/channel_access.h"
#include "core/operations/drivers/driven_channel.h"
#include "core/operations/keys/clip_access.h"
#include "core/operations/keys/free_channel.h"

namespace pivrak {
namespace {

constexpr std::size_t looks_a_step = 10;

/// How far keys may be from the motion that they stand for.
struct Tolerance {
    double length_m, angle_rad;
    double of(ChannelKind kind) const {
        return is_turn(kind) ? angle_rad : has_no_unit(kind) ? 0.001 : length_m;
    }
};

Result<Tolerance> tolerance_asked(const Document& document, const Arguments& a) {
    PIVRAK_TRY(length, a.value("length", Dimension::Length, document.settings.length_unit));
    PIVRAK_TRY(angle, a.value("angle", Dimension::Angle, document.settings.length_unit));
    if (length > 0 && angle > 0) return Tolerance{length, angle};
    return Error{"key.tolerance", "a tolerance is more than nothing", "length"};
}

/// A channel at rising frames.
struct Course {
    ChannelRef channel;
    std::vector<double> frames, values;
};

/// Of owners all channels they have; else the one channel named.
Result<std::vector<ChannelRef>> channels_meant(const Document& document, const Arguments& a) {
    if (a.text("channel") != "all") return channels_asked(a);
    std::vector<ChannelRef> all;
    for (const OwnerId owner : owners_asked(a))
        for (const ChannelRef channel : channels_of(document, owner)) {
            const auto found = find_channel(document, channel);
            if (found && !found->locked) all.push_back(channel);
        }
    if (all.empty()) return channels_asked(a).error();
    return all;
}

/// Some looks for each step, and the last frame.
Result<std::vector<double>> looks(const Arguments& a, const Clip& clip) {
    const double from = a.number_if("from").value_or(clip.first_frame),
                 to = a.number_if("to").value_or(clip.last_frame), step = a.number("step");
    PIVRAK_CHECK(check_key_frame(from));
    PIVRAK_CHECK(check_key_frame(to));
    if (!(step > 0) || !(to > from) || (to - from) / step > 1e5)
        return Error{"key.range", "the range has no frames, or more than a hundred thousand", "from"};
    std::vector<double> frames;
    for (std::size_t i = 0;
         from + step * static_cast<double>(i) / static_cast<double>(looks_a_step) < to - 1e-9; ++i)
        frames.push_back(from + step * static_cast<double>(i) / static_cast<double>(looks_a_step));
    frames.push_back(to);
    return frames;
}

/// A key on a look, as steep as the looks beside it say; broken where these say there is a corner.
Key key_at_look(const Course& course, std::size_t i, double tolerance) {
    const auto& f = course.frames;
    const auto& v = course.values;
    const std::size_t last = f.size() - 1;
    const auto secant = [&](std::size_t a, std::size_t b) { return (v[b] - v[a]) / (f[b] - f[a]); };
    // Parabolas through the looks on one side.
    const double left = i == 0   ? 0
                        : i == 1 ? secant(0, 1)
                                 : 1.5 * secant(i - 1, i) - 0.5 * secant(i - 2, i - 1);
    const double right = i == last       ? 0
                         : i + 1 == last ? secant(i, last)
                                         : 1.5 * secant(i, i + 1) - 0.5 * secant(i + 1, i + 2);
    Key key{f[i], v[i], Interpolation::Own};
    if (i == 0 || i == last) {
        key.out = Handle{i == 0 ? right : left};
        return key;
    }
    const double step = f[i + 1] - f[i], corner = std::abs(left - right);
    key.out = Handle{secant(i - 1, i + 1)};
    if (corner * step > tolerance && corner > 0.2 * std::max(std::abs(left), std::abs(right))) {
        key.in = Handle{left};
        key.out = Handle{right};
    }
    return key;
}

Track dense_track(const Course& course, std::size_t each, double tolerance) {
    Track track{course.channel};
    for (std::size_t i = 0; i < course.frames.size(); i += each)
        track.keys.push_back(key_at_look(course, i, tolerance));
    if (track.keys.back().frame != course.frames.back())
        track.keys.push_back(key_at_look(course, course.frames.size() - 1, tolerance));
    return track;
}

/// The furthest that a track is from what was looked at.
double furthest_off(const Track& track, const Course& course) {
    const auto curve = compile_curve(track.keys, track.before, track.after);
    double most = 0;
    for (std::size_t i = 0; i < course.frames.size(); ++i)
        most = std::max(most, std::abs(sample_curve(curve, course.frames[i]) - course.values[i]));
    return most;
}

/// Keys on whole steps where these are enough, else on looks between them too.
Track track_of(const Course& course, double tolerance) {
    Track track;
    for (const std::size_t each : {looks_a_step, std::size_t{5}, std::size_t{2}, std::size_t{1}}) {
        track = dense_track(course, each, tolerance);
        if (furthest_off(track, course) <= 0.5 * tolerance) break;
    }
    thin_keys(track, course.frames.front(), course.frames.back(), 0.5 * tolerance);
    return track;
}

/// What lies outside the range stays, and is reached and left as it was.
void put_track(Clip& clip, Track made) {
    Track& track = clip.track_or_new(made.channel);
    Key &first = made.keys.front(), &last = made.keys.back();
    if (!track.keys.empty()) {
        for (const double end : {first.frame, last.frame}) insert_key(track, end);
        for (std::size_t i = 0; i < track.keys.size(); ++i)
            if (track.keys[i].frame == first.frame || track.keys[i].frame == last.frame) freeze_key(track, i);
        if (const Key* before = track.key_at(first.frame)) first.in = before->in;
        if (const Key* behind = track.key_at(last.frame)) {
            if (!last.in) last.in = last.out;
            last.interpolation = behind->interpolation;
            last.out = behind->out;
        }
    }
    std::erase_if(track.keys,
                  [&](const Key& key) { return key.frame >= first.frame && key.frame <= last.frame; });
    for (const Key& key : made.keys) put_key(track, key);
}

Result<std::vector<Course>> courses_of(const Document& document, const Clip& clip,
                                       const std::vector<ChannelRef>& channels,
                                       const std::vector<double>& frames, bool freed,
                                       const Progress& progress) {
    PIVRAK_TRY(evaluator, Evaluator::compile(document, clip.id));
    Pose pose = evaluator.make_pose();
    std::vector<Course> courses;
    std::vector<std::size_t> slots;
    std::vector<bool> driven;
    const Drivers drivers(document);
    for (const ChannelRef channel : channels) {
        const auto slot = evaluator.channel_slot(channel);
        if (!slot)
            return Error{"channel.none", fmt::format("'{}' does not move", channel_name(document, channel)),
                         ""};
        courses.push_back({channel, frames, {}});
        slots.push_back(*slot);
        driven.push_back(drivers.name(channel).has_value());
    }
    for (std::size_t i = 0; i < frames.size(); ++i) {
        if (!progress.go_on(static_cast<double>(i) / static_cast<double>(frames.size()), "looking at frames"))
            return Error{"key.cancelled", "cancelled; nothing was changed", clip.name};
        evaluator.evaluate(frames[i], pose);
        for (std::size_t c = 0; c < courses.size(); ++c) {
            // What is added by a layer, or by a sway that stays, comes on top of keys again.
            const double value = freed || driven[c] ? pose.channels[slots[c]] : pose.asked[slots[c]];
            courses[c].values.push_back(value - evaluator.layered(slots[c], frames[i]));
        }
    }
    return courses;
}

Result<Outcome> motion_keys(const Document& document, const Arguments& a, const OperationContext& context) {
    PIVRAK_TRY(source, clip_named(document, a));
    PIVRAK_TRY(channels, channels_meant(document, a));
    PIVRAK_TRY(frames, looks(a, *source));
    PIVRAK_TRY(tolerance, tolerance_asked(document, a));
    const bool freed = a.flag("free");
    PIVRAK_TRY(courses, courses_of(document, *source, channels, frames, freed, context.progress));
    Outcome out{document};
    Clip clip = *source;
    std::size_t count = 0, waiting = 0;
    const Drivers drivers(document);
    std::vector<std::string> said;
    for (const Course& course : courses) {
        Track track = track_of(course, tolerance.of(course.channel.kind));
        count += track.keys.size();
        put_track(clip, std::move(track));
        if (!freed) {
            waiting += drivers.name(course.channel) ? 1 : 0;
            continue;
        }
        PIVRAK_TRY(what, free_channel(out.document, course.channel));
        for (std::string& words : what)
            if (std::ranges::find(said, words) == said.end()) said.push_back(std::move(words));
    }
    out.document.clips.set(std::move(clip));
    if (const auto compiled = Evaluator::check(out.document); !compiled) return compiled.error();
    out.messages.push_back(
        fmt::format("{} on {}", counted(count, "key"), counted(courses.size(), "channel")));
    out.messages.insert(out.messages.end(), said.begin(), said.end());
    if (waiting)
        out.messages.push_back(
            fmt::format("{} still driven: the keys play once that is off", counted(waiting, "channel")));
    return out;
}

/// The driver has to go one way: a response has one answer for each value.
Result<void> check_one_way(const Document& document, ChannelRef driver, const Course& led) {
    double way = 0;
    for (std::size_t i = 1; i < led.values.size(); ++i) {
        const double step = led.values[i] - led.values[i - 1];
        if (std::abs(step) < 1e-12) continue;
        if (way * step < 0)
            return Error{
                "response.back",
                fmt::format("'{}' turns back at frame {:g}: a response needs a range in which it goes "
                            "one way",
                            channel_name(document, driver), led.frames[i - 1]),
                "driver"};
        way = step;
    }
    if (way != 0) return {};
    return Error{"response.still", fmt::format("'{}' does not move there", channel_name(document, driver)),
                 "driver"};
}

double furthest_off(const Follow& follow, const Course& led, const Course& answer) {
    const Response response = Response::of(follow);
    double most = 0;
    for (std::size_t i = 0; i < led.values.size(); ++i)
        most = std::max(most, std::abs(response(led.values[i]) - answer.values[i]));
    return most;
}

/// The answer by the driver's values, by as few points as keep it within a tolerance; straight through all
/// of them where bends do not.
void give_response(const Course& led, const Course& answer, double tolerance, Follow& follow) {
    Course by_driver{answer.channel, {}, {}};
    const bool falls = led.values.back() < led.values.front();
    // Counted in shares of the driver's range, as frames: thinning looks at every tenth of one.
    const double low = falls ? led.values.back() : led.values.front(),
                 range = std::abs(led.values.back() - led.values.front());
    const double scale = static_cast<double>(led.values.size() - 1) / range;
    for (std::size_t n = 0; n < led.values.size(); ++n) {
        const std::size_t i = falls ? led.values.size() - 1 - n : n;
        const double at = (led.values[i] - low) * scale;
        if (!by_driver.frames.empty() && at <= by_driver.frames.back() + 1e-9) continue;
        by_driver.frames.push_back(at);
        by_driver.values.push_back(answer.values[i]);
    }
    Track track = dense_track(by_driver, 1, tolerance);
    thin_keys(track, track.keys.front().frame, track.keys.back().frame, tolerance);
    const auto curve = compile_curve(track.keys);
    for (std::size_t i = 0; i < track.keys.size(); ++i)
        follow.curve.push_back({low + curve[i].frame / scale, curve[i].value, curve[i].out * scale});
    if (furthest_off(follow, led, answer) <= 2 * tolerance) return;
    follow.curve.clear();
    follow.straight = true;
    for (std::size_t i = 0; i < by_driver.frames.size(); ++i)
        follow.curve.push_back({low + by_driver.frames[i] / scale, by_driver.values[i]});
}

/// What keys make of parts while a driver goes through a range becomes their answer to it.
Result<Outcome> keys_response(const Document& document, const Arguments& a, const OperationContext& context) {
    PIVRAK_TRY(source, clip_named(document, a));
    PIVRAK_TRY(driver, channel_at(document, a.part("driver"), a.values().at("driver_channel")));
    PIVRAK_TRY(frames, looks(a, *source));
    PIVRAK_TRY(tolerance, tolerance_asked(document, a));
    std::vector<ChannelRef> channels{driver};
    for (const PartId part : a.parts("parts")) {
        PIVRAK_TRY(channel, channel_at(document, part, a.values().at("channel")));
        if (channel == driver)
            return Error{"follow.itself",
                         fmt::format("'{}' cannot follow itself", channel_name(document, driver)), ""};
        channels.push_back(channel);
    }
    PIVRAK_TRY(courses, courses_of(document, *source, channels, frames, false, context.progress));
    PIVRAK_CHECK(check_one_way(document, driver, courses.front()));
    Outcome out{document};
    Clip clip = *source;
    for (std::size_t i = 1; i < courses.size(); ++i) {
        const ChannelRef driven = courses[i].channel;
        PIVRAK_CHECK(make_drivable(out.document, driven));
        Follow follow{driven, driver};
        give_response(courses.front(), courses[i], tolerance.of(driven.kind), follow);
        out.messages.push_back(fmt::format("'{}' follows '{}' by {}", channel_name(document, driven),
                                           channel_name(document, driver),
                                           counted(follow.curve.size(), "point")));
        out.document.couplings.set({out.document.new_id<CouplingId>(), std::move(follow)});
        std::erase_if(clip.tracks, [&](const Track& track) { return track.channel == driven; });
    }
    out.document.clips.set(std::move(clip));
    if (const auto compiled = Evaluator::check(out.document); !compiled) return compiled.error();
    return out;
}

std::vector<ArgumentSpec> with_looks(std::vector<ArgumentSpec> others) {
    others.insert(
        others.end(),
        {{"from", ArgumentKind::Number, "first frame; the clip's when left out", false, {}, {}},
         {"to", ArgumentKind::Number, "last frame; the clip's when left out", false, {}, {}},
         {"step", ArgumentKind::Number, "frames from key to key before they are thinned", false, 1, {}},
         {"length", ArgumentKind::Value, "how far shifts may be off", false, "0.1 mm", {}},
         {"angle", ArgumentKind::Value, "how far turns may be off", false, "0.01 deg", {}},
         clip_argument()});
    return others;
}

}  // namespace

void add_motion_operations(Registry& registry) {
    ArgumentSpec channel = channel_argument();
    channel.fallback = "all";
    channel.choices.emplace_back("all");
    channel.summary = "only this channel of them";
    registry.add({"motion.keys", "Motion to keys",
                  "What channels do over a clip, whatever moves them, becomes keys, as few as keep it within "
                  "tolerances.",
                  with_looks({parts_argument("parts that are keyed", false),
                              elements_argument(),
                              channel,
                              {"free",
                               ArgumentKind::Flag,
                               "what moves them now is switched off, so that the keys do",
                               false,
                               false,
                               {}}}),
                  motion_keys});
    registry.add({"keys.response", "Keys to a response",
                  "What parts do while another one goes through a range becomes their answer to it.",
                  with_looks({parts_argument("parts that follow from then on"),
                              driven_channel_argument("channel", "which channel of theirs"),
                              {"driver", ArgumentKind::Part, "the part they follow", true, {}, {}},
                              driven_channel_argument("driver_channel", "which channel of that")}),
                  keys_response});
}

}  // namespace pivrak
