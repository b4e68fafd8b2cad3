// Findings of gear trains and chains.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/base/words.h"
#include "core/checks/drive/chain_check.h"
#include "core/checks/drive/train_report.h"
#include "core/checks/findings.h"
#include "core/rig/chains/chain_layout.h"

namespace pivrak {
namespace {

constexpr double tooth_tolerance = 0.05;  // of a tooth

/// A tie whose members all stand well, but whose teeth hit each other.
void check_teeth(const Document& document, const Tie& tie, const TrainSolution& solution,
                 std::vector<Finding>& findings) {
    const double off = missed_teeth(tie, solution);
    if (std::abs(off) < tooth_tolerance || !tie.pair) return;
    const GearPair& pair = *document.couplings.find(tie.pair)->as<GearPair>();
    if (!pair.phase_measured) return;
    findings.push_back(
        {Stage::Rig, "gear.teeth_miss", pair.driven.part(),
         fmt::format("teeth of '{}' and '{}' miss each other by {:.2f} of a tooth (allowed {}): their train "
                     "turns them to where others mesh",
                     name_of(document, pair.driver.part()), name_of(document, pair.driven.part()),
                     std::abs(off), tooth_tolerance)});
}

void check_chain_links(const Document& document, const Chain& chain, std::vector<Finding>& findings) {
    if (chain.link_count % chain.pattern != 0)
        findings.push_back({Stage::Rig,
                            "chain.odd",
                            chain.frame,
                            fmt::format("'{}' has {} links, but {} kinds alternate: two alike meet",
                                        chain.name, chain.link_count, chain.pattern),
                            {{"op", "chain.set"},
                             {"chain", chain.frame.value},
                             {"links", chain.link_count + chain.pattern - chain.link_count % chain.pattern}},
                            "Use a whole number of links"});
    // More than the slack of one whole pattern hangs about for no reason.
    const ChainFacts facts = chain_facts(chain_loop(document, chain));
    if (!chain.ends && facts.possible && facts.slack_m > (chain.pattern + 0.01) * chain.pitch_m)
        findings.push_back({Stage::Rig,
                            "chain.long",
                            chain.frame,
                            fmt::format("'{}' has {} links, its loop needs {:.2f}: {} hang loose", chain.name,
                                        chain.link_count, facts.links_needed,
                                        format_length(facts.slack_m, LengthUnit::Millimetre, 1)),
                            {{"op", "chain.fit"}, {"chain", chain.frame.value}, {"remedy", "sag"}},
                            "Take links out"});
}

void check_ties(const Document& document, const std::vector<Tie>& ties, std::vector<Finding>& findings) {
    const TrainSolution solution = solve_trains(document);
    for (const Tie& tie : ties) check_teeth(document, tie, solution, findings);
    std::vector<std::string> told;
    for (const Clip& clip : document.clips)
        for (const std::string& clash : report_trains(document, &clip).clashes)
            if (std::find(told.begin(), told.end(), clash) == told.end()) {
                told.push_back(clash);
                findings.push_back({Stage::Rig, "train.clash", {}, clash});
            }
}

}  // namespace

void check_trains(const Document& document, MeshFacts& known, std::vector<Finding>& findings) {
    if (const std::vector<Tie> ties = ties_of(document); !ties.empty()) check_ties(document, ties, findings);
    for (const Chain& chain : document.chains)
        if (document.parts.contains(chain.frame)) check_chain_links(document, chain, findings);
    for (const Clip& clip : document.clips)
        if (const auto courses = chain_course(document, clip.id, &known.rig()))
            tell_courses(document, *courses, frames_of(clip), findings);
}

}  // namespace pivrak
