#include "core/geometry/clearance_curve.h"

#include <algorithm>
#include <atomic>
#include <future>
#include <thread>

namespace pivrak {
namespace {

/// Trees are not worth building for fewer values.
constexpr std::size_t least_values = 24;

struct Stretch {
    std::size_t first, end;
};

std::vector<Stretch> stretches(std::size_t count) {
    const std::size_t threads = std::max(1u, std::thread::hardware_concurrency());
    const std::size_t parts = std::clamp<std::size_t>(count / least_values, 1, threads);
    std::vector<Stretch> out;
    for (std::size_t i = 0; i < parts; ++i) out.push_back({count * i / parts, count * (i + 1) / parts});
    return out;
}

}  // namespace

std::optional<std::vector<Clearance>> clearance_curve(const SweepBody& moving, const SweepBody& standing,
                                                      SweepKind kind, const std::vector<double>& values,
                                                      const Progress& progress) {
    std::vector<Clearance> curve(values.size());
    std::atomic<bool> cancelled = false;
    const auto measure = [&](const Stretch& stretch, bool tells) {
        SweepClearance pair(std::make_shared<SweepTree>(moving, kind),
                            std::make_shared<SweepTree>(standing, kind));
        for (std::size_t i = stretch.first; i < stretch.end && !cancelled; ++i) {
            // The caller's thread tells how far they are; the others are about as far.
            if (tells && !progress.go_on(static_cast<double>(i) / static_cast<double>(stretch.end),
                                         "measuring clearance"))
                cancelled = true;
            curve[i] = pair.at(values[i]);
        }
    };
    const std::vector<Stretch> all = stretches(values.size());
    std::vector<std::future<void>> others;
    for (std::size_t i = 1; i < all.size(); ++i)
        others.push_back(std::async(std::launch::async, measure, all[i], false));
    measure(all.front(), true);
    for (std::future<void>& other : others) other.get();
    return cancelled ? std::nullopt : std::optional(std::move(curve));
}

}  // namespace pivrak
