#include "core/rig/formulas/formula_quantity.h"

#include <utility>

namespace pivrak {
namespace {

FormulaQuantity joined(const FormulaQuantity& a, const FormulaQuantity& b, int sign) {
    const auto sum = [&](std::int8_t x, std::int8_t y) { return static_cast<std::int8_t>(x + sign * y); };
    FormulaQuantity out{sum(a.length, b.length), sum(a.angle, b.angle), sum(a.time, b.time),
                        sum(a.frames, b.frames)};
    out.plain = out.has_none() && (a.plain || b.plain);
    return out;
}

}  // namespace

bool FormulaQuantity::goes_with(const FormulaQuantity& other) const {
    if ((plain && has_none()) || (other.plain && other.has_none())) return true;
    return length == other.length && angle == other.angle && time == other.time && frames == other.frames;
}

FormulaQuantity times(const FormulaQuantity& a, const FormulaQuantity& b) {
    return joined(a, b, 1);
}

FormulaQuantity over(const FormulaQuantity& a, const FormulaQuantity& b) {
    return joined(a, b, -1);
}

FormulaQuantity to_the(const FormulaQuantity& a, int power) {
    const auto by = [&](std::int8_t x) { return static_cast<std::int8_t>(x * power); };
    return {by(a.length), by(a.angle), by(a.time), by(a.frames), a.plain};
}

FormulaQuantity quantity_of(ChannelKind kind) {
    if (is_turn(kind)) return angle_quantity;
    if (kind == ChannelKind::Bend) return over(ratio_quantity, length_quantity);
    if (kind == ChannelKind::Speed) return over(length_quantity, time_quantity);
    if (kind == ChannelKind::Count) return plain_quantity;
    return has_no_unit(kind) ? ratio_quantity : length_quantity;
}

std::string words_for(const FormulaQuantity& quantity) {
    if (quantity.has_none()) return "a ratio";
    std::string above, below;
    for (const auto& [power, word] : {std::pair(quantity.length, "length"),
                                      {quantity.angle, "angle"},
                                      {quantity.time, "time"},
                                      {quantity.frames, "count of frames"}})
        for (int i = 0; i < (power < 0 ? -power : power); ++i)
            (power > 0 ? above : below) +=
                (power > 0 ? above : below).empty() ? word : std::string(" ") + word;
    if (above.empty()) return "one per " + below;
    const std::string article = above.front() == 'a' ? "an " : "a ";
    return article + above + (below.empty() ? "" : " per " + below);
}

}  // namespace pivrak
