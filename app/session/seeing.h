#pragma once

#include <memory>

#include "core/motion/place_course.h"

namespace pivrak {

/// What is seen of a clip's motion beside the present frame.
struct Seeing {
    bool path = false;          ///< of the part picked last
    int before = 0, after = 0;  ///< pale poses of the picked parts
    double step = 4;            ///< frames from one to the next
    /// The way of a place of it; null until it is worked out, or while another part is picked.
    std::shared_ptr<const PlaceCourse> course = {};
    PartId of = {};
    Vec3 place{0, 0, 0};  ///< in its own frame [m]; its pivot unless another one was clicked
    bool operator==(const Seeing&) const = default;
};

}  // namespace pivrak
