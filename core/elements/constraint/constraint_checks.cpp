#include <fmt/format.h>

#include "core/checks/clip_check.h"
#include "core/checks/drive/drive_mapper.h"
#include "core/checks/element_check.h"
#include "core/elements/constraint/constraint_motion.h"

namespace pivrak {
namespace {

constexpr double least_told_m = 1e-5, least_told_rad = 1e-3 * rad_per_deg;

/// Tells the worst frame at which a limit or a lock keeps a joint from what is asked.
class MissWatch final : public ClipWatch {
public:
    MissWatch(const Constraint& constraint, const Evaluator& evaluator, const Part& part)
        : constraint_(constraint), evaluator_(evaluator), part_(part) {}

    void look(const Pose& pose, double frame) override {
        const auto blend = evaluator_.channel_slot({constraint_.id, ChannelKind::Blend});
        if (!blend || pose.channels[*blend] < 1 || !is_held(pose)) return;
        const auto miss = constraint_miss(evaluator_, pose, constraint_);
        if (!miss || (miss->place_m < least_told_m && miss->turn_rad < least_told_rad)) return;
        if (worst_ && miss->place_m <= worst_->place_m && miss->turn_rad <= worst_->turn_rad) return;
        worst_ = miss;
        frame_ = frame;
    }

    void tell(ClipCheck& out) const override {
        if (!worst_) return;
        out.add(
            "constraint.held", constraint_.part,
            fmt::format("'{}' misses by {} {}: '{}' stands at its limit", constraint_.name,
                        miss_words(*worst_, out.document.settings.length_unit), out.at(frame_), part_.name),
            frame_);
    }

private:
    /// Whether some channel that it moves can go no further.
    bool is_held(const Pose& pose) const {
        for (const ChannelKind kind : channels_of(part_.joint.kind)) {
            const Channel& channel = part_.joint.channel(kind);
            if (!constraint_.moves(part_.joint.kind, kind)) continue;
            if (channel.locked) return true;
            const auto slot = evaluator_.channel_slot({part_.id, kind});
            if (!slot || !channel.limits) continue;
            const double value = pose.channels[*slot];
            if (value <= channel.limits->min || value >= channel.limits->max) return true;
        }
        return false;
    }

    Constraint constraint_;
    const Evaluator& evaluator_;
    Part part_;
    std::optional<ConstraintMiss> worst_;
    double frame_ = 0;
};

/// The nearest joint, from a part upwards, that moves it.
std::optional<ChannelRef> moving_above(PartId part, const DriveMapper& out) {
    const auto& parts = out.document().parts;
    for (const Part* p = parts.find(part); p; p = parts.find(p->parent)) {
        if (p->ride) return ChannelRef{p->id, ChannelKind::Along};
        if (p->joint.kind == JointKind::Hinge || p->joint.kind == JointKind::Slide)
            return out.joint_channel(p->id);
        if (p->joint.kind == JointKind::Cylinder) return ChannelRef{p->id, ChannelKind::Shift};
        if (p->joint.kind == JointKind::Free) return out.moving_channel(*p);
        if (p->joint.kind == JointKind::Ball) return ChannelRef{p->id, ChannelKind::TurnZ};
    }
    return std::nullopt;
}

}  // namespace

void check(const Constraint& constraint, ElementCheck& out) {
    const Part* part = out.document.parts.find(constraint.part);
    if (!part) return;
    if (!constraint.lost.empty())
        out.add(Stage::Rig, "constraint.lost", part->id,
                fmt::format("'{}' is off: '{}', which it followed, was removed; give it another or remove it",
                            constraint.name, constraint.lost),
                {{"op", "constraint.remove"}, {"constraints", {constraint.id.value}}}, "Remove it");
    if (constraint.off) return;
    if (part->ride || part->tow)
        out.add(Stage::Rig, "constraint.without_effect", part->id,
                fmt::format("'{}' has no effect: '{}' hangs where its {} puts it", constraint.name,
                            part->name, part->ride ? "path" : "hitch"),
                {{"op", "constraint.remove"}, {"constraints", {constraint.id.value}}}, "Remove it");
    if (constraint.asks == Asks::Inside && constraint.bounds.empty())
        out.add(Stage::Rig, "constraint.no_bounds", part->id,
                fmt::format("'{}' has no bounds to keep inside", constraint.name));
}

void watch(const Constraint& constraint, ClipCheck& out) {
    const Part* part = out.document.parts.find(constraint.part);
    if (part && !constraint.off) out.watch(std::make_unique<MissWatch>(constraint, out.evaluator, *part));
}

void map(const Constraint& constraint, DriveMapper& out) {
    const Part* part = out.document().parts.find(constraint.part);
    if (!part || constraint.off) return;
    for (const PartId from : {constraint.target, constraint.second}) {
        const auto mover = moving_above(from, out);
        if (!mover) continue;
        for (const ChannelKind kind : channels_of(part->joint.kind))
            if (constraint.moves(part->joint.kind, kind)) {
                out.add(*mover, {part->id, kind},
                        with_blend(std::string(verb_of(constraint.asks)), constraint.blend.value));
                break;
            }
    }
}

}  // namespace pivrak
