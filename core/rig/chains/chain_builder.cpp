// Sources: ISO 606:2015 (pitch circles; tip circles between d + p (1 - 1.6 / z) - d1 and d + 1.25 p - d1,
// with d1 near 0.63 p).
#include "core/rig/chains/chain_builder.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/geometry/fits/recognise.h"
#include "core/rig/chains/chain_wheels.h"
#include "core/rig/chains/roller_line.h"
#include "core/rig/chains/run_builder.h"

namespace pivrak {

Result<void> check_pitch(double pitch) {
    if (can_be_pitch(pitch)) return {};
    return Error{"chain.pitch",
                 fmt::format("a pitch of {} is out of range: 0.01 mm to 10 m",
                             format_length(pitch, LengthUnit::Millimetre)),
                 "pitch"};
}

Result<void> check_link_count(const Document& document, double length, double pitch) {
    constexpr double most = most_links;
    if (length <= most * pitch) return {};
    return Error{
        "chain.links",
        fmt::format("{} take {:.0f} links of {}; a chain has at most {:.0f}", format_length(length, document),
                    length / pitch, format_length(pitch, LengthUnit::Millimetre), most),
        "pitch"};
}

namespace {

/// The pitch of the standard chain whose sprocket would have such tips.
Result<double> pitch_of(const Document& document, const std::vector<StoodWheel>& wheels, double given) {
    if (given != 0) {
        PIVRAK_CHECK(check_pitch(given));
        return given;
    }
    const auto sprocket =
        std::find_if(wheels.begin(), wheels.end(), [](const StoodWheel& w) { return w.teeth > 0; });
    if (sprocket == wheels.end())
        return Error{"chain.pitch", "no wheel has teeth that tell the pitch; give 'pitch' or 'chain'",
                     "pitch"};
    const double per_pitch = 0.5 / std::sin(pi / sprocket->teeth) + 0.25;
    const double about = sprocket->radius / per_pitch;
    double best = 0;
    for (const ChainSize& size : roller_chains())
        if (best == 0 || std::abs(size.pitch_m - about) < std::abs(best - about)) best = size.pitch_m;
    if (std::abs(best - about) > 0.1 * about)
        return Error{
            "chain.pitch",
            fmt::format("'{}' has teeth for a pitch of about {}, which is no standard chain; give 'pitch'",
                        name_of(document, sprocket->part), format_length(about, document)),
            "pitch"};
    return best;
}

/// A datum at the first wheel, z along its axis so that links go counterclockwise, x to the next wheel.
Frame plane_of(const std::vector<StoodWheel>& wheels, double way) {
    const Vec3 z = way * wheels.front().axis;
    Vec3 x = wheels[1].middle - wheels.front().middle;
    x -= x.dot(z) * z;
    x = x.norm() > 1e-9 ? Vec3(x.normalized()) : any_perpendicular(z);
    Mat3 axes;
    axes << x, z.cross(x), z;
    return {Quat(axes).normalized(), wheels.front().middle};
}

/// The run that hangs when nobody says so: the longest, of equal ones the lower one.
std::size_t longest_run(const ChainLoop& loop) {
    std::size_t best = 0;
    double most = -1;
    for (std::size_t i = 0; i < loop.circles.size(); ++i) {
        const ChainCircle &a = loop.circles[i], &b = loop.circles[(i + 1) % loop.circles.size()];
        const Vec2 between = b.centre - a.centre, right = Vec2(between.y(), -between.x()).normalized();
        const double low = 1e-3 * between.norm() * right.dot(loop.down);
        if (between.norm() + low > most) most = between.norm() + low, best = i;
    }
    return best;
}

bool cross(const Vec2& a, const Vec2& b, const Vec2& c, const Vec2& d) {
    const auto side = [](const Vec2& p, const Vec2& q, const Vec2& r) {
        return (q.x() - p.x()) * (r.y() - p.y()) - (q.y() - p.y()) * (r.x() - p.x());
    };
    return side(a, b, c) * side(a, b, d) < 0 && side(c, d, a) * side(c, d, b) < 0;
}

}  // namespace

PartId common_carrier(const Document& document, const std::vector<PartId>& parts) {
    for (PartId carrier = document.parts.find(parts.front())->parent; carrier;
         carrier = document.parts.find(carrier)->parent)
        if (std::all_of(parts.begin(), parts.end(),
                        [&](PartId part) { return part != carrier && is_below(document, part, carrier); }))
            return carrier;
    return {};
}

Result<void> check_chain(const Document& document, const Chain& chain) {
    if (chain.ends) return check_run(document, chain);
    const ChainLoop loop = chain_loop(document, chain);
    const std::size_t n = loop.circles.size();
    const auto name = [&](std::size_t i) { return name_of(document, chain.wheels[i % n].part); };
    for (std::size_t i = 0; i < n; ++i)
        for (std::size_t k = i + 1; k < n; ++k) {
            const double apart = (loop.circles[i].centre - loop.circles[k].centre).norm(),
                         both = loop.circles[i].radius_m + loop.circles[k].radius_m;
            if (apart < both)
                return Error{
                    "chain.overlap",
                    fmt::format("'{}' and '{}' lie over each other: {} apart, their pitch circles need {}",
                                name(i), name(k), format_length(apart, document),
                                format_length(both, document)),
                    name(k)};
        }
    if (const ChainFit fit = chain_fit(loop, 0); !fit.possible || fit.passed > 0)
        return Error{
            "chain.impossible",
            fmt::format(
                "no run leads round '{}' on the side asked for, from '{}' to '{}'; exchange inside and "
                "outside, or change the order",
                name(fit.blocked), name(fit.blocked + n - 1), name(fit.blocked + 1)),
            name(fit.blocked)};
    const std::vector<std::array<Vec2, 2>> runs = straight_runs(loop);
    for (std::size_t i = 0; i < n; ++i)
        for (std::size_t k = i + 1; k < n; ++k)
            if (cross(runs[i][0], runs[i][1], runs[k][0], runs[k][1]))
                return Error{"chain.crossed",
                             fmt::format("the run from '{}' to '{}' crosses the one from '{}' to '{}'",
                                         name(i), name(i + 1), name(k), name(k + 1)),
                             name(i)};
    return {};
}

void seat_chain(const Document& document, Chain& chain) {
    if (chain.ends) return seat_run(document, chain);
    const Frame plane = world_from_rest(document, chain.frame);
    std::vector<std::optional<double>> gaps;
    for (const ChainWheel& wheel : chain.wheels)
        gaps.push_back(wheel.teeth > 0 ? gap_angle(document, wheel.part, wheel.teeth, plane) : std::nullopt);
    const std::size_t reference = chain.reference();
    chain.start_rad = gaps[reference].value_or(chain.start_rad);
    const ChainLoop loop = chain_loop(document, chain);
    std::vector<Vec2> pins(static_cast<std::size_t>(chain.link_count));
    const ChainFit fit = place_pins(loop, 0, pins);
    if (!fit.placed) return;
    for (std::size_t i = 0; i < chain.wheels.size(); ++i) {
        ChainWheel& wheel = chain.wheels[i];
        wheel.phase_rad = 0;
        if (!gaps[i] || i == reference) continue;
        // A pin that sits on it, whichever.
        const auto seated = std::min_element(pins.begin(), pins.end(), [&](const Vec2& a, const Vec2& b) {
            const auto off = [&](const Vec2& p) {
                return std::abs((p - loop.circles[i].centre).norm() - loop.circles[i].radius_m);
            };
            return off(a) < off(b);
        });
        const double step = 2 * pi / wheel.teeth;
        const double turn = std::remainder(angle_of(*seated - loop.circles[i].centre) - *gaps[i], step);
        const Frame world = world_from_rest(document, wheel.part);
        const bool along = world.axis(document.parts.find(wheel.part)->joint.axis).dot(plane.axis(2)) > 0;
        wheel.phase_rad = along ? turn : -turn;
    }
}

Result<BuiltChain> build_chain(const Document& document, const ChainPlan& plan) {
    if (plan.wheels.size() < 2) return Error{"chain.wheels", "a chain needs two wheels or more", "wheels"};
    PIVRAK_TRY(wheels, stood_wheels(document, plan.wheels, plan.teeth));
    for (std::size_t i = 0; i < wheels.size(); ++i)
        wheels[i].outside =
            std::find(plan.outside.begin(), plan.outside.end(), plan.wheels[i]) != plan.outside.end();
    PIVRAK_TRY(pitch, pitch_of(document, wheels, plan.pitch_m));
    PIVRAK_CHECK(check_link_count(document, reach_of(wheels), pitch));
    PIVRAK_CHECK(check_axes(document, wheels, pitch));
    if (plan.pattern < 1 || plan.pattern > 100)
        return Error{"chain.links",
                     fmt::format("{} different links in a row are out of range: 1 to 100", plan.pattern),
                     "pattern"};
    Chain chain;
    chain.name = plan.name;
    chain.pitch_m = pitch;
    chain.pattern = plan.pattern;
    chain.link_count = 1000;
    for (const StoodWheel& wheel : wheels) {
        PIVRAK_TRY(round, chain_wheel(document, wheel, pitch, plan.pin_height_m));
        chain.wheels.push_back(round);
    }
    // The datum's part is not there yet: the document gets a stand-in for it, to be asked about either way
    // round.
    Document tried = document;
    Part datum;
    datum.id = tried.new_id<PartId>();
    chain.frame = datum.id;
    Result<void> sound = Error{};
    for (const double way : {1.0, -1.0}) {
        datum.parent_from_rest = plane_of(wheels, way);
        tried.parts.set(datum);
        Result<void> checked = check_chain(tried, chain);
        if (checked || way > 0) sound = std::move(checked);
        if (sound) break;
    }
    PIVRAK_CHECK(sound);
    ChainLoop loop = chain_loop(tried, chain);
    chain.slack_after = longest_run(loop);
    for (std::size_t i = 0; i < plan.wheels.size(); ++i)
        if (plan.slack_after && plan.wheels[i] == plan.slack_after) chain.slack_after = i;
    loop.slack_after = chain.slack_after;
    const double needed = needed_length(loop) / pitch;
    const int whole = plan.pattern * static_cast<int>(std::ceil(needed / plan.pattern - 1e-6));
    chain.link_count = plan.link_count > 0 ? plan.link_count : whole;
    if (chain.link_count < needed - 0.5 * static_cast<double>(loop.circles.size()) - 2 ||
        chain.link_count > 100000)
        return Error{"chain.links",
                     fmt::format("{} links are too few: the loop is {} long and needs {:.2f} links of {}",
                                 chain.link_count, format_length(needed * pitch, document), needed,
                                 format_length(pitch, document)),
                     "links"};
    seat_chain(tried, chain);
    return BuiltChain{chain, datum.parent_from_rest};
}

}  // namespace pivrak
