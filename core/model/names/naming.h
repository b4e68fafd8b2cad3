#pragma once

#include <cstdint>

namespace pivrak {

enum class NameLetters : std::uint8_t { Any, Lower, Capital };
enum class NameSeparator : std::uint8_t { Any, Space, Underscore, Hyphen };
enum class SideTags : std::uint8_t { Any, Words, Letters };

/// What a project asks of the names of its parts. As made it asks for nothing.
struct NamingConvention {
    NameLetters letters = NameLetters::Any;  ///< first letters of words: all small, or all capital
    NameSeparator separator = NameSeparator::Any;
    SideTags sides = SideTags::Any;  ///< `left` or `L`
    bool plain = false;              ///< nothing but a-z, A-Z, 0-9 and separators
    bool operator==(const NamingConvention&) const = default;

    bool asks_nothing() const { return *this == NamingConvention{}; }
};

}  // namespace pivrak
