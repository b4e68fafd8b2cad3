// Sources: ISO 606:2015 (pitch circles; tip circles between d + p (1 - 1.6 / z) - d1 and d + 1.25 p - d1,
// with d1 near 0.63 p).
#include "core/rig/chain_builder.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/geometry/recognise.h"
#include "core/rig/gear_pair.h"
#include "core/rig/wheel_size.h"

namespace pivrak {
namespace {

constexpr double axis_tolerance_rad = 0.5 * rad_per_deg;

const std::string& name_of(const Document& document, PartId part) {
    return document.parts.find(part)->name;
}

/// A wheel as it stands in the world: the middle of its tread, its axis, its size.
struct StoodWheel {
    PartId part;
    Vec3 middle, axis;
    double radius = 0;  ///< of its outermost points
    int teeth = 0;
    bool outside = false;
};

Error wheel_error(const char* code, const std::string& name, const std::string& what) {
    return {code, fmt::format("'{}' {}", name, what), name};
}

Result<std::vector<StoodWheel>> stood_wheels(const Document& document, const ChainPlan& plan) {
    if (plan.wheels.size() < 2) return Error{"chain.wheels", "a chain needs two wheels or more", "wheels"};
    if (plan.wheels.size() > most_chain_wheels)
        return Error{"chain.wheels",
                     fmt::format("{} wheels are too many: at most {}", plan.wheels.size(), most_chain_wheels),
                     "wheels"};
    if (!plan.teeth.empty() && plan.teeth.size() != plan.wheels.size())
        return Error{"chain.teeth",
                     fmt::format("{} tooth counts for {} wheels", plan.teeth.size(), plan.wheels.size()),
                     "teeth"};
    const Tree tree(document);
    std::vector<StoodWheel> wheels;
    for (std::size_t i = 0; i < plan.wheels.size(); ++i) {
        const PartId given = plan.wheels[i];
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
        wheel.middle += size.middle_m * wheel.axis;
        wheel.outside = std::find(plan.outside.begin(), plan.outside.end(), given) != plan.outside.end();
        wheel.teeth = plan.teeth.empty() ? teeth_of(document, given).value_or(0) : plan.teeth[i];
        if (wheel.teeth != 0 && (wheel.teeth < 5 || wheel.teeth > 300))
            return wheel_error("chain.teeth", part.name,
                               fmt::format("cannot have {} teeth: 5 to 300, or 0 for a roller", wheel.teeth));
        if (wheel.teeth == 0 && !(wheel.radius > 0))
            return wheel_error("chain.wheels", part.name, "has no shape to measure a roller on");
        wheels.push_back(wheel);
    }
    return wheels;
}

/// The pitch of the standard chain whose sprocket would have such tips.
Result<double> pitch_of(const Document& document, const std::vector<StoodWheel>& wheels, double given) {
    if (given < 0 || given > 10)
        return Error{"chain.pitch", fmt::format("a pitch of {} is out of range", format_length(given)),
                     "pitch"};
    if (given > 0) return given;
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
                        name_of(document, sprocket->part), format_length(about)),
            "pitch"};
    return best;
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
            return wheel_error("chain.plane", name_of(document, wheel.part),
                               fmt::format("stands {} beside the plane of '{}'", format_length(std::abs(off)),
                                           name_of(document, first.part)));
    }
    return {};
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

double angle_of(const Vec2& v) {
    return std::atan2(v.y(), v.x());
}

/// Angle in the chain's plane of a gap between teeth, with the wheel at rest; none when no teeth are found.
std::optional<double> gap_angle(const Document& document, PartId wheel, int teeth, const Frame& plane) {
    const ToothedPart shown = toothed_part(document, wheel, teeth, plane.axis(2), plane.axis(0));
    if (!shown.shape_part) return std::nullopt;
    return shown.tooth_rad + pi / teeth;
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
                                name(i), name(k), format_length(apart), format_length(both)),
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
    PIVRAK_TRY(wheels, stood_wheels(document, plan));
    PIVRAK_TRY(pitch, pitch_of(document, wheels, plan.pitch_m));
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
        const double radius = wheel.teeth > 0 ? 0 : wheel.radius + plan.pin_height_m;
        if (wheel.teeth == 0 && radius < 0.51 * pitch)
            return wheel_error("chain.wheels", name_of(document, wheel.part),
                               fmt::format("is too small for links of {}", format_length(pitch)));
        chain.wheels.push_back({wheel.part, wheel.teeth, radius, wheel.outside, 0});
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
        return Error{
            "chain.links",
            fmt::format("{} links are too few: the loop is {} long and needs {:.2f} links of {}",
                        chain.link_count, format_length(needed * pitch), needed, format_length(pitch)),
            "links"};
    seat_chain(tried, chain);
    return BuiltChain{chain, datum.parent_from_rest};
}

}  // namespace pivrak
