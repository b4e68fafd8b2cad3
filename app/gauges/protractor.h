#pragma once

#include <QPainter>
#include <QPolygonF>
#include <optional>

#include "app/gauges/label_room.h"
#include "app/shell/theme.h"
#include "app/view/camera.h"
#include "core/model/channel.h"

namespace pivrak {

/// A graduated dial about a hinge, standing in the scene: ticks, limits, a needle at the present turn, and
/// the swept sector. Seen edge on it turns into a rule of degrees along its width, half a turn to each side.
/// The geometry and its answers to the mouse need no window.
class Protractor {
public:
    Vec3 centre{0, 0, 0};
    Vec3 axis{0, 0, 1};  ///< unit, turns count positive about it
    Vec3 zero{1, 0, 0};  ///< unit, where the needle stands at rest
    double radius_m = 0.2;
    double turn_rad = 0;
    std::optional<Limits> limits;
    std::optional<double> ghost_rad;  ///< where the needle stood before it was dragged
    bool driven = false;              ///< shown, but not to be dragged
    bool plain = false;               ///< one of several that is not in use: a short arc and its knob only
    QString letter;                   ///< tells several dials apart

    /// A place on the dial at an angle from zero.
    Vec3 place(double angle_rad, double radius_share = 1.0) const;

    bool is_edge_on(const Camera& camera) const;
    /// Where the needle's knob is in the view.
    Vec2 knob(const Camera& camera) const;
    bool is_on_knob(const Camera& camera, const Vec2& pixel) const;

    /// The angle under a pixel [rad], -pi to pi: on the dial's plane, or, when the dial is seen edge on, on
    /// the rule it turns into.
    double angle_at(const Camera& camera, const Vec2& pixel) const;

    void paint(QPainter& painter, const Camera& camera, const Theme& theme, LabelRoom* room = nullptr) const;

private:
    /// The rule that the dial is when it is seen edge on: pixels, middle and half length.
    struct EdgeRule {
        Vec2 middle, half;
        Vec2 at(double angle_rad) const { return middle + angle_rad / pi * half; }
    };
    EdgeRule edge_rule(const Camera& camera) const;
    QPolygonF arc(const Camera& camera, double from_rad, double to_rad, double radius_share) const;
    void paint_dial(QPainter& painter, const Camera& camera, const Theme& theme, const QColor& color,
                    LabelRoom* room) const;
    void paint_edge_rule(QPainter& painter, const Camera& camera, const Theme& theme, const QColor& color,
                         LabelRoom* room) const;
    void paint_ticks(QPainter& painter, const Camera& camera, const QColor& color, const Theme& theme,
                     LabelRoom* room) const;
    void paint_limits(QPainter& painter, const Camera& camera, const Theme& theme) const;
};

/// A turn being dragged: follows the pointer without jumping where the dial closes, counts full turns, keeps
/// within limits, and steps or slows down as the hands ask.
class TurnDrag {
public:
    TurnDrag(double start_turn_rad, double start_angle_rad)
        : raw_(start_turn_rad), last_angle_(start_angle_rad) {}
    /// `coarse` steps by 5 degrees, `fine` moves a tenth as fast.
    double move(double angle_rad, bool coarse, bool fine, const std::optional<Limits>& limits);

private:
    double raw_, last_angle_;
};

}  // namespace pivrak
