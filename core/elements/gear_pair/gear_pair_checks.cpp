#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/checks/clip_check.h"
#include "core/checks/drive/drive_mapper.h"
#include "core/checks/element_check.h"
#include "core/checks/over_words.h"
#include "core/rig/gears/gear_pair.h"
#include "core/rig/gears/train_ties.h"

namespace pivrak {
namespace {

constexpr double axis_tolerance_rad = 0.05 * rad_per_deg;
constexpr double module_tolerance = 0.02;  // of the module

void check_spur(const GearPair& pair, const GearPairMeasure& m, const std::string& names, ElementCheck& out) {
    const PartId part = pair.driven.part();
    if (m.axis_angle_rad > axis_tolerance_rad)
        out.add(Stage::Rig, "gear.axes", part,
                fmt::format("axes of {} are {} apart (allowed {})", names,
                            angle_over(m.axis_angle_rad, axis_tolerance_rad, 3),
                            format_angle(axis_tolerance_rad)));
    if (m.fitting_m > 0 && std::abs(m.centre_distance_m - m.fitting_m) > module_tolerance * m.tip_module_m)
        out.add(Stage::Rig, "gear.centres", part,
                fmt::format("centres of {} are {} apart, module {} asks for {}: {} off", names,
                            format_length(m.centre_distance_m, out.document),
                            format_length(standard_module(m.tip_module_m), LengthUnit::Millimetre),
                            format_length(m.fitting_m, out.document),
                            format_length(m.centre_distance_m - m.fitting_m, LengthUnit::Millimetre, 2)),
                {{"op", "coupling.fit_centres"},
                 {"driver", pair.driver.part().value},
                 {"driven", pair.driven.part().value}},
                fmt::format("Move '{}' to fit", name_of(out.document, part)));
    if (!m.phase_measured && pair.driver_radius_m == 0)
        out.add(Stage::Rig, "gear.no_teeth", part,
                fmt::format("no {} and {} teeth found on {}: their phase is not checked", pair.driver_teeth,
                            pair.driven_teeth, names));
}

/// What stands on the line from the first member to the second: teeth, radii, or a lead.
std::string line_words(const GearPair& pair, bool turned_round) {
    if (pair.kind == PairKind::Screw) return fmt::format("lead {}", short_length(pair.lead_m));
    if (pair.kind == PairKind::Rack)
        return fmt::format("r {}", short_length(std::max(pair.driver_radius_m, pair.driven_radius_m)));
    const auto two = [&](std::string a, std::string b) {
        if (turned_round) std::swap(a, b);
        return fmt::format("{} : {}", a, b);
    };
    if (pair.driver_radius_m > 0 && pair.driven_radius_m > 0)
        return two(short_length(pair.driver_radius_m), short_length(pair.driven_radius_m));
    return two(std::to_string(pair.driver_teeth), std::to_string(pair.driven_teeth));
}

/// A planet's carrier turns with it, or takes it along.
void map_carriers(const GearPair& pair, DriveMapper& out) {
    const Document& document = out.document();
    for (const TieTerm& term : pair_tie(document, Coupling{{}, pair}).terms) {
        if (term.channel == pair.driver || term.channel == pair.driven) continue;
        const ChannelRef planet =
            is_below(document, pair.driver.part(), term.channel.part()) ? pair.driver : pair.driven;
        const bool takes = out.place(term.channel) < out.place(planet);
        const ChannelRef from = takes ? term.channel : planet, to = takes ? planet : term.channel;
        if (!out.has(from, to)) out.add(from, to, takes ? "carries" : "carried");
    }
}

}  // namespace

void check(const GearPair& pair, ElementCheck& out) {
    const std::string names = fmt::format("'{}' and '{}'", name_of(out.document, pair.driver.part()),
                                          name_of(out.document, pair.driven.part()));
    const GearPairMeasure measure = measure_gear_pair(out.document, pair);
    if (const auto parting = parting_joints(out.document, pair); !parting.empty())
        out.add(Stage::Rig, "gear.apart", pair.driven.part(),
                fmt::format("'{}' moves {} away from each other: carry both axes on one part",
                            name_of(out.document, parting.front()), names));
    if (pair.kind == PairKind::Outside || pair.kind == PairKind::Inside)
        check_spur(pair, measure, names, out);
}

/// Whether a driven one is stopped is told of all couplings.
void watch(const GearPair&, ClipCheck&) {}

void map(const GearPair& pair, DriveMapper& out) {
    out.add_by_power(pair.driver, pair.driven,
                     [&](bool turned_round) { return line_words(pair, turned_round); });
    if (out.there(pair.driver) && out.there(pair.driven)) map_carriers(pair, out);
}

}  // namespace pivrak
