#pragma once

#include "core/model/field.h"

namespace pivrak {

/// A channel that follows another one in proportion: `driven = offset + gain * driver`, in radians and
/// metres.
struct Follow {
    static constexpr std::string_view word = "follow";

    ChannelRef driven, driver;
    double gain = 1;          ///< of the driven for each of the driver: rad/m where a turn follows a shift
    double offset = 0;        ///< the driven while the driver is at 0 [rad or m]
    double delay_frames = 0;  ///< it does what the driver's keys asked so long before
    bool operator==(const Follow&) const = default;

    std::optional<ChannelRef> moved_by() const { return driver; }
    Damaged damaged() const {
        return delay_frames < 0 || delay_frames > 1e5
                   ? Damaged("it follows before it is led, or much too late")
                   : std::nullopt;
    }

    template <class Self, class Visitor>
    static void fields(Self& self, Visitor& v) {
        v.channel("driven", self.driven, Role::Driven);
        v.channel("driver", self.driver, Role::Held);
        v.number("gain", self.gain, {.usual = 1});
        v.number("offset", self.offset, {.usual = 0});
        v.number("delay_frames", self.delay_frames, {.usual = 0});
    }
    /// Makes it that of a mirror image, in which channels may count the other way round.
    template <class Sign>
    void mirror(const Sign& sign) {
        gain *= sign(driven) * sign(driver);
        offset *= sign(driven);
    }
};

}  // namespace pivrak
