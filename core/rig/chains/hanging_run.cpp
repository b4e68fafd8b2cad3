// Source: joints of a hanging string are in balance when tensions differ from link to link by one weight.
// Its closure is then the gradient of the sum of link_m * |tension of each link|, which is convex in the
// first tension, so Newton's method with steps damped where they fail finds it.
#include "core/rig/chains/hanging_run.h"

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>

#include "core/geometry/frame.h"

namespace pivrak {
namespace {

using Mat2 = Eigen::Matrix2d;

struct RunClosure {
    double value = 0;
    Vec2 missing{0, 0};
    Mat2 slope = Mat2::Zero();
};

RunClosure closure(const Vec2& tension, const Vec2& down, long links, double link_m, const Vec2& between) {
    RunClosure c;
    for (long k = 0; k < links; ++k) {
        const Vec2 pull = tension - static_cast<double>(k) * down;
        const double size = std::max(pull.norm(), 1e-12);
        const Vec2 way = pull / size;
        c.value += size;
        c.missing += way;
        c.slope += (Mat2::Identity() - way * way.transpose()) / size;
    }
    c.value = link_m * c.value - tension.dot(between);
    c.missing = link_m * c.missing - between;
    c.slope *= link_m;
    return c;
}

/// Tension at the start of a smooth string, for a weight of one a metre.
/// Source: catenary of parameter c over the width w, height h: sqrt(length^2 - h^2) = 2 c sinh(w / 2c).
Vec2 catenary_tension(const Vec2& between, double length, const Vec2& down) {
    const Vec2 level = Vec2(-down.y(), down.x()) * (between.dot(Vec2(-down.y(), down.x())) < 0 ? -1 : 1);
    const double width = std::max(between.dot(level), 1e-9 * length), height = -between.dot(down);
    const double flat = std::sqrt(std::max(length * length - height * height, width * width * (1 + 1e-13)));
    const double ratio = std::log(flat / width);
    double u = ratio < 1 ? std::sqrt(6 * ratio) : ratio + std::log(2 * ratio) + 1;
    // Of a run that is all but straight the first guess is exact to rounding.
    for (int i = 0; i < 50 && ratio > 1e-6; ++i) {
        const double sinh = std::sinh(u), step = (std::log(sinh / u) - ratio) / (std::cosh(u) / sinh - 1 / u);
        u = std::max(u - step, 0.1 * u);
        if (std::abs(step) < 1e-14 * u) break;
    }
    const double c = width / (2 * u), lowest = width / 2 - c * std::atanh(height / length);
    return c * (level + std::sinh(-lowest / c) * -down);
}

}  // namespace

/// Links as chords of one circle, on the side to which weight pulls.
void HangingRun::lay_arc(const Vec2& along, long links, double link_m, double distance, const Vec2& down) {
    // Half the angle from link to link: sin(n a) / sin(a) falls from n to 0.
    const auto n = static_cast<double>(links);
    double low = 0, high = pi / n;
    for (int i = 0; i < 100; ++i) {
        const double middle = 0.5 * (low + high);
        (std::sin(n * middle) * link_m > distance * std::sin(middle) ? low : high) = middle;
    }
    const double side = down.dot(Vec2(-along.y(), along.x())) > 0 ? 1 : -1;
    turn_ = -2 * side * low;
    first_ = std::atan2(along.y(), along.x()) - 0.5 * (n - 1) * turn_;
}

HangingRun HangingRun::find(const Vec2& from, const Vec2& to, long links, double link_m, Vec2 down) {
    const Vec2 between = to - from;
    const double distance = between.norm();
    const Vec2 along = distance > 0 ? Vec2(between / distance) : Vec2(1, 0), left(-along.y(), along.x());
    // Upright, all slack would fold up at one joint: the run is kept a few links wide.
    const double least = std::min(0.7, 3.0 / static_cast<double>(links));
    if (const double across = down.dot(left); std::abs(across) < least)
        down = ((across < 0 ? -least : least) * left +
                (down.dot(along) < 0 ? -1 : 1) * std::sqrt(1 - least * least) * along);
    HangingRun run;
    run.down_ = down;
    const auto n = static_cast<double>(links);
    Vec2 tension = catenary_tension(between, n * link_m, down) / link_m - 0.5 * down;
    RunClosure now = closure(tension, down, links, link_m, between);
    double damping = 1e-14;
    for (int i = 0; i < 200 && now.missing.norm() > 1e-12 * (1 + n * link_m); ++i) {
        const Mat2 slope = now.slope + damping * now.slope.trace() * Mat2::Identity();
        const Vec2 next = tension - slope.inverse() * now.missing;
        const RunClosure then = closure(next, down, links, link_m, between);
        if (then.missing.norm() < now.missing.norm() || then.value < now.value) {
            tension = next;
            now = then;
            damping = std::max(1e-14, 0.1 * damping);
        } else {
            damping = std::max(1e-6, 10 * damping);
            if (damping > 1e12) break;
        }
    }
    run.tension_ = tension;
    // A few steep links cannot all be pulled: rigid ones then stand in an arc.
    Vec2 end(0, 0);
    for (long k = 0; k < links; ++k) end += link_m * run.link(k);
    if (!((end - between).norm() < 1e-10 * (1 + n * link_m)))
        run.lay_arc(along, links, link_m, distance, down);
    return run;
}

}  // namespace pivrak
