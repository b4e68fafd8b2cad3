#pragma once

#include <array>
#include <nlohmann/json_fwd.hpp>
#include <optional>
#include <string_view>
#include <vector>

#include "core/geometry/types.h"
#include "core/model/channel.h"
#include "core/model/units.h"

namespace pivrak {

// An element tells its fields once, to whoever asks:
//
//     template <class Self, class Visitor>
//     static void fields(Self& self, Visitor& v) {
//         v.channel("driven", self.driven, Role::Driven);
//         v.part_if("ground", self.ground, Role::Outside);
//         v.number("slip", self.slip, {.usual = 0});
//     }
//
// Files, removal of parts, copies and mirror images follow from that. A field with a usual value may be
// missing in a file, and is not written while it has it.

/// What a part that an element names is to it.
enum class Role : std::uint8_t {
    Driven,   ///< it moves it. Without the part the element goes; a copy needs it copied
    Driver,   ///< is moved by it. As above
    Needed,   ///< as above
    Held,     ///< without the part the element goes; a copy keeps it when it is not copied
    Outside,  ///< without the part there is none; a copy keeps it when it is not copied
};

/// What becomes of a number in a mirror image.
enum class InMirror : std::uint8_t {
    Stays,
    Flips,     ///< changes its sign: a place to the left
    AsDriven,  ///< changes its sign where the channel that the element drives does
};

struct NumberField {
    Dimension dimension = Dimension::None;
    std::optional<double> usual{};
    InMirror in_mirror = InMirror::Stays;
    const char* formerly = nullptr;  ///< its name in earlier files
};

/// Takes no notice of any field: what a visitor is not about.
struct NoFields {
    template <class... Field>
    void id(const Field&...) {}
    template <class... Field>
    void text(const Field&...) {}
    /// A text that is mostly empty.
    template <class... Field>
    void text_if(const Field&...) {}
    template <class... Field>
    void channel(const Field&...) {}
    template <class... Field>
    void part(const Field&...) {}
    template <class... Field>
    void part_if(const Field&...) {}
    template <class... Field>
    void parts(const Field&...) {}
    template <class... Field>
    void id_if(const Field&...) {}
    void number(const char*, const double&, NumberField = {}) {}
    /// A number that is a channel of the element: it can be keyed, driven and limited.
    void own(const char*, ChannelKind, const Channel&, NumberField = {}) {}
    template <class... Field>
    void count(const Field&...) {}
    template <class... Field>
    void flag(const Field&...) {}
    /// Whose mirror image is the other way round.
    template <class... Field>
    void handed(const Field&...) {}
    template <class... Field>
    void choice(const Field&...) {}
    template <class... Field>
    void axis(const Field&...) {}
    template <class... Field>
    void vector(const Field&...) {}
    /// A unit vector.
    template <class... Field>
    void direction(const Field&...) {}
    /// A unit quaternion; none when it turns nothing.
    template <class... Field>
    void rotation(const Field&...) {}
    template <class... Field>
    void pairs(const Field&...) {}
    template <class... Field>
    void list(const Field&...) {}
    template <class... Field>
    void group(const Field&...) {}
    template <class... Field>
    void nested(const Field&...) {}
    template <class... Field>
    void unknown(const Field&...) {}
};

/// The words of an enum whose values count from 0, for files and commands.
template <std::size_t n>
using ChoiceWords = std::array<std::string_view, n>;

template <class T, std::size_t n>
std::string_view word_of(const ChoiceWords<n>& words, T value) {
    return words[static_cast<std::size_t>(value)];
}
template <class T, std::size_t n>
std::optional<T> value_of(const ChoiceWords<n>& words, std::string_view text) {
    for (std::size_t i = 0; i < n; ++i)
        if (words[i] == text) return static_cast<T>(i);
    return std::nullopt;
}

/// What is wrong with an element that was read, for a person; none when nothing is.
using Damaged = std::optional<std::string_view>;

}  // namespace pivrak
