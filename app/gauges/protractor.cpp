#include "app/gauges/protractor.h"

#include <algorithm>
#include <cmath>

namespace pivrak {
namespace {

constexpr double edge_on = 0.12;  ///< sine of the angle between dial and line of sight
constexpr double knob_radius_px = 7;

QPointF point(const Vec3& projected) {
    return {projected.x(), projected.y()};
}

}  // namespace

Vec3 Protractor::place(double angle, double share) const {
    return centre + share * radius_m * (std::cos(angle) * zero + std::sin(angle) * axis.cross(zero));
}

Vec2 Protractor::knob(const Camera& camera) const {
    return camera.project(place(turn_rad)).head<2>();
}

bool Protractor::is_on_knob(const Camera& camera, const Vec2& pixel) const {
    return (knob(camera) - pixel).norm() < knob_radius_px + 5;
}

double Protractor::angle_at(const Camera& camera, const Vec2& pixel) const {
    const Ray ray = camera.ray(pixel);
    const double across = ray.direction.dot(axis);
    if (std::abs(across) > edge_on) {
        const Vec3 hit = ray.origin + ray.direction * ((centre - ray.origin).dot(axis) / across) - centre;
        return std::atan2(hit.dot(axis.cross(zero)), hit.dot(zero));
    }
    const Vec3 along = axis.cross(camera.back()).normalized();
    const Vec3 seen = camera.project(centre), end = camera.project(centre + radius_m * along);
    const Vec2 way = (end - seen).head<2>();
    const double share = (pixel - seen.head<2>()).dot(way) / way.squaredNorm();
    const double towards_eye = std::atan2(camera.back().dot(axis.cross(zero)), camera.back().dot(zero));
    return std::remainder(towards_eye + std::asin(std::clamp(share, -1.0, 1.0)), 2 * pi);
}

QPolygonF Protractor::arc(const Camera& camera, double from, double to, double share) const {
    QPolygonF line;
    const int steps = std::max(2, static_cast<int>(std::abs(to - from) / (2 * rad_per_deg)));
    for (int i = 0; i <= steps; ++i)
        line << point(camera.project(place(from + (to - from) * i / steps, share)));
    return line;
}

void Protractor::paint_ticks(QPainter& painter, const Camera& camera, const QColor& color,
                             QColor plate) const {
    plate.setAlphaF(0.78f);
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
        painter.drawLine(point(camera.project(place(a, 1.0 - length / 2))),
                         point(camera.project(place(a, 1.0 + length / 2))));
        if (degree % labelled != 0) continue;
        const QPointF at = point(camera.project(place(a, 1.17)));
        const QString text = QStringLiteral("%1°").arg(degree);
        const double wide = painter.fontMetrics().horizontalAdvance(text) + 6;
        const QRectF box(at.x() - wide / 2, at.y() - 7.5, wide, 15);
        painter.setPen(Qt::NoPen);
        painter.setBrush(plate);
        painter.drawRoundedRect(box, 3, 3);
        painter.setPen(color);
        painter.drawText(box, Qt::AlignCenter, text);
    }
}

void Protractor::paint_limits(QPainter& painter, const Camera& camera, const Theme& theme) const {
    if (!limits) return;
    const double span = std::min(limits->max - limits->min, 2 * pi);
    painter.setPen(QPen(theme.leaf, 3));
    painter.drawPolyline(arc(camera, limits->min, limits->min + span, 0.93));
    painter.setPen(QPen(theme.rust, 3));
    for (const double end : {limits->min, limits->max})
        painter.drawLine(point(camera.project(place(end, 0.87))), point(camera.project(place(end, 1.0))));
}

void Protractor::paint(QPainter& painter, const Camera& camera, const Theme& theme) const {
    const QColor color = driven ? theme.steel : theme.raspberry;
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(color, 2));
    painter.drawPolyline(arc(camera, 0, 2 * pi, 1.0));
    paint_ticks(painter, camera, color, theme.card);
    paint_limits(painter, camera, theme);

    const double shown = std::abs(turn_rad) > 2 * pi ? std::remainder(turn_rad, 2 * pi) : turn_rad;
    QPolygonF sector = arc(camera, 0, shown, 1.0);
    sector << point(camera.project(centre));
    QColor fill = color;
    fill.setAlphaF(0.20f);
    painter.setPen(Qt::NoPen);
    painter.setBrush(fill);
    painter.drawPolygon(sector);

    const QPointF hub = point(camera.project(centre)), tip = point(camera.project(place(turn_rad)));
    painter.setPen(QPen(color, 2.4));
    painter.drawLine(hub, tip);
    painter.setPen(QPen(theme.card, 1.5));
    painter.setBrush(color);
    painter.drawEllipse(hub, 3.5, 3.5);
    if (!driven) painter.drawEllipse(tip, knob_radius_px, knob_radius_px);
}

double TurnDrag::move(double angle, bool coarse, bool fine, const std::optional<Limits>& limits) {
    raw_ += std::remainder(angle - last_angle_, 2 * pi) * (fine ? 0.1 : 1.0);
    last_angle_ = angle;
    double turn = raw_;
    if (coarse) turn = std::round(turn / (5 * rad_per_deg)) * 5 * rad_per_deg;
    return limits ? limits->clamp(turn) : turn;
}

}  // namespace pivrak
