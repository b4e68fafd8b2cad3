#pragma once

#include <cmath>

namespace pivrak {

/// Frames to pixels and back.
struct Ruler {
    double first_frame = 0, last_frame = 120;
    double left_px = 0, right_px = 100;

    double pixels_per_frame() const { return (right_px - left_px) / (last_frame - first_frame); }
    double x_at(double frame) const { return left_px + (frame - first_frame) * pixels_per_frame(); }
    double frame_at(double x) const { return first_frame + (x - left_px) / pixels_per_frame(); }

    /// Frames between labelled ticks: the smallest of a friendly row that leaves `least_px` between labels.
    double label_step(double least_px) const {
        for (double decade = 1;; decade *= 10)
            for (const double step : {1.0, 2.0, 3.0, 4.0, 6.0})
                if (decade * step * pixels_per_frame() >= least_px) return decade * step;
    }
};

}  // namespace pivrak
