#pragma once

#include <cstddef>

/// Where a curve sheet has its margins, and how large its keys are [px].
namespace pivrak::curve_px {

inline constexpr double left = 64, right = 18, top = 8, foot = 20, key = 4.5, grip = 8, catches = 6;
inline constexpr std::size_t many = 40;      // curves that are drawn plainly
inline constexpr double speed_share = 0.34;  // of the height, for speeds below

}  // namespace pivrak::curve_px
