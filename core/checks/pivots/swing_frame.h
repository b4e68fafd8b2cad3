#pragma once

#include <optional>

#include "core/geometry/near/sweep_clearance.h"
#include "core/model/document.h"

namespace pivrak {

/// The one motion of a joint that a swing check sweeps: its turn, or its shift where it has no turn.
struct SwingMotion {
    ChannelRef channel;
    SweepKind kind;
    Frame world_from_motion;  ///< the part's own frame at rest, with the joint's axis as z

    /// Where the motion puts a frame that stands there at rest.
    Frame moved(const Frame& world_from_rest, double value) const;
};

/// None for joints that neither turn about nor shift along one axis.
std::optional<SwingMotion> swing_motion(const Document& document, PartId part);

/// Some parts at rest as a body in the frame of a motion; those without a shape are left out.
SweepBody swing_body(const Document& document, const SwingMotion& motion, const std::vector<PartId>& parts);

/// Those among some parts that have a shape.
std::vector<PartId> shaped_parts(const Document& document, const std::vector<PartId>& parts);

}  // namespace pivrak
