#include "core/io/gltf/thin_samples.h"

namespace pivrak {
namespace {

/// Grows each stretch as far as `holds(first, last)` says that everything between can be left out. The reach
/// doubles and is then narrowed, so a long even stretch is not checked at every length.
template <class Holds>
std::vector<std::size_t> grow_stretches(std::size_t count, Holds holds) {
    std::vector<std::size_t> kept;
    if (count == 0) return kept;
    std::size_t first = 0;
    kept.push_back(0);
    while (first + 1 < count) {
        std::size_t good = first + 1, step = 2;
        while (first + step < count && holds(first, first + step)) {
            good = first + step;
            step *= 2;
        }
        std::size_t bad = std::min(first + step, count);
        while (bad - good > 1) {
            const std::size_t middle = good + (bad - good) / 2;
            (holds(first, middle) ? good : bad) = middle;
        }
        kept.push_back(good);
        first = good;
    }
    return kept;
}

}  // namespace

std::vector<std::size_t> thin_rotations(std::span<const double> times, std::span<const Quat> values,
                                        const ThinOptions& options) {
    const auto holds = [&](std::size_t a, std::size_t b) {
        // The whole way is summed: the ends alone cannot tell one turn from none.
        double travelled = 0;
        for (std::size_t i = a; i < b; ++i) travelled += angle_between(values[i], values[i + 1]);
        if (travelled > options.longest_turn_rad) return false;
        for (std::size_t i = a + 1; i < b; ++i)
            if (angle_between(values[a].slerp((times[i] - times[a]) / (times[b] - times[a]), values[b]),
                              values[i]) > options.rotation_rad)
                return false;
        return true;
    };
    return grow_stretches(values.size(), holds);
}

std::vector<std::size_t> thin_translations(std::span<const double> times, std::span<const Vec3> values,
                                           const ThinOptions& options) {
    const auto holds = [&](std::size_t a, std::size_t b) {
        for (std::size_t i = a + 1; i < b; ++i) {
            const double t = (times[i] - times[a]) / (times[b] - times[a]);
            if ((values[a] + t * (values[b] - values[a]) - values[i]).norm() > options.translation_m)
                return false;
        }
        return true;
    };
    return grow_stretches(values.size(), holds);
}

}  // namespace pivrak
