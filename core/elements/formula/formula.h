#pragma once

#include <string>
#include <vector>

#include "core/model/field.h"

namespace pivrak {

/// What stands for a name in a formula: a channel, a number with a unit, how far the clip is gone from 0 to
/// 1, the frame, the seconds since frame 0, the number of the part in its series.
enum class InputKind : std::uint8_t { Channel, Constant, Progress, Frame, Seconds, Number };
inline constexpr ChoiceWords<6> input_kind_words{"channel", "constant", "progress",
                                                 "frame",   "seconds",  "number"};
/// What a constant counts.
enum class ConstantKind : std::uint8_t { Plain, Ratio, Length, Angle, Time };
inline constexpr ChoiceWords<5> constant_kind_words{"plain", "ratio", "length", "angle", "time"};

struct FormulaInput {
    std::string name;  ///< in the formula
    InputKind kind = InputKind::Constant;
    ChannelRef channel;
    bool against = false;  ///< taken with its sign turned over, as a mirror image needs
    ConstantKind counts = ConstantKind::Plain;
    double value = 0;  ///< of a constant: [m], [rad], [s], or plain
    std::string lost;  ///< the channel it was until that was removed
    bool operator==(const FormulaInput&) const = default;

    /// Goes on as a number.
    void let_go(double with, std::string was) {
        kind = InputKind::Constant;
        counts = is_turn(channel.kind) ? ConstantKind::Angle
                 : channel.kind == ChannelKind::Count || channel.kind == ChannelKind::Bend ||
                         channel.kind == ChannelKind::Speed
                     ? ConstantKind::Plain
                 : has_no_unit(channel.kind) ? ConstantKind::Ratio
                                             : ConstantKind::Length;
        value = against ? -with : with;
        against = false;
        channel = {};
        lost = std::move(was);
    }

    template <class Self, class Visitor>
    static void fields(Self& self, Visitor& v) {
        v.text("name", self.name);
        v.choice("is", self.kind, input_kind_words);
        if (self.kind == InputKind::Channel) {
            v.channel("of", self.channel, Role::Held);
            v.flag("against", self.against);
        }
        v.choice("counts", self.counts, constant_kind_words, ConstantKind::Plain);
        v.number("value", self.value, {.usual = 0});
        v.text_if("lost", self.lost);
    }
};

/// A channel that is what a formula gives. Inputs are kept by id, so that no new name of a part touches it.
struct Formula {
    static constexpr std::string_view word = "formula";
    static constexpr std::string_view moved_by_words = "a formula";
    static constexpr std::string_view by_hand_words = "is what its formula gives; move what that takes";

    ChannelRef driven;
    std::string text;
    double unit_m = 1;  ///< the unit of its lengths, as it was written
    std::vector<FormulaInput> inputs;
    int number = 1;        ///< of the part in its series
    bool against = false;  ///< what it gives is turned over, as a mirror image needs
    bool off = false;      ///< it stays, and moves nothing
    bool operator==(const Formula&) const = default;

    std::optional<ChannelRef> moved_by() const {
        for (const FormulaInput& input : inputs)
            if (input.kind == InputKind::Channel) return input.channel;
        return std::nullopt;
    }
    Damaged damaged() const {
        if (text.size() > 4000 || inputs.size() > 50) return "a formula is too long or has too many inputs";
        if (!(unit_m > 0)) return "a formula's unit of length is nothing";
        for (std::size_t i = 0; i < inputs.size(); ++i)
            for (std::size_t k = 0; k < i; ++k)
                if (inputs[i].name == inputs[k].name) return "two inputs of a formula have one name";
        return std::nullopt;
    }

    template <class Self, class Visitor>
    static void fields(Self& self, Visitor& v) {
        v.channel("driven", self.driven, Role::Driven);
        v.text("text", self.text);
        v.number("unit_m", self.unit_m, {.usual = 1});
        v.list("inputs", self.inputs);
        v.count("number", self.number, 1);
        v.flag("against", self.against);
        v.flag("off", self.off);
    }
    /// Lengths of a machine that is made so many times as large count in a unit that grows with it.
    void grow(double factor) {
        unit_m *= factor;
        for (FormulaInput& input : inputs)
            if (input.kind == InputKind::Constant && input.counts == ConstantKind::Length)
                input.value *= factor;
    }
    /// Makes it that of a mirror image, in which channels may count the other way round.
    template <class Sign>
    void mirror(const Sign& sign) {
        for (FormulaInput& input : inputs)
            if (input.kind == InputKind::Channel && sign(input.channel) < 0) input.against = !input.against;
        if (sign(driven) < 0) against = !against;
    }
};

}  // namespace pivrak
