#include "core/elements/linkage/linkage_motion.h"

#include <cmath>

namespace pivrak {

LinkageStep::Memory LinkageStep::start() const {
    if (!built) return {};
    return {built->solver.make_room(), std::vector<double>(channels.size(), 0.0)};
}

void LinkageStep::run(RunContext& context, Memory& memory) const {
    const std::size_t count = channels.size();
    const std::span values = context.states.subspan(state, count),
                    way = context.states.subspan(state + count, count);
    // States count from rest: all zero means that all is closed.
    const auto add_rest = [&](double sign) {
        for (std::size_t c = 0; c < count; ++c) values[c] += sign * built->rest[c];
    };
    add_rest(1);
    if (context.mode == StateMode::Move) {
        for (std::size_t c = 0; c < count; ++c)
            memory.goal[c] = sources[c] == Source::Solved  ? values[c]
                             : sources[c] == Source::Asked ? context.asked[channels[c]]
                                                           : context.channels[channels[c]];
        built->solver.follow(values, way, memory.goal, memory.room);
    }
    for (std::size_t c = 0; c < count; ++c)
        if (sources[c] != Source::Driven) context.channels[channels[c]] = values[c];
    add_rest(-1);
}

std::optional<ClosureMiss> closure_miss(const Evaluator& evaluator, const Pose& pose,
                                        const Closure& closure) {
    const auto slot_a = evaluator.part_slot(closure.a), slot_b = evaluator.part_slot(closure.b);
    if (!slot_a || !slot_b) return std::nullopt;
    const Frame &a = pose.world_from_part[*slot_a], &b = pose.world_from_part[*slot_b];
    const Vec3 apart = a.point(closure.place_a) - b.point(closure.place_b);
    const Vec3 axis_a = a.direction(closure.axis_a), axis_b = b.direction(closure.axis_b);
    switch (closure.closes) {
        case Closes::Pin:
            return ClosureMiss{apart.norm(), std::atan2(axis_a.cross(axis_b).norm(), axis_a.dot(axis_b))};
        case Closes::Ball:
            return ClosureMiss{apart.norm(), 0};
        case Closes::Slider:
            return ClosureMiss{apart.cross(axis_b).norm(), 0};
        case Closes::Turn:
            return ClosureMiss{0, angle_between(a.rotation, b.rotation * closure.turn)};
    }
    return std::nullopt;
}

ClosureMiss linkage_miss(const Evaluator& evaluator, const Pose& pose, const Linkage& linkage) {
    ClosureMiss worst;
    for (const Closure& closure : linkage.closures)
        if (const auto miss = closure_miss(evaluator, pose, closure)) {
            worst.apart_m = std::max(worst.apart_m, miss->apart_m);
            worst.turn_rad = std::max(worst.turn_rad, miss->turn_rad);
        }
    return worst;
}

namespace {

/// Whether it is the linkage that gives a channel; else something else drives it.
bool gives(const Evaluator& evaluator, LinkageId linkage, std::size_t channel) {
    const auto* list = evaluator.program().list<LinkageStep>();
    if (!list) return false;
    for (const LinkageStep& step : list->steps)
        for (std::size_t c = 0; c < step.channels.size() && step.id == linkage; ++c)
            if (step.channels[c] == channel) return step.sources[c] != LinkageStep::Source::Driven;
    return false;
}

}  // namespace

std::optional<InputStop> input_stop(const Evaluator& evaluator, const Pose& pose, const Linkage& linkage) {
    for (const LinkageInput& input : linkage.inputs) {
        const auto slot = evaluator.channel_slot(input.channel);
        if (!slot || !gives(evaluator, linkage.id, *slot)) continue;
        const double asked = pose.asked[*slot], stands = pose.channels[*slot];
        if (std::abs(asked - stands) > 1e-6) return InputStop{input.channel, asked, stands};
    }
    return std::nullopt;
}

}  // namespace pivrak
