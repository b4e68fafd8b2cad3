#pragma once

#include <vector>

#include "core/base/progress.h"
#include "core/motion/evaluator.h"

namespace pivrak {

/// A place of a part at moments of a clip.
struct PlaceCourse {
    std::vector<double> frames;
    std::vector<Vec3> places;        ///< in the world [m]
    std::vector<double> speeds_m_s;  ///< along its way, from the moments beside each

    double way_m() const;
    /// The number of the moment at which it is fastest. Pre: there are some.
    std::size_t fastest() const;
};

/// At every frame of a clip; of a longer one at so many moments. `place` is in the part's own frame [m].
/// Cancelled it has fewer. Errors: those of `Evaluator::compile`, `part.unknown`.
Result<PlaceCourse> place_course(const Document& document, ClipId clip, PartId part, const Vec3& place,
                                 const Progress& progress = {}, std::size_t most = 600);

/// The least clearance of two parts, with all that is fixed to each, over a clip.
struct LeastClearance {
    double clearance_m = 0, frame = 0;
};

/// At every frame and half way between. Errors: those of `Evaluator::compile`, `clearance.none` where a part
/// has no shape, `clearance.cancelled`.
Result<LeastClearance> least_clearance(const Document& document, ClipId clip, PartId a, PartId b,
                                       const Progress& progress = {});

}  // namespace pivrak
