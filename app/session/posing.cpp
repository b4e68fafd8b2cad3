#include "app/session/posing.h"

namespace pivrak {

std::optional<Error> Posing::compile(const Document& document, ClipId clip) {
    document_ = document;
    drivers_.reset();
    std::optional<Error> problem;
    auto compiled = Evaluator::compile(document, clip, &facts_);
    if (!compiled) {
        // Only a damaged project gets here.
        problem = compiled.error();
        Document still = document;
        still.couplings = {};
        still.vehicles = {};
        still.paths = {};
        compiled = Evaluator::compile(still);
    }
    if (!compiled) compiled = Evaluator::compile(empty_document());
    evaluator_ = std::move(*compiled);
    pose_ = evaluator_->make_pose();
    return problem;
}

void Posing::evaluate() {
    std::optional<HeldChannel> held;
    if (held_)
        if (const auto slot = evaluator_->channel_slot(held_->first)) held = {*slot, held_->second};
    evaluator_->evaluate(frame_, pose_, held);
}

Frame Posing::worldFromPart(PartId part) const {
    const auto slot = evaluator_->part_slot(part);
    return slot ? pose_.world_from_part[*slot] : Frame{};
}

double Posing::valueOf(ChannelRef channel) const {
    const auto slot = evaluator_->channel_slot(channel);
    return slot ? pose_.channels[*slot] : 0;
}

const Drivers& Posing::drivers() const {
    if (!drivers_) drivers_.emplace(document_);
    return *drivers_;
}

std::shared_ptr<const DrapedPath> Posing::path(const Path& path) const {
    const auto measured = facts_.path(document_, path);
    return measured ? *measured : nullptr;
}

}  // namespace pivrak
