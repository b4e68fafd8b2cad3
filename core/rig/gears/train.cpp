// Source: R. Willis, Principles of Mechanism, 1841: turns seen from an arm keep the ratio of teeth. Ties are
// linear; they are solved by elimination, from channels that least ask to drive to those that most do.
#include "core/rig/gears/train.h"

#include <fmt/format.h>

#include <algorithm>
#include <boost/multiprecision/cpp_int.hpp>
#include <cmath>
#include <map>
#include <numeric>

namespace pivrak {
namespace {

using Exact = boost::multiprecision::cpp_rational;

bool is_nothing(double value) {
    return std::abs(value) < 1e-11;
}
bool is_nothing(const Exact& value) {
    return value == 0;
}

template <class Number>
struct Row {
    std::vector<std::pair<std::uint32_t, Number>> terms;  ///< by rising column
    Number constant = 0;

    const Number* at(std::uint32_t column) const {
        const auto found = std::lower_bound(terms.begin(), terms.end(), column,
                                            [](const auto& term, std::uint32_t c) { return term.first < c; });
        return found != terms.end() && found->first == column ? &found->second : nullptr;
    }
};

/// Gauss-Jordan elimination over sparse rows, column by column in their order. Each column that some row can
/// tell from later ones becomes that row's own.
template <class Number>
class Elimination {
public:
    explicit Elimination(std::vector<Row<Number>> rows, std::size_t columns)
        : rows_(std::move(rows)), rows_of_(columns), own_(columns, none), taken_(rows_.size(), false) {
        for (std::uint32_t r = 0; r < rows_.size(); ++r)
            for (const auto& term : rows_[r].terms) rows_of_[term.first].push_back(r);
        for (std::uint32_t c = 0; c < columns; ++c) eliminate(c);
    }

    /// The row that tells a column by later ones; null for one that stays free.
    const Row<Number>* row_of(std::uint32_t column) const {
        return own_[column] == none ? nullptr : &rows_[own_[column]];
    }

private:
    static constexpr std::uint32_t none = ~std::uint32_t{0};

    void eliminate(std::uint32_t column) {
        std::uint32_t best = none;
        for (const std::uint32_t r : rows_of_[column]) {
            if (taken_[r] || !rows_[r].at(column)) continue;
            if (best == none || rows_[r].terms.size() < rows_[best].terms.size()) best = r;
        }
        if (best == none) return;
        own_[column] = best;
        taken_[best] = true;
        Row<Number>& pivot = rows_[best];
        const Number by = *pivot.at(column);
        for (auto& term : pivot.terms) term.second /= by;
        pivot.constant /= by;
        const std::vector<std::uint32_t> others = rows_of_[column];
        for (const std::uint32_t r : others)
            if (r != best)
                if (const Number* share = rows_[r].at(column)) subtract(r, pivot, Number(*share), column);
    }

    void subtract(std::uint32_t r, const Row<Number>& pivot, const Number& share, std::uint32_t column) {
        std::vector<std::pair<std::uint32_t, Number>> sum;
        auto a = rows_[r].terms.begin();
        const auto end = rows_[r].terms.end();
        for (const auto& [c, value] : pivot.terms) {
            for (; a != end && a->first < c; ++a) sum.push_back(*a);
            Number rest = -share * value;
            if (a != end && a->first == c)
                rest += (a++)->second;
            else
                rows_of_[c].push_back(r);
            if (c != column && !is_nothing(rest)) sum.emplace_back(c, rest);
        }
        sum.insert(sum.end(), a, end);
        rows_[r].terms = std::move(sum);
        rows_[r].constant -= share * pivot.constant;
    }

    std::vector<Row<Number>> rows_;
    std::vector<std::vector<std::uint32_t>> rows_of_;
    std::vector<std::uint32_t> own_;
    std::vector<bool> taken_;
};

/// Columns of channels: those that least ask to drive first.
class Columns {
public:
    explicit Columns(std::vector<std::pair<ChannelRef, ShaftRole>> roles) : roles_(std::move(roles)) {
        std::stable_sort(roles_.begin(), roles_.end(),
                         [](const auto& a, const auto& b) { return a.second < b.second; });
        for (std::uint32_t i = 0; i < roles_.size(); ++i) of_[roles_[i].first] = i;
    }
    std::uint32_t of(ChannelRef channel) const { return of_.at(channel); }
    ChannelRef channel(std::uint32_t column) const { return roles_[column].first; }
    ShaftRole role(std::uint32_t column) const { return roles_[column].second; }
    std::size_t size() const { return roles_.size(); }

private:
    std::vector<std::pair<ChannelRef, ShaftRole>> roles_;
    std::map<ChannelRef, std::uint32_t> of_;
};

Row<double> row_of(const Tie& tie, const Columns& columns) {
    Row<double> row;
    double largest = 0;
    for (const TieTerm& term : tie.terms) largest = std::max(largest, std::abs(term.share));
    for (const TieTerm& term : tie.terms)
        row.terms.emplace_back(columns.of(term.channel), term.share / largest);
    std::sort(row.terms.begin(), row.terms.end());
    row.constant = tie.constant / largest;
    return row;
}

Row<Exact> exact_row(const Tie& tie, const Columns& columns) {
    Row<Exact> row;
    for (const TieTerm& term : tie.terms) row.terms.emplace_back(columns.of(term.channel), Exact(term.whole));
    std::sort(row.terms.begin(), row.terms.end());
    return row;
}

/// Numbers of the trains: channels joined by ties have the same.
std::vector<std::size_t> trains_of(const std::vector<Tie>& ties, const Columns& columns, std::size_t& count) {
    std::vector<std::uint32_t> above(columns.size());
    std::iota(above.begin(), above.end(), 0u);
    const auto top = [&](std::uint32_t c) {
        while (above[c] != c) c = above[c] = above[above[c]];
        return c;
    };
    for (const Tie& tie : ties)
        for (const TieTerm& term : tie.terms)
            above[top(columns.of(term.channel))] = top(columns.of(tie.terms.front().channel));
    std::vector<std::size_t> number(columns.size());
    std::map<std::uint32_t, std::size_t> seen;
    for (std::uint32_t c = 0; c < columns.size(); ++c)
        number[c] = seen.try_emplace(top(c), seen.size()).first->second;
    count = seen.size();
    return number;
}

ShaftState input_state(const Document* document, ChannelRef channel, ShaftRole role) {
    if (role == ShaftRole::Given) {
        const Part* part = document ? document->parts.find(channel.part()) : nullptr;
        return part && part->joint.channel(channel.kind).locked ? ShaftState::Held : ShaftState::Input;
    }
    return role >= ShaftRole::KeyedDriven ? ShaftState::Input : ShaftState::Free;
}

TrainSolution solved(const std::vector<Tie>& ties, const std::vector<std::pair<ChannelRef, ShaftRole>>& roles,
                     const Document* document) {
    const Columns columns(roles);
    std::vector<Row<double>> rows;
    rows.reserve(ties.size());
    for (const Tie& tie : ties) rows.push_back(row_of(tie, columns));
    const Elimination<double> done(std::move(rows), columns.size());
    TrainSolution out;
    const auto number = trains_of(ties, columns, out.trains);
    for (std::uint32_t c = 0; c < columns.size(); ++c) {
        TrainShaft shaft{columns.channel(c), columns.role(c), ShaftState::Free, 0, {}, number[c]};
        const Row<double>* row = done.row_of(c);
        if (!row) {
            shaft.state = input_state(document, shaft.channel, shaft.role);
            out.shafts.push_back(std::move(shaft));
            continue;
        }
        shaft.constant = row->constant;
        bool moved = false;
        for (const auto& [column, share] : row->terms) {
            if (column == c) continue;
            shaft.inputs.push_back({columns.channel(column), -share, 0});
            moved |= input_state(document, columns.channel(column), columns.role(column)) != ShaftState::Held;
        }
        shaft.state = shaft.inputs.empty() ? ShaftState::Stuck
                      : moved              ? ShaftState::Driven
                                           : ShaftState::Held;
        if (shaft.role >= ShaftRole::KeyedDriven) {
            TrainClash clash{shaft.channel, {}};
            for (const TieTerm& input : shaft.inputs) clash.with.push_back(input.channel);
            out.clashes.push_back(std::move(clash));
        }
        out.shafts.push_back(std::move(shaft));
    }
    std::sort(out.shafts.begin(), out.shafts.end(),
              [](const TrainShaft& a, const TrainShaft& b) { return a.channel < b.channel; });
    return out;
}

bool has_keys(const Document& document, const Clip* clip, ChannelRef channel) {
    const auto keyed = [&](const Clip& c) {
        const Track* track = c.track(channel);
        return track && !track->keys.empty();
    };
    if (clip) return keyed(*clip);
    return std::any_of(document.clips.begin(), document.clips.end(), keyed);
}

/// Numerator and denominator of each tie on the way from one channel to another, by ties of two channels
/// alone.
using Steps = std::vector<std::pair<long, long>>;
std::optional<Steps> steps_between(const std::vector<Tie>& ties, ChannelRef from, ChannelRef to) {
    std::map<ChannelRef, std::vector<const Tie*>> ties_at;
    for (const Tie& tie : ties)
        if (tie.terms.size() == 2 && tie.exact())
            for (const TieTerm& term : tie.terms) ties_at[term.channel].push_back(&tie);
    std::map<ChannelRef, std::pair<const Tie*, ChannelRef>> reached{{from, {nullptr, from}}};
    std::vector<ChannelRef> front{from};
    for (std::size_t i = 0; i < front.size() && !reached.contains(to); ++i)
        for (const Tie* tie : ties_at[front[i]]) {
            const ChannelRef next = tie->terms[tie->terms[0].channel == front[i] ? 1 : 0].channel;
            if (reached.try_emplace(next, tie, front[i]).second) front.push_back(next);
        }
    if (!reached.contains(to)) return std::nullopt;
    Steps steps;
    for (ChannelRef at = to; at != from;) {
        const auto& [tie, before] = reached.at(at);
        const bool first = tie->terms[0].channel == before;
        steps.insert(steps.begin(), {-tie->terms[first ? 0 : 1].whole, tie->terms[first ? 1 : 0].whole});
        at = before;
    }
    return steps;
}

/// `51/17 · 38/19`: what the first turns for one turn of the last, as people write ratios down. A travel
/// between two sprockets counts one of a kind, and joins with its neighbours.
std::string product_of(Steps steps) {
    std::string text;
    for (std::size_t i = 0; i < steps.size(); ++i) {
        auto [top, bottom] = steps[i];
        if (i + 1 < steps.size() && std::abs(bottom) == 1 && std::abs(steps[i + 1].first) == 1) {
            top *= bottom * steps[i + 1].first;
            bottom = steps[i + 1].second;
            ++i;
        }
        text += fmt::format("{}{}/{}", text.empty() ? "" : " · ", std::abs(bottom), std::abs(top));
    }
    return text;
}

}  // namespace

const TrainShaft* TrainSolution::find(ChannelRef channel) const {
    const auto found = std::lower_bound(shafts.begin(), shafts.end(), channel,
                                        [](const TrainShaft& s, ChannelRef c) { return s.channel < c; });
    return found != shafts.end() && found->channel == channel ? &*found : nullptr;
}

std::vector<std::pair<ChannelRef, ShaftRole>> shaft_roles(const Document& document,
                                                          const std::vector<Tie>& ties, const Clip* clip) {
    std::map<ChannelRef, ShaftRole> roles;
    for (const Tie& tie : ties)
        for (const TieTerm& term : tie.terms) roles.emplace(term.channel, ShaftRole::Between);
    const auto raise = [&](ChannelRef channel, ShaftRole role) {
        if (const auto found = roles.find(channel); found != roles.end()) found->second = role;
    };
    for (const Coupling& c : document.couplings)
        if (c.as<GearPair>()) raise(c.as<GearPair>()->driver, ShaftRole::Driving);
    // A chain is driven by its first sprocket, unless keys say otherwise.
    for (const Chain& chain : document.chains)
        for (std::size_t i = 0; chain.travels() && i < chain.wheels.size(); ++i)
            raise({chain.wheels[i].part, ChannelKind::Turn},
                  i == chain.reference() ? ShaftRole::Driving : ShaftRole::Between);
    for (const Coupling& c : document.couplings)
        if (c.as<GearPair>()) raise(c.as<GearPair>()->driven, ShaftRole::Driven);
    for (auto& [channel, role] : roles) {
        if (has_keys(document, clip, channel))
            role = role == ShaftRole::Driven ? ShaftRole::KeyedDriven : ShaftRole::Keyed;
        const Part* part = document.parts.find(channel.part());
        if (part && part->joint.channel(channel.kind).locked) role = ShaftRole::Given;
    }
    for (const Coupling& c : document.couplings)
        if (!c.as<GearPair>() && !c.is_off()) raise(c.driven(), ShaftRole::Given);
    for (const Chain& chain : document.chains)
        for (auto& [channel, role] : roles)
            if (chain.sets(channel)) role = ShaftRole::Given;
    return {roles.begin(), roles.end()};
}

TrainSolution solve_trains(const std::vector<Tie>& ties,
                           const std::vector<std::pair<ChannelRef, ShaftRole>>& roles) {
    return solved(ties, roles, nullptr);
}

TrainSolution solve_trains(const Document& document, const Clip* clip) {
    const std::vector<Tie> ties = ties_of(document);
    return solved(ties, shaft_roles(document, ties, clip), &document);
}

std::vector<ChannelRef> newly_stuck(const Document& before, const Document& after) {
    const TrainSolution was = solve_trains(before), is = solve_trains(after);
    std::vector<ChannelRef> stuck;
    for (const TrainShaft& shaft : is.shafts) {
        const TrainShaft* known = was.find(shaft.channel);
        if (shaft.state == ShaftState::Stuck && (!known || known->state != ShaftState::Stuck))
            stuck.push_back(shaft.channel);
    }
    return stuck;
}

double missed_teeth(const Tie& tie, const TrainSolution& solution) {
    if (tie.tooth == 0) return 0;
    double off = -tie.constant;
    for (const TieTerm& term : tie.terms)
        if (const TrainShaft* shaft = solution.find(term.channel)) off += term.share * shaft->constant;
    return std::remainder(off, tie.tooth) / tie.tooth;
}

std::optional<TrainRatio> train_ratio(const std::vector<Tie>& ties, const TrainSolution& solution,
                                      ChannelRef from, ChannelRef to) {
    const TrainShaft *a = solution.find(from), *b = solution.find(to);
    if (!a || !b || a->train != b->train || from == to) return std::nullopt;
    // The same train with `from` as what drives it. What drives it now stands still, but for one that yields.
    std::optional<ChannelRef> yields;
    for (const TieTerm& input : a->inputs)
        if (!yields && solution.find(input.channel)->state != ShaftState::Held) yields = input.channel;
    std::vector<std::pair<ChannelRef, ShaftRole>> roles;
    for (const TrainShaft& shaft : solution.shafts) {
        if (shaft.train != a->train) continue;
        const bool stands =
            shaft.inputs.empty() && shaft.state != ShaftState::Stuck && shaft.channel != yields;
        roles.emplace_back(shaft.channel, shaft.channel == from ? ShaftRole::Keyed
                                          : stands              ? ShaftRole::Given
                                          : shaft.channel == to ? ShaftRole::Driven
                                                                : ShaftRole::Between);
    }
    std::vector<Tie> own;
    for (const Tie& tie : ties)
        if (const TrainShaft* shaft = solution.find(tie.terms.front().channel);
            shaft && shaft->train == a->train)
            own.push_back(tie);
    const TrainSolution turned = solve_trains(own, roles);
    const TrainShaft* result = turned.find(to);
    TrainRatio ratio;
    for (const TieTerm& input : result->inputs)
        if (input.channel == from) ratio.value = input.share;
    if (ratio.value == 0) return std::nullopt;
    if (const auto steps = steps_between(own, from, to)) {
        ratio.fraction = product_of(*steps);
        return ratio;
    }
    if (!std::all_of(own.begin(), own.end(), [](const Tie& tie) { return tie.exact(); })) return ratio;
    const Columns columns(roles);
    std::vector<Row<Exact>> rows;
    for (const Tie& tie : own) rows.push_back(exact_row(tie, columns));
    const Elimination<Exact> done(std::move(rows), columns.size());
    if (const Row<Exact>* row = done.row_of(columns.of(to)))
        if (const Exact* share = row->at(columns.of(from))) {
            const Exact turns = -1 / *share;
            const boost::multiprecision::cpp_int top = abs(numerator(turns));
            ratio.fraction = top.str() + "/" + denominator(turns).str();
        }
    return ratio;
}

}  // namespace pivrak
