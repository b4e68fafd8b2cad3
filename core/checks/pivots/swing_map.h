#pragma once

#include <vector>

#include "core/base/progress.h"
#include "core/base/result.h"
#include "core/model/document.h"

namespace pivrak {

struct SwingMapOptions {
    Limits first, second;  ///< ranges to sweep [rad or m], of each part's turn or else its shift
    int steps = 36;        ///< of either; there is one more value
};

/// How far two moving parts, with all they carry, are from everything else and from each other, for all pairs
/// of two joints' values: a door and the window in it, or two doors side by side.
struct SwingMap {
    ChannelRef first, second;
    std::vector<double> first_values, second_values;
    struct Cell {
        double clearance_m = 0;  ///< infinite where there is nothing to meet; 0 where they touch or cut
        PartId neighbour;        ///< the part that is nearest to one of those that move
    };
    std::vector<Cell> cells;       ///< `first` by `second`, the second running fastest
    std::vector<PartId> touching;  ///< left out, since they touch at rest: hinges and seals

    const Cell& at(std::size_t first_index, std::size_t second_index) const {
        return cells[first_index * second_values.size() + second_index];
    }
    double contact_share() const;  ///< share of the cells without clearance, 0 to 1
};

/// Other joints stand at rest. Where one part carries the other, they are swept as carrier and carried
/// whichever comes first. Errors: `swing.fixed`, `swing.no_shape`, `swing.range`, `swing.itself`,
/// `swing.cancelled`.
Result<SwingMap> swing_map(const Document& document, PartId first, PartId second,
                           const SwingMapOptions& options, const Progress& progress = {});

}  // namespace pivrak
