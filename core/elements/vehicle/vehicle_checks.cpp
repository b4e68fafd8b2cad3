#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/checks/drive_mapper.h"
#include "core/checks/element_check.h"

namespace pivrak {
namespace {

constexpr double twin_tolerance_share = 0.005;  // of the larger radius

/// Wheels beside each other that differ: the vehicle would stand and steer askew.
void check_twins(const Vehicle& vehicle, ElementCheck& out) {
    struct Stand {
        PartId wheel;
        Vec3 hub;
        double radius_m;
    };
    std::vector<Stand> left, right;
    const Frame root = world_from_rest(out.document, vehicle.root).inverse();
    for (const VehicleWheel& wheel : vehicle.wheels) {
        const Stand stand{wheel.wheel, (root * world_from_rest(out.document, wheel.wheel)).translation,
                          out.facts.wheel(out.document, out.tree, wheel.wheel).radius_m};
        (stand.hub.y() > 0 ? left : right).push_back(stand);
    }
    for (const Stand& l : left) {
        const auto twin = std::min_element(right.begin(), right.end(), [&](const Stand& a, const Stand& b) {
            return std::abs(a.hub.x() - l.hub.x()) < std::abs(b.hub.x() - l.hub.x());
        });
        if (twin == right.end() || std::abs(twin->hub.x() - l.hub.x()) > 0.5 * l.radius_m) continue;
        const double off = std::abs(l.radius_m - twin->radius_m);
        if (off <= twin_tolerance_share * std::max(l.radius_m, twin->radius_m)) continue;
        const Stand &larger = l.radius_m > twin->radius_m ? l : *twin, &smaller = &larger == &l ? *twin : l;
        out.add(Stage::Rig, "vehicle.twins", smaller.wheel,
                fmt::format("'{}' of '{}' has a radius {} smaller than its twin '{}' (allowed {})",
                            name_of(out.document, smaller.wheel), vehicle.name, format_length(off),
                            name_of(out.document, larger.wheel),
                            format_length(twin_tolerance_share * larger.radius_m)));
    }
}

}  // namespace

void check(const Vehicle& vehicle, ElementCheck& out) {
    check_twins(vehicle, out);
    if (vehicle.ground && !out.facts.ground(out.document, vehicle.ground))
        out.add(Stage::Rig, "vehicle.ground", vehicle.ground,
                fmt::format("the ground of '{}' has no shape: it stands on the floor", vehicle.name));
}

/// The ground moves a vehicle, and no channel.
void map(const Vehicle&, DriveMapper&) {}

}  // namespace pivrak
