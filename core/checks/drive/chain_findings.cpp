// Findings of how chains and open runs fare as a clip runs.
#include <fmt/format.h>

#include <cmath>

#include "core/base/words.h"
#include "core/checks/drive/chain_check.h"
#include "core/rig/chains/chain_layout.h"

namespace pivrak {
namespace {

constexpr double pin_tolerance = 0.02;  // of a pitch, beyond what corners of polygons ask
constexpr double missing_tolerance_m = 5e-5;

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
void tell_run_course(const Document& document, const ChainCourse& course, const Chain& chain,
                     const MomentWords& at, std::vector<Finding>& findings) {
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
             fmt::format("the drum of '{}' is empty {}: {} more are paid out than it holds", chain.name,
                         at(course.wound_at), format_length(missing, document)),
             {{"op", "chain.set"}, {"chain", chain.frame.value}, {"links", chain.link_count + more}},
             fmt::format("Add {}", counted(static_cast<std::size_t>(more), "link")),
             course.wound_at});
    }
    if (course.possible && course.most_slack_m > missing_tolerance_m)
        findings.push_back(
            {Stage::Rig,
             "run.slack",
             chain.frame,
             fmt::format(
                 "'{}' has {} too much {}: {}", chain.name,
                 format_length(course.most_slack_m, LengthUnit::Millimetre, 2), at(course.most_at),
                 chain.take_up ? "what it pulls is at its limit" : "nothing takes it up; say what it pulls"),
             {},
             "",
             course.most_at});
}

void tell_course(const Document& document, const ChainCourse& course, const MomentWords& at,
                 std::vector<Finding>& findings) {
    const Chain& chain = *document.chains.find(course.chain);
    const auto mm = [](double metres) { return format_length(metres, LengthUnit::Millimetre, 2); };
    if (!course.possible)
        findings.push_back(
            {Stage::Rig,
             "chain.impossible",
             chain.frame,
             fmt::format("'{}' cannot go round '{}' {}: its links stay where they were built", chain.name,
                         name_of(document, course.blocked), at(course.impossible_at)),
             {},
             "",
             course.impossible_at});
    else if (course.least_slack_m < -missing_tolerance_m) {
        const int more = links_for(chain, -course.least_slack_m);
        findings.push_back(
            {Stage::Rig, "chain.short", chain.frame,
             fmt::format("'{}' is {} too short {}", chain.name, mm(-course.least_slack_m),
                         at(course.least_at)),
             chain.take_up ? nlohmann::json()
                           : nlohmann::json{{"op", "chain.set"},
                                            {"chain", chain.frame.value},
                                            {"links", chain.link_count + more}},
             chain.take_up ? "" : fmt::format("Add {}", counted(static_cast<std::size_t>(more), "link")),
             course.least_at});
    }
    tell_run_course(document, course, chain, at, findings);
    if (course.off_teeth_m > pin_tolerance * chain.pitch_m + chordal_m(chain))
        findings.push_back(
            {Stage::Rig,
             "chain.off_teeth",
             course.off_wheel,
             fmt::format(
                 "pins of '{}' stand {} beside the gaps of '{}' {}: a wheel between sprockets moved; let "
                 "the run beside it hang",
                 chain.name, mm(course.off_teeth_m), name_of(document, course.off_wheel),
                 at(course.off_teeth_at)),
             {},
             "",
             course.off_teeth_at});
}

}  // namespace

void tell_courses(const Document& document, const std::vector<ChainCourse>& courses, const MomentWords& at,
                  std::vector<Finding>& findings) {
    for (const ChainCourse& course : courses) tell_course(document, course, at, findings);
}

}  // namespace pivrak
