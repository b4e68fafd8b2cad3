#pragma once

/// Sizes of the time strip's lanes [px].
namespace pivrak::lane_px {

inline constexpr int label_width = 190, ruler_height = 30, lane_height = 24, right_margin = 26;

}  // namespace pivrak::lane_px
