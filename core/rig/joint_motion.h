#pragma once

#include "core/model/part.h"

namespace pivrak {

/// Where a joint puts a part against its rest frame, for a given turn [rad].
inline Frame rest_from_part(const Joint& joint, double turn_rad) {
    if (joint.kind == JointKind::Fixed) return {};
    return {turn_about_axis(joint.axis, turn_rad), Vec3(0, 0, 0)};
}

}  // namespace pivrak
