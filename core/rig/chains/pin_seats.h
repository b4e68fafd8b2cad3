#pragma once

#include <array>
#include <cmath>
#include <optional>

#include "core/rig/chains/chain_loop.h"
#include "core/rig/chains/roller_line.h"

namespace pivrak {

/// Pins on one wheel: one that is known, and from which to which slot they sit on it.
struct PinSeats {
    ChainCircle circle;
    double step = 0;
    long known_slot = 0;
    double known_angle = 0;
    std::optional<long> first, last;

    double angle(long slot) const {
        return known_angle + circle.side * step * static_cast<double>(slot - known_slot);
    }
    Vec2 pin(long slot) const { return circle.centre + circle.radius_m * unit(angle(slot)); }
    /// By how much a link that goes in a direction turns against the wheel's tangent at a pin, in steps:
    /// within half a step it neither cuts through the next pin's seat nor lifts this pin off.
    double turn(long slot, double direction) const {
        return circle.side * wrapped(direction - angle(slot) - circle.side * pi / 2) / step;
    }
    double contact(double direction) const { return direction - circle.side * pi / 2; }
    /// The slot nearest to where a straight run in a direction leaves the wheel.
    long leaving(double direction) const {
        const long base = first.value_or(known_slot);
        double way = wrapped(circle.side * (contact(direction) - angle(base)));
        // Round the wheel, but not backwards by more than the share of a step that a corner may miss.
        if (first && way < -step) way += 2 * pi;
        return base + std::lround(way / step);
    }
    /// The same where a run reaches it.
    long reaching(double direction) const {
        const long base = last.value_or(known_slot);
        double way = wrapped(circle.side * (angle(base) - contact(direction)));
        if (last && way < -step) way += 2 * pi;
        return base - std::lround(way / step);
    }
};

/// The wheels that links reach, in their order, and the directions of the straight runs after them.
struct Touched {
    std::array<std::size_t, most_chain_wheels> wheel;
    std::array<double, most_chain_wheels> direction;
    std::size_t count = 0, passed = 0;
    std::optional<std::size_t> blocked;  ///< what cannot be gone round

    explicit Touched(const ChainLoop& loop) {
        count = loop.circles.size();
        for (std::size_t i = 0; i < count; ++i) wheel[i] = i;
        while (measure(loop) && drop_one(loop)) {
        }
    }

private:
    bool measure(const ChainLoop& loop) {
        for (std::size_t i = 0; i < count; ++i) {
            const auto found =
                touching_direction(loop.circles[wheel[i]], loop.circles[wheel[(i + 1) % count]]);
            if (!found) {
                blocked = wheel[i];
                return false;
            }
            direction[i] = *found;
        }
        return true;
    }

    /// A roller at which links would turn backwards is passed by. A sprocket cannot be: then turns do not add
    /// up to one round, since one that goes backwards counts as almost a whole round.
    bool drop_one(const ChainLoop& loop) {
        double sum = 0, most = 0, least = -1e-12;
        std::size_t widest = 0;
        std::optional<std::size_t> dropped;
        for (std::size_t i = 0; i < count; ++i) {
            const ChainCircle& circle = loop.circles[wheel[i]];
            const double before = direction[(i + count - 1) % count];
            const double turn = turn_at(circle, before, direction[i]),
                         signed_turn = wrapped(circle.side * (direction[i] - before));
            sum += circle.side * turn;
            if (turn > most) most = turn, widest = wheel[i];
            if (circle.roller && signed_turn < least && signed_turn > -pi / 2)
                least = signed_turn, dropped = i;
        }
        if (dropped && count > 2) {
            ++passed;
            passed_by = wheel[*dropped];
            for (std::size_t i = *dropped; i + 1 < count; ++i) wheel[i] = wheel[i + 1];
            --count;
            return true;
        }
        if (std::abs(sum - 2 * pi) > 1e-6) blocked = widest;
        return false;
    }

public:
    std::size_t passed_by = 0;
};

}  // namespace pivrak
