#include "core/rig/chains/chain_layout.h"

#include <algorithm>
#include <cmath>

namespace pivrak {

ChainLoop chain_loop(const Document& document, const Chain& chain) {
    ChainLoop loop{
        chain.pitch_m, chain.link_count, chain.reference(), chain.start_rad, chain.slack_after, {0, 0}, {}};
    const Frame plane_from_world = world_from_rest(document, chain.frame).inverse();
    for (const ChainWheel& wheel : chain.wheels) {
        const Vec3 centre = plane_from_world.point(world_from_rest(document, wheel.part).translation);
        loop.circles.push_back({centre.head<2>(),
                                wheel.teeth > 0 ? pitch_radius(chain.pitch_m, wheel.teeth) : wheel.radius_m,
                                wheel.outside ? -1.0 : 1.0, wheel.teeth == 0});
    }
    const Vec2 down = plane_from_world.direction(-Vec3::UnitZ()).head<2>();
    if (down.norm() > least_upright) loop.down = down.normalized();
    if (const auto& ends = chain.ends) {
        const auto place = [&](const ChainTie& tie) -> Vec2 {
            if (!tie.part) return {0, 0};
            return plane_from_world.point(world_from_rest(document, tie.part).point(tie.place)).head<2>();
        };
        loop.ends = LoopEnds{ends->start, place(ends->from), place(ends->to), ends->leaving_rad};
    }
    return loop;
}

double turn_in_plane(const Frame& plane_from_world, const Frame& world_from_part, int axis) {
    const Vec3 mark = plane_from_world.direction(world_from_part.axis((axis + 1) % 3));
    return std::atan2(mark.y(), mark.x());
}

Frame plane_from_link(std::span<const Vec2> pins, std::size_t i) {
    const Vec2 way = pins[(i + 1) % pins.size()] - pins[i];
    return {turn_about_axis(2, std::atan2(way.y(), way.x())), Vec3(pins[i].x(), pins[i].y(), 0)};
}

ChainFacts chain_facts(const ChainLoop& loop) {
    ChainFacts facts;
    std::vector<Vec2> pins(loop.pin_count());
    const ChainFit fit = place_pins(loop, 0, pins);
    facts.possible = fit.possible;
    facts.blocked = fit.blocked;
    if (!fit.possible) return facts;
    facts.sag_m = fit.sag_m;
    if (loop.ends) {
        facts.smooth_m = fit.line_m;
        facts.slack_m = fit.slack_m;
        facts.wound_rad = fit.wound_rad;
        facts.needed_m = loop.links * loop.pitch_m - fit.slack_m;
        facts.links_needed = facts.needed_m / loop.pitch_m;
        return facts;
    }
    facts.smooth_m = smooth_length(loop);
    facts.needed_m = needed_length(loop);
    facts.links_needed = facts.needed_m / loop.pitch_m;
    facts.slack_m = loop.links * loop.pitch_m - facts.needed_m;
    return facts;
}

}  // namespace pivrak
