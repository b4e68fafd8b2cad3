// Source of chain sizes: ISO 606:2015.
#include "core/operations/drive/chain_steps.h"

#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <sstream>

#include "core/geometry/fits/recognise.h"
#include "core/geometry/fits/series.h"
#include "core/model/edits/branch_copy.h"
#include "core/model/edits/edits.h"
#include "core/model/names/names.h"
#include "core/operations/all_operations.h"
#include "core/rig/chains/chain_remedies.h"
#include "core/rig/gears/train.h"

namespace pivrak {

ArgumentSpec chain_argument() {
    return {"chain", ArgumentKind::Part, "the datum that carries the chain, or one of its links", true, {},
            {}};
}

/// `19 38 0`: teeth of each wheel.
Result<std::vector<int>> teeth_list(const Arguments& a) {
    std::vector<int> teeth;
    if (!a.has("teeth")) return teeth;
    std::istringstream words(a.text("teeth"));
    for (std::string word; words >> word;) {
        int count = 0;
        const auto [end, problem] = std::from_chars(word.data(), word.data() + word.size(), count);
        if (problem != std::errc{} || end != word.data() + word.size() || count < 0)
            return Error{"chain.teeth",
                         fmt::format("'{}' is no number of teeth; write '19 38', and 0 for a roller", word),
                         "teeth"};
        teeth.push_back(count);
    }
    return teeth;
}

Result<double> pitch_asked(const Arguments& a) {
    if (a.has("pitch")) return a.number("pitch");
    if (!a.has("size")) return 0.0;
    for (const ChainSize& size : roller_chains())
        if (size.name == a.text("size")) return size.pitch_m;
    return Error{"chain.pitch", fmt::format("there is no roller chain '{}'", a.text("size")), "size"};
}

Result<Chain> chain_named(const Document& document, const Arguments& a) {
    const Part& datum = *document.parts.find(a.part("chain"));
    // Its datum, or any link.
    for (const Chain& chain : document.chains)
        if (chain.frame == datum.id ||
            std::find(chain.links.begin(), chain.links.end(), datum.id) != chain.links.end())
            return chain;
    return Error{"chain.none", fmt::format("'{}' carries no chain", datum.name), datum.name};
}

/// Pins at rest; empty when the chain cannot be laid.
std::vector<Vec2> rest_pins(const Document& document, const Chain& chain) {
    const ChainLoop loop = chain_loop(document, chain);
    std::vector<Vec2> pins(loop.pin_count());
    if (!place_pins(loop, 0, pins).placed) pins.clear();
    return pins;
}

/// Takes a tensioner, or with the chain's own datum named as one takes it away.
Result<void> read_take_up(const Document& document, const Arguments& a, const std::string& key,
                          Chain& chain) {
    if (!a.has(key)) return {};
    const Part& arm = *document.parts.find(a.part(key));
    if (arm.id == chain.frame) {
        chain.take_up = {};
        return {};
    }
    const bool drum = chain.ends && chain.travels() && arm.id == chain.wheels.front().part;
    const bool carries =
        drum ||
        std::any_of(chain.wheels.begin(), chain.wheels.end(),
                    [&](const ChainWheel& wheel) {
                        return wheel.part != arm.id && is_below(document, wheel.part, arm.id);
                    }) ||
        (chain.ends && (is_below(document, chain.ends->to.part, arm.id) ||
                        (chain.ends->from.part && is_below(document, chain.ends->from.part, arm.id))));
    if ((arm.joint.kind != JointKind::Hinge && arm.joint.kind != JointKind::Slide) || !carries ||
        is_below(document, chain.frame, arm.id))
        return Error{
            "chain.take_up",
            fmt::format("'{}' {}", arm.name,
                        chain.ends ? "cannot be pulled: it must be a hinge or a slide that carries an end or "
                                     "a wheel of the run, and not the run itself"
                                   : "is no tensioner: it must be a hinge or a slide that carries a wheel of "
                                     "the chain, and not the chain itself"),
            arm.name};
    chain.take_up = arm.id;
    return {};
}

/// Refuses a chain that would keep its train from turning: its wheels are geared with each other otherwise.
Result<void> check_turns(const Document& before, const Document& after) {
    const std::vector<ChannelRef> stuck = newly_stuck(before, after);
    if (!stuck.empty())
        return Error{
            "train.stuck",
            fmt::format("then '{}' could not turn any more: what turns it otherwise blocks the chain",
                        name_of(after, stuck.front().part())),
            name_of(after, stuck.front().part())};
    return {};
}

/// A link as another one: its copy with all it carries, named later.
PartId copy_link(Document& document, PartId link) {
    const Part& pattern = *document.parts.find(link);
    if (!Tree(document).children(link).empty()) return copy_branches(document, {link}, {}).tops.front();
    Part copy = pattern;
    copy.id = document.new_id<PartId>();
    copy.unknown = nlohmann::json::object();
    document.parts.set(copy);
    return copy.id;
}

/// Makes links more or fewer, and puts each where it rests.
void lay_links(Document& document, Chain& chain) {
    if (chain.links.empty()) return;
    const auto count = static_cast<std::size_t>(chain.link_count),
               pattern = static_cast<std::size_t>(chain.pattern);
    const std::size_t had = chain.links.size();
    while (chain.links.size() > count) {
        const PartId gone = chain.links.back();
        chain.links.pop_back();
        document.chains.set(chain);
        remove_branch(document, gone);
    }
    for (std::size_t i = had; i < count; ++i)
        chain.links.push_back(copy_link(document, chain.links[i % pattern]));
    const std::vector<Vec2> pins = rest_pins(document, chain);
    FreeNames names(document);
    for (std::size_t i = 0; i < count; ++i) names.release(name_of(document, chain.links[i]));
    for (std::size_t i = 0; i < count; ++i) {
        Part link = *document.parts.find(chain.links[i]);
        if (had != count) link.name = names.take(series_name(chain.name + " link", i + 1, count));
        if (!pins.empty()) link.parent_from_rest = plane_from_link(pins, i);
        document.parts.set(link);
    }
    document.chains.set(chain);
}

Result<void> add_chain_datum(Outcome& out, Chain& chain, const Frame& plane, const std::string& name,
                             PartId under) {
    Part datum;
    datum.id = out.document.new_id<PartId>();
    datum.name = FreeNames(out.document).take(name);
    PIVRAK_CHECK(check_name(datum.name));
    datum.parent = under;
    datum.parent_from_rest =
        under ? (world_from_rest(out.document, under).inverse() * plane).normalized() : plane;
    chain.id = out.document.new_id<ChainId>();
    chain.frame = datum.id;
    chain.name = datum.name;
    if (chain.travels()) datum.chain = chain.id;
    out.document.parts.set(datum);
    out.document.chains.set(chain);
    out.created.push_back(datum.id);
    return {};
}

nlohmann::json chain_readings(const Document& document, const Chain& chain) {
    const ChainFacts facts = chain_facts(chain_loop(document, chain));
    nlohmann::json out{{"chain", chain.name},
                       {"links", chain.link_count},
                       {"pitch_m", chain.pitch_m},
                       {"needed_m", facts.needed_m},
                       {"links_needed", facts.links_needed},
                       {"smooth_m", facts.smooth_m},
                       {"slack_m", facts.slack_m},
                       {"sag_m", facts.sag_m},
                       {"remedies", nlohmann::json::array()}};
    if (chain.ends && chain.travels()) out["wound_turns"] = facts.wound_rad / (2 * pi);
    for (const ChainRemedy& remedy : chain_remedies(document, chain)) {
        nlohmann::json one{{"remedy", word(remedy.kind)},
                           {"links", remedy.links},
                           {"amount", remedy.amount},
                           {"words", remedy_words(document, chain, remedy)}};
        if (remedy.part) one["part"] = part_path(document, remedy.part);
        out["remedies"].push_back(one);
    }
    return out;
}

void tell_chain(Outcome& out, const Chain& chain) {
    out.readings = chain_readings(out.document, chain);
    const double slack = out.readings["slack_m"].get<double>();
    const std::string amount = format_length(std::abs(slack), LengthUnit::Millimetre, 2);
    std::string words = fmt::format("'{}': {} links of {}, ", chain.name, chain.link_count,
                                    format_length(chain.pitch_m, LengthUnit::Millimetre));
    if (chain.folds())
        words += fmt::format("its end {} {}", slack < 0 ? "is too far by" : "has to spare", amount);
    else
        words += fmt::format("the {} needs {:.3f}, {} {}", chain.ends ? "run" : "loop",
                             out.readings["links_needed"].get<double>(), amount,
                             slack < -1e-9 ? "missing" : "to spare");
    out.messages.push_back(words);
}

}  // namespace pivrak
