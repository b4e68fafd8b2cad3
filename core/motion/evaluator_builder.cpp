#include "core/motion/evaluator_builder.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <limits>
#include <map>

#include "core/rig/ride_frame.h"

namespace pivrak {

namespace {
constexpr double infinite = std::numeric_limits<double>::infinity();
}

Result<Evaluator> EvaluatorBuilder::build() {
    PIVRAK_CHECK(add_parts());
    PIVRAK_CHECK(add_couplings());
    PIVRAK_CHECK(add_vehicles());
    add_chains();
    add_rides_and_tows();
    add_trains();
    add_steers();
    PIVRAK_CHECK(check_driven_once());
    add_tracks();
    PIVRAK_CHECK(order());
    out_.first_frame_ = clip_.first_frame;
    return std::move(out_);
}

Result<void> EvaluatorBuilder::add_parts() {
    out_.parts_ = tree_.all();
    if (out_.parts_.size() != document_.parts.size()) return tree_problem();
    out_.program_.nodes.reserve(out_.parts_.size());
    out_.slot_of_part_.reserve(out_.parts_.size());
    for (const PartId id : out_.parts_) {
        const Part& part = *document_.parts.find(id);
        NodeStep node{part.parent_from_rest, -1, -1, static_cast<std::int16_t>(part.joint.axis),
                      part.joint.kind,       -1, -1};
        if (part.parent) node.parent = static_cast<std::int32_t>(out_.slot_of_part_.at(part.parent));
        if (part.joint.kind != JointKind::Fixed) node.channel = static_cast<std::int32_t>(channels_.size());
        for (const ChannelKind kind : channels_of(part.joint.kind)) add_channel(part, kind);
        if (part.ride) {
            node.along = static_cast<std::int32_t>(channels_.size());
            add_channel(part, ChannelKind::Along);
        }
        if (part.chain) {
            node.travel = static_cast<std::int32_t>(channels_.size());
            add_channel(part, ChannelKind::Travel);
        }
        out_.slot_of_part_[id] = static_cast<Slot>(out_.program_.nodes.size());
        out_.program_.nodes.push_back(node);
    }
    order_.resize(channels_.size(), out_.parts_.size());
    return {};
}

void EvaluatorBuilder::add_channel(const Part& part, ChannelKind kind) {
    const Channel& channel = part.joint.channel(kind);
    const Limits limits = channel.locked ? Limits{channel.value, channel.value}
                                         : channel.limits.value_or(Limits{-infinite, infinite});
    out_.base_values_.push_back(limits.clamp(channel.value));
    out_.limits_.push_back(limits);
    channels_.push_back({part.id, kind});
}

Error EvaluatorBuilder::tree_problem() const {
    for (const Part& part : document_.parts) {
        std::size_t steps = 0;
        for (const Part* p = &part; p->parent; p = document_.parts.find(p->parent)) {
            if (!document_.parts.contains(p->parent))
                return {"rig.missing_part",
                        fmt::format("'{}' is carried by a part that does not exist", p->name), p->name};
            if (++steps > document_.parts.size())
                return {"tree.loop", fmt::format("'{}' is carried by itself", part.name), part.name};
        }
    }
    return {"tree.loop", "the tree of parts is not a tree", ""};
}

Result<std::uint32_t> EvaluatorBuilder::slot(ChannelRef channel) const {
    const auto found = out_.channel_slot(channel);
    if (found) return static_cast<Slot>(*found);
    const std::string name = channel_name(document_, channel);
    return Error{
        "rig.missing_part",
        fmt::format("'{}' is not a free channel: its part is missing or its joint has none such", name),
        name};
}

std::shared_ptr<const DrapedPath> EvaluatorBuilder::measured(const Path& path) const {
    if (!facts_) {
        const auto curve = PathCurve::make(path);
        return curve ? std::make_shared<const DrapedPath>(DrapedPath{*curve}) : nullptr;
    }
    const auto found = facts_->path(document_, path);
    return found ? *found : nullptr;
}

std::size_t EvaluatorBuilder::give(StepKind kind, Slot index, std::vector<std::uint32_t> needs,
                                   std::vector<std::uint32_t> gives, std::string by) {
    for (const std::uint32_t given : gives)
        if (given < channels_.size()) {
            const auto [first, fresh] = driver_.try_emplace(given, by);
            if (!fresh && !twice_) twice_ = {given, first->second, by};
        }
    return order_.add({kind, index, std::move(needs), std::move(gives)});
}

Result<void> EvaluatorBuilder::add_couplings() {
    for (const Coupling& c : document_.couplings) {
        PIVRAK_TRY(driven, slot(c.driven()));
        Slot driver = 0;
        const auto ref = driver_of(c);
        if (ref) {
            PIVRAK_TRY(found, slot(*ref));
            driver = found;
        }
        const std::string by = ref        ? channel_name(document_, *ref)
                               : c.lean() ? "the ground it leans on"
                                          : "the way it is carried";
        if (c.gear()) {
            has_pairs_ = true;
        } else if (const Steer* steer = c.steer()) {
            steers_.push_back({*steer, driven, driver, by});
        } else if (const Lean* lean = c.lean()) {
            leans_.push_back({*lean, driven, driver, by});
        } else {
            rolls_.push_back({*c.roll(), driven, driver, by});
        }
    }
    return {};
}

std::optional<ChannelRef> EvaluatorBuilder::driver_of(const Coupling& c) const {
    if (const Roll* roll = c.roll(); roll && !roll->like && roll->rider && !rides(*roll)) return std::nullopt;
    return c.driver();
}

Result<void> EvaluatorBuilder::check_driven_once() const {
    if (!twice_) return {};
    const std::string name = channel_name(document_, channels_[twice_->channel]);
    return Error{
        "rig.driven_twice",
        fmt::format("'{}' is driven by '{}' and by '{}' at once", name, twice_->first, twice_->second), name};
}

void EvaluatorBuilder::add_tracks() {
    for (const Track& track : clip_.tracks) {
        if (track.keys.empty()) continue;
        // Keys of a part that was made fixed stay in the project, ready for when it is a hinge again.
        const auto channel = out_.channel_slot(track.channel);
        if (!channel || driver_.contains(static_cast<Slot>(*channel))) continue;
        const auto curve = compile_curve(track.keys);
        out_.tracks_.push_back({static_cast<Slot>(*channel), static_cast<Slot>(out_.keys_.size()),
                                static_cast<Slot>(curve.size())});
        out_.keys_.insert(out_.keys_.end(), curve.begin(), curve.end());
    }
}

Result<void> EvaluatorBuilder::order() {
    const auto sorted = order_.sorted();
    if (!sorted.circle.empty()) return loop_error(sorted.circle);
    emit(sorted.steps, out_.program_.runs, out_.program_.node_order, true);
    if (stateful_.empty()) return {};
    const std::vector<bool> needed = order_.needed_by(stateful_);
    std::vector<std::size_t> slice;
    out_.in_slice_.assign(channels_.size(), false);
    for (const std::size_t step : sorted.steps) {
        if (!needed[step]) continue;
        slice.push_back(step);
        for (const std::uint32_t need : order_.step(step).needs)
            if (need < channels_.size()) out_.in_slice_[need] = true;
    }
    emit(slice, out_.slice_runs_, out_.slice_nodes_, false);
    for (const TrackStep& track : out_.tracks_)
        if (out_.in_slice_[track.channel]) {
            out_.slice_tracks_.push_back(track);
            out_.last_key_frame_ =
                std::max(out_.last_key_frame_, out_.keys_[track.first_key + track.key_count - 1].frame);
        }
    return {};
}

void EvaluatorBuilder::emit(const std::vector<std::size_t>& steps, std::vector<StepRun>& runs,
                            std::vector<Slot>& nodes, bool reorder) {
    if (reorder) reorder_linears(steps);
    for (const std::size_t i : steps) {
        const OrderedStep& step = order_.step(i);
        Slot index = step.index;
        if (step.kind == StepKind::Linear) index = linear_place_[step.index];
        if (step.kind == StepKind::Nodes) {
            index = static_cast<Slot>(nodes.size());
            nodes.push_back(step.index);
        }
        if (!runs.empty() && runs.back().kind == step.kind && runs.back().first + runs.back().count == index)
            ++runs.back().count;
        else
            runs.push_back({step.kind, index, 1});
    }
}

void EvaluatorBuilder::reorder_linears(const std::vector<std::size_t>& steps) {
    std::vector<LinearStep> in_order;
    linear_place_.resize(out_.program_.linears.size());
    for (const std::size_t i : steps) {
        const OrderedStep& step = order_.step(i);
        if (step.kind != StepKind::Linear) continue;
        linear_place_[step.index] = static_cast<Slot>(in_order.size());
        in_order.push_back(out_.program_.linears[step.index]);
    }
    out_.program_.linears = std::move(in_order);
}

Error EvaluatorBuilder::loop_error(const std::vector<std::uint32_t>& circle) const {
    const auto name = [&](std::uint32_t given) {
        return given < channels_.size() ? channel_name(document_, channels_[given])
                                        : document_.parts.find(out_.parts_[given - channels_.size()])->name;
    };
    std::string names = name(circle.front());
    for (std::size_t i = 1; i < circle.size(); ++i) names += " → " + name(circle[i]);
    names += " → " + name(circle.front());
    const bool couplings = std::all_of(circle.begin(), circle.end(),
                                       [&](std::uint32_t given) { return given < channels_.size(); });
    return {"rig.loop",
            fmt::format("{} in a circle: {}; remove one of them",
                        couplings ? "couplings run" : "the rig runs", names),
            name(circle.front())};
}
Result<Evaluator> Evaluator::compile(const Document& document, ClipId clip, RigFacts* facts) {
    RigFacts fresh;
    return EvaluatorBuilder(document, clip_or_first(document, clip), facts ? facts : &fresh).build();
}

Result<void> Evaluator::check(const Document& document) {
    const auto built = EvaluatorBuilder(document, clip_or_first(document), nullptr).build();
    return built ? Result<void>{} : built.error();
}

}  // namespace pivrak
