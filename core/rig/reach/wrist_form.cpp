#include "core/rig/reach/wrist_form.h"

#include <algorithm>
#include <cmath>

#include "core/rig/reach/hinge_turns.h"

namespace pivrak {
namespace {

/// Less than this counts as square, parallel, or meeting; and of a bend as none.
constexpr double exact = 1e-12, least_bend = 1e-6;

double other_way(double turn_rad) {
    return turn_rad > 0 ? -1 : 1;
}

}  // namespace

/// How its axes lie against one another is the same in every pose.
std::optional<WristForm> WristForm::of(const ReachModel& model) {
    const auto& axes = model.tree.axes();
    if (axes.size() != 6 || model.tree.columns() != 6 || !model.asks_place || !model.asks_turn)
        return std::nullopt;
    for (std::uint32_t i = 0; i < 6; ++i)
        if (!axes[i].turns || model.held[i] || axes[i].column != i ||
            axes[i].carrier != static_cast<std::int32_t>(i) - 1)
            return std::nullopt;
    MotionFrames frames = model.tree.make_frames();
    model.tree.place(std::array<double, 6>{0.1, 0.2, 0.3, 0.4, 0.5, 0.6}, frames);
    const auto& d = frames.direction;
    const auto& p = frames.point;
    const auto is_square = [&](std::size_t a, std::size_t b) { return std::abs(d[a].dot(d[b])) < exact; };
    if (!is_square(0, 1) || d[1].cross(d[2]).norm() > exact || !is_square(3, 4) || !is_square(4, 5))
        return std::nullopt;
    const Vec3 wrist = WristForm{}.wrist_in(frames);
    for (const std::size_t i : {std::size_t{3}, std::size_t{4}, std::size_t{5}})
        if (beside_axis(d[i], wrist - p[i]).norm() > exact * model.size_m) return std::nullopt;
    return WristForm{};
}

/// Where the fourth hinge's line comes nearest to the fifth's, which is square to it.
Vec3 WristForm::wrist_in(const MotionFrames& frames) const {
    const Vec3& along = frames.direction[3];
    return frames.point[3] + along.dot(frames.point[4] - frames.point[3]) * along;
}

WristForm::Wanted WristForm::wanted(const ReachGoal& goal, const MotionFrames& frames,
                                    const MotionBody& tip_body) const {
    const Frame tip = frames.body(tip_body);
    return {goal.tip.translation +
                goal.tip.rotation * (tip.rotation.conjugate() * (wrist_in(frames) - tip.translation)),
            goal.tip.rotation};
}

std::optional<WristForm::Bends> WristForm::bends(const MotionFrames& frames) const {
    const auto& d = frames.direction;
    const auto& p = frames.point;
    const Vec3 wrist = wrist_in(frames), from = wrist - p[0];
    // The arm swings in a plane square to the second axis; the wrist stands so far on either side of the
    // first.
    const Vec3 out = d[0].cross(d[1]);
    const double shoulder = std::atan2(from.dot(out), from.dot(d[1])),
                 elbow = turn_about(d[1], beside_axis(d[1], p[2] - p[1]), beside_axis(d[1], wrist - p[2])),
                 bend = std::atan2(d[3].dot(d[4].cross(d[5])), d[3].dot(d[5]));
    for (const double one : {shoulder, elbow, bend})
        if (std::abs(std::sin(one)) < least_bend) return std::nullopt;
    return Bends{other_way(shoulder), std::copysign(1.0, elbow), other_way(bend)};
}

std::optional<std::array<double, 3>> WristForm::arm(const Vec3& wrist, const Bends& bends,
                                                    const MotionFrames& frames) const {
    const auto& d = frames.direction;
    const auto& p = frames.point;
    const Vec3 now = wrist_in(frames), from = wrist - p[0];
    const double across = from.dot(d[1]), out = from.dot(d[0].cross(d[1])), far = std::hypot(across, out),
                 beside = (now - p[0]).dot(d[1]);
    if (std::abs(beside) >= far * (1 - least_bend * least_bend)) return std::nullopt;
    const double first = std::atan2(out, across) + bends.shoulder * std::acos(beside / far);
    const Vec3 goal = p[0] + turned(d[0], -first, from) - p[1];
    const auto turns = two_turns(d[1], beside_axis(d[1], p[2] - p[1]), beside_axis(d[1], now - p[2]),
                                 beside_axis(d[1], goal), bends.elbow);
    if (!turns || !turns->is_reached) return std::nullopt;
    return std::array{first, turns->first, turns->second};
}

std::optional<WristForm::Turns> WristForm::bent(const Wanted& wanted, const Bends& bends,
                                                const MotionFrames& frames, const Quat& tip) const {
    const auto& d = frames.direction;
    const auto turns = arm(wanted.wrist, bends, frames);
    if (!turns) return std::nullopt;
    // What is left for the wrist to turn, in the arm's axes as they stand now.
    const Quat by_arm = Quat(Eigen::AngleAxisd((*turns)[0], d[0])) *
                        Quat(Eigen::AngleAxisd((*turns)[1] + (*turns)[2], d[1])),
               left = by_arm.conjugate() * wanted.tip * tip.conjugate();
    const Vec3 last = left * d[5], side = d[4].cross(d[5]);
    const double cosine = d[3].dot(last);
    if (std::abs(cosine) > 1 - 0.5 * least_bend * least_bend) return std::nullopt;
    const double fifth = std::atan2(d[3].dot(side), d[3].dot(d[5])) + bends.wrist * std::acos(cosine);
    const Vec3 before = std::cos(fifth) * d[5] + std::sin(fifth) * side;
    const double fourth = turn_about(d[3], beside_axis(d[3], before), beside_axis(d[3], last));
    const double sixth = turn_about(d[5], d[4], turned(d[4], -fifth, turned(d[3], -fourth, left * d[4])));
    const double third = (*turns)[2] * std::copysign(1.0, d[1].dot(d[2]));
    return Turns{(*turns)[0], (*turns)[1], third, fourth, fifth, sixth};
}

std::optional<WristForm::Turns> WristForm::stay(const ReachGoal& goal, const MotionFrames& frames,
                                                const MotionBody& tip) const {
    const auto bent_as = bends(frames);
    if (!bent_as) return std::nullopt;
    return bent(wanted(goal, frames, tip), *bent_as, frames, frames.body(tip).rotation);
}

void WristForm::all(const ReachGoal& goal, const MotionFrames& frames, const MotionBody& tip,
                    std::vector<Turns>& found) const {
    const Wanted wants = wanted(goal, frames, tip);
    const Quat rotation = frames.body(tip).rotation;
    for (const double shoulder : {1.0, -1.0})
        for (const double elbow : {1.0, -1.0})
            for (const double wrist : {1.0, -1.0})
                if (const auto turns = bent(wants, {shoulder, elbow, wrist}, frames, rotation))
                    found.push_back(*turns);
}

}  // namespace pivrak
