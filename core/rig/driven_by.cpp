#include "core/rig/driven_by.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/model/each_element.h"
#include "core/model/joint_question.h"
#include "core/rig/linkages/linkage_loops.h"
#include "core/rig/reach/reach_row.h"

namespace pivrak {
namespace {

/// Whether a vehicle sets a channel of its body's follow.
bool follows(const Document& document, const Vehicle& vehicle, ChannelKind kind) {
    const Part* root = document.parts.find(vehicle.place);
    const bool towed = root && root->tow;
    return (towed && (kind == ChannelKind::ShiftX || kind == ChannelKind::ShiftY)) ||
           kind == ChannelKind::ShiftZ || kind == ChannelKind::TurnX || kind == ChannelKind::TurnY;
}

std::string moved_by_words(const Coupling& coupling) {
    return std::visit(
        [](const auto& kind) {
            if constexpr (requires { kind.moved_by_words; })
                return std::string(kind.moved_by_words);
            else
                return std::string();
        },
        coupling.what);
}

}  // namespace

Drivers::Drivers(const Document& document) : document_(document), couplings_(document_.couplings) {
    index_trains();
    index_vehicles();
    index_constraints();
    index_linkages();
    index_reaches();
    for (const Measure& measure : document_.measures)
        solved_by_.try_emplace({measure.id, measure.gives()}, measure.name);
    for (const Part& part : document_.parts) {
        if (!part.tow) continue;
        for (const PartId moved : {part.tow->turntable, part.tow->drawbar})
            if (moved) towed_by_.try_emplace(moved, part.tow->hitch);
    }
}

void Drivers::index_trains() {
    const auto add = [&](PartId part) {
        for (const Part* p = document_.parts.find(part); p && in_train_.insert(p->id).second;)
            p = document_.parts.find(p->parent);
    };
    for (const Coupling& coupling : document_.couplings)
        if (const GearPair* pair = coupling.as<GearPair>()) {
            add(pair->driver.part());
            add(pair->driven.part());
        }
    for (const Chain& chain : document_.chains) {
        add(chain.frame);
        chains_at_[chain.frame].push_back(&chain);
        if (chain.take_up) chains_at_[chain.take_up].push_back(&chain);
        for (const ChainWheel& wheel : chain.wheels) {
            add(wheel.part);
            chains_at_[wheel.part].push_back(&chain);
        }
    }
    if (!in_train_.empty()) trains_ = solve_trains(document_);
}

void Drivers::index_vehicles() {
    for (const Vehicle& vehicle : document_.vehicles) {
        follows_.try_emplace(vehicle.ground_level, &vehicle);
        for (const VehicleWheel& wheel : vehicle.wheels) suspends_.try_emplace(wheel.suspension, &vehicle);
    }
}

/// One whose blend has keys or is driven leaves room for hands and keys.
void Drivers::index_constraints() {
    for (const Constraint& constraint : document_.constraints) {
        if (!is_blended(constraint.id)) asked_by_[constraint.part].push_back(&constraint);
    }
}

void Drivers::index_linkages() {
    for (const Linkage& linkage : document_.linkages) {
        if (linkage.off) continue;
        const auto loops = linkage_loops(document_, linkage.closures);
        if (!loops) continue;
        for (const ChannelRef channel : loops->channels)
            if (!linkage.is_input(channel) &&
                !document_.parts.find(channel.part())->joint.channel(channel.kind).locked)
                solved_by_.try_emplace(channel, linkage.name);
    }
}

/// As with constraints, one whose blend has keys or is driven leaves room for hands and keys.
void Drivers::index_reaches() {
    for (const Reach& reach : document_.reaches) {
        const auto row = reach_row(document_, reach);
        if (reach.off || !row) continue;
        const bool always = reach.blend.value >= 1 && !is_blended(reach.id);
        if (reach.has(ChannelKind::Stretch))
            solved_by_.try_emplace({reach.id, ChannelKind::Stretch}, reach.name);
        for (const ChannelRef channel : row->channels) {
            if (document_.parts.find(channel.part())->joint.channel(channel.kind).locked) continue;
            if (always) solved_by_.try_emplace(channel, reach.name);
            reached_.insert(channel);
        }
    }
}

/// Whether keys or a coupling say how much an element acts.
bool Drivers::is_blended(OwnerId element) const {
    const ChannelRef blend{element, ChannelKind::Blend};
    return couplings_.find(blend) || std::any_of(document_.clips.begin(), document_.clips.end(),
                                                 [&](const Clip& clip) { return clip.track(blend); });
}

std::string Drivers::name_or_missing(PartId part) const {
    const Part* found = document_.parts.find(part);
    return found ? found->name : fmt::format("missing part {}", part.value);
}

/// Of a train of shafts, what turns a channel: the first of its inputs that moves, or any.
std::optional<std::string> Drivers::in_train(ChannelRef channel) const {
    if (!in_train_.contains(channel.part())) return std::nullopt;
    const TrainShaft* shaft = trains_.find(channel);
    if (!shaft || shaft->state == ShaftState::Free || shaft->state == ShaftState::Input) return std::nullopt;
    if (shaft->state == ShaftState::Stuck) return "a train that blocks itself";
    for (const TieTerm& input : shaft->inputs)
        if (trains_.find(input.channel)->state != ShaftState::Held)
            return name_or_missing(input.channel.part());
    if (!shaft->inputs.empty()) return name_or_missing(shaft->inputs.front().channel.part());
    return std::nullopt;
}

std::optional<std::string> Drivers::name(ChannelRef channel) const {
    if (auto other = other_name(channel)) return other;
    const auto solved = solved_by_.find(channel);
    return solved == solved_by_.end() ? std::nullopt : std::optional(solved->second);
}

std::optional<std::string> Drivers::other_name(ChannelRef channel) const {
    const PartId part = channel.part();
    if (const Coupling* own = coupling(channel); own && !own->as<GearPair>()) {
        const auto driver = own->driver();
        return driver ? name_or_missing(driver->part()) : moved_by_words(*own);
    }
    if (const auto chains = chains_at_.find(part); chains != chains_at_.end())
        for (const Chain* chain : chains->second)
            if (chain->sets(channel)) return chain->name;
    if (auto name = in_train(channel)) return name;
    if (const auto vehicle = follows_.find(part); vehicle != follows_.end())
        if (follows(document_, *vehicle->second, channel.kind)) return vehicle->second->name;
    if (const auto vehicle = suspends_.find(part);
        vehicle != suspends_.end() && channel.kind == ChannelKind::Shift)
        return vehicle->second->name;
    if (const auto asked = asked_by_.find(part); asked != asked_by_.end())
        for (const Constraint* constraint : asked->second)
            if (constraint->sets(document_.parts.find(part)->joint.kind, channel.kind))
                return constraint->name;
    if (channel.kind == ChannelKind::Along) {
        const Part* rider = document_.parts.find(part);
        if (rider && rider->ride && rider->ride->ahead) return name_or_missing(rider->ride->ahead);
    }
    if (channel.kind == ChannelKind::Turn)
        if (const auto hitch = towed_by_.find(part); hitch != towed_by_.end())
            return name_or_missing(hitch->second);
    return std::nullopt;
}

std::optional<TrainHandle> Drivers::handle(ChannelRef channel) const {
    if (!in_train_.contains(channel.part())) return std::nullopt;
    const TrainShaft* shaft = trains_.find(channel);
    if (!shaft || shaft->state != ShaftState::Driven || shaft->role == ShaftRole::Driven) return std::nullopt;
    std::optional<TrainHandle> handle;
    double constant = shaft->constant;
    for (const TieTerm& term : shaft->inputs) {
        const ShaftState state = trains_.find(term.channel)->state;
        if (state == ShaftState::Input) return std::nullopt;
        if (state == ShaftState::Free && !handle)
            handle = TrainHandle{term.channel, term.share, 0};
        else
            constant += term.share *
                        document_.parts.find(term.channel.part())->joint.channel(term.channel.kind).value;
    }
    if (handle) handle->constant = constant;
    return handle;
}

std::optional<std::string> driver_name(const Document& document, ChannelRef channel) {
    return Drivers(document).name(channel);
}

std::optional<std::string> joint_user(const Document& document, PartId part, const Joint& joint) {
    const JointQuestion asked{document, part, joint};
    std::optional<std::string> user;
    each_element(document, [&](const auto& element, const auto&...) {
        if (!user) user = joint_user(element, asked);
    });
    return user;
}

}  // namespace pivrak
