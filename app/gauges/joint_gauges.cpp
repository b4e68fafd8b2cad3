#include "app/gauges/joint_gauges.h"

#include <algorithm>

#include "core/rig/joint_motion.h"

namespace pivrak {
namespace {

constexpr double smallest_px = 64, largest_share = 0.36, nest_step = 0.82;

template <class Call>
auto visit_form(const ChannelGauge& gauge, Call call) {
    return std::visit(call, gauge.form);
}

/// How far what turns reaches from an axis, and along it.
struct ReachAbout {
    double across = 0, low = 0, high = 0;
};

ReachAbout reach_about(const Bounds& bounds, const Vec3& centre, const Vec3& axis) {
    ReachAbout reach;
    if (bounds.empty()) return reach;
    const Vec3 half = 0.5 * bounds.size(), from = bounds.middle() - centre;
    const Vec3 spread = axis.cwiseAbs();
    const double along = from.dot(axis), half_along = half.dot(spread);
    reach.across = (from - along * axis).norm() + (half - half.cwiseProduct(spread)).maxCoeff();
    reach.low = std::min(0.0, along - half_along);
    reach.high = std::max(0.0, along + half_along);
    return reach;
}

double dial_radius(double reach, const Vec3& centre, const Camera& camera) {
    const double pixel = camera.metres_per_pixel(centre), view = std::min(camera.width(), camera.height());
    return std::clamp(1.12 * reach, smallest_px * pixel, std::max(smallest_px, largest_share * view) * pixel);
}

class Maker {
public:
    Maker(const JointStand& stand, const Camera& camera) : stand_(stand), camera_(camera) {}

    std::vector<ChannelGauge> make() {
        const auto kinds = channels_of(stand_.joint.kind);
        for (std::size_t i = 0; i < kinds.size(); ++i) {
            switch (kinds[i]) {
                case ChannelKind::Turn:
                    add_dial(i, stand_.world_from_rest, stand_.joint.axis, 1.0, true);
                    break;
                case ChannelKind::Shift:
                    add_rule(i, stand_.joint.axis, {});
                    break;
                case ChannelKind::ShiftX:
                case ChannelKind::ShiftY:
                case ChannelKind::ShiftZ: {
                    const int axis = static_cast<int>(kinds[i]) - static_cast<int>(ChannelKind::ShiftX);
                    add_rule(i, axis, QString(QLatin1Char("xyz"[axis])));
                    break;
                }
                case ChannelKind::TurnX:
                case ChannelKind::TurnY:
                case ChannelKind::TurnZ:
                    add_nested(i, static_cast<int>(kinds[i]) - static_cast<int>(ChannelKind::TurnX));
                    break;
                default:  // of no joint
                    break;
            }
        }
        if (stand_.joint.size) add_size_rule();
        return std::move(gauges_);
    }

private:
    ChannelKind kind(std::size_t i) const { return channels_of(stand_.joint.kind)[i]; }
    double value_of(ChannelKind wanted) const {
        const auto kinds = channels_of(stand_.joint.kind);
        const auto at = std::find(kinds.begin(), kinds.end(), wanted);
        return at == kinds.end() ? 0 : stand_.values[static_cast<std::size_t>(at - kinds.begin())];
    }

    void add_dial(std::size_t i, const Frame& frame, int axis, double share, bool at_its_end) {
        Protractor dial;
        dial.centre = frame.translation;
        dial.axis = frame.axis(axis);
        dial.zero = frame.axis((axis + 1) % 3);
        dial.turn_rad = stand_.values[i];
        dial.limits = stand_.joint.channel(kind(i)).limits;
        dial.driven = stand_.driven[i];
        const ReachAbout reach = reach_about(stand_.bounds, dial.centre, dial.axis);
        if (at_its_end)
            dial.centre += (camera_.back().dot(dial.axis) > 0 ? reach.high : reach.low) * dial.axis;
        dial.radius_m = share * dial_radius(reach.across, dial.centre, camera_);
        gauges_.push_back({{stand_.part, kind(i)}, dial});
    }

    /// The dial of one of three turns stands on those before it: z at rest, y turned by z, x by both.
    void add_nested(std::size_t i, int axis) {
        Frame frame = stand_.world_from_rest;
        if (stand_.joint.kind == JointKind::Free)
            frame.translation = frame.point(Vec3(value_of(ChannelKind::ShiftX), value_of(ChannelKind::ShiftY),
                                                 value_of(ChannelKind::ShiftZ)));
        if (axis < 2) frame.rotation = frame.rotation * turn_about_axis(2, value_of(ChannelKind::TurnZ));
        if (axis < 1) frame.rotation = frame.rotation * turn_about_axis(1, value_of(ChannelKind::TurnY));
        add_dial(i, frame, axis, std::pow(nest_step, 2 - axis), false);
        std::get<Protractor>(gauges_.back().form).letter = QString(QLatin1Char("xyz"[axis]));
    }

    void add_rule(std::size_t i, int axis, const QString& letter) {
        Rule rule;
        rule.origin = stand_.world_from_rest.translation;
        rule.direction = stand_.world_from_rest.axis(axis);
        rule.shift_m = stand_.values[i];
        rule.world_m = stand_.world_from_rest.size;
        if (stand_.joint.kind == JointKind::Free) rule.aside = beside(axis);
        // The other shifts have moved the rule along with the part.
        if (stand_.joint.kind == JointKind::Free)
            for (int k = 0; k < 3; ++k)
                if (k != axis)
                    rule.origin +=
                        value_of(static_cast<ChannelKind>(static_cast<int>(ChannelKind::ShiftX) + k)) *
                        stand_.world_from_rest.size * stand_.world_from_rest.axis(k);
        rule.limits = stand_.joint.channel(kind(i)).limits;
        rule.driven = stand_.driven[i];
        rule.letter = letter;
        gauges_.push_back({{stand_.part, kind(i)}, rule});
    }

    /// From the pivot out to where the part reaches at rest.
    void add_size_rule() {
        const Frame& rest = stand_.world_from_rest;
        Rule rule;
        rule.origin = rest.point(
            rest_from_part(stand_.joint.kind, stand_.joint.axis, stand_.values.data()).translation);
        rule.direction = rest.direction(Vec3(1, 1, 0).normalized());
        const double reach = stand_.bounds.empty() ? 0 : 0.5 * stand_.bounds.size().norm() / stand_.size;
        rule.world_m = std::max(reach, smallest_px * camera_.metres_per_pixel(rule.origin));
        rule.is_ratio = true;
        rule.shift_m = stand_.size;
        rule.limits = stand_.joint.size->limits;
        rule.driven = stand_.size_driven;
        rule.letter = QString::fromUtf8("×");
        gauges_.push_back({{stand_.part, ChannelKind::Size}, rule});
    }

    /// Three rules of one pivot lie apart, below and before it, as dimensions stand beside a drawing.
    Vec3 beside(int axis) const {
        const Vec3 ways[] = {Vec3(0, -1, 0), Vec3(-1, 0, 0), Vec3(-0.7, -0.7, 0)};
        const Frame& rest = stand_.world_from_rest;
        const double reach = stand_.bounds.empty() ? 0 : 0.6 * stand_.bounds.size().head<2>().maxCoeff();
        return dial_radius(reach, rest.translation, camera_) * rest.direction(ways[axis]);
    }

    const JointStand& stand_;
    const Camera& camera_;
    std::vector<ChannelGauge> gauges_;
};

}  // namespace

double ChannelGauge::value() const {
    if (const auto* dial = std::get_if<Protractor>(&form)) return dial->turn_rad;
    return std::get<Rule>(form).shift_m;
}

const std::optional<Limits>& ChannelGauge::limits() const {
    if (const auto* dial = std::get_if<Protractor>(&form)) return dial->limits;
    return std::get<Rule>(form).limits;
}

bool ChannelGauge::driven() const {
    return visit_form(*this, [](const auto& gauge) { return gauge.driven; });
}

Vec2 ChannelGauge::knob(const Camera& camera) const {
    return visit_form(*this, [&](const auto& gauge) { return gauge.knob(camera); });
}

bool ChannelGauge::is_on_knob(const Camera& camera, const Vec2& pixel) const {
    return visit_form(*this, [&](const auto& gauge) { return gauge.is_on_knob(camera, pixel); });
}

void ChannelGauge::set_ghost(std::optional<double> value) {
    if (auto* dial = std::get_if<Protractor>(&form))
        dial->ghost_rad = value;
    else
        std::get<Rule>(form).ghost_m = value;
}

void ChannelGauge::set_plain(bool plain) {
    std::visit([&](auto& gauge) { gauge.plain = plain; }, form);
}

void ChannelGauge::paint(QPainter& painter, const Camera& camera, const Theme& theme, LengthUnit unit,
                         LabelRoom* room) const {
    if (const auto* dial = std::get_if<Protractor>(&form))
        dial->paint(painter, camera, theme, room);
    else
        std::get<Rule>(form).paint(painter, camera, theme, unit, room);
}

std::vector<ChannelGauge> joint_gauges(const JointStand& stand, const Camera& camera) {
    return Maker(stand, camera).make();
}

}  // namespace pivrak
