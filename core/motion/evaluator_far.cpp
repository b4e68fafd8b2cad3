// The way to a far frame where states are sums: what each move adds does not depend on them, so stretches of
// the clip are worked out at the same time, and added up one after the other as they would have been.
#include <algorithm>
#include <future>
#include <thread>

#include "core/motion/evaluator.h"

namespace pivrak {
namespace {

/// Kept states in a stretch, below which another thread costs more than it saves.
constexpr std::size_t least_stretch = 24;

}  // namespace

/// What each move from one kept state to another adds to the states, in their order.
void Evaluator::moves_between(std::size_t first, std::size_t last, Travelled& t, double* added) const {
    std::fill(t.states.begin(), t.states.end(), 0.0);
    for (std::size_t k = first; k < last; ++k) {
        const double from = first_frame_ + kept_every * static_cast<double>(k);
        for (int i = 0; i <= kept_every * steps_a_frame; ++i) {
            // Each stretch between kept states begins where the one before it ended.
            if (i == 0 && k > first) continue;
            t.moment = from + static_cast<double>(i) / steps_a_frame;
            ask(t.moment, slice_tracks_, t.asked);
            begin(t.asked, t.channels);
            run_slice(i == 0 ? StateMode::Begin : StateMode::Move, t, frame_s_ / steps_a_frame);
            if (i == 0) continue;
            added = std::copy(t.states.begin(), t.states.end(), added);
            std::fill(t.states.begin(), t.states.end(), 0.0);
        }
    }
}

/// Fills the kept states up to the wanted ones, on as many threads as there are cores.
void Evaluator::travel_far(std::size_t wanted, Travelled& t) const {
    const std::size_t n = program_.state_count, first = t.kept.size() / n - 1;
    if (!adds_up_ || wanted < first + 2 * least_stretch) return;
    const std::size_t count = wanted - first, moves = n * kept_every * steps_a_frame,
                      threads = std::clamp<std::size_t>(count / least_stretch, 1,
                                                        std::max(1u, std::thread::hardware_concurrency()));
    std::vector<double> added(count * moves);
    std::vector<std::future<void>> others;
    const auto stretch = [&](std::size_t i, Travelled& own) {
        const std::size_t from = count * i / threads, to = count * (i + 1) / threads;
        moves_between(first + from, first + to, own, added.data() + from * moves);
    };
    for (std::size_t i = 1; i < threads; ++i)
        others.push_back(std::async(std::launch::async, [&, i, own = t]() mutable { stretch(i, own); }));
    stretch(0, t);
    for (std::future<void>& other : others) other.get();
    t.steps = -1;
    std::copy_n(t.kept.end() - static_cast<std::ptrdiff_t>(n), n, t.states.begin());
    const double* next = added.data();
    for (std::size_t k = 0; k < count; ++k) {
        for (std::size_t move = 0; move < moves; move += n)
            for (std::size_t s = 0; s < n; ++s) t.states[s] += *next++;
        t.kept.insert(t.kept.end(), t.states.begin(), t.states.end());
    }
}

}  // namespace pivrak
