#include "core/checks/drive/chain_check.h"

#include <cmath>

#include "core/elements/chain/chain_motion.h"
#include "core/motion/bake.h"

namespace pivrak {
namespace {

/// Where the pins of a chain stand against the gaps of its sprockets. At rest they were set; from then on
/// each pin must stay in its gap, however wheels were moved in between.
class TeethWatch {
public:
    TeethWatch(const Document& document, const Chain& chain, const Evaluator& evaluator) : chain_(chain) {
        frame_ = evaluator.part_slot(chain.frame);
        for (const ChainWheel& wheel : chain.wheels) {
            wheels_.push_back(evaluator.part_slot(wheel.part));
            axes_.push_back(document.parts.find(wheel.part)->joint.axis);
        }
    }

    void look(const Pose& pose, const ChainStand& stand, double at, bool first, ChainCourse& out) {
        if (!frame_ || !stand.fit.placed) return;
        const Frame plane_from_world = pose.world_from_part[*frame_].inverse();
        for (std::size_t i = 0; i < chain_.wheels.size(); ++i) {
            if (chain_.wheels[i].teeth <= 0 || !wheels_[i]) continue;
            const double angle = gap_angle(pose, plane_from_world, stand, i);
            if (first || rest_.size() <= i) {
                rest_.resize(chain_.wheels.size());
                rest_[i] = angle;
            }
            const double step = 2 * pi / chain_.wheels[i].teeth;
            const double off =
                std::abs(std::remainder(angle - rest_[i], step)) * stand.loop.circles[i].radius_m;
            if (off > out.off_teeth_m)
                out.off_teeth_m = off, out.off_teeth_at = at, out.off_wheel = chain_.wheels[i].part;
        }
    }

private:
    /// Angle of a seated pin about the wheel, counted from a mark that turns with it.
    double gap_angle(const Pose& pose, const Frame& plane_from_world, const ChainStand& stand,
                     std::size_t i) const {
        const ChainCircle& circle = stand.loop.circles[i];
        double best = 1e300, angle = 0;
        for (const Vec2& pin : stand.pins) {
            const Vec2 arm = pin - circle.centre;
            if (const double off = std::abs(arm.norm() - circle.radius_m); off < best)
                best = off, angle = std::atan2(arm.y(), arm.x());
        }
        const Vec3 mark =
            plane_from_world.direction(pose.world_from_part[*wheels_[i]].axis((axes_[i] + 1) % 3));
        return angle - std::atan2(mark.y(), mark.x());
    }

    const Chain& chain_;
    std::optional<std::size_t> frame_;
    std::vector<std::optional<std::size_t>> wheels_;
    std::vector<int> axes_;
    std::vector<double> rest_;
};

/// A cord that pulls, or goes on to a drum, has nowhere to hang.
void look_at_run(const Chain& chain, const ChainFit& fit, double asked_slack, double at, ChainCourse& out) {
    if (!chain.ends || chain.folds()) return;
    if ((chain.travels() || chain.take_up) && fit.slack_m - asked_slack > out.most_slack_m)
        out.most_slack_m = fit.slack_m - asked_slack, out.most_at = at;
    if (chain.ends->start == RunStart::Wound && fit.wound_rad < out.least_wound_rad)
        out.least_wound_rad = fit.wound_rad, out.wound_at = at;
}

}  // namespace

Result<std::vector<ChainCourse>> chain_course(const Document& document, ClipId clip_id, RigFacts* facts) {
    if (document.chains.empty()) return std::vector<ChainCourse>{};
    PIVRAK_TRY(evaluator, Evaluator::compile(document, clip_id, facts));
    std::vector<ChainCourse> courses;
    std::vector<TeethWatch> watches;
    Pose pose = evaluator.make_pose();
    for (const Chain& chain : document.chains) {
        if (!chain_stand(evaluator, pose, chain.id)) continue;
        courses.push_back({chain.id, 1e300});
        watches.emplace_back(document, chain, evaluator);
    }
    bool first = true;
    for (const double frame : clip_frames(clip_or_first(document, clip_id))) {
        evaluator.evaluate(frame, pose);
        for (std::size_t i = 0; i < courses.size(); ++i) {
            const ChainStand& stand = *chain_stand(evaluator, pose, courses[i].chain);
            ChainCourse& course = courses[i];
            if (!stand.fit.possible && course.possible) {
                course.possible = false;
                course.impossible_at = frame;
                const Chain& chain = *document.chains.find(course.chain);
                course.blocked = chain.folds() ? chain.frame : chain.wheels[stand.fit.blocked].part;
            }
            if (!stand.fit.possible) continue;
            if (stand.fit.slack_m < course.least_slack_m)
                course.least_slack_m = stand.fit.slack_m, course.least_at = frame;
            const auto slack = evaluator.channel_slot({course.chain, ChannelKind::Slack});
            look_at_run(*document.chains.find(course.chain), stand.fit, slack ? pose.channels[*slack] : 0,
                        frame, course);
            watches[i].look(pose, stand, frame, first, course);
        }
        first = false;
    }
    return courses;
}

}  // namespace pivrak
