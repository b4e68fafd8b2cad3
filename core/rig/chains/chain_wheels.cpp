#include "core/rig/chains/chain_wheels.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/rig/gears/gear_pair.h"
#include "core/rig/vehicles/wheel_size.h"

namespace pivrak {
namespace {

constexpr double axis_tolerance_rad = 0.5 * rad_per_deg;

Error wheel_error(const char* code, const std::string& name, const std::string& what) {
    return {code, fmt::format("'{}' {}", name, what), name};
}

}  // namespace

Result<std::vector<StoodWheel>> stood_wheels(const Document& document, const std::vector<PartId>& parts,
                                             const std::vector<int>& teeth) {
    if (parts.size() > most_chain_wheels)
        return Error{"chain.wheels",
                     fmt::format("{} wheels are too many: at most {}", parts.size(), most_chain_wheels),
                     "wheels"};
    if (!teeth.empty() && teeth.size() != parts.size())
        return Error{"chain.teeth", fmt::format("{} tooth counts for {} wheels", teeth.size(), parts.size()),
                     "teeth"};
    const Tree tree(document);
    std::vector<StoodWheel> wheels;
    for (std::size_t i = 0; i < parts.size(); ++i) {
        const PartId given = parts[i];
        const Part& part = *document.parts.find(given);
        const auto hinge = turning_hinge(document, given);
        if (!hinge)
            return wheel_error("chain.wheels", part.name,
                               "does not turn: give it a pivot and a hinge joint first");
        const PartId id = *hinge;
        if (std::any_of(wheels.begin(), wheels.end(), [&](const StoodWheel& w) { return w.part == id; }))
            return wheel_error("chain.wheels", part.name,
                               "is named twice; a chain goes round each wheel once");
        const Frame world = world_from_rest(document, id);
        StoodWheel wheel{id, world.translation, world.axis(document.parts.find(id)->joint.axis)};
        const WheelSize size = measure_wheel(wheel_shapes(document, tree, id, given));
        wheel.radius = size.radius_m;
        wheel.half_width = size.half_width_m;
        wheel.middle += size.middle_m * wheel.axis;
        wheel.teeth = teeth.empty() ? teeth_of(document, given).value_or(0) : teeth[i];
        if (wheel.teeth != 0 && (wheel.teeth < 5 || wheel.teeth > 300))
            return wheel_error("chain.teeth", part.name,
                               fmt::format("cannot have {} teeth: 5 to 300, or 0 for a roller", wheel.teeth));
        if (wheel.teeth == 0 && !(wheel.radius > 0))
            return wheel_error("chain.wheels", part.name, "has no shape to measure a roller on");
        wheels.push_back(wheel);
    }
    return wheels;
}

Result<void> check_axes(const Document& document, const std::vector<StoodWheel>& wheels, double pitch) {
    const StoodWheel& first = wheels.front();
    for (const StoodWheel& wheel : wheels) {
        const double angle =
            std::atan2(first.axis.cross(wheel.axis).norm(), std::abs(first.axis.dot(wheel.axis)));
        if (angle > axis_tolerance_rad)
            return wheel_error("chain.axes", name_of(document, wheel.part),
                               fmt::format("stands at {} to '{}': a chain lies in one plane",
                                           format_angle(angle, 1), name_of(document, first.part)));
        const double off = (wheel.middle - first.middle).dot(first.axis);
        if (std::abs(off) > std::max(0.5 * pitch, 0.005))
            return wheel_error(
                "chain.plane", name_of(document, wheel.part),
                fmt::format("stands {} beside the plane of '{}'", format_length(std::abs(off), document),
                            name_of(document, first.part)));
    }
    return {};
}

Result<ChainWheel> chain_wheel(const Document& document, const StoodWheel& wheel, double pitch_m,
                               double pin_height_m) {
    const double radius = wheel.teeth > 0 ? 0 : wheel.radius + pin_height_m;
    if (wheel.teeth == 0 && radius < 0.51 * pitch_m)
        return wheel_error(
            "chain.wheels", name_of(document, wheel.part),
            fmt::format("is too small for links of {}", format_length(pitch_m, LengthUnit::Millimetre)));
    return ChainWheel{wheel.part, wheel.teeth, radius, wheel.outside, 0};
}

std::optional<double> gap_angle(const Document& document, PartId wheel, int teeth, const Frame& plane) {
    const ToothedPart shown = toothed_part(document, wheel, teeth, plane.axis(2), plane.axis(0));
    if (!shown.shape_part) return std::nullopt;
    return shown.tooth_rad + pi / teeth;
}

double reach_of(const std::vector<StoodWheel>& wheels) {
    double reach = 0;
    for (std::size_t i = 0; i < wheels.size(); ++i) {
        reach += 2 * pi * wheels[i].radius;
        if (i > 0) reach += (wheels[i].middle - wheels[i - 1].middle).norm();
    }
    return reach;
}

}  // namespace pivrak
