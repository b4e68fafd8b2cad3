#pragma once

#include <algorithm>
#include <optional>
#include <vector>

#include "core/model/field.h"

namespace pivrak {

/// A point of a response curve [rad or m].
struct ResponsePoint {
    double driver = 0, answer = 0;
    std::optional<double> slope = {};  ///< of the answer for each of the driver; none to let it run smoothly
    bool operator==(const ResponsePoint&) const = default;
};

/// A channel that follows another one: `driven = offset + gain * answer`, in radians and metres. The answer
/// is the driver's value, or what a response curve gives for it.
struct Follow {
    static constexpr std::string_view word = "follow";

    ChannelRef driven, driver;
    double gain = 1;          ///< of the driven for each of the answer: rad/m where a turn follows a shift
    double offset = 0;        ///< the driven while the answer is 0 [rad or m]
    double delay_frames = 0;  ///< it does what the driver's keys asked so long before
    std::vector<ResponsePoint> curve;  ///< by rising driver; none for a straight answer
    bool straight = false;             ///< from point to point, with corners
    bool each_turn = false;            ///< of a cam: the curve begins again with each turn of the driver
    bool off = false;                  ///< it stays, and moves nothing
    bool operator==(const Follow&) const = default;

    std::optional<ChannelRef> moved_by() const { return driver; }
    Damaged damaged() const {
        if (delay_frames < 0 || delay_frames > 1e5) return "it follows before it is led, or much too late";
        if (curve.size() == 1) return "its response curve has one point alone";
        for (std::size_t i = 1; i < curve.size(); ++i)
            if (!(curve[i - 1].driver < curve[i].driver)) return "its response curve does not go on";
        if (straight &&
            std::ranges::any_of(curve, [](const ResponsePoint& p) { return p.slope.has_value(); }))
            return "its response curve has corners and slopes as well";
        if (each_turn && (curve.empty() || curve.back().driver - curve.front().driver > 2 * pi + 1e-9))
            return "its response curve is longer than a turn";
        return std::nullopt;
    }

    template <class Self, class Visitor>
    static void fields(Self& self, Visitor& v) {
        v.channel("driven", self.driven, Role::Driven);
        v.channel("driver", self.driver, Role::Held);
        v.number("gain", self.gain, {.usual = 1});
        v.number("offset", self.offset, {.usual = 0});
        v.number("delay_frames", self.delay_frames, {.usual = 0});
        v.pairs("curve", self.curve, &ResponsePoint::driver, &ResponsePoint::answer, &ResponsePoint::slope);
        v.flag("straight", self.straight);
        v.flag("each_turn", self.each_turn);
        v.flag("off", self.off);
    }
    /// Makes it that of a mirror image, in which channels may count the other way round.
    template <class Sign>
    void mirror(const Sign& sign) {
        const double led = sign(driver), leads = sign(driven);
        offset *= leads;
        gain *= curve.empty() ? leads * led : leads;
        if (led > 0) return;
        for (ResponsePoint& point : curve) {
            point.driver = -point.driver;
            if (point.slope) point.slope = -*point.slope;
        }
        std::reverse(curve.begin(), curve.end());
    }
    /// Lengths of a machine that is made so many times as large, with its joints. The curve's drivers are
    /// lengths or angles; the visitor has made them larger already.
    void grow(double factor) {
        const bool by_turn = is_turn(driver.kind), turns = is_turn(driven.kind);
        if (by_turn)
            for (ResponsePoint& point : curve) point.driver /= factor;
        else
            for (ResponsePoint& point : curve)
                if (point.slope) *point.slope /= factor;
        if (!turns) offset *= factor, gain *= factor;
        if (!by_turn && curve.empty()) gain /= factor;
    }
};

}  // namespace pivrak
