#include "core/motion/step_order.h"

#include <algorithm>
#include <unordered_map>

namespace pivrak {

std::size_t StepOrder::add(OrderedStep step) {
    for (const std::uint32_t given : step.gives) given_by_[given] = static_cast<std::uint32_t>(steps_.size());
    steps_.push_back(std::move(step));
    return steps_.size() - 1;
}

StepOrder::Sorted StepOrder::sorted(std::span<const std::uint32_t> preferred) const {
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
    std::unordered_map<std::uint32_t, std::size_t> place;
    for (const std::uint32_t list : preferred) place.emplace(list, place.size());
    std::vector<std::vector<std::uint32_t>> ready(place.size());
    std::vector<std::size_t> done(place.size(), 0);
    const auto offer = [&](std::uint32_t s) { ready[place.at(steps_[s].list)].push_back(s); };
    for (std::uint32_t s = 0; s < steps_.size(); ++s)
        if (missing[s] == 0) offer(s);
    Sorted out;
    while (true) {
        std::size_t list = 0;
        while (list < ready.size() && done[list] == ready[list].size()) ++list;
        if (list == ready.size()) break;
        const std::uint32_t s = ready[list][done[list]++];
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
