#pragma once

#include <string>
#include <string_view>
#include <unordered_map>
#include <unordered_set>
#include <vector>

#include "core/model/document.h"

namespace pivrak {

/// Names in a series, `steel 01` to `steel 23`, as wide as the largest number.
std::string series_name(const std::string& base, std::size_t number, std::size_t count);

/// Gives names that no part has yet: `Bolt` becomes `Bolt 2`, `Bolt 7` becomes `Bolt 8`.
class FreeNames {
public:
    explicit FreeNames(const Document& document);
    /// The name itself when it is free, or the next number behind it that is. It counts as taken from then
    /// on.
    std::string take(const std::string& wanted);
    void release(const std::string& name) {
        used_.erase(name);
        runs_.clear();
    }
    void reserve(const std::string& name) { used_.insert(name); }

private:
    /// Numbers behind one base that are taken, from the first to the last: many names of a series are asked
    /// for in turn.
    struct Run {
        std::size_t first, last;
    };

    std::unordered_set<std::string> used_;
    std::unordered_map<std::string, Run> runs_;
};

/// Which pair of side words a mirror exchanges.
enum class SideAxis { FrontRear, LeftRight, UpperLower };

/// The name with its side words exchanged: left and right, front and rear (or back), upper and lower (or top
/// and bottom), as words of their own or as the tags L R, F B, LH RH, FL FR RL RR (or BL BR) at an end or
/// between separators. Case is kept. A name without such a word stays as it is; letters inside words, of any
/// alphabet, are none.
std::string swap_sides(std::string_view name, SideAxis axis);

/// Words for a place against the middle of a whole, for example `front left`. A coordinate within a twentieth
/// of the size from the middle gives no word for its axis.
std::string side_words(const Vec3& place, const Bounds& whole);

}  // namespace pivrak
