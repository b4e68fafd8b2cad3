#include "core/checks/drive/train_report.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>

#include "core/rig/gears/gear_pair.h"

namespace pivrak {
namespace {

std::string name_of(const Document& document, ChannelRef channel) {
    const Part* part = document.parts.find(channel.part());
    return part ? part->name : fmt::format("missing part {}", channel.part().value);
}

std::string ratio_text(const Document& document, const TrainLine& line, bool turns) {
    if (!turns) return fmt::format("{} a turn", format_length(2 * pi * std::abs(line.ratio), document));
    if (!line.fraction.empty()) return fmt::format("{} ({})", ratio_words(line.ratio), line.fraction);
    return ratio_words(line.ratio);
}

/// Distance of every shaft from the input, in ties: the order in which power reaches them.
std::map<ChannelRef, int> distances(const std::vector<Tie>& ties, ChannelRef from) {
    std::map<ChannelRef, int> far{{from, 0}};
    for (bool changed = true; changed;) {
        changed = false;
        for (const Tie& tie : ties) {
            int nearest = -1;
            for (const TieTerm& term : tie.terms)
                if (const auto known = far.find(term.channel);
                    known != far.end() && (nearest < 0 || known->second < nearest))
                    nearest = known->second;
            if (nearest < 0) continue;
            for (const TieTerm& term : tie.terms)
                changed |= far.try_emplace(term.channel, nearest + 1).second;
        }
    }
    return far;
}

TrainLine line_of(const Document& document, const std::vector<Tie>& ties, const TrainSolution& solution,
                  const TrainShaft& shaft, ChannelRef input) {
    TrainLine line{shaft.channel, shaft.state, 0, "", "", std::string(state_word(shaft.state))};
    if (shaft.state != ShaftState::Driven) return line;
    if (const auto ratio = train_ratio(ties, solution, input, shaft.channel)) {
        line.ratio = ratio->value;
        line.fraction = ratio->fraction;
        const bool both_turn = is_turn(shaft.channel.kind) && is_turn(input.kind);
        line.words = ratio_text(document, line, both_turn);
        if (both_turn) line.brief = ratio_words(line.ratio, true);
    } else {
        line.words = fmt::format("follows '{}'", name_of(document, shaft.inputs.front().channel));
    }
    const auto moving = std::count_if(shaft.inputs.begin(), shaft.inputs.end(), [&](const TieTerm& term) {
        return solution.find(term.channel)->state != ShaftState::Held;
    });
    if (moving > 1) line.words += fmt::format(", one of {} drivers", moving);
    return line;
}

TrainPart part_of(const Document& document, const std::vector<Tie>& ties, const TrainSolution& solution,
                  std::size_t number) {
    TrainPart part;
    const TrainShaft* best = nullptr;
    for (const TrainShaft& shaft : solution.shafts) {
        if (shaft.train != number || !shaft.inputs.empty() || shaft.state == ShaftState::Stuck ||
            shaft.state == ShaftState::Held)
            continue;
        ++part.inputs;
        if (!best || shaft.role > best->role) best = &shaft;
    }
    for (const TrainShaft& shaft : solution.shafts)
        if (!best && shaft.train == number) best = &shaft;
    part.input = best->channel;
    std::vector<Tie> own;
    for (const Tie& tie : ties)
        if (const TrainShaft* shaft = solution.find(tie.terms.front().channel);
            shaft && shaft->train == number)
            own.push_back(tie);
    const auto far = distances(own, part.input);
    for (const TrainShaft& shaft : solution.shafts)
        if (shaft.train == number) part.lines.push_back(line_of(document, own, solution, shaft, part.input));
    std::stable_sort(part.lines.begin(), part.lines.end(), [&](const TrainLine& a, const TrainLine& b) {
        return far.at(a.channel) < far.at(b.channel);
    });
    return part;
}

}  // namespace

std::string_view state_word(ShaftState state) {
    switch (state) {
        case ShaftState::Free:
            return "free";
        case ShaftState::Input:
            return "drives";
        case ShaftState::Held:
            return "held";
        case ShaftState::Driven:
            return "follows";
        case ShaftState::Stuck:
            return "stuck";
    }
    return "";
}

TrainReport report_trains(const Document& document, const Clip* clip) {
    TrainReport report;
    const std::vector<Tie> ties = ties_of(document);
    const TrainSolution solution = solve_trains(document, clip);
    for (std::size_t number = 0; number < solution.trains; ++number)
        report.trains.push_back(part_of(document, ties, solution, number));
    for (const TrainClash& clash : solution.clashes) {
        report.against.push_back(clash.channel);
        report.against.insert(report.against.end(), clash.with.begin(), clash.with.end());
        std::string others;
        for (const ChannelRef other : clash.with)
            others += fmt::format("{}'{}'", others.empty() ? "" : " and ", name_of(document, other));
        const TrainShaft* shaft = solution.find(clash.channel);
        const char* what =
            shaft->role < ShaftRole::Given ? "has keys" : "is set from outside its train, or locked";
        report.clashes.push_back(
            others.empty() ? fmt::format("'{}' {}, but its train cannot turn at all",
                                         name_of(document, clash.channel), what)
                           : fmt::format("'{}' {}, but {} turn{} it already: one train, two drivers",
                                         name_of(document, clash.channel), what, others,
                                         clash.with.size() > 1 ? "" : "s"));
    }
    for (const TrainShaft& shaft : solution.shafts)
        if (shaft.state == ShaftState::Stuck) {
            report.against.push_back(shaft.channel);
            report.clashes.push_back(fmt::format("'{}' cannot turn: the gears round it block each other",
                                                 name_of(document, shaft.channel)));
        }
    return report;
}

}  // namespace pivrak
