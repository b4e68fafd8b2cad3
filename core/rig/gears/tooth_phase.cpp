#include "core/rig/gears/tooth_phase.h"

#include <cmath>

#include "core/geometry/direction.h"
#include "core/geometry/teeth/tooth_profile.h"
#include "core/rig/gears/gear_pair.h"
#include "core/rig/gears/train_ties.h"

namespace pivrak {
namespace {

/// Where a tooth of one member stands at the touching place, in pitches along the common way, and by how many
/// pitches it goes on when its channel rises by one.
struct ToothSeat {
    double pitches = 0, per_unit = 0;
};

/// The clearest profile among the parts that move with a member.
template <class Profile>
std::optional<ToothProfile> clearest(const Document& document, PartId moving, Profile profile) {
    std::optional<ToothProfile> best;
    for (const PartId part : turning_parts(document, moving)) {
        const Shape* shape = document.shapes.find(document.parts.find(part)->shape);
        if (!shape) continue;
        const ToothProfile found = profile(*shape->mesh, part);
        if (found.strength >= clear_teeth && (!best || found.strength > best->strength + 0.05)) best = found;
    }
    return best;
}

/// Of teeth about an axis: `arm` points from it to the touching place, `way` is the common one there.
ToothSeat turning_seat(double tooth_rad, int teeth, const Vec3& axis, const Vec3& arm, const Vec3& way) {
    const double sense = axis.cross(arm).dot(way) < 0 ? -1 : 1;
    return {sense * teeth * tooth_rad / (2 * pi), sense * teeth / (2 * pi)};
}

std::optional<ToothSeat> round_seat(const Document& document, ChannelRef channel, const PairMember& member,
                                    int teeth, const Vec3& arm, const Vec3& way) {
    if (teeth < 3 || !(arm.norm() > 0)) return std::nullopt;
    const Frame frame = frame_about(member.centre, member.axis, arm.normalized());
    const auto shown = clearest(document, channel.part(), [&](const Mesh& mesh, PartId part) {
        return tooth_profile(mesh, frame_from_shape(document, part, frame), teeth);
    });
    if (!shown) return std::nullopt;
    return turning_seat(shown->phase_rad, teeth, member.axis, arm, way);
}

using Seats = std::optional<std::array<ToothSeat, 2>>;

Seats both(const std::optional<ToothSeat>& a, const std::optional<ToothSeat>& b) {
    if (!a || !b) return std::nullopt;
    return std::array{*a, *b};
}

/// A rack's pitch line is where its pinion's pitch circle touches it.
Seats rack_seats(const Document& document, const GearPair& pair, const std::array<PairMember, 2>& members) {
    const std::size_t rack = members[0].slides ? 0 : 1, pinion = 1 - rack;
    const ChannelRef channels[] = {pair.driver, pair.driven};
    const int teeth = pinion == 0 ? pair.driver_teeth : pair.driven_teeth;
    const double radius = pinion == 0 ? pair.driver_radius_m : pair.driven_radius_m;
    const PairMember &gear = members[pinion], &bar = members[rack];
    const Vec3 way = bar.axis, arm = across_axis(across_axis(bar.centre - gear.centre, gear.axis), way);
    if (!(radius > 0) || !(arm.norm() > 0) || teeth < 3) return std::nullopt;
    const Vec3 up = -arm.normalized(), touch = gear.centre - radius * up;
    const double pitch = 2 * pi * radius / teeth;
    Mat3 columns;
    columns << way, up, way.cross(up);
    const Frame frame{Quat(columns), touch};
    const auto shown = clearest(document, channels[rack].part(), [&](const Mesh& mesh, PartId part) {
        return rack_tooth_profile(mesh, frame_from_shape(document, part, frame), pitch);
    });
    if (!shown) return std::nullopt;
    const ToothSeat on_rack{shown->phase_rad / (2 * pi), 1 / pitch};
    const auto on_gear = round_seat(document, channels[pinion], gear, teeth, arm, way);
    return rack == 0 ? both(on_rack, on_gear) : both(on_gear, on_rack);
}

/// How a worm stands to its wheel: a frame along its axis, x towards the wheel's.
struct WormStand {
    Frame world_from_worm;
    Vec3 to_worm;  ///< from the wheel, across both axes
};

std::optional<WormStand> worm_stand(const PairMember& worm, const PairMember& wheel) {
    const Vec3 way = worm.axis,
               to_worm = across_axis(across_axis(worm.centre - wheel.centre, wheel.axis), way);
    if (!(to_worm.norm() > 0)) return std::nullopt;
    const Vec3 foot = worm.centre - (worm.centre - wheel.centre).dot(way) * way;
    return WormStand{frame_about(foot, way, -to_worm.normalized()), to_worm};
}

/// From thread to thread along the axis; 0 when nothing fits. The module follows from the centres and the
/// worm's tip, which stands one module above its pitch cylinder: apart = m z / 2 + tip - m.
double worm_pitch(const Mesh& worm, const Frame& axis_from_mesh, const WormStand& stand, int wheel_teeth) {
    const double module = (stand.to_worm.norm() - tip_radius(worm, axis_from_mesh)) / (0.5 * wheel_teeth - 1);
    return module > 1e-6 ? pi * module : 0;
}

/// The thread of a worm with so many starts, above zero right-handed.
std::optional<ToothProfile> worm_thread(const Document& document, const GearPair& pair,
                                        const WormStand& stand, int signed_starts) {
    return clearest(document, pair.driver.part(), [&](const Mesh& mesh, PartId part) {
        const Frame worm_from_shape = frame_from_shape(document, part, stand.world_from_worm);
        const double pitch = worm_pitch(mesh, worm_from_shape, stand, pair.driven_teeth);
        return pitch > 0
                   ? thread_profile(mesh, worm_from_shape, signed_starts * pitch, std::abs(signed_starts))
                   : ToothProfile{};
    });
}

/// A worm's thread goes by like a rack along its axis.
Seats worm_seats(const Document& document, const GearPair& pair, const std::array<PairMember, 2>& members) {
    const auto stand = worm_stand(members[0], members[1]);
    if (!stand || pair.driver_teeth < 1 || pair.driven_teeth < 3) return std::nullopt;
    const int starts = pair.left_hand ? -pair.driver_teeth : pair.driver_teeth;
    const auto shown = worm_thread(document, pair, *stand, starts);
    if (!shown) return std::nullopt;
    return both(
        ToothSeat{shown->phase_rad / (2 * pi), -starts / (2 * pi)},
        round_seat(document, pair.driven, members[1], pair.driven_teeth, stand->to_worm, members[0].axis));
}

Seats bevel_seats(const Document& document, const GearPair& pair, const std::array<PairMember, 2>& members) {
    const auto touch = bevel_touch(members[0], members[1]);
    if (!touch) return std::nullopt;
    const ChannelRef channels[] = {pair.driver, pair.driven};
    const int teeth[] = {pair.driver_teeth, pair.driven_teeth};
    std::array<std::optional<ToothSeat>, 2> seats;
    for (std::size_t i = 0; i < 2; ++i) {
        const PairMember& member = members[i];
        const Vec3 along = (touch->line.dot(member.axis) < 0 ? -1.0 : 1.0) * member.axis;
        const Vec3 arm = across_axis(touch->line, member.axis);
        if (teeth[i] < 3 || !(arm.norm() > 1e-9)) return std::nullopt;
        const Frame frame = frame_about(touch->apex, along, arm.normalized());
        const auto shown = clearest(document, channels[i].part(), [&](const Mesh& mesh, PartId part) {
            return cone_tooth_profile(mesh, frame_from_shape(document, part, frame), teeth[i],
                                      std::atan2(arm.norm(), touch->line.dot(along)));
        });
        // Angles were counted about the axis as it points to the gear.
        if (shown)
            seats[i] = turning_seat(shown->phase_rad * along.dot(member.axis), teeth[i], member.axis, arm,
                                    touch->way);
    }
    return both(seats[0], seats[1]);
}

}  // namespace

std::optional<CountedThreads> counted_threads(const Document& document, const GearPair& pair) {
    constexpr int most_starts = 12;
    const auto members = pair_members(document, pair);
    const auto stand = worm_stand(members[0], members[1]);
    if (!stand || pair.driven_teeth < 3) return std::nullopt;
    ThreadCount best;
    for (const PartId part : turning_parts(document, pair.driver.part())) {
        const Shape* shape = document.shapes.find(document.parts.find(part)->shape);
        if (!shape) continue;
        const Frame worm_from_shape = frame_from_shape(document, part, stand->world_from_worm);
        const double pitch = worm_pitch(*shape->mesh, worm_from_shape, *stand, pair.driven_teeth);
        if (!(pitch > 0)) continue;
        const ThreadCount found = count_threads(*shape->mesh, worm_from_shape, pitch, most_starts);
        if (found.strength > best.strength) best = found;
    }
    if (best.strength < clear_teeth) return std::nullopt;
    return CountedThreads{std::abs(best.starts), best.starts < 0};
}

std::optional<double> crossed_phase(const Document& document, const GearPair& pair) {
    const auto members = pair_members(document, pair);
    Seats seats;
    if (pair.kind == PairKind::Rack) seats = rack_seats(document, pair, members);
    if (pair.kind == PairKind::Worm) seats = worm_seats(document, pair, members);
    if (pair.kind == PairKind::Bevel) seats = bevel_seats(document, pair, members);
    if (!seats) return std::nullopt;
    const auto& [driver, driven] = *seats;
    const double missing = driver.pitches + 0.5 - driven.pitches;
    return (missing - std::round(missing)) / driven.per_unit;
}

}  // namespace pivrak
