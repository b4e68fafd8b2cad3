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
constexpr double pin_tolerance = 0.02;    // of a pitch, beyond what corners of polygons ask
constexpr double missing_tolerance_m = 5e-5;

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

/// Where a pin stands unevenly on a sprocket because links are straight: the most it can be off its gap.
/// Source: chordal action; the way of a pin on a polygon against that on the circle, R (pi / z)^3 / (9 sqrt
/// 3).
double chordal_m(const Chain& chain) {
    double most = 0;
    for (const ChainWheel& wheel : chain.wheels)
        if (wheel.teeth > 0) {
            const double half = pi / wheel.teeth;
            most += 2 * pitch_radius(chain.pitch_m, wheel.teeth) * half * half * half / (9 * std::sqrt(3.0));
        }
    return most;
}

/// Links that make up for a length, in whole patterns.
int links_for(const Chain& chain, double length_m) {
    return chain.pattern * static_cast<int>(std::ceil(length_m / (chain.pattern * chain.pitch_m)));
}

/// Of an open run: a drum that is empty, a cord that nothing keeps tight.
void check_run_course(const Clip& clip, const ChainCourse& course, const Chain& chain,
                      std::vector<Finding>& findings) {
    if (course.least_wound_rad < 0) {
        const double radius = chain.wheels.front().teeth > 0
                                  ? pitch_radius(chain.pitch_m, chain.wheels.front().teeth)
                                  : chain.wheels.front().radius_m;
        const double missing = -course.least_wound_rad * radius;
        const int more = links_for(chain, missing);
        findings.push_back(
            {Stage::Rig,
             "run.empty",
             chain.frame,
             fmt::format("the drum of '{}' is empty at frame {} of '{}': {} more are paid out than it holds",
                         chain.name, course.wound_at, clip.name, format_length(missing)),
             {{"op", "chain.set"}, {"chain", chain.frame.value}, {"links", chain.link_count + more}},
             fmt::format("Add {}", counted(static_cast<std::size_t>(more), "link"))});
    }
    if (course.possible && course.most_slack_m > missing_tolerance_m)
        findings.push_back({Stage::Rig, "run.slack", chain.frame,
                            fmt::format("'{}' has {} too much at frame {} of '{}': {}", chain.name,
                                        format_length(course.most_slack_m, LengthUnit::Millimetre, 2),
                                        course.most_at, clip.name,
                                        chain.take_up ? "what it pulls is at its limit"
                                                      : "nothing takes it up; say what it pulls")});
}

void check_course(const Document& document, const Clip& clip, const ChainCourse& course,
                  std::vector<Finding>& findings) {
    const Chain& chain = *document.chains.find(course.chain);
    const auto mm = [](double metres) { return format_length(metres, LengthUnit::Millimetre, 2); };
    if (!course.possible)
        findings.push_back(
            {Stage::Rig, "chain.impossible", chain.frame,
             fmt::format(
                 "'{}' cannot go round '{}' at frame {} of '{}': its links stay where they were built",
                 chain.name, name_of(document, course.blocked), course.impossible_at, clip.name)});
    else if (course.least_slack_m < -missing_tolerance_m) {
        const int more = links_for(chain, -course.least_slack_m);
        findings.push_back(
            {Stage::Rig, "chain.short", chain.frame,
             fmt::format("'{}' is {} too short at frame {} of '{}'", chain.name, mm(-course.least_slack_m),
                         course.least_at, clip.name),
             chain.take_up ? nlohmann::json()
                           : nlohmann::json{{"op", "chain.set"},
                                            {"chain", chain.frame.value},
                                            {"links", chain.link_count + more}},
             chain.take_up ? "" : fmt::format("Add {}", counted(static_cast<std::size_t>(more), "link"))});
    }
    check_run_course(clip, course, chain, findings);
    if (course.off_teeth_m > pin_tolerance * chain.pitch_m + chordal_m(chain))
        findings.push_back(
            {Stage::Rig, "chain.off_teeth", course.off_wheel,
             fmt::format("pins of '{}' stand {} beside the gaps of '{}' at frame {} of '{}': a wheel between "
                         "sprockets moved; let the run beside it hang",
                         chain.name, mm(course.off_teeth_m), name_of(document, course.off_wheel),
                         course.off_teeth_at, clip.name)});
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
                            "Make the number whole"});
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
            for (const ChainCourse& course : *courses) check_course(document, clip, course, findings);
}

}  // namespace pivrak
