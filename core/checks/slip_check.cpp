#include "core/checks/slip_check.h"

#include <cmath>

#include "core/motion/bake.h"

namespace pivrak {
namespace {

constexpr int moments_a_frame = 16;  // so that a turn between two of them is far from half a round

class Watch {
public:
    Watch(const Document& document, const Tree& tree, const Evaluator& evaluator, PartId wheel) {
        const Part& part = *document.parts.find(wheel);
        slip.wheel = wheel;
        slip.radius_m = evaluator.rolling_radius(wheel);
        slot_ = *evaluator.part_slot(wheel);
        axis_ = part.joint.axis;
        middle_ = measure_wheel(wheel_shapes(document, tree, wheel)).middle_m;
        for (std::size_t i = 0; i < evaluator.wheels().size(); ++i)
            if (evaluator.wheels()[i] == wheel) contact_ = static_cast<int>(i);
    }

    WheelSlip slip;

    void begin(const Pose& pose) { last_ = pose.world_from_part[slot_]; }

    void move(const Pose& pose) {
        const Frame now = pose.world_from_part[slot_];
        const Vec3 axle = (last_.axis(axis_) + now.axis(axis_)).normalized();
        static const WheelStand level;
        const WheelStand& stand = contact_ >= 0 ? pose.wheels[static_cast<std::size_t>(contact_)] : level;
        const Vec3& up = stand.normal;
        const double radius = stand.radius_m > 0 ? stand.radius_m : slip.radius_m;
        const Vec3 across = axle.cross(up);
        if (across.norm() > 1e-6) {
            const Vec3 forward = across.normalized();
            const Vec3 moved = hub(now) - hub(last_);
            // How far the tyre turned about its axle, whatever turned it.
            const Quat turn = now.rotation * last_.rotation.conjugate();
            const double turned = std::remainder(2 * std::atan2(turn.vec().dot(axle), turn.w()), 2 * pi);
            const Vec3 turns = 2 * std::copysign(1.0, turn.w()) * turn.vec();
            slid_ += moved.dot(forward) - radius * turned - stand.edge_m * turns.dot(up);
            // Where it touches is carried sideways by its hub, and by any leaning.
            const double leaned = radius * turns.dot(forward);
            slip.sideways_m += std::abs(moved.dot(axle) + leaned);
            slip.travelled_m += std::abs(moved.dot(forward));
            slip.slip_m = std::max(slip.slip_m, std::abs(slid_));
        }
        last_ = now;
    }

    void frame(const Pose& pose, double frame) {
        slip.slip_by_frame_m.push_back(slid_);
        if (contact_ < 0) return;
        const WheelStand& stand = pose.wheels[static_cast<std::size_t>(contact_)];
        if (stand.gap_m > slip.largest_gap_m) {
            slip.largest_gap_m = stand.gap_m;
            slip.gap_frame = frame;
        }
        if (-stand.gap_m > slip.deepest_m) {
            slip.deepest_m = -stand.gap_m;
            slip.deep_frame = frame;
        }
    }

private:
    Vec3 hub(const Frame& wheel) const { return wheel.translation + middle_ * wheel.axis(axis_); }

    std::size_t slot_ = 0;
    int axis_ = 1, contact_ = -1;
    double middle_ = 0, slid_ = 0;
    Frame last_;
};

}  // namespace

Result<SlipCheck> slip_check(const Document& document, ClipId clip_id, const Progress& progress) {
    PIVRAK_TRY(evaluator, Evaluator::compile(document, clip_id));
    const Tree tree(document);
    std::vector<Watch> watches;
    for (const Coupling& c : document.couplings)
        // Sprockets and idlers do not touch the ground.
        if (c.roll() && !c.roll()->like && evaluator.rolling_radius(c.driven().part) > 0)
            watches.emplace_back(document, tree, evaluator, c.driven().part);
    if (watches.empty()) return Error{"slip.none", "no wheel rolls; let wheels roll first", ""};
    SlipCheck out;
    out.frames = clip_frames(clip_or_first(document, clip_id));
    Pose pose = evaluator.make_pose();
    evaluator.evaluate(out.frames.front(), pose);
    for (Watch& watch : watches) {
        watch.begin(pose);
        watch.frame(pose, out.frames.front());
    }
    for (std::size_t i = 1; i < out.frames.size(); ++i) {
        if (!progress.go_on(static_cast<double>(i) / static_cast<double>(out.frames.size()),
                            "measuring slip"))
            return Error{"slip.cancelled", "cancelled", ""};
        const double from = out.frames[i - 1], step = out.frames[i] - from;
        for (int k = 1; k <= moments_a_frame; ++k) {
            evaluator.evaluate(from + step * k / moments_a_frame, pose);
            for (Watch& watch : watches) watch.move(pose);
        }
        for (Watch& watch : watches) watch.frame(pose, out.frames[i]);
    }
    for (Watch& watch : watches) out.wheels.push_back(std::move(watch.slip));
    return out;
}

}  // namespace pivrak
