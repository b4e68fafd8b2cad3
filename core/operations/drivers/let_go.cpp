#include "core/operations/drivers/let_go.h"

#include <fmt/format.h>

#include <optional>

#include "core/model/element_channels.h"
#include "core/motion/evaluator.h"
#include "core/rig/formulas/formula_inputs.h"

namespace pivrak {
namespace {

/// Values before an edit, worked out when the first is asked for.
class ValuesBefore {
public:
    explicit ValuesBefore(const Document& document) : document_(document) {}

    double operator()(ChannelRef channel) {
        if (!evaluator_) {
            evaluator_ = Evaluator::compile(document_);
            if (*evaluator_) {
                pose_ = (*evaluator_)->make_pose();
                (*evaluator_)->evaluate(clip_or_first(document_).first_frame, pose_);
            }
        }
        const auto slot = *evaluator_ ? (*evaluator_)->channel_slot(channel) : std::nullopt;
        return slot ? pose_.channels[*slot] : find_channel(document_, channel).value_or(Channel{}).value;
    }

private:
    const Document& document_;
    std::optional<Result<Evaluator>> evaluator_;
    Pose pose_;
};

}  // namespace

std::vector<std::string> let_go_of_lost(const Document& before, Document& after) {
    ValuesBefore was(before);
    std::vector<std::string> words;
    const auto is_lost = [&](OwnerId owner) { return !has_owner(after, owner) && has_owner(before, owner); };
    for (const Coupling& coupling : before.couplings) {
        const ChannelRef driven = coupling.driven();
        if (!has_owner(after, driven.owner)) continue;
        if (const Follow* follow = coupling.as<Follow>(); follow && is_lost(follow->driver.owner)) {
            Channel channel = find_channel(after, driven).value_or(Channel{});
            channel.value = was(driven);
            put_channel(after, driven, channel);
            after.couplings.erase(coupling.id);
            words.push_back(fmt::format("'{}' follows nothing any more, and stays where it is",
                                        channel_name(after, driven)));
        }
        const Formula* formula = coupling.as<Formula>();
        const Coupling* still = after.couplings.find(coupling.id);
        if (!formula || !still || !still->as<Formula>()) continue;
        Formula changed = *still->as<Formula>();
        for (const FormulaInput& before_it : formula->inputs) {
            if (before_it.kind != InputKind::Channel || !is_lost(before_it.channel.owner)) continue;
            for (FormulaInput& input : changed.inputs)
                if (input.name == before_it.name) {
                    input = before_it;
                    // A bend or a speed goes on as a plain number, in the formula's unit.
                    const double unit = before_it.channel.kind == ChannelKind::Bend ||
                                                before_it.channel.kind == ChannelKind::Speed
                                            ? in_formula(quantity_of(before_it.channel.kind), changed.unit_m)
                                            : 1;
                    input.let_go(unit * was(before_it.channel), channel_name(before, before_it.channel));
                }
            words.push_back(fmt::format("in the formula of '{}', the last value of '{}' stands",
                                        channel_name(after, driven), before_it.name));
        }
        if (!(changed == *formula)) after.couplings.set({coupling.id, changed});
    }
    return words;
}

}  // namespace pivrak
