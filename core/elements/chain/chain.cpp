#include "core/elements/chain/chain.h"

namespace pivrak {

Damaged Chain::damaged() const {
    if (!can_be_pitch(pitch_m) || link_count < 3 || link_count > most_links || pattern < 1)
        return "a chain has no length";
    if (wheels.size() < fewest_wheels() || (!ends && slack_after >= wheels.size()))
        return "a chain has too few wheels";
    for (const ChainWheel& wheel : wheels)
        if (wheel.teeth < 0 || (wheel.teeth == 0 && !(wheel.radius_m > 0)))
            return "a wheel of a chain has no size";
    if (!links.empty() && links.size() != static_cast<std::size_t>(link_count))
        return "a chain has more or fewer links than it counts";
    return std::nullopt;
}

}  // namespace pivrak
