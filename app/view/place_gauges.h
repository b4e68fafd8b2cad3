#pragma once

#include <nlohmann/json.hpp>
#include <optional>

#include "app/gauges/joint_gauges.h"
#include "app/session/session.h"

namespace pivrak {

/// A way or a turn by which the picked parts are moved at rest, in the hand: three rules along the world's
/// axes and three dials about them, at the pivot of the part picked last.
struct PlaceHand {
    ChannelKind kind = ChannelKind::ShiftX;
    double value = 0;  ///< [m or rad]
    /// Where its gauges were taken: what they move may carry the part that they stand at.
    std::optional<Frame> carried = {};
};

/// What the gauges are made from; none while nothing is picked. The axes stand as the carrier of the part
/// picked last carries them at the present frame, so that a part goes the way its rule shows. `bounds` is
/// what is moved.
std::optional<JointStand> place_stand(const Session& session, const Bounds& bounds, const PlaceHand& hand);

/// What the hand does to the world at rest.
Frame placed_by(const Session& session, const PlaceHand& hand);

/// The edit that it comes to.
nlohmann::json place_step(const Session& session, const PlaceHand& hand);

}  // namespace pivrak
