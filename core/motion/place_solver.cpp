#include "core/motion/place_solver.h"

#include <algorithm>

#include "core/rig/driven_by.h"

namespace pivrak {
namespace {

constexpr double near_m = 1e-9, difference = 1e-5, least_effect_m = 1e-9;
constexpr int most_rounds = 40;

class PlaceSolver {
public:
    PlaceSolver(const Evaluator& evaluator, const PlaceWanted& wanted, std::span<const ChannelRef> channels)
        : evaluator_(evaluator), wanted_(wanted), pose_(evaluator.make_pose()) {
        evaluator.evaluate(wanted.frame, pose_);
        for (const ChannelRef channel : channels) {
            const std::size_t slot = *evaluator.channel_slot(channel);
            held_.push_back({slot, pose_.channels[slot]});
        }
    }

    Vec3 place() {
        evaluator_.evaluate(wanted_.frame, pose_, held_);
        return pose_.world_from_part[*evaluator_.part_slot(wanted_.part)].point(wanted_.place);
    }
    /// How the place moves with each channel.
    Eigen::Matrix3Xd slopes() {
        Eigen::Matrix3Xd slopes(3, held_.size());
        for (std::size_t i = 0; i < held_.size(); ++i) {
            const double value = held_[i].value;
            held_[i].value = value + difference;
            const Vec3 ahead = place();
            held_[i].value = value - difference;
            slopes.col(static_cast<Eigen::Index>(i)) = (ahead - place()) / (2 * difference);
            held_[i].value = value;
        }
        return slopes;
    }
    void solve() {
        double damping = 1e-4, off = (wanted_.to - place()).norm();
        for (int round = 0; round < most_rounds && off > near_m; ++round) {
            const Eigen::Matrix3Xd j = slopes();
            const Vec3 miss = wanted_.to - place();
            const Mat3 square = j * j.transpose();
            const double size = std::max(square.trace(), 1e-12);
            const Eigen::VectorXd step =
                j.transpose() * (square + damping * size * Mat3::Identity()).ldlt().solve(miss);
            const std::vector<HeldChannel> before = held_;
            for (std::size_t i = 0; i < held_.size(); ++i)
                held_[i].value += step[static_cast<Eigen::Index>(i)];
            // Limits hold what is asked.
            const double now = (wanted_.to - place()).norm();
            for (HeldChannel& one : held_) one.value = pose_.asked[one.slot];
            if (now < off) {
                damping = std::max(damping * 0.2, 1e-12);
                off = now;
            } else {
                held_ = before;
                damping *= 10;
                if (damping > 1e4) break;
            }
        }
    }
    std::vector<double> values() const {
        std::vector<double> values;
        for (const HeldChannel& one : held_) values.push_back(one.value);
        return values;
    }

private:
    const Evaluator& evaluator_;
    PlaceWanted wanted_;
    Pose pose_;
    std::vector<HeldChannel> held_;
};

}  // namespace

std::vector<ChannelRef> moving_channels(const Evaluator& evaluator, const PlaceWanted& wanted,
                                        std::span<const ChannelRef> of) {
    PlaceSolver solver(evaluator, wanted, of);
    const Eigen::Matrix3Xd slopes = solver.slopes();
    std::vector<ChannelRef> moving;
    for (std::size_t i = 0; i < of.size(); ++i)
        if (slopes.col(static_cast<Eigen::Index>(i)).norm() > least_effect_m) moving.push_back(of[i]);
    return moving;
}

std::vector<double> bring_place(const Evaluator& evaluator, const PlaceWanted& wanted,
                                std::span<const ChannelRef> channels) {
    PlaceSolver solver(evaluator, wanted, channels);
    solver.solve();
    return solver.values();
}

std::vector<ChannelRef> keyed_at(const Document& document, const Clip& clip, double frame) {
    const Drivers drivers(document);
    std::vector<ChannelRef> keyed;
    for (const Track& track : clip.tracks)
        if (track.key_at(frame) && !drivers.name(track.channel)) keyed.push_back(track.channel);
    return keyed;
}

}  // namespace pivrak
