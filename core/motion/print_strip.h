#pragma once

#include <vector>

#include "core/base/progress.h"
#include "core/motion/evaluator.h"

namespace pivrak {

/// A wheel's print as it lies on the ground when a clip has run, and how far it had grown at each moment. In
/// the world's axes.
struct PrintStrip {
    /// Points across the print, left to right, so far along the way [m].
    struct Row {
        double way_m = 0;
        bool starts = false;  ///< nothing is printed between the row before and this one
        std::vector<Vec3> places, normals;
    };
    PrintId print;
    std::vector<Row> rows;            ///< by rising way
    std::vector<double> looks, ways;  ///< frames, and how far it had grown by then [m]
    double tile_m = 1;
    MaterialId material;
    double burial_m = 0;  ///< the most that the ground stands above it between its points

    double length_m() const { return rows.empty() ? 0 : rows.back().way_m; }
    /// How far along the way it is printed at a frame [m].
    double way_at(double frame) const;
    /// Length printed before a place of its way, gaps apart [m].
    double printed_m(double way_m) const;
    /// The stretch between two places of its way, cut exactly: quads in the order in which they are printed;
    /// pictures run once across it, and once along every `tile_m`. Empty where nothing is printed.
    Mesh piece(double from_m, double to_m) const;
    /// The number of indices of the whole piece that lie before a place of its way, in whole rows, and where
    /// the last of these rows is.
    std::pair<std::uint32_t, double> whole_rows(double way_m) const;
};

/// Follows the wheels through a clip and lays their prints on the ground at rest, in one pass. A print grows
/// while the wheel goes further than it was in the direction in which it first went, and has gaps where the
/// wheel is off the ground. A wheel that leans prints as much of its tread as sinks 10 mm into the ground.
/// Those whose wheels are no hinges with a shape are left out; findings tell. Errors: those of
/// `Evaluator::compile`, `print.cancelled`.
Result<std::vector<PrintStrip>> lay_prints(const Document& document, ClipId clip = {},
                                           const Progress& progress = {});

}  // namespace pivrak
