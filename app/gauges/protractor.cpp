#include "app/gauges/protractor.h"

#include <algorithm>
#include <cmath>

#include "app/gauges/gauge_paint.h"

namespace pivrak {
namespace {

constexpr double plain_arc_rad = 22 * rad_per_deg;
constexpr double edge_on = 0.12;  ///< sine of the angle between dial and line of sight

double within_half_turn(double angle) {
    return std::remainder(angle, 2 * pi);
}

}  // namespace

Vec3 Protractor::place(double angle, double share) const {
    return centre + share * radius_m * (std::cos(angle) * zero + std::sin(angle) * axis.cross(zero));
}

bool Protractor::is_edge_on(const Camera& camera) const {
    const Vec3 sight = camera.perspective ? Vec3((centre - camera.eye()).normalized()) : camera.back();
    return std::abs(sight.dot(axis)) < edge_on;
}

Protractor::EdgeRule Protractor::edge_rule(const Camera& camera) const {
    const Vec3 along = axis.cross(camera.back()).normalized();
    const Vec2 middle = camera.project(centre).head<2>();
    // Drawn at full length whatever way the dial leans, so that a degree is never too small to grip.
    const Vec2 half = camera.project(centre + radius_m * along).head<2>() - middle;
    return {middle, half};
}

Vec2 Protractor::knob(const Camera& camera) const {
    return is_edge_on(camera) ? edge_rule(camera).at(within_half_turn(turn_rad))
                              : Vec2(camera.project(place(turn_rad)).head<2>());
}

bool Protractor::is_on_knob(const Camera& camera, const Vec2& pixel) const {
    return (knob(camera) - pixel).norm() < gauge_knob_px + 5;
}

double Protractor::angle_at(const Camera& camera, const Vec2& pixel) const {
    if (is_edge_on(camera)) {
        const EdgeRule rule = edge_rule(camera);
        return std::clamp((pixel - rule.middle).dot(rule.half) / rule.half.squaredNorm(), -1.0, 1.0) * pi;
    }
    const Ray ray = camera.ray(pixel);
    const double across = ray.direction.dot(axis);
    const Vec3 hit = ray.origin + ray.direction * ((centre - ray.origin).dot(axis) / across) - centre;
    return std::atan2(hit.dot(axis.cross(zero)), hit.dot(zero));
}

QPolygonF Protractor::arc(const Camera& camera, double from, double to, double share) const {
    QPolygonF line;
    const int steps = std::max(2, static_cast<int>(std::abs(to - from) / (2 * rad_per_deg)));
    for (int i = 0; i <= steps; ++i)
        line << gauge_point(camera.project(place(from + (to - from) * i / steps, share)));
    return line;
}

void Protractor::paint_ticks(QPainter& painter, const Camera& camera, const QColor& color, const Theme& theme,
                             LabelRoom* room) const {
    const double pixels_per_degree = radius_m / camera.metres_per_pixel(centre) * rad_per_deg;
    const int step = pixels_per_degree > 6     ? 1
                     : pixels_per_degree > 2.2 ? 5
                     : pixels_per_degree > 1.2 ? 15
                                               : 45;
    const int labelled = pixels_per_degree > 1.6 ? 30 : pixels_per_degree > 0.9 ? 45 : 90;
    painter.setFont(Look::uiFont(11));
    for (int degree = -180; degree < 180; degree += step) {
        const double length = degree % 30 == 0 ? 0.09 : degree % 10 == 0 ? 0.055 : 0.035;
        painter.setPen(QPen(color, degree % 30 == 0 ? 1.8 : 1.0));
        const double a = degree * rad_per_deg;
        painter.drawLine(gauge_point(camera.project(place(a, 1.0 - length / 2))),
                         gauge_point(camera.project(place(a, 1.0 + length / 2))));
        if (degree % labelled == 0)
            paintGaugeLabel(painter, gauge_point(camera.project(place(a, 1.17))),
                            QStringLiteral("%1°").arg(degree), color, theme, room);
    }
}

void Protractor::paint_limits(QPainter& painter, const Camera& camera, const Theme& theme) const {
    if (!limits) return;
    // Beyond an open end it may turn all the way round.
    const double span = std::min(limits->max - limits->min, 2 * pi),
                 from = std::isfinite(limits->min) ? limits->min : limits->max - span;
    painter.setPen(QPen(theme.leaf, 3));
    painter.drawPolyline(arc(camera, from, from + span, 0.93));
    painter.setPen(QPen(theme.rust, 3));
    for (const double end : {limits->min, limits->max})
        if (std::isfinite(end))
            painter.drawLine(gauge_point(camera.project(place(end, 0.87))),
                             gauge_point(camera.project(place(end, 1.0))));
}

void Protractor::paint_dial(QPainter& painter, const Camera& camera, const Theme& theme, const QColor& color,
                            LabelRoom* room) const {
    painter.setPen(QPen(color, plain ? 1.4 : 2));
    // One that is not in use shows the stretch beside its knob only.
    if (plain) {
        painter.drawPolyline(arc(camera, turn_rad - plain_arc_rad, turn_rad + plain_arc_rad, 1.0));
        return;
    }
    painter.drawPolyline(arc(camera, 0, 2 * pi, 1.0));
    paint_ticks(painter, camera, color, theme, room);
    paint_limits(painter, camera, theme);

    const double shown = std::abs(turn_rad) > 2 * pi ? within_half_turn(turn_rad) : turn_rad;
    QPolygonF sector = arc(camera, 0, shown, 1.0);
    const QPointF hub = gauge_point(camera.project(centre)),
                  tip = gauge_point(camera.project(place(turn_rad)));
    sector << hub;
    QColor fill = color;
    fill.setAlphaF(0.20f);
    painter.setPen(Qt::NoPen);
    painter.setBrush(fill);
    painter.drawPolygon(sector);
    painter.setBrush(Qt::NoBrush);
    if (ghost_rad) {
        painter.setPen(QPen(theme.softInk, 1.6, Qt::DashLine));
        painter.drawLine(hub, gauge_point(camera.project(place(*ghost_rad))));
    }
    painter.setPen(QPen(color, 2.4));
    painter.drawLine(hub, tip);
    painter.setPen(QPen(theme.card, 1.5));
    painter.setBrush(color);
    painter.drawEllipse(hub, 3.5, 3.5);
}

void Protractor::paint_edge_rule(QPainter& painter, const Camera& camera, const Theme& theme,
                                 const QColor& color, LabelRoom* room) const {
    const EdgeRule rule = edge_rule(camera);
    const Vec2 across = Vec2(-rule.half.y(), rule.half.x()).normalized();
    const auto stroke = [&](double angle, double low_px, double high_px) {
        const Vec2 at = rule.at(angle);
        painter.drawLine(gauge_point(at + low_px * across), gauge_point(at + high_px * across));
    };
    painter.setPen(QPen(color, plain ? 1.2 : 2));
    painter.drawLine(gauge_point(rule.at(-pi)), gauge_point(rule.at(pi)));
    if (plain) return;
    const double pixels_per_degree = rule.half.norm() / 180;
    const int step = pixels_per_degree > 1.2 ? 5 : pixels_per_degree > 0.5 ? 10 : 30;
    const int labelled = pixels_per_degree > 1.0 ? 30 : pixels_per_degree > 0.5 ? 60 : 90;
    painter.setFont(Look::uiFont(11));
    for (int degree = -180; degree <= 180; degree += step) {
        painter.setPen(QPen(color, degree % 30 == 0 ? 1.8 : 1.0));
        stroke(degree * rad_per_deg, 0, degree % 30 == 0 ? 9 : 5);
        if (degree % labelled == 0)
            paintGaugeLabel(painter, gauge_point(rule.at(degree * rad_per_deg) + 18 * across),
                            QStringLiteral("%1°").arg(degree), color, theme, room);
    }
    if (limits) {
        const double low = std::max(limits->min, -pi), high = std::min(limits->max, pi);
        painter.setPen(QPen(theme.leaf, 3));
        painter.drawLine(gauge_point(rule.at(low) - 4 * across), gauge_point(rule.at(high) - 4 * across));
        painter.setPen(QPen(theme.rust, 3));
        for (const double end : {limits->min, limits->max})
            if (std::abs(end) <= pi) stroke(end, -8, 2);
    }
    if (ghost_rad) {
        painter.setPen(QPen(theme.softInk, 1.6, Qt::DashLine));
        stroke(within_half_turn(*ghost_rad), -14, 14);
    }
}

void Protractor::paint(QPainter& painter, const Camera& camera, const Theme& theme, LabelRoom* room) const {
    const QColor color = driven ? theme.steel : theme.raspberry;
    painter.setBrush(Qt::NoBrush);
    if (is_edge_on(camera))
        paint_edge_rule(painter, camera, theme, color, room);
    else
        paint_dial(painter, camera, theme, color, room);
    paintKnob(painter, gauge_point(knob(camera)), color, theme, driven, letter);
}

double TurnDrag::move(double angle, bool coarse, bool fine, const std::optional<Limits>& limits) {
    raw_ += std::remainder(angle - last_angle_, 2 * pi) * (fine ? 0.1 : 1.0);
    last_angle_ = angle;
    double turn = raw_;
    if (coarse) turn = std::round(turn / (5 * rad_per_deg)) * 5 * rad_per_deg;
    return limits ? limits->clamp(turn) : turn;
}

}  // namespace pivrak
