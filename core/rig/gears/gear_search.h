#pragma once

#include <utility>
#include <vector>

namespace pivrak {

/// Which trains of gear pairs are looked for. `ratio` is how often the first shaft turns for one turn of the
/// last.
struct GearSearch {
    double ratio = 1;
    int stages = 1;  ///< pairs in a row, 1 to 3
    int least_teeth = 12, most_teeth = 100;
    int teeth_in_pair = 0;  ///< of both gears of each pair, as centre distance and module ask; 0: any
    std::size_t answers = 12;
};

struct GearAnswer {
    std::vector<std::pair<int, int>> stages;  ///< teeth of driver and driven
    double ratio = 1;
    double error_ppm = 0;  ///< against what was asked
    int teeth = 0;         ///< of all gears
    bool operator==(const GearAnswer&) const = default;
};

/// The trains whose ratio is nearest to the one asked for, nearest first, of equal ones the smallest. No
/// pair stands twice: 20:40 · 30:60 and 30:60 · 20:40 are one. Exhaustive within the range of teeth; empty
/// when the range is.
std::vector<GearAnswer> find_gear_trains(const GearSearch& search);

/// How many planets may stand evenly round a sun and in a ring, 2 to `most`.
/// Source: assembly condition, (teeth of sun + teeth of ring) / planets is whole.
std::vector<int> even_planets(int sun_teeth, int ring_teeth, int most = 12);

}  // namespace pivrak
