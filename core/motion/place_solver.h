#pragma once

#include <span>
#include <vector>

#include "core/motion/evaluator.h"

namespace pivrak {

/// A place of a part that shall come to another one by some channels, at a frame.
struct PlaceWanted {
    PartId part;
    Vec3 place;  ///< in the part's own frame [m]
    Vec3 to;     ///< in the world [m]
    double frame = 0;
};

/// The channels by which a place moves at all at a frame, of those given.
std::vector<ChannelRef> moving_channels(const Evaluator& evaluator, const PlaceWanted& wanted,
                                        std::span<const ChannelRef> of);

/// Values of channels [rad or m] that bring the place as near as they can, each as little changed as that
/// allows, inside their limits. Damped least squares from where they stand. Pre: channels of the evaluator.
std::vector<double> bring_place(const Evaluator& evaluator, const PlaceWanted& wanted,
                                std::span<const ChannelRef> channels);

/// The channels of a clip that have a key on a frame and are free to move, in the order of its tracks.
std::vector<ChannelRef> keyed_at(const Document& document, const Clip& clip, double frame);

}  // namespace pivrak
