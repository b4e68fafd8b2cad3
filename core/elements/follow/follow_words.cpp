#include "core/elements/follow/follow_words.h"

#include <fmt/format.h>

#include "core/base/words.h"
#include "core/model/joint_question.h"

namespace pivrak {

std::optional<std::string> joint_user(const Follow& follow, const JointQuestion& asked) {
    if (asked.lacks(follow.driver)) return asked.name(follow.driven.part());
    return asked.lacks(follow.driven) ? std::optional(asked.name(follow.driver.part())) : std::nullopt;
}

namespace {

/// Degrees and metres for what a channel counts in.
double typed_per_si(ChannelKind kind) {
    return is_turn(kind) ? deg_per_rad : 1;
}

std::string typed_value(ChannelKind kind, double value) {
    const char* unit = is_turn(kind) ? " deg" : has_no_unit(kind) ? "" : " m";
    return fmt::format("{:.12g}{}", value * typed_per_si(kind), unit);
}

}  // namespace

std::string gain_words(const Follow& follow) {
    if (!follow.curve.empty()) return follow.each_turn ? "cam" : "curve";
    const bool turn = is_turn(follow.driven.kind), by_turn = is_turn(follow.driver.kind);
    if (turn == by_turn) return fmt::format("× {:.4g}", follow.gain);
    if (turn) return format_angle(follow.gain) + " per m";
    const double each = follow.gain * 2 * pi;
    const bool small = std::abs(each) < 1;
    return format_length(each, small ? LengthUnit::Millimetre : LengthUnit::Metre, small ? 1 : 3) +
           " per turn";
}

std::string rule_words(const Follow& follow) {
    if (!follow.curve.empty())
        return fmt::format("by a curve of {}{}", counted(follow.curve.size(), "point"),
                           follow.each_turn ? ", again each turn" : "");
    const bool turn = is_turn(follow.driven.kind), by_turn = is_turn(follow.driver.kind);
    const double gain = typed_gain(follow);
    if (turn == by_turn) return fmt::format("{:.6g} times", gain);
    return fmt::format("{:.6g} {} for each {}", gain, turn ? "degrees" : "m", by_turn ? "degree" : "m");
}

double typed_slope(const Follow& follow, double slope) {
    return slope * typed_per_si(follow.driven.kind) / typed_per_si(follow.driver.kind);
}

double slope_from_typed(const Follow& follow, double typed) {
    return typed * typed_per_si(follow.driver.kind) / typed_per_si(follow.driven.kind);
}

double typed_gain(const Follow& follow) {
    const double answer = follow.curve.empty() ? typed_per_si(follow.driver.kind) : 1;
    return follow.gain * (follow.curve.empty() ? typed_per_si(follow.driven.kind) : 1) / answer;
}

double gain_from_typed(const Follow& follow, double typed) {
    if (!follow.curve.empty()) return typed;
    return slope_from_typed(follow, typed);
}

std::string curve_words(const Follow& follow) {
    std::string words;
    for (const ResponsePoint& point : follow.curve) {
        words +=
            fmt::format("{}{}: {}", words.empty() ? "" : ", ", typed_value(follow.driver.kind, point.driver),
                        typed_value(follow.driven.kind, point.answer));
        if (point.slope) words += fmt::format(" slope {:.12g}", typed_slope(follow, *point.slope));
    }
    return words;
}

}  // namespace pivrak
