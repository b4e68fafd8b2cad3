#include "core/rig/vehicles/wheel_ground.h"

#include <algorithm>
#include <cmath>

namespace pivrak {

WheelGround wheel_ground(const Document& document, RigFacts& facts, PartId wheel) {
    WheelGround out;
    const auto stand_on = [&](PartId ground) {
        out.stands = true;
        if (ground) out.map = facts.ground(document, ground);
    };
    for (const Coupling& c : document.couplings) {
        const Lean* lean = c.as<Lean>();
        if (!lean || lean->wheel != wheel) continue;
        stand_on(lean->ground);
        out.leans = true;
        out.profile = facts.profile(document, Tree(document), wheel);
        return out;
    }
    for (const Vehicle& vehicle : document.vehicles)
        for (const VehicleWheel& w : vehicle.wheels)
            if (w.wheel == wheel) {
                stand_on(vehicle.ground);
                out.track_m = vehicle.track_thickness_m;
                return out;
            }
    return out;
}

std::optional<double> tyre_gap(const WheelGround& ground, const Frame& world_from_wheel, int axis,
                               const WheelSize& size) {
    const Vec3 axle = world_from_wheel.axis(axis), across = Vec3::UnitZ() - axle.z() * axle;
    if (across.norm() < 1e-6) return std::nullopt;
    const double larger = world_from_wheel.size;
    const GroundWheel wheel{world_from_wheel.translation + larger * size.middle_m * axle, axle,
                            larger * size.radius_m, larger * size.half_width_m};
    if (!ground.map) return -stand_on_floor(wheel, across.normalized(), 0).lift_m;
    const auto contact = ground.map->stand(wheel, across.normalized());
    return contact ? std::optional(-contact->lift_m) : std::nullopt;
}

std::optional<double> leaning_gap(const WheelGround& ground, const Frame& world_from_wheel, int axis) {
    const Vec3 axle = world_from_wheel.axis(axis);
    const double larger = world_from_wheel.size;
    std::optional<double> least;
    if (!ground.profile) return least;
    for (const WheelProfile::Circle& circle : ground.profile->circles) {
        const Vec3 middle = world_from_wheel.translation + larger * circle.along_m * axle;
        const double radius = larger * circle.radius_m;
        std::optional<double> gap;
        if (!ground.map)
            gap = middle.z() - radius * std::sqrt(std::max(0.0, 1 - axle.z() * axle.z()));
        else if (const auto contact = ground.map->stand_leaning({middle, axle, radius, 0}))
            gap = -contact->lift_m;
        if (gap && (!least || *gap < *least)) least = gap;
    }
    return least;
}

}  // namespace pivrak
