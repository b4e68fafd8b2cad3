#pragma once

#include <gtest/gtest.h>

#include <map>
#include <string>
#include <vector>

#include "demo/vehicles.h"
#include "tests/support/documents.h"

namespace pivrak::test {

/// How far a part's hinge line is from where it really turns.
struct HingeError {
    double offset_m = 1e300, angle_rad = 1e300;
};

inline HingeError hinge_error(const Document& d, PartId id, const Vec3& point, const Vec3& direction) {
    const Part& part = *d.parts.find(id);
    const Frame world = world_from_rest(d, id);
    const Vec3 axis = world.axis(part.joint.axis), from = point - world.translation;
    return {(from - from.dot(axis) * axis).norm(),
            std::atan2(axis.cross(direction).norm(), std::abs(axis.dot(direction)))};
}

/// Every line of the truth has a hinged part on it, within 0.05 mm and 0.02 degrees, among those that may be
/// it.
inline void expect_hinges_true(const Document& d, const std::vector<demo::HingeTruth>& truths,
                               const std::map<std::string, std::vector<std::string>>& parts) {
    for (const demo::HingeTruth& truth : truths) {
        SCOPED_TRACE(truth.part);
        const Part& still = *d.parts.find(named(d, truth.middle_of));
        const Vec3 middle = mesh_bounds(*d.shapes.find(still.shape)->mesh,
                                        world_from_rest(d, still.id) * still.part_from_shape)
                                .middle();
        HingeError best;
        for (const std::string& name : parts.at(truth.part)) {
            const PartId id = named(d, name);
            EXPECT_EQ(d.parts.find(id)->joint.kind, JointKind::Hinge) << name;
            const HingeError error = hinge_error(d, id, middle + truth.point_m, truth.direction);
            if (error.offset_m < best.offset_m) best = error;
        }
        EXPECT_LT(best.offset_m, 0.05e-3);
        EXPECT_LT(best.angle_rad, 0.02 * rad_per_deg);
    }
}

}  // namespace pivrak::test
