#pragma once

#include <cmath>
#include <optional>
#include <string>

#include "core/model/document.h"

namespace pivrak {

/// Limits may be open at one end, which is infinite then.
inline bool is_closed(const Limits& limits) {
    return std::isfinite(limits.min) && std::isfinite(limits.max);
}

/// Closed limits, an open end as far from the other one, or from zero, as a reach [rad or m] asks.
inline Limits closed(const Limits& limits, double reach) {
    Limits out = limits;
    if (!std::isfinite(out.min)) out.min = (std::isfinite(out.max) ? out.max : reach) - 2 * reach;
    if (!std::isfinite(out.max)) out.max = out.min + 2 * reach;
    return out;
}

/// An end as a person reads it; `none` where it is open.
inline std::string format_end(ChannelKind kind, double end, const Document& document) {
    return std::isfinite(end) ? format_channel(kind, end, document) : "none";
}

}  // namespace pivrak
