#include "core/checks/travel/slip_check.h"

#include <algorithm>
#include <cmath>

#include "core/motion/bake.h"
#include "core/rig/vehicles/wheel_ground.h"

namespace pivrak {
namespace {

constexpr int moments_a_frame = 16;  // so that a turn between two of them is far from half a round
constexpr int gaps_a_frame = 4;
constexpr double touching_m = 0.002;
/// A hub that goes more steeply than 75 degrees against what carries it is lifted and does not roll.
constexpr double steepest = 3.86;

/// One wheel, seen from outside: where its part stands in the world and what shape it has. What the rig
/// thinks of its turning is not asked, but for where a wheel that leans touches on its outline.
class Watch {
public:
    Watch(const Document& document, const Tree& tree, const Evaluator& evaluator, RigFacts& facts,
          PartId wheel)
        : ground_(wheel_ground(document, facts, wheel)), size_(facts.wheel(document, tree, wheel)) {
        const Part& part = *document.parts.find(wheel);
        slip.wheel = wheel;
        slip.radius_m = evaluator.rolling_radius(wheel);
        slot_ = *evaluator.part_slot(wheel);
        if (const auto parent = evaluator.part_slot(part.parent)) carrier_ = static_cast<int>(*parent);
        axis_ = part.joint.axis;
        up_in_carrier_ = world_from_rest(document, part.parent).rotation.conjugate() * Vec3::UnitZ();
        for (std::size_t i = 0; i < evaluator.wheels().size(); ++i)
            if (evaluator.wheels()[i] == wheel && ground_.leans) leaning_ = static_cast<int>(i);
        size_.radius_m += ground_.track_m;
    }

    WheelSlip slip;

    void begin(const Pose& pose, double frame) {
        last_ = pose.world_from_part[slot_];
        look_for_gap(pose, frame);
    }

    void move(const Pose& pose) {
        const Frame now = pose.world_from_part[slot_];
        const Vec3 axle = (last_.axis(axis_) + now.axis(axis_)).normalized();
        // What grows lifts its hub, and nothing is dragged by that.
        const double larger = now.size - last_.size;
        Vec3 moved = hub(now) - hub(last_);
        if (larger != 0) moved -= larger * slip.radius_m * up(pose);
        const WheelStand* lean = leaning_ >= 0 ? &pose.wheels[static_cast<std::size_t>(leaning_)] : nullptr;
        const Vec3 across = axle.cross(lean ? lean->normal : up(pose));
        if (touches_ && across.norm() > 1e-6) {
            const Vec3 forward = lean ? across.normalized() : way(moved, axle, across.normalized());
            const double radius = lean && lean->radius_m > 0 ? lean->radius_m
                                                             : (now.size - 0.5 * larger) * slip.radius_m,
                         edge = lean ? lean->edge_m : 0;
            // How far the tyre turned about its axle, whatever turned it.
            const Quat turn = now.rotation * last_.rotation.conjugate();
            const double turned = std::remainder(2 * std::atan2(turn.vec().dot(axle), turn.w()), 2 * pi);
            const Vec3 turns = 2 * std::copysign(1.0, turn.w()) * turn.vec();
            slid_ += moved.dot(forward) - radius * turned - edge * turns.dot(forward.cross(axle));
            // Where it touches is carried sideways by its hub, and by any leaning.
            slip.sideways_m += std::abs(moved.dot(axle) + radius * turns.dot(forward));
            slip.travelled_m += std::abs(moved.dot(forward));
            slip.slip_m = std::max(slip.slip_m, std::abs(slid_));
        }
        last_ = now;
    }

    void frame() { slip.slip_by_frame_m.push_back(slid_); }

    /// How far the tyre stands off its ground, from where the wheel stands in the world.
    void look_for_gap(const Pose& pose, double frame) {
        if (!ground_.stands) return;
        const Frame& wheel = pose.world_from_part[slot_];
        const auto gap =
            leaning_ >= 0 ? leaning_gap(ground_, wheel, axis_) : tyre_gap(ground_, wheel, axis_, size_);
        touches_ = gap && *gap <= touching_m;
        slip.has_ground = true;
        if (!gap) return;
        if (*gap > slip.largest_gap_m) {
            slip.largest_gap_m = *gap;
            slip.gap_frame = frame;
        }
        if (-*gap > slip.deepest_m) {
            slip.deepest_m = -*gap;
            slip.deep_frame = frame;
        }
    }

private:
    Vec3 hub(const Frame& wheel) const { return wheel.point(size_.middle_m * Vec3::Unit(axis_)); }

    Vec3 up(const Pose& pose) const {
        if (ground_.stands) return Vec3::UnitZ();
        return carrier_ < 0
                   ? up_in_carrier_
                   : pose.world_from_part[static_cast<std::size_t>(carrier_)].direction(up_in_carrier_);
    }

    /// What a wheel touches lies along its hub's way in the wheel's plane; where the hub is lifted straight
    /// up, or rests, along the level.
    static Vec3 way(const Vec3& moved, const Vec3& axle, const Vec3& level) {
        const Vec3 in_plane = moved - moved.dot(axle) * axle;
        const double whole = in_plane.norm(), ahead = in_plane.dot(level);
        if (whole < 1e-12 || whole > steepest * std::abs(ahead)) return level;
        return std::copysign(1 / whole, ahead) * in_plane;
    }

    WheelGround ground_;
    WheelSize size_;
    std::size_t slot_ = 0;
    int axis_ = 1, leaning_ = -1, carrier_ = -1;
    Vec3 up_in_carrier_{0, 0, 1};
    double slid_ = 0;
    bool touches_ = true;
    Frame last_;
};

}  // namespace

Result<SlipCheck> slip_check(const Document& document, ClipId clip_id, const Progress& progress) {
    RigFacts facts;
    PIVRAK_TRY(evaluator, Evaluator::compile(document, clip_id, &facts));
    const Tree tree(document);
    std::vector<Watch> watches;
    for (const Coupling& c : document.couplings)
        // Sprockets and idlers do not touch the ground.
        if (c.as<Roll>() && !c.as<Roll>()->like && evaluator.rolling_radius(c.driven().part()) > 0)
            watches.emplace_back(document, tree, evaluator, facts, c.driven().part());
    if (watches.empty()) return Error{"slip.none", "no wheel rolls; let wheels roll first", ""};
    SlipCheck out;
    out.frames = clip_frames(clip_or_first(document, clip_id));
    Pose pose = evaluator.make_pose();
    evaluator.evaluate(out.frames.front(), pose);
    for (Watch& watch : watches) {
        watch.begin(pose, out.frames.front());
        watch.frame();
    }
    for (std::size_t i = 1; i < out.frames.size(); ++i) {
        if (!progress.go_on(static_cast<double>(i) / static_cast<double>(out.frames.size()),
                            "measuring slip"))
            return Error{"slip.cancelled", "cancelled", ""};
        const double from = out.frames[i - 1], step = out.frames[i] - from;
        for (int k = 1; k <= moments_a_frame; ++k) {
            evaluator.evaluate(from + step * k / moments_a_frame, pose);
            for (Watch& watch : watches) {
                watch.move(pose);
                if (k % (moments_a_frame / gaps_a_frame) == 0)
                    watch.look_for_gap(pose, from + step * k / moments_a_frame);
            }
        }
        for (Watch& watch : watches) watch.frame();
    }
    for (Watch& watch : watches) out.wheels.push_back(std::move(watch.slip));
    return out;
}

}  // namespace pivrak
