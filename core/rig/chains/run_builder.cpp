#include "core/rig/chains/run_builder.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/rig/chains/chain_wheels.h"
#include "core/rig/chains/open_run.h"
#include "core/rig/chains/roller_line.h"

namespace pivrak {
namespace {

/// Sides are found by trying all of them.
constexpr std::size_t most_run_wheels = 12;

Vec3 place_of(const Document& document, const ChainTie& tie) {
    return world_from_rest(document, tie.part).point(tie.place);
}

Frame plane_along(const Vec3& origin, Vec3 x, const Vec3& z) {
    x -= x.dot(z) * z;
    x = x.norm() > 1e-9 ? Vec3(x.normalized()) : any_perpendicular(z);
    Mat3 axes;
    axes << x, z.cross(x), z;
    return {Quat(axes).normalized(), origin};
}

/// Through the narrowest wheel; x from the first wheel to the end.
Frame plane_of(const std::vector<StoodWheel>& wheels, const Vec3& end) {
    const auto narrowest = std::min_element(
        wheels.begin(), wheels.end(),
        [](const StoodWheel& a, const StoodWheel& b) { return a.half_width < b.half_width; });
    const Vec3 z = wheels.front().axis;
    const Vec3 off = (narrowest->middle - wheels.front().middle).dot(z) * z;
    return plane_along(wheels.front().middle + off, end - wheels.front().middle, z);
}

/// Wheels may be wider than the run that lies on them; ends must be near its plane.
Result<void> check_plane(const Document& document, const RunPlan& plan, const std::vector<StoodWheel>& wheels,
                         const Frame& plane) {
    const Frame plane_from_world = plane.inverse();
    for (const StoodWheel& wheel : wheels) {
        const double angle = std::acos(std::min(1.0, std::abs(wheel.axis.dot(plane.axis(2)))));
        if (angle > 0.5 * rad_per_deg)
            return Error{"run.plane",
                         fmt::format("'{}' stands at {} to the first wheel: a run lies in one plane",
                                     name_of(document, wheel.part), format_angle(angle, 1)),
                         name_of(document, wheel.part)};
        const double off = std::abs(plane_from_world.point(wheel.middle).z());
        if (off > std::max({0.5 * plan.pitch_m, 0.005, wheel.half_width}))
            return Error{"run.plane",
                         fmt::format("'{}' stands {} beside the run's plane", name_of(document, wheel.part),
                                     format_length(off, document)),
                         name_of(document, wheel.part)};
    }
    std::vector<ChainTie> ties{plan.to};
    if (plan.start == RunStart::Tied) ties.push_back(plan.from);
    for (const ChainTie& tie : ties) {
        const double off = std::abs(plane_from_world.point(place_of(document, tie)).z());
        if (off > std::max(0.02, 2 * plan.pitch_m))
            return Error{"run.plane",
                         fmt::format("'{}' is tied {} beside the plane of the wheels",
                                     name_of(document, tie.part), format_length(off, document)),
                         name_of(document, tie.part)};
    }
    return {};
}

bool sound(const ChainFit& fit) {
    return fit.possible && fit.passed == 0;
}

void set_sides(ChainLoop& loop, unsigned sides) {
    for (std::size_t i = 0; i < loop.circles.size(); ++i)
        loop.circles[i].side = (sides >> i & 1u) != 0 ? -1.0 : 1.0;
}

/// Of all sides those with the shortest line; none when no line goes round every wheel.
std::optional<unsigned> shortest_sides(ChainLoop loop) {
    std::optional<unsigned> best;
    double least = 1e300;
    for (unsigned sides = 0; sides < 1u << loop.circles.size(); ++sides) {
        set_sides(loop, sides);
        const ChainFit fit = chain_fit(loop, 0);
        if (sound(fit) && fit.line_m < least) least = fit.line_m, best = sides;
    }
    return best;
}

Result<void> choose_sides(const Document& document, const RunPlan& plan, Chain& chain) {
    ChainLoop loop = chain_loop(document, chain);
    auto sides = shortest_sides(loop);
    for (std::size_t i = 0; sides && i < plan.wheels.size(); ++i)
        if (std::find(plan.other_side.begin(), plan.other_side.end(), plan.wheels[i]) !=
            plan.other_side.end())
            *sides ^= 1u << i;
    set_sides(loop, sides.value_or(0));
    for (std::size_t i = 0; i < chain.wheels.size(); ++i) chain.wheels[i].outside = loop.circles[i].side < 0;
    return check_run(document, chain);
}

/// A document with a datum tried out in it; that gets its part from the caller.
Document with_datum(const Document& document, Chain& chain, const Frame& plane) {
    Document tried = document;
    Part datum;
    datum.id = tried.new_id<PartId>();
    datum.parent_from_rest = plane;
    tried.parts.set(datum);
    chain.frame = datum.id;
    return tried;
}

}  // namespace

void fill_run(const Document& document, Chain& chain) {
    ChainLoop loop = chain_loop(document, chain);
    const double line = chain_fit(loop, 0).line_m;
    if (chain.link_count <= 0)
        chain.link_count = std::max(3, static_cast<int>(std::lround(std::min(1e6, line / chain.pitch_m))));
    loop.links = chain.link_count;
    // The slack of chords is all but linear in their length.
    double pitch = line / loop.links;
    for (int i = 0; i < 60; ++i) {
        loop.pitch_m = pitch;
        const double slack = chain_fit(loop, 0).slack_m;
        pitch -= slack / loop.links;
        if (std::abs(slack) < 1e-13 * line) break;
    }
    chain.pitch_m = pitch;
}

Result<void> check_run(const Document& document, const Chain& chain) {
    const ChainFit fit = chain_fit(chain_loop(document, chain), 0);
    if (!fit.possible && chain.folds())
        return Error{"fold.way",
                     fmt::format("the ends of '{}' lie too near for it to fold between them", chain.name),
                     chain.name};
    if (!fit.possible || fit.passed > 0) {
        const std::string& name = name_of(document, chain.wheels[fit.blocked].part);
        return Error{"chain.impossible",
                     fmt::format("no run leads round '{}' on the side asked for; change the order of wheels "
                                 "or their sides",
                                 name),
                     name};
    }
    if (chain.link_count >= 3 && chain.link_count <= 100000 && (fit.placed || chain.travels()) &&
        (chain.travels() ? fit.placed : fit.slack_m > -0.25 * fit.line_m))
        return {};
    return Error{"chain.links",
                 fmt::format("{} links of {} do not do: the run is {} long", chain.link_count,
                             format_length(chain.pitch_m, LengthUnit::Millimetre),
                             format_length(fit.line_m, document)),
                 "links"};
}

void seat_run(const Document& document, Chain& chain) {
    if (!chain.travels()) return;
    ChainLoop loop = chain_loop(document, chain);
    const std::array<ChainCircle, 2> straight{
        loop.circles.front(), loop.circles.size() > 1 ? loop.circles[1] : ChainCircle{loop.ends->to, 0, 1}};
    // Where the run leaves its first wheel.
    const auto way = touching_direction(straight[0], straight[1]);
    if (!way) return;
    const double contact = *way - straight[0].side * pi / 2;
    chain.ends->leaving_rad = loop.ends->leaving_rad = contact;
    chain.start_rad = loop.start_rad = contact;
    const ChainFit fit = chain_fit(loop, 0);
    if (!fit.possible) return;
    const double step = pin_step_rad(loop.pitch_m, straight[0].radius_m);
    chain.start_rad -= straight[0].side * fit.slack_m * step / loop.pitch_m;
    ChainWheel& wheel = chain.wheels.front();
    wheel.phase_rad = 0;
    const Frame plane = world_from_rest(document, chain.frame);
    const auto gap = wheel.teeth > 0 ? gap_angle(document, wheel.part, wheel.teeth, plane) : std::nullopt;
    if (!gap) return;
    const Frame world = world_from_rest(document, wheel.part);
    const bool along = world.axis(document.parts.find(wheel.part)->joint.axis).dot(plane.axis(2)) > 0;
    const double turn = std::remainder(chain.start_rad - *gap, 2 * pi / wheel.teeth);
    wheel.phase_rad = along ? turn : -turn;
}

Result<BuiltChain> build_run(const Document& document, const RunPlan& plan) {
    PIVRAK_CHECK(check_pitch(plan.pitch_m));
    if (plan.wheels.empty()) return Error{"chain.wheels", "an open run goes over a wheel or more", "wheels"};
    if (plan.wheels.size() > most_run_wheels)
        return Error{"run.sides",
                     fmt::format("{} wheels are too many to find sides for: at most {}", plan.wheels.size(),
                                 most_run_wheels),
                     "wheels"};
    if (!(plan.wound_turns >= 0) || plan.wound_turns > 1000)
        return Error{"chain.links",
                     fmt::format("{} turns on a drum are out of range: 0 to 1000", plan.wound_turns),
                     "wound"};
    const std::vector<int> none(plan.wheels.size(), 0);
    PIVRAK_TRY(wheels, stood_wheels(document, plan.wheels, plan.teeth.empty() ? none : plan.teeth));
    const Frame plane = plane_of(wheels, place_of(document, plan.to));
    PIVRAK_CHECK(check_plane(document, plan, wheels, plane));
    PIVRAK_CHECK(check_link_count(
        document, reach_of(wheels) + (place_of(document, plan.to) - wheels.back().middle).norm(),
        plan.pitch_m));
    Chain chain;
    chain.pitch_m = plan.pitch_m;
    chain.ends = RunEnds{plan.start, plan.from, plan.to};
    chain.link_count = 100000;
    for (const StoodWheel& wheel : wheels) {
        PIVRAK_TRY(round, chain_wheel(document, wheel, plan.pitch_m, plan.pin_height_m));
        chain.wheels.push_back(round);
    }
    const Document tried = with_datum(document, chain, plane);
    PIVRAK_CHECK(choose_sides(tried, plan, chain));
    const ChainLoop loop = chain_loop(tried, chain);
    chain.link_count = plan.link_count;
    if (plan.start == RunStart::Tied && !plan.keep_pitch) {
        fill_run(tried, chain);
    } else if (plan.link_count == 0) {
        const double wound =
            plan.start == RunStart::Tied ? 0 : 2 * pi * loop.circles.front().radius_m * plan.wound_turns;
        chain.link_count =
            static_cast<int>(std::min(1e6, std::ceil((chain_fit(loop, 0).line_m + wound) / chain.pitch_m)));
    }
    PIVRAK_CHECK(check_run(tried, chain));
    seat_run(tried, chain);
    return BuiltChain{chain, plane};
}

Result<BuiltChain> build_fold(const Document& document, const FoldPlan& plan) {
    PIVRAK_CHECK(check_pitch(plan.pitch_m));
    const Vec3 from = place_of(document, plan.from), to = place_of(document, plan.to);
    if (!(plan.way.norm() > 1e-9)) return Error{"fold.way", "the way it folds along has no direction", "way"};
    const Vec3 x = plan.way.normalized(), between = to - from, across = between - between.dot(x) * x;
    const double radius = 0.5 * across.norm();
    if (!(radius > 0.5 * plan.pitch_m))
        return Error{"fold.way",
                     fmt::format("its ends are {} apart across the way it folds along, less than a link",
                                 format_length(across.norm(), document)),
                     "way"};
    if (radius < plan.least_bend_m)
        return Error{
            "fold.bend",
            fmt::format("its ends are {} apart, so it bends about {}; its links bend about {} or more",
                        format_length(2 * radius, document), format_length(radius, document),
                        format_length(plan.least_bend_m, document)),
            "bend"};
    PIVRAK_CHECK(
        check_link_count(document, std::abs(plan.reach_m) + between.norm() + pi * radius, plan.pitch_m));
    Chain chain;
    chain.pitch_m = plan.pitch_m;
    chain.ends = RunEnds{RunStart::Tied, plan.from, plan.to};
    const Frame plane = plane_along(from, x, x.cross(across).normalized());
    // As long as both straights and the half circle, with the end as far out as it is to reach.
    const double ahead = std::max(plan.reach_m, between.dot(x));
    chain.link_count =
        plan.link_count > 0
            ? plan.link_count
            : static_cast<int>(std::ceil((std::max(ahead, 0.0) + pi * radius) / plan.pitch_m)) + 2;
    const Document tried = with_datum(document, chain, plane);
    const ChainFit fit = chain_fit(chain_loop(tried, chain), 0);
    if (!fit.possible || fit.slack_m < 0 || chain.link_count < 3 || chain.link_count > 100000)
        return Error{"chain.links",
                     fmt::format("{} links of {} do not reach from '{}' to '{}': {} are missing",
                                 chain.link_count, format_length(plan.pitch_m, LengthUnit::Millimetre),
                                 name_of(document, plan.from.part), name_of(document, plan.to.part),
                                 format_length(fit.missing_m(), document)),
                     "links"};
    return BuiltChain{chain, plane};
}

}  // namespace pivrak
