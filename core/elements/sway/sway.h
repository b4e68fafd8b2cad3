#pragma once

#include "core/model/field.h"

namespace pivrak {

/// How it goes: by smooth chance, or evenly to and fro.
enum class SwayKind : std::uint8_t { Chance, Swing };
inline constexpr ChoiceWords<2> sway_kind_words{"chance", "swing"};

/// Lets a channel shake or swing about what keys and hands ask of it: `driven = asked + strength * wave`, a
/// wave from -1 to 1.
struct Sway {
    static constexpr std::string_view word = "sway";
    /// Keys and hands keep the channel.
    static constexpr bool adds_to_asked = true;

    ChannelRef driven;
    SwayKind goes = SwayKind::Chance;
    double strength = 0;      ///< [rad or m]
    double pace_hz = 1;       ///< swings in a second; chance turns about as often
    double delay_frames = 0;  ///< it does what one without a delay did so long before
    double seed = 0;          ///< another whole number, another chance
    bool with_clip = false;   ///< it repeats with the clip: whole swings, one pose and speed at both ends
    bool off = false;         ///< it stays, and moves nothing
    bool operator==(const Sway&) const = default;

    std::optional<ChannelRef> moved_by() const { return std::nullopt; }
    Damaged damaged() const {
        if (!(pace_hz > 0 && pace_hz <= 1000)) return "it sways never, or more than 1000 times a second";
        if (!(std::abs(delay_frames) <= 1e5)) return "it sways much too late";
        if (!(seed >= 0 && seed <= 4294967295.0 && seed == std::floor(seed)))
            return "its seed is no whole number from 0 to 4294967295";
        return std::nullopt;
    }

    template <class Self, class Visitor>
    static void fields(Self& self, Visitor& v) {
        v.channel("driven", self.driven, Role::Driven);
        v.choice("goes", self.goes, sway_kind_words, SwayKind::Chance);
        v.number("strength", self.strength, {.usual = 0});
        v.number("pace_hz", self.pace_hz, {.usual = 1});
        v.number("delay_frames", self.delay_frames, {.usual = 0});
        v.number("seed", self.seed, {.usual = 0});
        v.flag("with_clip", self.with_clip);
        v.flag("off", self.off);
    }
    /// Makes it that of a mirror image, in which channels may count the other way round.
    template <class Sign>
    void mirror(const Sign& sign) {
        strength *= sign(driven);
    }
    void grow(double factor) {
        if (!is_turn(driven.kind) && !has_no_unit(driven.kind)) strength *= factor;
    }
};

}  // namespace pivrak
