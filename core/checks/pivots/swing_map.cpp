#include "core/checks/pivots/swing_map.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <limits>
#include <unordered_set>

#include "core/checks/pivots/swing_frame.h"

namespace pivrak {
namespace {

constexpr double infinite = std::numeric_limits<double>::infinity();
using Cell = SwingMap::Cell;

void take_nearer(Cell& cell, double clearance, PartId neighbour) {
    if (clearance < cell.clearance_m) cell = {clearance, neighbour};
}

std::vector<double> values_of(const Limits& range, int steps) {
    std::vector<double> values;
    for (int i = 0; i <= steps; ++i) values.push_back(range.min + (range.max - range.min) * i / steps);
    return values;
}

/// A group of parts that moves as one.
struct Moving {
    SwingMotion motion;
    std::vector<PartId> parts;  ///< with a shape
};

class Mapper {
public:
    Mapper(const Document& document, Moving outer, Moving inner, bool carried, std::vector<PartId> rest)
        : document_(document),
          outer_(std::move(outer)),
          inner_(std::move(inner)),
          carried_(carried),
          rest_(std::move(rest)) {}

    /// Cells by outer value, the inner running fastest; none when cancelled.
    std::optional<std::vector<Cell>> run(const std::vector<double>& outer, const std::vector<double>& inner,
                                         const Progress& progress) {
        leave_out_touching();
        const std::vector<Cell> outer_alone = against_rest(outer_, outer),
                                inner_alone = carried_ ? std::vector<Cell>(inner.size(), {infinite, {}})
                                                       : against_rest(inner_, inner),
                                between = carried_ ? inner_against_carrier(inner)
                                                   : std::vector<Cell>(inner.size(), {infinite, {}});
        std::vector<Cell> cells(outer.size() * inner.size(), {infinite, {}});
        for (std::size_t j = 0; j < inner.size(); ++j) {
            if (!progress.go_on(static_cast<double>(j) / static_cast<double>(inner.size()),
                                "sweeping both joints"))
                return std::nullopt;
            const std::vector<Cell> column =
                carried_ ? inner_carried_round(inner[j], outer) : outer_against_inner(inner[j], outer);
            for (std::size_t i = 0; i < outer.size(); ++i) {
                Cell& cell = cells[i * inner.size() + j];
                for (const Cell& other : {outer_alone[i], inner_alone[j], between[j], column[i]})
                    take_nearer(cell, other.clearance_m, other.neighbour);
            }
        }
        return cells;
    }

    const std::vector<PartId>& touching() const { return touching_; }

private:
    /// One body against others, told which part is nearest.
    std::vector<Cell> sweep(const SwingMotion& motion, const SweepBody& moving, const SweepBody& standing,
                            const std::vector<PartId>& names, const std::vector<double>& values) const {
        std::vector<Cell> cells(values.size(), {infinite, {}});
        if (moving.members.empty() || standing.members.empty()) return cells;
        SweepClearance pair(std::make_shared<SweepTree>(moving, motion.kind),
                            std::make_shared<SweepTree>(standing, motion.kind));
        for (std::size_t i = 0; i < values.size(); ++i) {
            const Clearance nearest = pair.at(values[i]);
            cells[i] = {nearest.distance_m, names[nearest.standing]};
        }
        return cells;
    }

    std::vector<Cell> against_rest(const Moving& group, const std::vector<double>& values) const {
        return sweep(group.motion, swing_body(document_, group.motion, group.parts),
                     swing_body(document_, group.motion, rest_), rest_, values);
    }

    /// A carried part meets what carries it alike, wherever both have been taken.
    std::vector<Cell> inner_against_carrier(const std::vector<double>& values) const {
        return sweep(inner_.motion, swing_body(document_, inner_.motion, inner_.parts),
                     swing_body(document_, inner_.motion, carrier_free_), carrier_free_, values);
    }

    /// The inner parts, moved by their own joint, as a body in the frame of the outer motion.
    SweepBody inner_at(double value) const {
        SweepBody body;
        for (const PartId id : inner_.parts) {
            const Part& part = *document_.parts.find(id);
            body.members.push_back({document_.shapes.find(part.shape)->mesh,
                                    outer_.motion.world_from_motion.inverse() *
                                        inner_.motion.moved(world_from_rest(document_, id), value) *
                                        part.part_from_shape});
        }
        return body;
    }

    std::vector<Cell> inner_carried_round(double inner, const std::vector<double>& outer) const {
        return sweep(outer_.motion, inner_at(inner), swing_body(document_, outer_.motion, rest_), rest_,
                     outer);
    }

    std::vector<Cell> outer_against_inner(double inner, const std::vector<double>& outer) const {
        return sweep(outer_.motion, swing_body(document_, outer_.motion, outer_.parts), inner_at(inner),
                     inner_.parts, outer);
    }

    bool touches(const Moving& group, PartId other) const {
        const SweepBody body = swing_body(document_, group.motion, group.parts);
        SweepClearance pair(
            std::make_shared<SweepTree>(body, group.motion.kind),
            std::make_shared<SweepTree>(swing_body(document_, group.motion, {other}), group.motion.kind));
        return pair.at(0).distance_m <= 0;
    }

    void leave_out_touching() {
        std::erase_if(rest_, [&](PartId id) {
            if (!touches(outer_, id) && !touches(inner_, id)) return false;
            touching_.push_back(id);
            return true;
        });
        carrier_free_ = outer_.parts;
        if (carried_)
            std::erase_if(carrier_free_, [&](PartId id) {
                if (!touches(inner_, id)) return false;
                touching_.push_back(id);
                return true;
            });
    }

    const Document& document_;
    Moving outer_, inner_;
    bool carried_;
    std::vector<PartId> rest_, carrier_free_, touching_;
};

Result<Moving> moving_group(const Document& document, PartId id) {
    const std::string& name = document.parts.find(id)->name;
    const auto motion = swing_motion(document, id);
    if (!motion)
        return Error{
            "swing.fixed",
            fmt::format("'{}' neither turns about nor shifts along one axis; make it a hinge or a slide",
                        name),
            name};
    const std::vector<PartId> parts = shaped_parts(document, Tree(document).branch(id));
    if (parts.empty())
        return Error{"swing.no_shape", fmt::format("neither '{}' nor what it carries has a shape", name),
                     name};
    return Moving{*motion, parts};
}

void take_out(std::vector<PartId>& from, const std::vector<PartId>& what) {
    const std::unordered_set<PartId> gone(what.begin(), what.end());
    std::erase_if(from, [&](PartId id) { return gone.contains(id); });
}

}  // namespace

double SwingMap::contact_share() const {
    if (cells.empty()) return 0;
    const auto none =
        std::count_if(cells.begin(), cells.end(), [](const Cell& c) { return c.clearance_m <= 0; });
    return static_cast<double>(none) / static_cast<double>(cells.size());
}

Result<SwingMap> swing_map(const Document& document, PartId first, PartId second,
                           const SwingMapOptions& options, const Progress& progress) {
    if (first == second)
        return Error{"swing.itself", "two different parts are needed to sweep two joints", ""};
    for (const Limits& range : {options.first, options.second})
        if (!(range.max > range.min) || !std::isfinite(range.max - range.min) || options.steps < 1)
            return Error{"swing.range", "a range to sweep ends before it begins", ""};
    PIVRAK_TRY(one, moving_group(document, first));
    PIVRAK_TRY(other, moving_group(document, second));
    SwingMap map{one.motion.channel,
                 other.motion.channel,
                 values_of(options.first, options.steps),
                 values_of(options.second, options.steps),
                 {},
                 {}};
    const bool second_outside = is_below(document, first, second);
    Moving &outer = second_outside ? other : one, &inner = second_outside ? one : other;
    take_out(outer.parts, inner.parts);
    std::vector<PartId> rest;
    for (const Part& part : document.parts) rest.push_back(part.id);
    rest = shaped_parts(document, rest);
    take_out(rest, outer.parts);
    take_out(rest, inner.parts);
    const bool carried = second_outside || is_below(document, second, first);
    Mapper mapper(document, outer, inner, carried, rest);
    const auto cells = mapper.run(second_outside ? map.second_values : map.first_values,
                                  second_outside ? map.first_values : map.second_values, progress);
    if (!cells) return Error{"swing.cancelled", "cancelled; nothing was measured", ""};
    map.touching = mapper.touching();
    map.cells = *cells;
    if (second_outside) {
        const std::size_t n = map.first_values.size(), m = map.second_values.size();
        for (std::size_t i = 0; i < n; ++i)
            for (std::size_t j = 0; j < m; ++j) map.cells[i * m + j] = (*cells)[j * n + i];
    }
    return map;
}

}  // namespace pivrak
