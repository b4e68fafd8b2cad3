#include "core/rig/driven_by.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/model/each_element.h"
#include "core/model/joint_question.h"
#include "core/rig/gears/train.h"

namespace pivrak {
namespace {

std::string name_or_missing(const Document& document, PartId part) {
    const Part* found = document.parts.find(part);
    return found ? found->name : fmt::format("missing part {}", part.value);
}

/// Whether a vehicle sets a channel itself: its body's follow, or the travel of a suspension.
bool drives(const Document& document, const Vehicle& vehicle, ChannelRef channel) {
    const Part* root = document.parts.find(vehicle.root);
    const bool towed = root && root->tow;
    if (channel.part == vehicle.follow)
        return (towed && (channel.kind == ChannelKind::ShiftX || channel.kind == ChannelKind::ShiftY)) ||
               channel.kind == ChannelKind::ShiftZ || channel.kind == ChannelKind::TurnX ||
               channel.kind == ChannelKind::TurnY;
    return channel.kind == ChannelKind::Shift &&
           std::any_of(vehicle.wheels.begin(), vehicle.wheels.end(),
                       [&](const VehicleWheel& wheel) { return wheel.suspension == channel.part; });
}

/// Whether a pair or a chain names a part, or one that it carries: only then can a train move it.
bool in_some_train(const Document& document, PartId part) {
    for (const Coupling& coupling : document.couplings)
        if (const GearPair* pair = coupling.as<GearPair>())
            if (is_below(document, pair->driver.part, part) || is_below(document, pair->driven.part, part))
                return true;
    for (const Chain& chain : document.chains) {
        if (is_below(document, chain.frame, part)) return true;
        for (const ChainWheel& wheel : chain.wheels)
            if (is_below(document, wheel.part, part)) return true;
    }
    return false;
}

/// Of a train of shafts, what turns a channel: the first of its inputs that moves, or any.
std::optional<std::string> train_driver(const Document& document, ChannelRef channel) {
    if (!in_some_train(document, channel.part)) return std::nullopt;
    const TrainSolution solution = solve_trains(document);
    const TrainShaft* shaft = solution.find(channel);
    if (!shaft || shaft->state == ShaftState::Free || shaft->state == ShaftState::Input) return std::nullopt;
    if (shaft->state == ShaftState::Stuck) return "a train that blocks itself";
    for (const TieTerm& input : shaft->inputs)
        if (solution.find(input.channel)->state != ShaftState::Held)
            return name_or_missing(document, input.channel.part);
    if (!shaft->inputs.empty()) return name_or_missing(document, shaft->inputs.front().channel.part);
    return std::nullopt;
}

}  // namespace

std::optional<std::string> joint_user(const Document& document, PartId part, const Joint& joint) {
    const JointQuestion asked{document, part, joint};
    std::optional<std::string> user;
    each_element(document, [&](const auto& element, const auto&...) {
        if (!user) user = joint_user(element, asked);
    });
    return user;
}

std::optional<std::string> driver_name(const Document& document, ChannelRef channel) {
    if (const Coupling* coupling = coupling_driving(document, channel);
        coupling && !coupling->as<GearPair>()) {
        const auto driver = coupling->driver();
        if (driver) return name_or_missing(document, driver->part);
        return std::visit(
            [](const auto& kind) {
                if constexpr (requires { kind.moved_by_words; })
                    return std::string(kind.moved_by_words);
                else
                    return std::string();
            },
            coupling->what);
    }
    for (const Chain& chain : document.chains)
        if (chain.sets(channel)) return chain.name;
    if (auto name = train_driver(document, channel)) return name;
    for (const Vehicle& vehicle : document.vehicles)
        if (drives(document, vehicle, channel)) return vehicle.name;
    if (channel.kind == ChannelKind::Along) {
        const Part* part = document.parts.find(channel.part);
        if (part && part->ride && part->ride->ahead) return name_or_missing(document, part->ride->ahead);
    }
    // Turntables and drawbars hang somewhere under the part that is towed.
    if (channel.kind == ChannelKind::Turn)
        for (const Part* p = document.parts.find(channel.part); p; p = document.parts.find(p->parent))
            if (p->tow && (p->tow->turntable == channel.part || p->tow->drawbar == channel.part))
                return name_or_missing(document, p->tow->hitch);
    return std::nullopt;
}

std::optional<TrainHandle> train_handle(const Document& document, ChannelRef channel) {
    if (!in_some_train(document, channel.part)) return std::nullopt;
    const TrainSolution solution = solve_trains(document);
    const TrainShaft* shaft = solution.find(channel);
    if (!shaft || shaft->state != ShaftState::Driven || shaft->role == ShaftRole::Driven) return std::nullopt;
    std::optional<TrainHandle> handle;
    double constant = shaft->constant;
    for (const TieTerm& term : shaft->inputs) {
        const ShaftState state = solution.find(term.channel)->state;
        if (state == ShaftState::Input) return std::nullopt;
        if (state == ShaftState::Free && !handle)
            handle = TrainHandle{term.channel, term.share, 0};
        else
            constant +=
                term.share * document.parts.find(term.channel.part)->joint.channel(term.channel.kind).value;
    }
    if (handle) handle->constant = constant;
    return handle;
}

}  // namespace pivrak
