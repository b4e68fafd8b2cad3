// Sources: ISO 606:2015 (pitch diameters). The hanging run is a string of equal rigid links: each joint is in
// balance, so tensions differ from link to link by one weight (J. L. Synge and B. A. Griffith, Principles of
// Mechanics, 1959, flexible cables). From memory: that its closure is the gradient of a convex function.
#include "core/rig/chains/chain_loop.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <optional>

#include "core/geometry/frame.h"
#include "core/rig/chains/hanging_run.h"
#include "core/rig/chains/open_run.h"
#include "core/rig/chains/pin_seats.h"
#include "core/rig/chains/roller_line.h"

namespace pivrak {
namespace {

class Placing {
public:
    /// Without pins only the fit is found.
    Placing(const ChainLoop& loop, double travel, std::span<Vec2> pins)
        : loop_(loop), touched_(loop), pins_(pins) {
        const double x = travel / loop.pitch_m;
        base_ = static_cast<long>(std::floor(x));
        for (std::size_t i = 0; i < count(); ++i) {
            seats_[i].circle = circle(i);
            seats_[i].step = pin_step_rad(loop.pitch_m, circle(i).radius_m);
        }
        slack_ = index_of(loop.slack_after);
        reference_ = index_of(loop.reference);
        PinSeats& reference = seats_[reference_];
        reference.known_angle =
            loop.start_rad + reference.circle.side * reference.step * (x - static_cast<double>(base_));
    }

    ChainFit fit() {
        ChainFit out;
        out.passed = touched_.passed;
        out.blocked = touched_.blocked.value_or(touched_.passed_by);
        if (touched_.blocked) return out;
        for (std::size_t i = reference_; i != slack_;)
            if (!run(i, 1)) return blocked(i);
        for (std::size_t i = reference_; i != next(slack_);)
            if (!run(i, -1)) return blocked(i);
        if (!close()) return blocked(slack_);
        out.possible = true;
        out.slack_m = static_cast<double>(closing_links()) * loop_.pitch_m - closing_distance();
        return out;
    }

    /// Pre: `fit` found it possible.
    void place(ChainFit& fit) {
        if (closing_links() < 1) return;
        fit.placed = true;
        hang(fit);
        for (std::size_t i = 0; i < count(); ++i)
            if (seats_[i].first && seats_[i].last)
                for (long slot = *seats_[i].first; slot <= *seats_[i].last; ++slot)
                    put(slot, seats_[i].pin(slot));
        put_hanging(fit);
    }

private:
    static constexpr int most_corrections = 12, most_settlings = 64;

    std::size_t count() const { return touched_.count; }
    const ChainCircle& circle(std::size_t i) const { return loop_.circles[touched_.wheel[i]]; }
    std::size_t next(std::size_t i) const { return (i + 1) % count(); }
    std::size_t previous(std::size_t i) const { return (i + count() - 1) % count(); }
    /// The touched wheel that a wheel is, or the last one before it.
    std::size_t index_of(std::size_t wheel) const {
        std::size_t found = count() - 1;
        for (std::size_t i = 0; i < count(); ++i)
            if (touched_.wheel[i] <= wheel) found = i;
        return found;
    }

    ChainFit blocked(std::size_t i) const {
        ChainFit out;
        out.blocked = touched_.wheel[i];
        return out;
    }

    /// Rollers between seats are gone round smoothly. PinSeats are sprockets, the wheel pins are counted
    /// from, and both ends of the hanging run.
    bool is_seat(std::size_t i) const {
        return !circle(i).roller || i == reference_ || i == slack_ || i == next(slack_);
    }

    /// Where a straight run from a pin comes to sit on a wheel: how many links it takes, and the place.
    struct LoopReach {
        long links;
        double direction, angle;
    };
    std::optional<LoopReach> reach(const Vec2& pin, const PinSeats& to, double side) const {
        const Vec2 between = to.circle.centre - pin;
        const double distance = between.norm(), radius = to.circle.radius_m, pitch = loop_.pitch_m;
        if (!(distance > radius)) return std::nullopt;
        const auto with = [&](long links) -> std::optional<LoopReach> {
            const double length = pitch * static_cast<double>(links);
            const double cosine =
                (distance * distance + length * length - radius * radius) / (2 * distance * length);
            if (!(cosine <= 1)) return std::nullopt;
            const double direction = angle_of(between) - side * std::acos(cosine);
            return LoopReach{links, direction, angle_of(pin + length * unit(direction) - to.circle.centre)};
        };
        long links = std::max(1L, std::lround(std::sqrt(distance * distance - radius * radius) / pitch));
        std::optional<LoopReach> best;
        for (int i = 0; i < 4; ++i) {
            const auto found = with(links);
            if (!found) return best;
            best = found;
            const double past = side * wrapped(found->angle - found->direction + side * pi / 2) / to.step;
            if (past > 0.5 && links > 1)
                --links;
            else if (past < -0.5)
                ++links;
            else
                break;
        }
        return best;
    }

    /// The run from the wheel `i` to the next one on which pins sit, with the chain (`way` 1) or against it
    /// (-1). `i` becomes that wheel.
    bool run(std::size_t& i, int way) {
        const std::size_t start = i;
        std::size_t end = way > 0 ? next(i) : previous(i);
        const std::size_t first = end;
        while (!is_seat(end)) end = way > 0 ? next(end) : previous(end);
        PinSeats &from = seats_[start], &to = seats_[end];
        const double about = direction_after(start, way);
        long leaving = way > 0 ? from.leaving(about) : from.reaching(about + pi);
        std::optional<LoopReach> found;
        for (int n = 0; n < most_corrections; ++n) {
            const Vec2 pin = from.pin(leaving);
            double direction = 0;
            if (first == end) {
                found = reach(pin, to, way * to.circle.side);
                if (!found) return false;
                direction = found->direction;
            } else {
                const auto touch = direction_from(pin, circle(first), way * circle(first).side);
                if (!touch) return false;
                direction = *touch;
            }
            const double turn = from.turn(leaving, way > 0 ? direction : direction + pi);
            if (std::abs(turn) <= 0.5) break;
            leaving += turn > 0 ? 1 : -1;
        }
        (way > 0 ? from.last : from.first) = leaving;
        long slot = leaving;
        Vec2 pin = from.pin(leaving);
        if (first != end) {
            if (!round_rollers(first, end, way, pin, slot)) return false;
            found = reach(pin, to, way * to.circle.side);
            if (!found) return false;
        }
        for (long k = 1; k < found->links; ++k)
            put(slot + way * k, pin + static_cast<double>(k) * loop_.pitch_m * unit(found->direction));
        to.known_slot = slot + way * found->links;
        to.known_angle = found->angle;
        (way > 0 ? to.first : to.last) = to.known_slot;
        i = end;
        return true;
    }

    bool round_rollers(std::size_t first, std::size_t end, int way, Vec2& pin, long& slot) {
        RollerLine line(loop_.pitch_m, pin);
        const auto lay = [&](const Vec2& place) {
            slot += way;
            put(slot, place);
        };
        for (std::size_t r = first; r != end; r = way > 0 ? next(r) : previous(r)) {
            const ChainCircle& roller = circle(r);
            const double side = way * roller.side;
            const double in = r == first ? direction_from(pin, roller, side).value_or(0)
                                         : direction_after(way > 0 ? previous(r) : next(r), way);
            if (!line.round(roller.centre, roller.radius_m, side, in, direction_after(r, way), lay))
                return false;
        }
        pin = line.at();
        return true;
    }

    /// Direction in which the smooth run goes on from a wheel.
    double direction_after(std::size_t i, int way) const {
        return way > 0 ? touched_.direction[i] : touched_.direction[previous(i)] + pi;
    }

    PinSeats& leave() { return seats_[slack_]; }
    PinSeats& arrive() { return seats_[next(slack_)]; }
    long closing_links() { return *arrive().first + loop_.links - *leave().last; }
    double closing_distance() { return (arrive().pin(*arrive().first) - leave().pin(*leave().last)).norm(); }

    /// The corners between which the closing run would be straight.
    bool close() {
        PinSeats &from = leave(), &to = arrive();
        const double about = touched_.direction[slack_];
        long leaving = from.leaving(about);
        from.last = leaving;
        long reaching = to.reaching(about);
        for (int n = 0; n < most_corrections; ++n) {
            const double direction = angle_of(to.pin(reaching) - from.pin(leaving));
            const double out = from.turn(leaving, direction), in = to.turn(reaching, direction);
            if (std::abs(out) > 0.5)
                leaving += out > 0 ? 1 : -1;
            else if (std::abs(in) > 0.5)
                reaching += in > 0 ? 1 : -1;
            else
                break;
        }
        from.last = leaving;
        to.first = reaching;
        return true;
    }

    Vec2 down() const {
        if (loop_.down.squaredNorm() > 0) return loop_.down;
        Vec2 middle(0, 0);
        for (const ChainCircle& c : loop_.circles)
            middle += c.centre / static_cast<double>(loop_.circles.size());
        const Vec2 from = loop_.circles[touched_.wheel[slack_]].centre,
                   to = loop_.circles[touched_.wheel[next(slack_)]].centre, along = (to - from).normalized();
        const Vec2 left(-along.y(), along.x());
        return left.dot((from + to) / 2 - middle) > 0 ? left : -left;
    }

    /// Lets the closing run hang: pins are lifted off or laid on until each end leaves its wheel as it hangs.
    void hang(const ChainFit& fit) {
        if (fit.slack_m < 1e-10) return;
        PinSeats &from = leave(), &to = arrive();
        for (int n = 0;; ++n) {
            hanging_ = HangingRun::find(from.pin(*from.last), to.pin(*to.first), closing_links(),
                                        loop_.pitch_m, down());
            if (n == most_settlings) return;
            const long links = closing_links();
            // An end lays a pin on when its link would cut through the next seat, and lifts one off when the
            // string would pull it outwards.
            if (links > 1 && from.turn(*from.last, hanging_.direction(0)) > 0.5 + small)
                ++*from.last;
            else if (links > 1 && to.turn(*to.first, hanging_.direction(links - 1)) < -0.5 - small)
                --*to.first;
            else if (*from.last > *from.first && from.turn(*from.last, hanging_.direction(-1)) < -0.5 - small)
                --*from.last;
            else if (*to.first < *to.last && to.turn(*to.first, hanging_.direction(links)) > 0.5 + small)
                ++*to.first;
            else
                return;
        }
    }

    void put(long slot, const Vec2& place) {
        if (pins_.empty()) return;
        const long n = loop_.links, pin = ((slot - base_) % n + n) % n;
        pins_[static_cast<std::size_t>(pin)] = place;
    }

    void put_hanging(ChainFit& fit) {
        const Vec2 start = leave().pin(*leave().last), end = arrive().pin(*arrive().first);
        const long links = closing_links(), first = *leave().last;
        const double distance = (end - start).norm();
        const Vec2 along = (end - start) / distance, across(-along.y(), along.x());
        Vec2 place = start;
        for (long k = 1; k < links; ++k) {
            if (fit.slack_m < 1e-10)
                place = start + (end - start) * (static_cast<double>(k) / static_cast<double>(links));
            else
                place += loop_.pitch_m * hanging_.link(k - 1);
            put(first + k, place);
            fit.sag_m = std::max(fit.sag_m, std::abs((place - start).dot(across)));
        }
    }

    static constexpr double small = 1e-9;
    const ChainLoop& loop_;
    Touched touched_;
    std::span<Vec2> pins_;
    std::size_t slack_ = 0, reference_ = 0;  ///< among those touched
    long base_ = 0;
    std::array<PinSeats, most_chain_wheels> seats_;
    HangingRun hanging_;
};

}  // namespace

double pin_step_rad(double pitch_m, double radius_m) {
    return 2 * std::asin(std::min(1.0, pitch_m / (2 * radius_m)));
}

double pitch_radius(double pitch_m, int teeth) {
    return pitch_m / (2 * std::sin(pi / teeth));
}

ChainFit place_pins(const ChainLoop& loop, double travel_m, std::span<Vec2> pins) {
    if (loop.ends) return place_open_pins(loop, travel_m, pins);
    Placing placing(loop, travel_m, pins);
    ChainFit fit = placing.fit();
    if (fit.possible) placing.place(fit);
    return fit;
}

ChainFit chain_fit(const ChainLoop& loop, double travel_m) {
    if (loop.ends) return place_open_pins(loop, travel_m, {});
    return Placing(loop, travel_m, {}).fit();
}

double needed_length(const ChainLoop& loop) {
    constexpr int looks = 48;
    const auto needed = [&](double share) {
        const ChainFit fit = chain_fit(loop, share * loop.pitch_m);
        return fit.possible ? loop.links * loop.pitch_m - fit.slack_m : 0.0;
    };
    double most = 0, at = 0;
    for (int i = 0; i < looks; ++i) {
        const double share = static_cast<double>(i) / looks, length = needed(share);
        if (length == 0) return 0;
        if (length > most) most = length, at = share;
    }
    // The peak between two looks, by golden sections.
    constexpr double golden = 0.6180339887498949;
    double low = at - 1.0 / looks, high = at + 1.0 / looks;
    for (int i = 0; i < 40; ++i) {
        const double a = high - golden * (high - low), b = low + golden * (high - low);
        const double at_a = needed(a), at_b = needed(b);
        most = std::max({most, at_a, at_b});
        (at_a > at_b ? high : low) = at_a > at_b ? b : a;
    }
    return most;
}

std::vector<std::array<Vec2, 2>> straight_runs(const ChainLoop& loop) {
    std::vector<std::array<Vec2, 2>> runs;
    for (std::size_t i = 0; i < loop.circles.size(); ++i) {
        const ChainCircle &from = loop.circles[i], &to = loop.circles[(i + 1) % loop.circles.size()];
        const double direction = touching_direction(from, to).value_or(0);
        const Vec2 right(std::sin(direction), -std::cos(direction));
        runs.push_back(
            {from.centre + from.side * from.radius_m * right, to.centre + to.side * to.radius_m * right});
    }
    return runs;
}

double smooth_length(const ChainLoop& loop) {
    const std::size_t n = loop.circles.size();
    std::vector<double> directions(n);
    double length = 0;
    for (std::size_t i = 0; i < n; ++i) {
        const ChainCircle &from = loop.circles[i], &to = loop.circles[(i + 1) % n];
        const auto direction = touching_direction(from, to);
        if (!direction) return 0;
        directions[i] = *direction;
        length += (to.centre - from.centre).dot(unit(*direction));
    }
    for (std::size_t i = 0; i < n; ++i) {
        const ChainCircle& wheel = loop.circles[i];
        length += wheel.radius_m * turn_at(wheel, directions[(i + n - 1) % n], directions[i]);
    }
    return length;
}

}  // namespace pivrak
