#include "core/geometry/near/clearance_curve.h"

#include <algorithm>
#include <atomic>
#include <future>
#include <thread>

namespace pivrak {
namespace {

/// Neighbouring values that are measured in a row, since each one's nearest triangles bound the next.
constexpr std::size_t stretch = 24;

}  // namespace

std::optional<std::vector<Clearance>> clearance_curve(const SweepBody& moving, const SweepBody& standing,
                                                      SweepKind kind, const std::vector<double>& values,
                                                      const Progress& progress) {
    auto other_tree =
        std::async(std::launch::async, [&] { return std::make_shared<SweepTree>(standing, kind); });
    const auto moving_tree = std::make_shared<SweepTree>(moving, kind);
    const std::shared_ptr<SweepTree> standing_tree = other_tree.get();
    std::vector<Clearance> curve(values.size());
    std::atomic<bool> cancelled = false;
    std::atomic<std::size_t> next = 0;
    const auto measure = [&](bool tells) {
        SweepClearance pair(moving_tree, standing_tree);
        for (std::size_t first; (first = next.fetch_add(stretch)) < values.size();)
            for (std::size_t i = first; i < std::min(first + stretch, values.size()) && !cancelled; ++i) {
                // The caller's thread tells how far they are; the others are about as far.
                if (tells && !progress.go_on(static_cast<double>(i) / static_cast<double>(values.size()),
                                             "measuring clearance"))
                    cancelled = true;
                curve[i] = pair.at(values[i]);
            }
    };
    const std::size_t threads = std::clamp<std::size_t>(values.size() / stretch, 1,
                                                        std::max(1u, std::thread::hardware_concurrency()));
    std::vector<std::future<void>> others;
    for (std::size_t i = 1; i < threads; ++i)
        others.push_back(std::async(std::launch::async, measure, false));
    measure(true);
    for (std::future<void>& other : others) other.get();
    return cancelled ? std::nullopt : std::optional(std::move(curve));
}

}  // namespace pivrak
