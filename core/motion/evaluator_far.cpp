// The way to a far frame where states are sums: what is added between two moments does not depend on the
// states it is added to. So only as many moments are looked at as tell the way, and stretches of the clip are
// worked out at the same time.
#include <algorithm>
#include <array>
#include <atomic>
#include <cmath>
#include <future>
#include <thread>

#include "core/motion/evaluator.h"

namespace pivrak {
namespace {

/// Kept states that a thread takes at a time; so few are not worth another thread.
constexpr std::size_t taken_at_once = 16;
/// By how much a whole way and the sum of its parts may differ: some thousandths of a millimetre on the rim
/// of a wheel. No part turns further than so much: what is not looked at is shorter than a quarter of a
/// radius, and moves a hub that rolls over it by less than a hundredth of that.
constexpr double settled_rad = 1e-5, most_turn_rad = 0.25;

}  // namespace

/// What is added to the states from one kept state to the next. Its moments stand on the grid of steps; each
/// is looked at once, and only where its neighbours do not tell the way.
class Evaluator::Stretch {
public:
    Stretch(const Evaluator& evaluator, Travelled& t)
        : evaluator_(evaluator), t_(t), states_(evaluator.program_.state_count) {
        const auto& lists = evaluator.program_.lists;
        for (std::size_t i = 0; i < lists.size(); ++i)
            if (lists[i]->adds_up()) summed_.push_back(i);
        for (Moment& moment : moments_)
            for (const std::size_t list : summed_) moment.memories.push_back(lists[list]->memory());
    }

    /// From kept state `k` to the next one.
    void over(std::size_t k, double* added) {
        const bool goes_on = k == last_ + 1 && moments_[steps].known;
        if (goes_on) std::swap(moments_[0], moments_[steps]);
        for (std::size_t i = goes_on ? 1 : 0; i <= steps; ++i) moments_[i].known = false;
        last_ = k;
        std::fill_n(added, states_, 0.0);
        std::vector<double> whole(states_);
        between(0, steps, Bends::Once, whole);
        add(0, steps, whole, std::span(added, states_));
    }

private:
    static constexpr std::size_t steps = kept_every * steps_a_frame;
    struct Moment {
        bool known = false;
        std::vector<std::unique_ptr<Memory>> memories;  ///< of the lists that add up
    };

    const Moment& look(std::size_t i) {
        Moment& moment = moments_[i];
        if (moment.known) return moment;
        t_.moment = evaluator_.first_frame_ + kept_every * static_cast<double>(last_) +
                    static_cast<double>(i) / steps_a_frame;
        evaluator_.ask(t_.moment, evaluator_.slice_tracks_, t_.asked);
        evaluator_.begin(t_.asked, t_.channels);
        evaluator_.run_slice(StateMode::Begin, t_);
        for (std::size_t list = 0; list < summed_.size(); ++list)
            moment.memories[list]->take(*t_.memories[summed_[list]]);
        moment.known = true;
        return moment;
    }

    void between(std::size_t first, std::size_t last, Bends bends, std::span<double> added) {
        const Moment &past = look(first), &now = look(last);
        for (std::size_t list = 0; list < summed_.size(); ++list)
            evaluator_.program_.lists[summed_[list]]->add_between(*past.memories[list], *now.memories[list],
                                                                  bends, added);
    }

    /// Adds what lies between two moments, of which the whole way is known: from its parts, when they agree
    /// with it, else from theirs. They are cut at no even shares, so that what comes back at an even pace is
    /// seen.
    void add(std::size_t first, std::size_t last, const std::vector<double>& whole, std::span<double> added) {
        if (last - first == 1) return between(first, last, Bends::Evenly, added);
        const std::size_t cut = first + std::max<std::size_t>(1, 2 * (last - first) / 5);
        std::vector<double> before(states_), after(states_);
        between(first, cut, Bends::Once, before);
        between(cut, last, Bends::Once, after);
        bool settled = true;
        for (std::size_t s = 0; s < states_; ++s)
            settled &= std::abs(before[s]) <= most_turn_rad && std::abs(after[s]) <= most_turn_rad &&
                       std::abs(before[s] + after[s] - whole[s]) <= settled_rad;
        if (!settled) {
            add(first, cut, before, added);
            add(cut, last, after, added);
            return;
        }
        for (std::size_t s = 0; s < states_; ++s) added[s] += before[s] + after[s];
    }

    const Evaluator& evaluator_;
    Travelled& t_;
    std::size_t states_;
    std::vector<std::size_t> summed_;  ///< lists
    std::array<Moment, steps + 1> moments_;
    std::size_t last_ = ~std::size_t{0} - 1;
};

/// Fills the kept states up to the wanted ones, on as many threads as there are cores.
void Evaluator::travel_far(std::size_t wanted, Travelled& t) const {
    const std::size_t n = program_.state_count, first = t.kept.size() / n - 1;
    if (wanted <= first) return;
    const std::size_t count = wanted - first,
                      threads = std::clamp<std::size_t>(count / taken_at_once, 1,
                                                        std::max(1u, std::thread::hardware_concurrency()));
    std::vector<double> added(count * n);
    std::vector<std::future<void>> others;
    // Some stretches are rougher than others: who is done takes the next ones.
    std::atomic<std::size_t> taken = 0;
    const auto take = [&](Travelled& own) {
        Stretch stretch(*this, own);
        for (std::size_t from; (from = taken.fetch_add(taken_at_once)) < count;)
            for (std::size_t k = from; k < std::min(count, from + taken_at_once); ++k)
                stretch.over(first + k, added.data() + k * n);
    };
    for (std::size_t i = 1; i < threads; ++i)
        others.push_back(std::async(std::launch::async, [&, own = t]() mutable { take(own); }));
    take(t);
    for (std::future<void>& other : others) other.get();
    t.steps = -1;
    for (const double more : added) t.kept.push_back(t.kept[t.kept.size() - n] + more);
}

}  // namespace pivrak
