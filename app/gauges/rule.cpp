#include "app/gauges/rule.h"

#include <algorithm>
#include <cmath>

#include "app/gauges/gauge_paint.h"

namespace pivrak {
namespace {

constexpr double end_on = 0.10;  ///< sine of the angle between rule and line of sight
constexpr double plain_px = 26;
constexpr double stroke_px = 130, tick_px = 6, labels_apart_px = 62;

/// The next 1, 2 or 5 times a power of ten.
double round_step(double least) {
    const double power = std::pow(10.0, std::floor(std::log10(least)));
    for (const double step : {1.0, 2.0, 5.0})
        if (step * power >= least * (1 - 1e-9)) return step * power;
    return 10 * power;
}

}  // namespace

bool Rule::is_end_on(const Camera& camera) const {
    const Vec3 sight = camera.perspective ? Vec3((origin - camera.eye()).normalized()) : camera.back();
    return sight.cross(direction).norm() < end_on;
}

Vec2 Rule::knob(const Camera& camera) const {
    return camera.project(place(shift_m)).head<2>();
}

bool Rule::is_on_knob(const Camera& camera, const Vec2& pixel) const {
    return (knob(camera) - pixel).norm() < gauge_knob_px + 5;
}

double Rule::shift_at(const Camera& camera, const Vec2& pixel) const {
    const Ray ray = camera.ray(pixel);
    if (is_end_on(camera)) {
        // Towards the eye is down, as on a table.
        const Vec2 middle = camera.project(place(0)).head<2>();
        const double towards_eye = direction.dot(camera.back()) > 0 ? 1 : -1;
        return towards_eye * (pixel.y() - middle.y()) * per_pixel(camera, origin);
    }
    const Vec3 from = place(0) - ray.origin, sight = ray.direction.normalized();
    const double b = direction.dot(sight), across = 1 - b * b;
    return (b * sight.dot(from) - direction.dot(from)) / across / world_m;
}

double Rule::tick_m(const Camera& camera) const {
    const double pixel = per_pixel(camera, place(shift_m));
    // Foreshortened ticks stand closer.
    const Vec2 seen =
        (camera.project(place(shift_m + 50 * pixel)) - camera.project(place(shift_m))).head<2>();
    return round_step(tick_px * 50 * pixel / std::max(1.0, seen.norm()));
}

QString Rule::label(double value, LengthUnit unit, int decimals) const {
    return is_ratio ? QString::number(value, 'f', decimals)
                    : QString::fromStdString(format_length(value, unit, decimals));
}

/// What is drawn: around zero and the knob, to the limits where they are near.
Limits Rule::span(const Camera& camera) const {
    const double reach = stroke_px * per_pixel(camera, origin);
    Limits span{std::min(0.0, shift_m) - reach, std::max(0.0, shift_m) + reach};
    if (limits) span = {std::max(span.min, limits->min), std::min(span.max, limits->max)};
    if (is_ratio) span.min = std::max(span.min, 0.0);
    return {std::min(span.min, shift_m), std::max(span.max, shift_m)};
}

void Rule::paint_ticks(QPainter& painter, const Camera& camera, const Theme& theme, const QColor& color,
                       LengthUnit unit, LabelRoom* room) const {
    const double step = tick_m(camera);
    const Limits drawn = span(camera);
    const Vec2 way = (camera.project(place(drawn.max)) - camera.project(place(drawn.min))).head<2>();
    if (way.norm() < 1 || (drawn.max - drawn.min) / step > 2000) return;
    const Vec2 across = Vec2(-way.y(), way.x()).normalized() * (way.x() < 0 ? -1 : 1);
    const double step_px = way.norm() * step / (drawn.max - drawn.min);
    const int labelled = step_px * 10 >= labels_apart_px ? 10 : step_px * 20 >= labels_apart_px ? 20 : 50;
    const double shown_step = labelled * step / (is_ratio ? 1 : metres_per(unit));
    const int decimals = std::max(0, static_cast<int>(std::ceil(-std::log10(shown_step) - 1e-9)));
    painter.setFont(Look::uiFont(11));
    const auto last = static_cast<long>(std::floor(drawn.max / step + 1e-9));
    for (long i = static_cast<long>(std::ceil(drawn.min / step - 1e-9)); i <= last; ++i) {
        const Vec2 at = camera.project(place(static_cast<double>(i) * step)).head<2>();
        const double length = i % 10 == 0 ? 10 : i % 5 == 0 ? 7 : 4;
        painter.setPen(QPen(color, i % 10 == 0 ? 1.8 : 1.0));
        painter.drawLine(gauge_point(at), gauge_point(at + length * across));
        if (i % labelled == 0)
            paintGaugeLabel(painter, gauge_point(at + 19 * across),
                            label(static_cast<double>(i) * step, unit, decimals), color, theme, room);
    }
}

void Rule::paint_limits(QPainter& painter, const Camera& camera, const Theme& theme) const {
    if (!limits) return;
    const Limits drawn = span(camera);
    const Vec2 low = camera.project(place(drawn.min)).head<2>(),
               high = camera.project(place(drawn.max)).head<2>();
    const Vec2 way = high - low;
    if (way.norm() < 1) return;
    const Vec2 across = Vec2(-way.y(), way.x()).normalized() * (way.x() < 0 ? -1 : 1);
    painter.setPen(QPen(theme.leaf, 3));
    painter.drawLine(gauge_point(low - 4 * across), gauge_point(high - 4 * across));
    painter.setPen(QPen(theme.rust, 3));
    for (const double end : {limits->min, limits->max}) {
        if (end < drawn.min - 1e-12 || end > drawn.max + 1e-12) continue;
        const Vec2 at = camera.project(place(end)).head<2>();
        painter.drawLine(gauge_point(at - 9 * across), gauge_point(at + 9 * across));
    }
}

void Rule::paint(QPainter& painter, const Camera& camera, const Theme& theme, LengthUnit unit,
                 LabelRoom* room) const {
    const QColor color = driven ? theme.steel : theme.raspberry;
    const Limits drawn = span(camera);
    painter.setBrush(Qt::NoBrush);
    if (aside.norm() > 0) {
        painter.setPen(QPen(color, 1, Qt::DotLine));
        painter.drawLine(gauge_point(camera.project(place(shift_m) - aside)), gauge_point(knob(camera)));
    }
    painter.setPen(QPen(color, plain ? 1.2 : 2));
    const double reach = plain ? plain_px * per_pixel(camera, place(shift_m)) : 0;
    if (plain) {
        painter.drawLine(gauge_point(camera.project(place(shift_m - reach))),
                         gauge_point(camera.project(place(shift_m + reach))));
        paintKnob(painter, gauge_point(knob(camera)), color, theme, driven, letter);
        return;
    }
    painter.drawLine(gauge_point(camera.project(place(drawn.min))),
                     gauge_point(camera.project(place(drawn.max))));
    paint_ticks(painter, camera, theme, color, unit, room);
    paint_limits(painter, camera, theme);
    if (ghost_m) {
        painter.setPen(QPen(theme.softInk, 1.6, Qt::DashLine));
        painter.setBrush(Qt::NoBrush);
        painter.drawEllipse(gauge_point(camera.project(place(*ghost_m))), gauge_knob_px, gauge_knob_px);
    }
    paintKnob(painter, gauge_point(knob(camera)), color, theme, driven, letter);
}

double ShiftDrag::move(double pointer, bool coarse, bool fine, const std::optional<Limits>& limits,
                       double step) {
    raw_ += (pointer - last_) * (fine ? 0.1 : 1.0);
    last_ = pointer;
    double shift = raw_;
    if (coarse) shift = std::round(shift / step) * step;
    return limits ? limits->clamp(shift) : shift;
}

}  // namespace pivrak
