#include "core/motion/evaluator_builder.h"

#include <fmt/format.h>

#include <algorithm>
#include <limits>
#include <set>

#include "core/elements/plans.h"
#include "core/motion/plan_trains.h"

namespace pivrak {

Result<Evaluator> EvaluatorBuilder::build() {
    PIVRAK_CHECK(plan_.add_parts());
    for (const PlanPhase phase : {PlanPhase::Carries, PlanPhase::Stands, PlanPhase::Rolls, PlanPhase::Asks,
                                  PlanPhase::Runs, PlanPhase::Riders, PlanPhase::Trains, PlanPhase::Steers})
        plan_elements(phase);
    plan_nodes();
    if (plan_.error_) return *plan_.error_;
    PIVRAK_CHECK(check_driven_once());
    out_.parts_ = plan_.parts_;
    out_.slot_of_part_ = std::move(plan_.slot_of_part_);
    out_.slot_of_own_ = plan_.slot_of_own_;
    out_.program_ = std::move(plan_.program_);
    out_.base_values_ = std::move(plan_.base_values_);
    for (std::uint32_t i = 0; i < plan_.channels_.size(); ++i)
        if (plan_.channels_[i].kind == ChannelKind::Size) out_.sizes_.push_back(i);
    out_.limits_ = std::move(plan_.limits_);
    out_.wheels_ = std::move(plan_.wheels_);
    out_.radii_ = std::move(plan_.radii_);
    out_.first_frame_ = clip_.first_frame;
    out_.frame_s_ = 1 / frame_rate_of(document_, clip_);
    add_tracks();
    PIVRAK_CHECK(order());
    return std::move(out_);
}

void EvaluatorBuilder::plan_elements(PlanPhase phase) {
#define PIVRAK_TABLE(Type, table)                             \
    if (phase_of(static_cast<const Type*>(nullptr)) == phase) \
        for (const Type& element : document_.table) plan(element, plan_);
#define PIVRAK_COUPLING(Type)                                                                           \
    if (phase_of(static_cast<const Type*>(nullptr)) == phase)                                           \
        for (const Coupling& coupling : document_.couplings)                                            \
            if (const auto* element = std::get_if<Type>(&coupling.what); element && !coupling.is_off()) \
                plan(*element, coupling.id, plan_);
#define PIVRAK_FACET(Type, facet)                             \
    if (phase_of(static_cast<const Type*>(nullptr)) == phase) \
        for (const PartId id : plan_.parts()) {               \
            const Part& part = *document_.parts.find(id);     \
            if (part.facet) plan(*part.facet, part, plan_);   \
        }
#include "core/elements/kinds.def"
    if (phase == PlanPhase::Trains && plan_.wants_trains()) plan_trains(plan_);
}

/// What no element places stands where its carrier and its joint put it.
void EvaluatorBuilder::plan_nodes() {
    for (std::uint32_t node = 0; node < plan_.parts_.size(); ++node) {
        if (plan_.is_placed(node)) continue;
        StepLinks links(plan_);
        links.needs_frame(plan_.program_.nodes[node].parent);
        links.needs_joint(node);
        links.gives_frame(node);
        plan_.order_.add({StepRun::nodes, node, std::move(links.needs), std::move(links.gives)});
    }
}

Result<void> EvaluatorBuilder::check_driven_once() const {
    if (!plan_.twice_) return {};
    const std::string name = plan_.channel_title(plan_.twice_->channel);
    return Error{"rig.driven_twice",
                 fmt::format("'{}' is driven by '{}' and by '{}' at once", name, plan_.twice_->first,
                             plan_.twice_->second),
                 name};
}

void EvaluatorBuilder::add_tracks() {
    for (const Track& track : clip_.tracks) {
        if (track.keys.empty()) continue;
        // Keys of a part that was made fixed stay in the project, ready for when it is a hinge again.
        const auto channel = out_.channel_slot(track.channel);
        if (!channel) continue;
        if (plan_.is_driven(static_cast<std::uint32_t>(*channel)))
            out_.keyed_and_driven_.push_back(static_cast<std::uint32_t>(*channel));
        const auto curve = compile_curve(track.keys, track.before, track.after);
        out_.tracks_.push_back({static_cast<std::uint32_t>(*channel),
                                static_cast<std::uint32_t>(out_.keys_.size()),
                                static_cast<std::uint32_t>(curve.size()), track.before, track.after});
        out_.keys_.insert(out_.keys_.end(), curve.begin(), curve.end());
    }
    add_layers();
}

void EvaluatorBuilder::add_layers() {
    const auto clips = added_clips(document_, clip_);
    for (const AddedClip& one : clips)
        for (const Track& track : one.clip->tracks) {
            const auto slot = out_.channel_slot(track.channel);
            const auto channel = slot ? static_cast<std::uint32_t>(*slot) : 0;
            const auto known = [&](const auto& entry) { return entry.first == channel; };
            if (!slot || std::ranges::any_of(out_.added_, known)) continue;
            if (plan_.is_driven(channel)) out_.keyed_and_driven_.push_back(channel);
            for (AddedCurve& curve : added_curves(document_, clips, track.channel))
                out_.added_.push_back({channel, std::move(curve)});
        }
}

Result<void> EvaluatorBuilder::order() {
    const auto sorted = plan_.order_.sorted(preferred_lists());
    if (!sorted.circle.empty()) return loop_error(sorted.circle);
    arrange_lists(sorted.steps);
    out_.program_.order = runs_of(sorted.steps);
    if (!plan_.stateful_.empty()) add_slice(sorted.steps);
    return {};
}

std::vector<std::uint32_t> EvaluatorBuilder::preferred_lists() const {
    const auto& lists = out_.program_.lists;
    std::vector<std::uint32_t> preferred{StepRun::nodes};
    for (std::uint32_t i = 0; i < lists.size(); ++i) preferred.push_back(i);
    const auto rank = [&](std::uint32_t list) {
        return list == StepRun::nodes ? StepRank::Nodes : lists[list]->rank();
    };
    std::stable_sort(preferred.begin(), preferred.end(),
                     [&](std::uint32_t a, std::uint32_t b) { return rank(a) < rank(b); });
    return preferred;
}

void EvaluatorBuilder::arrange_lists(const std::vector<std::size_t>& steps) {
    auto& lists = out_.program_.lists;
    std::vector<std::vector<std::uint32_t>> order(lists.size());
    place_.resize(lists.size());
    for (std::size_t i = 0; i < lists.size(); ++i) place_[i].resize(lists[i]->size());
    for (const std::size_t i : steps) {
        const OrderedStep& step = plan_.order_.step(i);
        if (step.list == StepRun::nodes) continue;
        place_[step.list][step.index] = static_cast<std::uint32_t>(order[step.list].size());
        order[step.list].push_back(step.index);
    }
    for (std::size_t i = 0; i < lists.size(); ++i) lists[i]->arrange(order[i]);
}

RunOrder EvaluatorBuilder::runs_of(const std::vector<std::size_t>& steps) const {
    RunOrder order;
    for (const std::size_t i : steps) {
        const OrderedStep& step = plan_.order_.step(i);
        std::uint32_t index = 0;
        if (step.list == StepRun::nodes) {
            index = static_cast<std::uint32_t>(order.node_order.size());
            order.node_order.push_back(step.index);
        } else {
            index = place_[step.list][step.index];
        }
        auto& runs = order.runs;
        if (!runs.empty() && runs.back().list == step.list && runs.back().first + runs.back().count == index)
            ++runs.back().count;
        else
            runs.push_back({step.list, index, 1});
    }
    return order;
}

/// What steps that depend on the past need, and the keys of that.
void EvaluatorBuilder::add_slice(const std::vector<std::size_t>& steps) {
    const std::vector<bool> needed = plan_.order_.needed_by(plan_.stateful_);
    std::vector<std::size_t> slice;
    out_.in_slice_.assign(out_.limits_.size(), false);
    std::vector<bool> asked(out_.limits_.size(), false);
    for (const std::size_t step : steps) {
        if (!needed[step]) continue;
        slice.push_back(step);
        for (const std::uint32_t need : plan_.order_.step(step).needs)
            if (need < out_.in_slice_.size()) out_.in_slice_[need] = true;
        for (const std::uint32_t channel : plan_.order_.step(step).asks)
            asked[channel] = out_.in_slice_[channel] = true;
    }
    out_.program_.slice = runs_of(slice);
    out_.adds_up_ = adds_up(slice);
    for (const auto& list : out_.program_.lists)
        if (list->goes_on() || !out_.added_.empty())
            out_.last_key_frame_ = std::numeric_limits<double>::infinity();
    for (const TrackStep& track : out_.tracks_) {
        const bool drives = out_.in_slice_[track.channel] && !plan_.is_driven(track.channel);
        if (!drives && !asked[track.channel]) continue;
        out_.slice_tracks_.push_back(track);
        const double last = track.after == Beyond::Hold
                                ? out_.keys_[track.first_key + track.key_count - 1].frame
                                : std::numeric_limits<double>::infinity();
        out_.last_key_frame_ = std::max(out_.last_key_frame_, last);
    }
}

bool EvaluatorBuilder::adds_up(const std::vector<std::size_t>& slice) const {
    std::set<std::uint32_t> moved_on;
    for (const std::size_t step : plan_.stateful_) {
        const OrderedStep& one = plan_.order_.step(step);
        if (!out_.program_.lists[one.list]->adds_up()) return false;
        moved_on.insert(one.gives.begin(), one.gives.end());
    }
    return std::none_of(slice.begin(), slice.end(), [&](std::size_t step) {
        const auto& needs = plan_.order_.step(step).needs;
        return std::any_of(needs.begin(), needs.end(),
                           [&](std::uint32_t need) { return moved_on.contains(need); });
    });
}

Error EvaluatorBuilder::loop_error(const std::vector<std::uint32_t>& circle) const {
    const std::size_t channels = plan_.channels_.size();
    const auto name = [&](std::uint32_t given) {
        return given < channels
                   ? plan_.channel_title(given)
                   : document_.parts.find(plan_.part_of(given - static_cast<std::uint32_t>(channels)))->name;
    };
    std::string names = name(circle.front());
    for (std::size_t i = 1; i < circle.size(); ++i) names += " → " + name(circle[i]);
    names += " → " + name(circle.front());
    const bool couplings =
        std::all_of(circle.begin(), circle.end(), [&](std::uint32_t given) { return given < channels; });
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
