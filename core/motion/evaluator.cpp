#include "core/motion/evaluator.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <limits>
#include <map>

#include "core/rig/gear_pair.h"
#include "core/rig/joint_motion.h"

namespace pivrak {

namespace {
constexpr double infinite = std::numeric_limits<double>::infinity();
}

/// Fills an Evaluator step by step; each step needs the ones before it.
class EvaluatorBuilder {
public:
    EvaluatorBuilder(const Document& document, const Clip& clip) : document_(document), clip_(clip) {}

    Result<Evaluator> build() {
        PIVRAK_CHECK(add_parts());
        PIVRAK_CHECK(add_tracks());
        PIVRAK_CHECK(add_couplings());
        return std::move(out_);
    }

private:
    Result<void> add_parts() {
        out_.parts_ = Tree(document_).all();
        if (out_.parts_.size() != document_.parts.size()) return tree_problem();
        out_.nodes_.reserve(out_.parts_.size());
        out_.slot_of_part_.reserve(out_.parts_.size());
        for (const PartId id : out_.parts_) {
            const Part& part = *document_.parts.find(id);
            Evaluator::Node node{part.parent_from_rest, -1, -1, static_cast<std::int16_t>(part.joint.axis),
                                 part.joint.kind};
            if (part.parent) node.parent = static_cast<std::int32_t>(out_.slot_of_part_.at(part.parent));
            if (part.joint.kind != JointKind::Fixed)
                node.channel = static_cast<std::int32_t>(channels_.size());
            for (const ChannelKind kind : channels_of(part.joint.kind)) add_channel(part, kind);
            out_.slot_of_part_[id] = static_cast<std::uint32_t>(out_.nodes_.size());
            out_.nodes_.push_back(node);
        }
        return {};
    }

    void add_channel(const Part& part, ChannelKind kind) {
        const Channel& channel = part.joint.channel(kind);
        const Limits limits = channel.locked ? Limits{channel.value, channel.value}
                                             : channel.limits.value_or(Limits{-infinite, infinite});
        out_.base_values_.push_back(limits.clamp(channel.value));
        out_.limits_.push_back(limits);
        channels_.push_back({part.id, kind});
    }

    /// Some part hangs below itself or below a part that does not exist.
    Error tree_problem() const {
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

    Result<std::uint32_t> slot(ChannelRef channel) const {
        const auto found = out_.channel_slot(channel);
        if (found) return static_cast<std::uint32_t>(*found);
        const std::string name = channel_name(document_, channel);
        return Error{
            "rig.missing_part",
            fmt::format("'{}' is not a free channel: its part is missing or its joint has none such", name),
            name};
    }

    Result<void> add_tracks() {
        for (const Track& track : clip_.tracks) {
            if (track.keys.empty() || coupling_of(track.channel)) continue;
            // Keys of a part that was made fixed stay in the project, ready for when it is a hinge again.
            const auto channel = out_.channel_slot(track.channel);
            if (!channel) continue;
            const auto curve = compile_curve(track.keys);
            out_.tracks_.push_back({static_cast<std::uint32_t>(*channel),
                                    static_cast<std::uint32_t>(out_.keys_.size()),
                                    static_cast<std::uint32_t>(curve.size())});
            out_.keys_.insert(out_.keys_.end(), curve.begin(), curve.end());
        }
        return {};
    }

    bool coupling_of(ChannelRef channel) {
        if (driven_by_.empty())
            for (const Coupling& c : document_.couplings) driven_by_.emplace(c.gear.driven, &c);
        return driven_by_.contains(channel);
    }

    /// Couplings in an order in which each driver is final before it drives: every channel has at most one
    /// driver, so following drivers upwards from each one ends at a free channel or runs in a circle.
    Result<void> add_couplings() {
        std::vector<const Coupling*> driver_of(out_.base_values_.size(), nullptr);
        for (const Coupling& c : document_.couplings) {
            PIVRAK_TRY(driver, slot(c.gear.driver));
            PIVRAK_TRY(driven, slot(c.gear.driven));
            (void)driver;
            if (driver_of[driven]) {
                const std::string name = channel_name(document_, c.gear.driven);
                return Error{"rig.driven_twice",
                             fmt::format("'{}' is driven by '{}' and by '{}' at once", name,
                                         channel_name(document_, driver_of[driven]->gear.driver),
                                         channel_name(document_, c.gear.driver)),
                             name};
            }
            driver_of[driven] = &c;
        }
        enum : std::uint8_t { fresh, open, done };
        std::vector<std::uint8_t> state(driver_of.size(), fresh);
        std::vector<std::uint32_t> chain;
        for (std::uint32_t start = 0; start < driver_of.size(); ++start) {
            chain.clear();
            std::uint32_t at = start;
            while (driver_of[at] && state[at] == fresh) {
                state[at] = open;
                chain.push_back(at);
                at = static_cast<std::uint32_t>(*out_.channel_slot(driver_of[at]->gear.driver));
            }
            if (state[at] == open) return loop_error(chain, at);
            for (auto driven = chain.rbegin(); driven != chain.rend(); ++driven) {
                add_step(*driver_of[*driven], *driven);
                state[*driven] = done;
            }
        }
        return {};
    }

    void add_step(const Coupling& coupling, std::uint32_t driven) {
        const GearPair& pair = coupling.gear;
        const auto driver = static_cast<std::uint32_t>(*out_.channel_slot(pair.driver));
        const auto placed = [&](ChannelRef channel, int teeth) {
            const Frame world = world_from_rest(document_, channel.part);
            return PlacedGear{world.translation, world.axis(document_.parts.find(channel.part)->joint.axis),
                              teeth};
        };
        const double ratio =
            gear_ratio(placed(pair.driver, pair.driver_teeth), placed(pair.driven, pair.driven_teeth));
        out_.couplings_.push_back({driver, driven, ratio, pair.phase_rad});
    }

    /// `chain` holds driven channels from some start upwards; the circle begins where `at` stands in it.
    Error loop_error(const std::vector<std::uint32_t>& chain, std::uint32_t at) const {
        std::string names = channel_name(document_, channels_[at]);
        for (auto c = chain.rbegin(); c != chain.rend(); ++c) {
            names += " → " + channel_name(document_, channels_[*c]);
            if (*c == at) break;
        }
        return {"rig.loop", "couplings run in a circle: " + names + "; remove one of them",
                channel_name(document_, channels_[at])};
    }

    const Document& document_;
    const Clip& clip_;
    Evaluator out_;
    std::vector<ChannelRef> channels_;
    std::map<ChannelRef, const Coupling*> driven_by_;
};

Result<Evaluator> Evaluator::compile(const Document& document, ClipId clip) {
    return EvaluatorBuilder(document, clip_or_first(document, clip)).build();
}

Pose Evaluator::make_pose() const {
    return {base_values_, std::vector<Frame>(nodes_.size())};
}

std::optional<std::size_t> Evaluator::part_slot(PartId part) const {
    const auto found = slot_of_part_.find(part);
    if (found == slot_of_part_.end()) return std::nullopt;
    return found->second;
}

std::optional<std::size_t> Evaluator::channel_slot(ChannelRef channel) const {
    const auto part = part_slot(channel.part);
    if (!part) return std::nullopt;
    const auto kinds = channels_of(nodes_[*part].joint);
    const auto found = std::find(kinds.begin(), kinds.end(), channel.kind);
    if (found == kinds.end()) return std::nullopt;
    return static_cast<std::size_t>(nodes_[*part].channel + (found - kinds.begin()));
}

void Evaluator::evaluate(double frame, Pose& pose, std::optional<HeldChannel> held) const {
    std::copy(base_values_.begin(), base_values_.end(), pose.channels.begin());
    for (const TrackStep& step : tracks_) {
        const std::span keys(keys_.data() + step.first_key, step.key_count);
        pose.channels[step.channel] = limits_[step.channel].clamp(sample_curve(keys, frame));
    }
    if (held) pose.channels[held->slot] = limits_[held->slot].clamp(held->value);
    for (const CouplingStep& step : couplings_)
        pose.channels[step.driven] =
            limits_[step.driven].clamp(step.ratio * pose.channels[step.driver] + step.phase);
    for (std::size_t i = 0; i < nodes_.size(); ++i) {
        const Node& node = nodes_[i];
        Frame local = node.parent_from_rest;
        if (node.joint == JointKind::Hinge)
            local.rotation =
                local.rotation *
                turn_about_axis(node.axis, pose.channels[static_cast<std::size_t>(node.channel)]);
        else if (node.channel >= 0)
            local = local * rest_from_part(node.joint, node.axis,
                                           &pose.channels[static_cast<std::size_t>(node.channel)]);
        pose.world_from_part[i] =
            node.parent < 0 ? local : pose.world_from_part[static_cast<std::size_t>(node.parent)] * local;
    }
}

}  // namespace pivrak
