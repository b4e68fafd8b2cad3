#include "core/operations/drivers/likely_coupling.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/io/project/project_json.h"
#include "core/model/element_channels.h"
#include "core/model/limit_ends.h"
#include "core/rig/gears/gear_pair.h"

namespace pivrak {
namespace {

/// Centres this far from where teeth of that size mesh, against the distance, are no pair.
constexpr double mesh_share = 0.05;

bool is_hinge(const Document& document, ChannelRef channel) {
    const Part* part = document.parts.find(channel.part());
    return part && part->joint.kind == JointKind::Hinge && channel.kind == ChannelKind::Turn;
}

/// Whether what was made are gears whose teeth are counted and mesh.
bool meshes(const Document& document, ChannelRef driven) {
    for (const Coupling& coupling : document.couplings) {
        const GearPair* pair = coupling.as<GearPair>();
        if (!pair || coupling.driven() != driven) continue;
        const GearPairMeasure measure = measure_gear_pair(document, *pair);
        return measure.fitting_m > 0 && std::abs(measure.fitting_m - measure.centre_distance_m) <
                                            mesh_share * measure.centre_distance_m;
    }
    return false;
}

nlohmann::json follow_step(const Document& document, ChannelRef driver, ChannelRef driven) {
    nlohmann::json step{{"op", "follow.add"},
                        {"parts", {driven.owner.value}},
                        {"channel", word(driven.kind)},
                        {"driver_channel", word(driver.kind)}};
    if (document.parts.contains(driver.part()))
        step["driver"] = driver.owner.value;
    else
        step["driver_element"] = {driver.owner.value};
    const auto leads = find_channel(document, driver), follows = find_channel(document, driven);
    if (leads && follows && leads->limits && follows->limits && is_closed(*leads->limits) &&
        is_closed(*follows->limits) && leads->limits->max - leads->limits->min > 1e-9) {
        step["driver_from"] = leads->limits->min;
        step["driver_to"] = leads->limits->max;
        step["from"] = follows->limits->min;
        step["to"] = follows->limits->max;
    }
    return step;
}

}  // namespace

Result<LikelyCoupling> likely_coupling(const Registry& registry, const Document& document, ChannelRef driver,
                                       ChannelRef driven) {
    if (!document.parts.contains(driven.part()))
        return Error{"driver.element",
                     fmt::format("'{}' belongs to no part: only those are driven by a follow",
                                 channel_name(document, driven)),
                     channel_name(document, driven)};
    if (is_hinge(document, driver) && is_hinge(document, driven)) {
        const nlohmann::json gears{
            {"op", "coupling.gear"}, {"driver", driver.owner.value}, {"driven", driven.owner.value}};
        const auto made = registry.run(document, gears);
        if (made && meshes(made->document, driven)) return LikelyCoupling{gears, made->messages.front()};
    }
    const nlohmann::json follow = follow_step(document, driver, driven);
    PIVRAK_TRY(made, registry.run(document, follow));
    return LikelyCoupling{follow, made.messages.front()};
}

}  // namespace pivrak
