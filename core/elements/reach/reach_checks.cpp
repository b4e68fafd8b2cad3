#include <fmt/format.h>

#include "core/checks/clip_check.h"
#include "core/checks/drive/drive_mapper.h"
#include "core/checks/element_check.h"
#include "core/elements/reach/reach_motion.h"

namespace pivrak {
namespace {

constexpr double least_missed_m = 1e-4, least_missed_rad = 0.01 * rad_per_deg;

/// Tells the frames at which a goal is missed, and where it is worst.
class ReachWatch final : public ClipWatch {
public:
    ReachWatch(const Reach& reach, const Evaluator& evaluator) : reach_(reach), evaluator_(evaluator) {}

    void look(const Pose& pose, double frame) override {
        const auto blend = evaluator_.channel_slot({reach_.id, ChannelKind::Blend});
        const auto miss = reach_miss(evaluator_, pose, reach_);
        if (!miss || !blend || pose.channels[*blend] < 1) return;
        if (miss->place_m < least_missed_m && miss->turn_rad < least_missed_rad) return;
        if (!first_) first_ = frame;
        last_ = frame;
        if (worst_ && miss->place_m <= worst_->place_m && miss->turn_rad <= worst_->turn_rad) return;
        worst_ = miss;
        worst_frame_ = frame;
    }

    void tell(ClipCheck& out) const override {
        if (!worst_) return;
        const std::string since = *first_ == last_ || !out.says_frames()
                                      ? ""
                                      : fmt::format(", and misses it from frame {} to {}", *first_, last_);
        out.add("reach.misses", reach_.tip,
                fmt::format("'{}' misses its goal by {} {}{}", reach_.name,
                            format_miss(worst_->place_m, worst_->turn_rad, out.document.settings.length_unit),
                            out.at(worst_frame_), since),
                worst_frame_);
    }

private:
    Reach reach_;
    const Evaluator& evaluator_;
    std::optional<ReachMiss> worst_;
    std::optional<double> first_;
    double last_ = 0, worst_frame_ = 0;
};

}  // namespace

void check(const Reach& reach, ElementCheck& out) {
    if (!reach.lost.empty())
        out.add(Stage::Rig, "reach.lost", reach.tip,
                fmt::format("'{}' is off: '{}', which it reached for, was removed; give it another goal or "
                            "remove it",
                            reach.name, reach.lost),
                {{"op", "reach.remove"}, {"reaches", {reach.id.value}}}, "Remove it");
    if (reach.off) return;
    const auto row = reach_row(out.document, reach);
    if (!row)
        out.add(Stage::Rig, "reach.without_effect", reach.tip,
                fmt::format("'{}' has no effect: {}", reach.name, row.error().message));
}

void watch(const Reach& reach, ClipCheck& out) {
    if (!reach.off) out.watch(std::make_unique<ReachWatch>(reach, out.evaluator));
}

void map(const Reach& reach, DriveMapper& out) {
    const Part* goal = out.document().parts.find(reach.goal);
    const auto row = reach_row(out.document(), reach);
    if (reach.off || !goal || !row) return;
    // By what moves the goal itself.
    if (goal->joint.kind == JointKind::Fixed) return;
    const ChannelRef from =
        goal->joint.kind == JointKind::Free ? out.moving_channel(*goal) : out.joint_channel(goal->id);
    for (const ChannelRef channel : row->channels)
        out.add(from, channel, with_blend("reaches", reach.blend.value));
}

}  // namespace pivrak
