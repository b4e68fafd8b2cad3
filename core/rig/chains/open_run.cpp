// An open run is laid like a belt from its tied end: without slip, so what is paid out at one end comes at
// the other.
#include "core/rig/chains/open_run.h"

#include <algorithm>

#include "core/rig/chains/hanging_run.h"
#include "core/rig/chains/roller_line.h"

namespace pivrak {
namespace {

/// What the run reaches, from its tied end to its start, with ends as circles of no size; ways are those of
/// that direction, against the order of the wheels.
struct Stations {
    std::array<ChainCircle, most_chain_wheels + 2> circle;
    std::array<std::size_t, most_chain_wheels + 2> wheel;  ///< of the loop; none of ends
    std::array<double, most_chain_wheels + 2> way;         ///< of the straight after each
    std::size_t count = 0, passed = 0, passed_by = 0;
    std::optional<std::size_t> blocked;

    explicit Stations(const ChainLoop& loop) {
        add({loop.ends->to, 0, 1}, 0);
        for (std::size_t i = loop.circles.size(); i-- > 0;) {
            ChainCircle back = loop.circles[i];
            back.side = -back.side;
            add(back, i);
        }
        if (loop.ends->start == RunStart::Tied) add({loop.ends->from, 0, 1}, 0);
        while (measure() && drop_one()) {
        }
    }

    /// How far the run turns with a wheel between its straights [rad].
    double wrap(std::size_t i) const { return turn_at(circle[i], way[i - 1], way[i]); }

private:
    void add(const ChainCircle& one, std::size_t index) {
        circle[count] = one;
        wheel[count++] = index;
    }

    bool measure() {
        for (std::size_t i = 0; i + 1 < count; ++i) {
            const auto found = touching_direction(circle[i], circle[i + 1]);
            if (!found) {
                blocked = wheel[i + 1];
                return false;
            }
            way[i] = *found;
        }
        return true;
    }

    /// A wheel at which the run would turn backwards is passed by, the worst first.
    bool drop_one() {
        double least = -1e-12;
        std::optional<std::size_t> worst;
        for (std::size_t i = 1; i + 1 < count; ++i) {
            const double turn = wrapped(circle[i].side * (way[i] - way[i - 1]));
            if (turn < least && turn > -pi / 2) least = turn, worst = i;
        }
        if (!worst) return false;
        ++passed;
        passed_by = wheel[*worst];
        for (std::size_t i = *worst; i + 1 < count; ++i) circle[i] = circle[i + 1], wheel[i] = wheel[i + 1];
        --count;
        return true;
    }
};

class OpenPlacing {
public:
    OpenPlacing(const ChainLoop& loop, double travel, std::span<Vec2> pins)
        : loop_(loop), travel_(travel), pins_(pins), at_(loop), slot_(loop.links) {}

    ChainFit place() {
        ChainFit fit;
        fit.passed = at_.passed;
        fit.blocked = at_.blocked.value_or(at_.passed_by);
        if (at_.blocked) return fit;
        const bool tied = loop_.ends->start == RunStart::Tied;
        const std::size_t last = at_.count - 1;
        RollerLine line(loop_.pitch_m, loop_.ends->to);
        put(slot_, loop_.ends->to);
        const auto lay = [&](const Vec2& pin) { put(--slot_, pin); };
        for (std::size_t i = 1; i < last; ++i) {
            const ChainCircle& c = at_.circle[i];
            if (!line.round(c.centre, c.radius_m, c.side, at_.way[i - 1], at_.way[i], lay)) {
                fit.blocked = at_.wheel[i];
                return fit;
            }
            fit.line_m += straight(i - 1) + c.radius_m * at_.wrap(i);
        }
        fit.line_m += straight(last - 1);
        fit.possible = tied ? end_tied(fit, line.at()) : end_on_wheel(fit, line);
        return fit;
    }

private:
    double straight(std::size_t i) const {
        return (at_.circle[i + 1].centre - at_.circle[i].centre).dot(unit(at_.way[i]));
    }

    void put(long slot, const Vec2& pin) {
        if (slot >= 0 && static_cast<std::size_t>(slot) < pins_.size())
            pins_[static_cast<std::size_t>(slot)] = pin;
    }

    /// The first straight hangs with what is left over, or is drawn apart.
    bool end_tied(ChainFit& fit, const Vec2& pin) {
        const Vec2 from = loop_.ends->from, between = from - pin;
        const auto links = static_cast<double>(slot_);
        fit.slack_m = links * loop_.pitch_m - between.norm();
        fit.placed = slot_ >= 1;
        if (!fit.placed || pins_.empty()) return true;
        if (fit.slack_m < 1e-10) {
            for (long k = 0; k < slot_; ++k) put(k, from - static_cast<double>(k) / links * between);
            return true;
        }
        const Vec2 along = between.norm() > 0 ? Vec2(between.normalized()) : Vec2(1, 0);
        const Vec2 down = loop_.down.squaredNorm() > 0 ? loop_.down : Vec2(-along.y(), along.x());
        const HangingRun hanging = HangingRun::find(pin, from, slot_, loop_.pitch_m, down);
        Vec2 place = pin;
        for (long k = 0; k < slot_; ++k) {
            const Vec2 off = place - pin;
            fit.sag_m = std::max(fit.sag_m, std::abs(along.x() * off.y() - along.y() * off.x()));
            place += loop_.pitch_m * hanging.link(k);
            put(slot_ - 1 - k, place);
        }
        return true;
    }

    /// On a drum pins go on round it; what it only carries leaves it again where it hangs straight down.
    bool end_on_wheel(ChainFit& fit, RollerLine& line) {
        const ChainCircle& drum = at_.circle[at_.count - 1];
        const double way_in = at_.way[at_.count - 2], contact = way_in - drum.side * pi / 2;
        const double step = pin_step_rad(loop_.pitch_m, drum.radius_m);
        const auto lay = [&](const Vec2& pin) { put(--slot_, pin); };
        const auto first = line.onto(drum.centre, drum.radius_m, drum.side, way_in, lay);
        if (!first) {
            fit.blocked = at_.wheel[at_.count - 1];
            return false;
        }
        // The place of the last pin, as if all were wound, against the one that turns with the wheel.
        const double touched = loop_.ends->leaving_rad + wrapped(contact - loop_.ends->leaving_rad);
        const double wound = drum.side * wrapped(*first - contact) + static_cast<double>(slot_) * step;
        fit.wound_rad = drum.side * (loop_.start_rad - touched) - travel_ * step / loop_.pitch_m;
        fit.slack_m = (wound - fit.wound_rad) * loop_.pitch_m / step;
        fit.placed = slot_ >= 0;
        if (!fit.placed || pins_.empty()) return true;
        if (loop_.ends->start == RunStart::Loose && loop_.down.squaredNorm() > 0) {
            RollerLine loose(loop_.pitch_m, line.at());
            if (loose.round(drum.centre, drum.radius_m, drum.side, way_in, angle_of(loop_.down), lay))
                for (Vec2 pin = loose.at(); slot_ > 0;) lay(pin += loop_.pitch_m * loop_.down);
            return true;
        }
        for (long k = slot_, n = 1; k > 0; --k, ++n)
            put(k - 1,
                drum.centre + drum.radius_m * unit(*first + drum.side * step * static_cast<double>(n)));
        return true;
    }

    const ChainLoop& loop_;
    double travel_;
    std::span<Vec2> pins_;
    Stations at_;
    long slot_;
};

/// A run that leaves its start along x, turns about a half circle, and comes back at the height of its end.
struct Fold {
    double pitch_m, level, radius, side;
    long links;
    Vec2 from;

    explicit Fold(const ChainLoop& loop)
        : pitch_m(loop.pitch_m),
          level(0.5 * (loop.ends->from.y() + loop.ends->to.y())),
          radius(0.5 * std::abs(loop.ends->to.y() - loop.ends->from.y())),
          side(loop.ends->to.y() < loop.ends->from.y() ? -1 : 1),
          links(loop.links),
          from(loop.ends->from) {}

    /// Lays pins with the circle's middle at `middle`; answers where along x the last one comes.
    double lay(double middle, std::span<Vec2> pins) const {
        long laid = 0;
        const auto put = [&](const Vec2& pin) {
            if (static_cast<std::size_t>(laid) < pins.size()) pins[static_cast<std::size_t>(laid)] = pin;
            ++laid;
        };
        put(from);
        RollerLine line(pitch_m, from);
        line.round({middle, level}, radius, side, 0, pi, put);
        const Vec2 back = line.at();
        const long left = links + 1 - laid;
        for (long k = 1; k <= left; ++k) put({back.x() - static_cast<double>(k) * pitch_m, back.y()});
        return back.x() - static_cast<double>(left) * pitch_m;
    }
};

/// The circle's middle is where the last pin comes to its place: by the smooth line first, then each step
/// moves it by half of what is missing, since two straights share that.
ChainFit place_fold(const ChainLoop& loop, std::span<Vec2> pins) {
    ChainFit fit;
    const Fold fold(loop);
    if (!(fold.radius > 0.5 * loop.pitch_m)) return fit;
    const Vec2 from = loop.ends->from, to = loop.ends->to;
    const double length = loop.links * loop.pitch_m, farther = std::max(from.x(), to.x());
    double middle = 0.5 * (length - pi * fold.radius + from.x() + to.x());
    for (int i = 0; i < 60 && middle > farther; ++i) {
        const double off = to.x() - fold.lay(middle, {});
        middle += 0.5 * off;
        if (std::abs(off) < 1e-13 * (1 + length)) break;
    }
    fit.possible = fit.placed = true;
    fit.line_m = length;
    fit.slack_m = 2 * (middle - farther);
    if (fit.slack_m >= 0) {
        fold.lay(middle, pins);
        return fit;
    }
    // Too short: it is drawn apart.
    for (std::size_t i = 0; i < pins.size(); ++i)
        pins[i] = from + static_cast<double>(i) / static_cast<double>(loop.links) * (to - from);
    return fit;
}

}  // namespace

ChainFit place_open_pins(const ChainLoop& loop, double travel_m, std::span<Vec2> pins) {
    if (loop.circles.empty()) return place_fold(loop, pins);
    return OpenPlacing(loop, travel_m, pins).place();
}

void run_touches(const ChainLoop& loop, std::span<RunTouch> touches) {
    std::fill(touches.begin(), touches.end(), RunTouch{});
    const Stations at(loop);
    if (at.blocked) return;
    double length = 0;
    for (std::size_t i = 1; i + 1 < at.count; ++i) {
        const ChainCircle& c = at.circle[i];
        length += (c.centre - at.circle[i - 1].centre).dot(unit(at.way[i - 1]));
        touches[at.wheel[i]] = {true, at.way[i - 1] - c.side * pi / 2, length};
        length += c.radius_m * at.wrap(i);
    }
}

double turned_by_run(const ChainCircle& wheel, double pitch_m, const RunTouch& from, const RunTouch& to) {
    if (!from.touched || !to.touched) return 0;
    return wrapped(to.contact_rad - from.contact_rad) +
           wheel.side * (to.length_m - from.length_m) * pin_step_rad(pitch_m, wheel.radius_m) / pitch_m;
}

}  // namespace pivrak
