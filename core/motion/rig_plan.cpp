#include "core/motion/rig_plan.h"

#include <fmt/format.h>

#include "core/model/element_channels.h"

namespace pivrak {

void StepLinks::needs_joint(std::uint32_t node) {
    const NodeStep& step = plan_.program_.nodes[node];
    for (std::size_t i = 0; i < channels_of(step.joint).size(); ++i)
        needs.push_back(static_cast<std::uint32_t>(step.channel) + static_cast<std::uint32_t>(i));
    needs_size(node);
}

void StepLinks::needs_size(std::uint32_t node) {
    if (const std::int32_t size = plan_.program_.nodes[node].size; size >= 0)
        needs.push_back(static_cast<std::uint32_t>(size));
}

Result<void> RigPlan::add_parts() {
    parts_ = tree_.all();
    if (parts_.size() != document_.parts.size()) return tree_problem();
    program_.nodes.reserve(parts_.size());
    slot_of_part_.reserve(parts_.size());
    for (const PartId id : parts_) {
        const Part& part = *document_.parts.find(id);
        NodeStep node{part.parent_from_rest, -1, -1, static_cast<std::int16_t>(part.joint.axis),
                      part.joint.kind,       -1, -1, -1};
        if (part.parent) node.parent = static_cast<std::int32_t>(slot_of_part_.at(part.parent));
        if (part.joint.kind != JointKind::Fixed) node.channel = static_cast<std::int32_t>(channels_.size());
        for (const ChannelKind kind : channels_of(part.joint.kind))
            add_channel({id, kind}, part.joint.channel(kind));
        if (part.joint.size) {
            node.size = static_cast<std::int32_t>(channels_.size());
            add_channel({id, ChannelKind::Size}, *part.joint.size);
        }
        if (part.ride) {
            node.along = static_cast<std::int32_t>(channels_.size());
            add_channel({id, ChannelKind::Along}, part.joint.along);
        }
        if (part.chain) {
            node.travel = static_cast<std::int32_t>(channels_.size());
            add_channel({id, ChannelKind::Travel}, part.joint.travel);
        }
        slot_of_part_[id] = static_cast<Slot>(program_.nodes.size());
        program_.nodes.push_back(node);
    }
    each_own_channel(document_, [&](ChannelRef ref, const Channel& channel) {
        slot_of_own_[ref] = static_cast<Slot>(channels_.size());
        add_channel(ref, channel);
    });
    order_.resize(channels_.size(), parts_.size());
    placed_.assign(parts_.size(), false);
    return {};
}

void RigPlan::add_channel(ChannelRef ref, const Channel& channel) {
    const Limits limits =
        channel.locked ? Limits{channel.value, channel.value} : channel.limits.value_or(range_of(ref.kind));
    base_values_.push_back(limits.clamp(channel.value));
    limits_.push_back(limits);
    channels_.push_back(ref);
}

Error RigPlan::tree_problem() const {
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

std::int32_t RigPlan::node(PartId part) const {
    const auto found = slot_of_part_.find(part);
    return found == slot_of_part_.end() ? -1 : static_cast<std::int32_t>(found->second);
}

std::optional<std::uint32_t> RigPlan::channel(ChannelRef channel) const {
    if (is_of_part(channel.kind)) return channel_slot_of(program_.nodes, node(channel.part()), channel.kind);
    const auto own = slot_of_own_.find(channel);
    return own == slot_of_own_.end() ? std::nullopt : std::optional(own->second);
}

std::optional<std::uint32_t> RigPlan::require(ChannelRef channel) {
    const auto found = this->channel(channel);
    if (found || error_) return found;
    const std::string name = channel_name(document_, channel);
    error_ =
        Error{"rig.missing_part",
              fmt::format("'{}' is not a free channel: its part is missing or its joint has none such", name),
              name};
    return found;
}

void RigPlan::require_in_tree(PartId part, PartId above) {
    if (parent_node(part) < static_cast<std::int32_t>(parts_.size()) || error_) return;
    error_ = Error{"rig.carried",
                   fmt::format("'{}' is carried by another part, but '{}' has to carry it here",
                               name_of(document_, part), above ? name_of(document_, above) : "the world"),
                   name_of(document_, part)};
}

const Drivers& RigPlan::drivers() const {
    if (!drivers_) drivers_.emplace(document_);
    return *drivers_;
}

std::vector<std::uint32_t> RigPlan::row_down(PartId above, PartId part, StepLinks& links) {
    std::vector<Slot> row;
    for (PartId at = part; at != above; at = document_.parts.find(at)->parent) {
        const auto slot = static_cast<Slot>(node(at));
        require_in_tree(at, above);
        row.insert(row.begin(), slot);
        if (at == part)
            links.needs_size(slot);
        else
            links.needs_joint(slot);
    }
    return row;
}

PartId RigPlan::size_owner(PartId part) const {
    const Part* at = document_.parts.find(part);
    while (at && !at->joint.size) at = document_.parts.find(at->parent);
    return at ? at->id : PartId{};
}

std::int32_t RigPlan::sized_parent(PartId part) const {
    const PartId parent = document_.parts.find(part)->parent;
    return size_owner(parent) ? node(parent) : -1;
}

WheelSize RigPlan::wheel_size(PartId wheel) const {
    return facts_ ? facts_->wheel(document_, tree_, wheel) : WheelSize{1, 0.1, 0};
}

std::optional<int> RigPlan::teeth(PartId gear) const {
    return facts_ ? facts_->teeth(document_, tree_, gear) : 0;
}

std::shared_ptr<const WheelProfile> RigPlan::profile(PartId wheel) const {
    if (facts_) return facts_->profile(document_, tree_, wheel);
    return std::make_shared<const WheelProfile>(WheelProfile{{{0, 1}}, {0}});
}

std::shared_ptr<const GroundMap> RigPlan::ground(PartId part) const {
    return part && facts_ ? facts_->ground(document_, part) : nullptr;
}

std::shared_ptr<const DrapedPath> RigPlan::path(const Path& path) const {
    if (!facts_) {
        const auto curve = PathCurve::make(path);
        return curve ? std::make_shared<const DrapedPath>(DrapedPath{*curve}) : nullptr;
    }
    const auto found = facts_->path(document_, path);
    return found ? *found : nullptr;
}

std::shared_ptr<const ClearanceBody> RigPlan::clearance_body(PartId part) const {
    return facts_ ? facts_->clearance_body(document_, tree_, part) : nullptr;
}

std::shared_ptr<const LongShape> RigPlan::long_shape(const Part& part, bool evenly) const {
    return facts_ ? facts_->long_shape(document_, part, evenly) : nullptr;
}

std::int32_t RigPlan::stand_of(PartId wheel) const {
    const auto found = stand_of_.find(wheel);
    return found == stand_of_.end() ? -1 : static_cast<std::int32_t>(found->second);
}

std::uint32_t RigPlan::new_frame(PartId with) {
    program_.nodes.push_back({{}, -1, -1, 0, JointKind::Fixed, -1, -1, -1});
    bases_.push_back(with);
    placed_.push_back(true);
    order_.add_frame();
    return static_cast<Slot>(program_.nodes.size() - 1);
}

std::uint32_t RigPlan::new_base(PartId part) {
    const Slot base = new_frame(part);
    NodeStep& hung = program_.nodes[static_cast<Slot>(node(part))];
    hung.parent = static_cast<std::int32_t>(base);
    hung.parent_from_rest = {};
    return base;
}

std::uint32_t RigPlan::new_stand(PartId wheel) {
    const auto slot = static_cast<Slot>(wheels_.size());
    stand_of_[wheel] = slot;
    wheels_.push_back(wheel);
    program_.stand_count = slot + 1;
    return slot;
}

std::uint32_t RigPlan::new_states(std::uint32_t count) {
    return std::exchange(program_.state_count, program_.state_count + count);
}

void RigPlan::add_to_order(Slot list, Slot index, StepLinks links, const std::string& by) {
    for (const Slot given : links.gives) {
        if (given >= channels_.size()) {
            placed_[given - channels_.size()] = true;
            continue;
        }
        const auto [first, fresh] = driven_by_.try_emplace(given, by);
        if (!fresh && !twice_) twice_ = {given, first->second, by};
    }
    const std::size_t step =
        order_.add({list, index, std::move(links.needs), std::move(links.gives), std::move(links.asks)});
    if (program_.lists[list]->stateful()) stateful_.push_back(step);
}

}  // namespace pivrak
