#include "app/session/posing.h"

#include "core/elements/stretch/stretch_motion.h"

namespace pivrak {

std::optional<Error> Posing::compile(const Document& document, ClipId clip) {
    document_ = document;
    shown_.clear();
    carried_.clear();
    keyless_.reset();
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
    auto values = shown_;
    if (held_) values.push_back(*held_);
    std::vector<HeldChannel> held;
    for (const auto& [channel, value] : values)
        if (const auto slot = evaluator_->channel_slot(channel)) held.push_back({*slot, value});
    if (keyless_)
        keyless_->evaluate(0, keyless_pose_, held);
    else
        evaluator_->evaluate(frame_, pose_, held);
    for (const auto& [part, moved] : carried_) {
        const auto slot = evaluator().part_slot(part);
        if (!slot) continue;
        Frame& world = (keyless_ ? keyless_pose_ : pose_).world_from_part[*slot];
        world = moved * world;
    }
}

void Posing::show(std::vector<std::pair<ChannelRef, double>> values, bool with_keys) {
    drop();
    shown_ = std::move(values);
    if (with_keys) return;
    Document still = document_;
    for (Clip clip : document_.clips) {
        clip.tracks.clear();
        clip.layers.clear();
        still.clips.set(clip);
    }
    auto compiled = Evaluator::compile(still, {}, &facts_);
    if (!compiled) return;
    keyless_ = std::move(*compiled);
    keyless_pose_ = keyless_->make_pose();
}

Frame Posing::worldFromPart(PartId part) const {
    const auto slot = evaluator().part_slot(part);
    return slot ? pose().world_from_part[*slot] : Frame{};
}

std::shared_ptr<const Mesh> Posing::meshOf(PartId id) const {
    const Part* part = document_.parts.find(id);
    const Shape* shape = part ? document_.shapes.find(part->shape) : nullptr;
    if (!shape) return nullptr;
    const auto slot = evaluator().part_slot(id);
    const auto now =
        slot && !document_.stretches.empty() ? stretched_now(evaluator(), pose(), *slot) : std::nullopt;
    if (!now) return shape->mesh;
    DrawnOut& known = drawn_out_[id];
    if (known.from != shape->mesh || known.by_m != now->by_m)
        known = {shape->mesh, mesh_now(document_, evaluator(), pose(), id), now->by_m};
    return known.mesh;
}

double Posing::valueOf(ChannelRef channel) const {
    const auto slot = evaluator().channel_slot(channel);
    return slot ? pose().channels[*slot] : 0;
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
