// Where parts stand in the world at a frame.
#pragma once

#include <gtest/gtest.h>

#include <cmath>

#include "core/elements/constraint/constraint_motion.h"
#include "core/motion/evaluator.h"
#include "tests/support/documents.h"

namespace pivrak::test {

/// A turret on a mast that may turn about its z, with a barrel that nods about its y; a target that flies.
inline Document turret() {
    Document d = empty_document();
    const PartId mast = add_part(d, "mast", {}, {Quat(1, 0, 0, 0), Vec3(0.4, -0.2, 1)});
    const PartId head = add_part(d, "head", mast, {Quat(1, 0, 0, 0), Vec3(0, 0, 0.5)});
    add_part(d, "barrel", head, {Quat(1, 0, 0, 0), Vec3(0.1, 0, 0.2)});
    add_part(d, "target", {}, {Quat(1, 0, 0, 0), Vec3(3, 0, 2)});
    d = run(d, {{"op", "joint.set"}, {"parts", {"head"}}, {"kind", "hinge"}, {"axis", "z"}});
    d = run(d, {{"op", "joint.set"}, {"parts", {"barrel"}}, {"kind", "hinge"}, {"axis", "y"}});
    d = run(d, {{"op", "joint.set"}, {"parts", {"target"}}, {"kind", "free"}});
    for (const auto& [frame, x, y, z] :
         {std::tuple{0, 0.0, 0.0, 0.0}, {40, -2.0, 2.5, 1.0}, {80, -5.0, 1.0, 0.5}})
        for (const auto& [channel, value] : {std::pair{"shift_x", x}, {"shift_y", y}, {"shift_z", z}})
            d = run(d, {{"op", "key.set"},
                        {"parts", {"target"}},
                        {"channel", channel},
                        {"frame", frame},
                        {"value", value}});
    return d;
}

class At {
public:
    explicit At(const Document& d) : document_(d), evaluator_(Evaluator::compile(d)) {
        EXPECT_TRUE(evaluator_.ok()) << (evaluator_ ? "" : evaluator_.error().message);
        pose_ = evaluator_->make_pose();
    }
    At& operator()(double frame) {
        evaluator_->evaluate(frame, pose_);
        return *this;
    }
    Frame world(const char* name) const {
        return pose_.world_from_part[*evaluator_->part_slot(*find_part(document_, name))];
    }
    double value(const char* name, ChannelKind kind) const {
        return pose_.channels[*evaluator_->channel_slot({*find_part(document_, name), kind})];
    }
    std::optional<ConstraintMiss> miss(const char* name) const {
        for (const Constraint& c : document_.constraints)
            if (c.name == name) return constraint_miss(*evaluator_, pose_, c);
        return std::nullopt;
    }
    const Pose& pose() const { return pose_; }

private:
    const Document& document_;
    Result<Evaluator> evaluator_;
    Pose pose_;
};

inline double angle(const Vec3& a, const Vec3& b) {
    return std::atan2(a.cross(b).norm(), a.dot(b));
}

}  // namespace pivrak::test
