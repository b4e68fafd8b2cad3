// Mechanisms for tests, and where their parts stand.
#pragma once

#include <gtest/gtest.h>

#include <cmath>

#include "core/elements/linkage/linkage_motion.h"
#include "core/motion/evaluator.h"
#include "tests/support/documents.h"

namespace pivrak::test {

/// Lengths of a four-bar: crank, coupler, rocker, ground [m].
struct FourBarSizes {
    double crank, coupler, rocker, ground;
};

/// Where crank and rocker meet the coupler when the crank stands at an angle, the rocker on the upper side.
struct FourBarPose {
    Vec3 crank_end, rocker_end;
};
inline FourBarPose four_bar_pose(const FourBarSizes& s, double angle) {
    const Vec3 a(s.crank * std::cos(angle), s.crank * std::sin(angle), 0), far(s.ground, 0, 0);
    const Vec3 way = far - a;
    const double d = way.norm(), along = (d * d + s.coupler * s.coupler - s.rocker * s.rocker) / (2 * d);
    const double up = std::sqrt(std::max(0.0, s.coupler * s.coupler - along * along));
    const Vec3 unit = way / d, square(-unit.y(), unit.x(), 0);
    return {a, a + along * unit + up * square};
}

inline Frame turned(double angle, const Vec3& at) {
    return {turn_about_axis(2, angle), at};
}
inline double angle_of_line(const Vec3& way) {
    return std::atan2(way.y(), way.x());
}

/// A four-bar in the x-y plane, drawn with its crank at an angle: own x of each part points to its other end.
inline Document four_bar(const FourBarSizes& s, double angle, const std::string& name = "") {
    Document d = empty_document();
    const FourBarPose pose = four_bar_pose(s, angle);
    const PartId frame = add_part(d, name + "frame", {}, {turn_about_axis(0, 0.3), Vec3(0.2, 0.1, 0.4)});
    const double coupler = angle_of_line(pose.rocker_end - pose.crank_end);
    const PartId crank = add_part(d, name + "crank", frame, turned(angle, {0, 0, 0}));
    add_part(d, name + "coupler", crank, turned(coupler - angle, {s.crank, 0, 0}));
    const Vec3 foot(s.ground, 0, 0);
    add_part(d, name + "rocker", frame, turned(angle_of_line(pose.rocker_end - foot), foot));
    for (const char* part : {"crank", "coupler", "rocker"}) make_hinge(d, named(d, name + part));
    const Vec3 pin = world_from_rest(d, frame).point(pose.rocker_end);
    return run(d, {{"op", "linkage.close"},
                   {"a", name + "coupler"},
                   {"b", name + "rocker"},
                   {"at", {pin.x(), pin.y(), pin.z()}}});
}

/// Parts at a frame.
class Moved {
public:
    explicit Moved(const Document& d) : document_(d), evaluator_(Evaluator::compile(d)) {
        EXPECT_TRUE(evaluator_.ok()) << (evaluator_ ? "" : evaluator_.error().message);
        if (evaluator_) pose_ = evaluator_->make_pose();
    }
    Moved& operator()(double frame) {
        evaluator_->evaluate(frame, pose_);
        return *this;
    }
    Frame world(const std::string& name) const {
        return pose_.world_from_part[*evaluator_->part_slot(named(document_, name))];
    }
    /// Against another part.
    Frame in(const std::string& name, const std::string& other) const {
        return world(other).inverse() * world(name);
    }
    double value(const std::string& name, ChannelKind kind = ChannelKind::Turn) const {
        return pose_.channels[*evaluator_->channel_slot({named(document_, name), kind})];
    }
    ClosureMiss miss() const {
        ClosureMiss worst;
        for (const Linkage& linkage : document_.linkages) {
            const ClosureMiss one = linkage_miss(*evaluator_, pose_, linkage);
            worst.apart_m = std::max(worst.apart_m, one.apart_m);
            worst.turn_rad = std::max(worst.turn_rad, one.turn_rad);
        }
        return worst;
    }
    const Evaluator& evaluator() const { return *evaluator_; }
    const Pose& pose() const { return pose_; }

private:
    const Document& document_;
    Result<Evaluator> evaluator_;
    Pose pose_;
};

}  // namespace pivrak::test
