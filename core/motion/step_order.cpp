#include "core/motion/step_order.h"

#include <algorithm>
#include <array>

namespace pivrak {

std::size_t StepOrder::add(OrderedStep step) {
    for (const std::uint32_t given : step.gives) given_by_[given] = static_cast<std::uint32_t>(steps_.size());
    steps_.push_back(std::move(step));
    return steps_.size() - 1;
}

StepOrder::Sorted StepOrder::sorted() const {
    // Who waits for each thing, as ranges of one list.
    std::vector<std::uint32_t> first(given_by_.size() + 1, 0), missing(steps_.size(), 0);
    for (const OrderedStep& step : steps_)
        for (const std::uint32_t need : step.needs)
            if (given_by_[need] != none) ++first[need + 1];
    for (std::size_t i = 1; i < first.size(); ++i) first[i] += first[i - 1];
    std::vector<std::uint32_t> waiting(first.back()), next(first.begin(), first.end() - 1);
    for (std::uint32_t s = 0; s < steps_.size(); ++s)
        for (const std::uint32_t need : steps_[s].needs) {
            if (given_by_[need] == none) continue;
            waiting[next[need]++] = s;
            ++missing[s];
        }
    // Couplings first, then parts, then the rest, so that long runs of one kind come together.
    constexpr std::size_t kinds = static_cast<std::size_t>(StepKind::Chain) + 1;
    std::array<std::vector<std::uint32_t>, kinds> ready;
    std::array<std::size_t, kinds> done{};
    const auto offer = [&](std::uint32_t s) { ready[static_cast<std::size_t>(steps_[s].kind)].push_back(s); };
    for (std::uint32_t s = 0; s < steps_.size(); ++s)
        if (missing[s] == 0) offer(s);
    Sorted out;
    while (true) {
        std::size_t kind = 0;
        while (kind < kinds && done[kind] == ready[kind].size()) ++kind;
        if (kind == kinds) break;
        const std::uint32_t s = ready[kind][done[kind]++];
        out.steps.push_back(s);
        for (const std::uint32_t given : steps_[s].gives)
            for (std::uint32_t i = first[given]; i < first[given + 1]; ++i)
                if (--missing[waiting[i]] == 0) offer(waiting[i]);
    }
    if (out.steps.size() != steps_.size()) out.circle = circle(missing);
    return out;
}

/// Upwards from a step that waits, by what it waits for, until something comes up again.
std::vector<std::uint32_t> StepOrder::circle(const std::vector<std::uint32_t>& missing) const {
    std::vector<bool> waits(steps_.size(), false);
    for (std::size_t s = 0; s < steps_.size(); ++s) waits[s] = missing[s] > 0;
    auto at = static_cast<std::uint32_t>(std::find(waits.begin(), waits.end(), true) - waits.begin());
    std::vector<std::uint32_t> things;
    std::vector<bool> seen(given_by_.size(), false);
    while (true) {
        std::uint32_t thing = none;
        for (const std::uint32_t need : steps_[at].needs)
            if (given_by_[need] != none && waits[given_by_[need]]) thing = need;
        if (thing == none) return things;
        if (seen[thing]) {
            things.erase(things.begin(), std::find(things.begin(), things.end(), thing));
            std::reverse(things.begin(), things.end());
            return things;
        }
        seen[thing] = true;
        things.push_back(thing);
        at = given_by_[thing];
    }
}

std::vector<bool> StepOrder::needed_by(const std::vector<std::size_t>& wanted) const {
    std::vector<bool> needed(steps_.size(), false);
    std::vector<std::size_t> open = wanted;
    for (const std::size_t s : wanted) needed[s] = true;
    while (!open.empty()) {
        const std::size_t s = open.back();
        open.pop_back();
        for (const std::uint32_t need : steps_[s].needs) {
            const std::uint32_t giver = given_by_[need];
            if (giver == none || needed[giver]) continue;
            needed[giver] = true;
            open.push_back(giver);
        }
    }
    return needed;
}

}  // namespace pivrak
