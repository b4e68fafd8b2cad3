#include "core/motion/evaluator.h"

#include <algorithm>
#include <cmath>

namespace pivrak {
namespace {

/// Steps by which a wheel is rolled from rest to the clip's start, and from its keys to a hand's value.
constexpr int steps_by_hand = 12;
/// Further before the start nothing is integrated.
constexpr double most_frames_before = 20000;

}  // namespace

Pose Evaluator::make_pose() const {
    Pose pose{base_values_,
              base_values_,
              std::vector<Frame>(program_.nodes.size()),
              std::vector<WheelStand>(program_.stand_count),
              std::vector<double>(program_.state_count),
              Memories(program_.lists),
              {}};
    if (program_.state_count > 0) {
        Travelled& t = pose.travelled;
        t.asked = base_values_;
        t.channels = base_values_;
        t.aim = base_values_;
        t.states = pose.states;
        t.frames = pose.world_from_part;
        t.wheels = pose.wheels;
        t.memories = pose.memories;
    }
    return pose;
}

std::optional<std::size_t> Evaluator::part_slot(PartId part) const {
    const auto found = slot_of_part_.find(part);
    if (found == slot_of_part_.end()) return std::nullopt;
    return found->second;
}

std::optional<std::size_t> Evaluator::channel_slot(ChannelRef channel) const {
    if (!is_of_part(channel.kind)) {
        const auto own = slot_of_own_.find(channel);
        if (own == slot_of_own_.end()) return std::nullopt;
        return own->second;
    }
    const auto part = part_slot(channel.part());
    if (!part) return std::nullopt;
    return channel_slot_of(program_.nodes, static_cast<std::int32_t>(*part), channel.kind);
}

double Evaluator::rolling_radius(PartId wheel) const {
    const auto found = radii_.find(wheel);
    return found == radii_.end() ? 0 : found->second;
}

/// What keys ask for at a frame, and where there are none the hand's value.
void Evaluator::ask(double frame, std::span<const TrackStep> tracks, std::vector<double>& asked) const {
    std::copy(base_values_.begin(), base_values_.end(), asked.begin());
    for (const TrackStep& step : tracks) {
        const std::span keys(keys_.data() + step.first_key, step.key_count);
        asked[step.channel] = limits_[step.channel].clamp(sample_curve(keys, step.before, step.after, frame));
    }
    if (!added_.empty()) add_layers(frame, asked);
}

double Evaluator::layered(std::size_t channel, double frame) const {
    double sum = 0;
    for (const auto& [of, curve] : added_)
        if (of == channel) sum += curve(frame);
    return sum;
}

void Evaluator::add_layers(double frame, std::vector<double>& asked) const {
    for (const auto& [channel, curve] : added_)
        asked[channel] = limits_[channel].clamp(asked[channel] + curve(frame));
}

/// Channels are as asked until something drives them; one that is keyed and driven waits at its hand's value.
void Evaluator::begin(const std::vector<double>& asked, std::vector<double>& channels) const {
    std::copy(asked.begin(), asked.end(), channels.begin());
    for (const std::uint32_t slot : keyed_and_driven_) channels[slot] = base_values_[slot];
}

void Evaluator::evaluate(double frame, Pose& pose, std::span<const HeldChannel> held) const {
    ask(frame, tracks_, pose.asked);
    for (const HeldChannel& one : held) pose.asked[one.slot] = limits_[one.slot].clamp(one.value);
    begin(pose.asked, pose.channels);
    if (program_.state_count > 0) travel_to(frame, held, pose);
    RunContext shown =
        context(StateMode::Show, pose.asked, pose.channels, pose.world_from_part, pose.wheels, pose.states);
    shown.moment = frame;
    run_program(program_.order, program_.lists, pose.memories, shown);
}

RunContext Evaluator::context(StateMode mode, const std::vector<double>& asked, std::vector<double>& channels,
                              std::vector<Frame>& frames, std::vector<WheelStand>& wheels,
                              std::vector<double>& states) const {
    return {program_.nodes, limits_, asked, channels, frames, wheels, states, mode};
}

void Evaluator::run_slice(StateMode mode, Travelled& t, double step_s) const {
    RunContext moved = context(mode, t.asked, t.channels, t.frames, t.wheels, t.states);
    moved.step_s = step_s;
    moved.moment = t.moment;
    run_program(program_.slice, program_.lists, t.memories, moved);
}

/// From rest to the clip's first frame, so that a vehicle moved by hand without keys rolls as well; trailers
/// then stand in line. It does all that as large as it begins.
void Evaluator::travel_start(Travelled& t) const {
    ask(first_frame_, slice_tracks_, t.aim);
    t.moment = first_frame_;
    std::fill(t.states.begin(), t.states.end(), 0.0);
    for (int i = 0; i <= steps_by_hand; ++i) {
        const double share = static_cast<double>(i) / steps_by_hand;
        for (std::size_t c = 0; c < t.asked.size(); ++c) t.asked[c] = limits_[c].clamp(share * t.aim[c]);
        for (const std::uint32_t size : sizes_) t.asked[size] = t.aim[size];
        begin(t.asked, t.channels);
        run_slice(i == 0 ? StateMode::Align : StateMode::Move, t);
    }
    run_slice(StateMode::Align, t);
    t.kept = t.states;
}

/// Pre: the memories belong to `from` and so many steps behind it. Steps stand on a grid of parts of a frame,
/// so that any frame is reached by the same ones.
void Evaluator::travel_steps(double from, double to, Travelled& t, long done) const {
    const double step = std::copysign(1.0 / steps_a_frame, to - from);
    const auto whole = static_cast<long>(std::floor((to - from) / step + 1e-9));
    const auto move = [&](double frame, double frames) {
        ask(frame, slice_tracks_, t.asked);
        t.moment = frame;
        begin(t.asked, t.channels);
        run_slice(StateMode::Move, t, frames * frame_s_);
    };
    for (long i = done + 1; i <= whole; ++i) move(from + step * static_cast<double>(i), step);
    if (const double last = from + step * static_cast<double>(whole); last != to) move(to, to - last);
}

/// Stands where states were kept.
void Evaluator::travel_begin(std::size_t kept, Travelled& t) const {
    const std::size_t n = program_.state_count;
    std::copy_n(t.kept.begin() + static_cast<std::ptrdiff_t>(kept * n), n, t.states.begin());
    t.moment = first_frame_ + kept_every * static_cast<double>(kept);
    ask(t.moment, slice_tracks_, t.asked);
    begin(t.asked, t.channels);
    run_slice(StateMode::Begin, t);
}

/// To a frame behind the last kept states before it: from where it stands when that is on the way, so that
/// the next frame is near.
void Evaluator::travel_on(std::size_t kept, double to, Travelled& t) const {
    const auto begun = static_cast<long>(kept * kept_every * steps_a_frame);
    const double from = first_frame_ + kept_every * static_cast<double>(kept);
    const auto whole = static_cast<long>(std::floor((to - from) * steps_a_frame + 1e-9));
    const bool on_the_way = t.steps >= begun && t.steps <= begun + whole;
    if (!on_the_way) travel_begin(kept, t);
    if (to != from) travel_steps(from, to, t, on_the_way ? t.steps - begun : 0);
    const bool on_grid = to >= from && from + static_cast<double>(whole) / steps_a_frame == to;
    t.steps = on_grid ? begun + whole : -1;
}

/// From where keys have it to where hands hold it, all at once.
void Evaluator::travel_by_hand(std::span<const HeldChannel> held, Travelled& t) const {
    if (std::none_of(held.begin(), held.end(), [&](const HeldChannel& one) { return in_slice_[one.slot]; }))
        return;
    const std::vector<double> keyed = t.asked;
    for (int i = 1; i <= steps_by_hand; ++i) {
        for (const HeldChannel& one : held) {
            const double from = keyed[one.slot], value = limits_[one.slot].clamp(one.value);
            t.asked[one.slot] = from + (value - from) * i / steps_by_hand;
        }
        begin(t.asked, t.channels);
        run_slice(StateMode::Move, t);
    }
    t.steps = -1;
}

void Evaluator::travel_to(double frame, std::span<const HeldChannel> held, Pose& pose) const {
    Travelled& t = pose.travelled;
    if (t.kept.empty()) travel_start(t);
    // Behind the last key nothing moves any more, so nothing rolls.
    const double until = std::max(std::min(frame, last_key_frame_), std::min(frame, first_frame_));
    const double since = std::max(until - first_frame_, -most_frames_before);
    const auto wanted = static_cast<std::size_t>(std::max(0.0, std::floor(since / kept_every)));
    if (adds_up_) travel_far(wanted, t);
    for (std::size_t k = t.kept.size() / program_.state_count - 1; k < wanted; ++k) {
        travel_on(k, first_frame_ + kept_every * static_cast<double>(k + 1), t);
        t.kept.insert(t.kept.end(), t.states.begin(), t.states.end());
        t.steps = -1;  // from here on it begins anew, as it does for who comes from elsewhere
    }
    travel_on(wanted, first_frame_ + since, t);
    travel_by_hand(held, t);
    std::copy(t.states.begin(), t.states.end(), pose.states.begin());
}

}  // namespace pivrak
