#pragma once

#include <optional>
#include <string>

#include "core/model/document.h"

namespace pivrak {

/// The name of what moves a channel: a part, a vehicle, a chain, a rider ahead, a hitch; none when it is
/// free. Of a train of shafts, the one that turns this one.
std::optional<std::string> driver_name(const Document& document, ChannelRef channel);

/// Who could not be without what a part's joint has now, if it were `joint` instead: a coupling told by its
/// other part, a chain, a vehicle, a print. None when nobody minds.
std::optional<std::string> joint_user(const Document& document, PartId part, const Joint& joint);

/// How a shaft that nobody named as driven, and that follows another one which nothing moves, is turned by
/// hand: through that one. `value = constant + share * input`.
struct TrainHandle {
    ChannelRef input;
    double share = 1, constant = 0;
    double input_for(double value) const { return (value - constant) / share; }
};
/// None for a channel of no train, an input, and one whose train has drivers already.
std::optional<TrainHandle> train_handle(const Document& document, ChannelRef channel);

}  // namespace pivrak
