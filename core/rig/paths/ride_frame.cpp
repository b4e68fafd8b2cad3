#include "core/rig/paths/ride_frame.h"

#include <algorithm>
#include <cmath>

#include "core/rig/golden_section.h"

namespace pivrak {
namespace {

constexpr double gravity_m_s2 = 9.80665;  // ISO 80000-3, standard acceleration of free fall
constexpr double along_tolerance = 1e-12;
constexpr int most_steps = 60;

/// A root of a function that falls from `low` to `high` (Illinois' way of false position). Where there is
/// none, the end that comes nearest.
template <class F>
double bracketed_root(F f, double low, double high) {
    double f_low = f(low), f_high = f(high), t = low;
    if (f_low <= 0) return low;
    if (f_high >= 0) return high;
    int side = 0;
    for (int i = 0; i < most_steps && high - low > along_tolerance; ++i) {
        t = low + (high - low) * f_low / (f_low - f_high);
        const double value = f(t);
        if (std::abs(value) < along_tolerance) return t;
        if (value > 0) {
            low = t;
            f_low = value;
            // The end that stays counts half, so that both ends come closer.
            if (side == 1) f_high *= 0.5;
            side = 1;
        } else {
            high = t;
            f_high = value;
            if (side == -1) f_low *= 0.5;
            side = -1;
        }
    }
    return t;
}

/// A root of a function that falls by about one for each metre, near a guess: by secants, which need few
/// steps; where these stray further than `reach`, between bounds widened until they hold it.
template <class F>
double falling_root(F f, double guess, double reach) {
    double t0 = guess, f0 = f(t0), t1 = guess + std::clamp(f0, -reach, reach);
    for (int i = 0; i < 12; ++i) {
        if (std::abs(f0) < along_tolerance) return t0;
        const double f1 = f(t1);
        if (std::abs(f1) < along_tolerance) return t1;
        const double fall = (f0 - f1) / (t1 - t0);
        if (!(fall > 0.05)) break;
        t0 = t1;
        f0 = f1;
        t1 += f1 / fall;
        if (std::abs(t1 - guess) > 2 * reach) break;
    }
    double low = guess - reach, high = guess + reach;
    for (int i = 0; i < 64 && f(low) < 0; ++i) low -= reach;
    for (int i = 0; i < 64 && f(high) > 0; ++i) high += reach;
    return bracketed_root(f, low, high);
}

/// How far along the second point is that carries a rider, straight `distance` behind the first one.
double behind(const PathCurve& curve, double first, double distance) {
    const Vec3 place = curve.place(first);
    const auto beyond = [&](double s) {
        // Ahead of the first point it is behind by less than nothing.
        return std::copysign((place - curve.place(s)).norm(), first - s) - distance;
    };
    return falling_root(beyond, first - distance, 0.5 * distance);
}

Vec3 leaned(const Vec3& up, const Vec3& tangent, double towards_left) {
    return std::cos(towards_left) * up + std::sin(towards_left) * up.cross(tangent);
}

Vec3 square_to(const Vec3& tangent, const Vec3& wanted, const Vec3& otherwise) {
    const Vec3 across = wanted - wanted.dot(tangent) * tangent;
    return across.norm() > 1e-6 ? Vec3(across.normalized()) : otherwise;
}

/// The up of a rider at one point of the path, in the world.
Vec3 up_at(const RiddenPath& path, const Ride& ride, const PathSample& sample, double along) {
    const Vec3 tangent = path.world_from_path.direction(sample.tangent);
    const Vec3 own = path.world_from_path.direction(sample.up);
    Vec3 up = ride.upright == Upright::Path ? own : square_to(tangent, Vec3(0, 0, 1), own);
    double lean = -roll_at(path.rolls, along, path.curve.length(), path.curve.closed());
    if (ride.upright == Upright::Bank) {
        const Vec3 left = up.cross(tangent);
        const double bend = left.dot(path.world_from_path.direction(sample.curvature));
        lean += ride.bank_gain * std::atan(ride.bank_speed_m_s * ride.bank_speed_m_s * bend / gravity_m_s2);
    }
    return lean == 0 ? up : leaned(up, tangent, lean);
}

}  // namespace

double roll_at(std::span<const PathRoll> rolls, double along, double length, bool closed) {
    if (rolls.empty()) return 0;
    if (closed) along -= std::floor(along / length) * length;
    const auto next = std::upper_bound(rolls.begin(), rolls.end(), along,
                                       [](double s, const PathRoll& r) { return s < r.at_m; });
    PathRoll before = next == rolls.begin() ? rolls.front() : *(next - 1),
             after = next == rolls.end() ? rolls.back() : *next;
    if (closed && next == rolls.end()) {
        after = rolls.front();
        after.at_m += length;
    } else if (closed && next == rolls.begin()) {
        before = rolls.back();
        before.at_m -= length;
    }
    const double run = after.at_m - before.at_m;
    return run > 0 ? before.roll_rad + (after.roll_rad - before.roll_rad) * (along - before.at_m) / run
                   : before.roll_rad;
}

Frame ride_frame(const RiddenPath& path, const Ride& ride, double along) {
    const auto sample_at = [&](double s) {
        return ride.upright == Upright::Path ? path.curve.at(s) : path.curve.without_up(s);
    };
    // Straight up or down, the world's up says nothing: there the path's own frame helps.
    const auto full_sample = [&](double s) {
        const PathSample sample = sample_at(s);
        const Vec3 tangent = path.world_from_path.direction(sample.tangent);
        return std::hypot(tangent.x(), tangent.y()) < 1e-5 ? path.curve.at(s) : sample;
    };
    const double apart = ride.front_m + ride.rear_m, size = path.world_from_path.size;
    Vec3 place, tangent, up;
    if (apart > 0) {
        const double first = along + ride.front_m, second = behind(path.curve, first, apart);
        const PathSample front = full_sample(first), rear = full_sample(second);
        tangent = path.world_from_path.direction(front.place - rear.place).normalized();
        place = path.world_from_path.point(rear.place) + size * ride.rear_m * tangent;
        const Vec3 both = up_at(path, ride, front, first) + up_at(path, ride, rear, second);
        up = square_to(tangent, both, any_perpendicular(tangent));
    } else {
        const PathSample sample = full_sample(along);
        tangent = path.world_from_path.direction(sample.tangent);
        place = path.world_from_path.point(sample.place);
        up = up_at(path, ride, sample, along);
    }
    if (ride.upright == Upright::Plumb) {
        up = Vec3(0, 0, 1);
        tangent = square_to(up, tangent, any_perpendicular(up));
    } else if (ride.upright == Upright::Level) {
        // The side of the path's own frame stays level over a loop, where its direction turns back.
        const PathSample sample = path.curve.at(along);
        const Vec3 left = path.world_from_path.direction(sample.up.cross(sample.tangent));
        up = Vec3(0, 0, 1);
        tangent = square_to(up, left.cross(up), square_to(up, tangent, any_perpendicular(up)));
    }
    place += size * (ride.side_m * up.cross(tangent) + ride.height_m * up);
    Mat3 axes;
    axes.col(ride.axis) = ride.against ? Vec3(-tangent) : tangent;
    axes.col(ride.up_axis) = up;
    const int third = 3 - ride.axis - ride.up_axis;
    axes.col(third) = axes.col((third + 1) % 3).cross(axes.col((third + 2) % 3));
    return {Quat(axes).normalized(), place, size};
}

Vec3 coupler_place(const Frame& world, const Ride& ride, double ahead) {
    return world.translation + world.size * (ride.against ? -ahead : ahead) * world.axis(ride.axis);
}

namespace {

/// Of the places behind `ahead` where `off` falls through zero, the one nearest to the guess; where none
/// does, the one where it is least.
template <class F>
double falling_place(F off, double guess, double ahead, double behind) {
    constexpr int looks = 240;
    const auto place = [&](int i) { return behind + (ahead - behind) * i / looks; };
    double best = guess, nearest = 1e300, least = 1e300, least_at = guess, before = off(place(0));
    for (int i = 1; i <= looks; ++i) {
        const double here = off(place(i));
        if (before >= 0 && here < 0) {
            const double root = bracketed_root(off, place(i - 1), place(i));
            if (std::abs(root - guess) < nearest) {
                nearest = std::abs(root - guess);
                best = root;
            }
        }
        if (std::abs(here) < least) {
            least = std::abs(here);
            least_at = place(i);
        }
        before = here;
    }
    if (nearest < 1e300) return best;
    const double step = (ahead - behind) / looks;
    return golden_minimum([&](double at) { return std::abs(off(at)); }, least_at - step,
                          std::min(least_at + step, ahead), 1e-9)
        .first;
}

}  // namespace

double coupled_along(const RiddenPath& path, const Ride& ride, const Vec3& coupler_ahead, double guess,
                     double ahead) {
    const double measure = path.world_from_path.size;
    const auto off = [&](double along) {
        const Vec3 own = coupler_place(ride_frame(path, ride, along), ride, ride.coupler_front_m);
        return (coupler_ahead - own).norm() / measure - ride.gap_m;
    };
    const double length = ride.coupler_front_m + ride.coupler_rear_m + ride.gap_m,
                 reach = std::max(ride.gap_m, 0.1 * (length + 1));
    // Two lengths back, and as far as the couplers meet; by a coupler of no length they touch without
    // passing.
    const double behind = std::min(guess, ahead - 2 * length) - reach;
    if (ride.gap_m > 1e-6) {
        double at = guess, f_at = off(at), last = guess + std::clamp(f_at, -reach, reach);
        if (last == at) last += 1e-3 * reach;
        for (int i = 0; i < 12; ++i) {
            const double f_last = off(last), fall = (f_at - f_last) / (last - at);
            if (std::abs(f_last) < along_tolerance && fall > 0.05 && last < ahead) return last;
            if (!(fall > 0.05)) break;
            at = last;
            f_at = f_last;
            last += f_last / fall;
            if (std::abs(last - guess) > 2 * reach) break;
        }
    }
    return falling_place(off, guess, ahead, behind);
}

double rear_point_along(const PathCurve& curve, const Ride& ride, double along) {
    const double apart = ride.front_m + ride.rear_m;
    return apart > 0 ? behind(curve, along + ride.front_m, apart) : along;
}

}  // namespace pivrak
