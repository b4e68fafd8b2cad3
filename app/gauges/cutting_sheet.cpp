#include "app/gauges/cutting_sheet.h"

#include <algorithm>
#include <cmath>

#include "app/gauges/gauge_paint.h"

namespace pivrak {
namespace {

constexpr double stalk_px = 70, grip_px = 14, snap_px = 7, coarse_step_m = 0.01;

}  // namespace

std::optional<Vec2> CuttingSheet::place(Grip grip, const Camera& camera) const {
    const Plane plane = tool.plane();
    const Vec3 at = grip == Grip::Move
                        ? plane.point + stalk_px * camera.metres_per_pixel(plane.point) * plane.normal
                    : grip == Grip::Tilt ? middle + reach_m * tool.side(1)
                                         : middle + reach_m * tool.side(0);
    const Vec3 seen = camera.project(at);
    return seen.z() > 0 ? std::optional<Vec2>(seen.head<2>()) : std::nullopt;
}

std::optional<CuttingSheet::Grip> CuttingSheet::grip_at(const Camera& camera, const Vec2& pixel) const {
    for (const Grip grip : {Grip::Move, Grip::Tilt, Grip::Turn})
        if (const auto at = place(grip, camera); at && (*at - pixel).norm() < grip_px) return grip;
    return std::nullopt;
}

Protractor CuttingSheet::dial(Grip grip) const {
    Protractor dial;
    dial.centre = middle;
    dial.radius_m = reach_m;
    const Vec3 tilted_from = tool.base * Vec3::UnitZ();
    dial.axis = grip == Grip::Tilt ? tool.side(0) : tilted_from;
    dial.zero = grip == Grip::Tilt ? tilted_from : Vec3(tool.base * Vec3::UnitY());
    dial.turn_rad = grip == Grip::Tilt ? tool.tilt_rad : tool.turn_rad;
    return dial;
}

void CuttingSheet::paint(QPainter& painter, const Camera& camera, const Theme& theme, LengthUnit unit,
                         std::optional<Grip> dragged) const {
    QPolygonF sheet;
    for (const Vec2& corner : {Vec2(-1, -1), Vec2(1, -1), Vec2(1, 1), Vec2(-1, 1)}) {
        const Vec3 seen =
            camera.project(middle + reach_m * (corner.x() * tool.side(0) + corner.y() * tool.side(1)));
        if (seen.z() <= 0) return;
        sheet << gauge_point(Vec2(seen.head<2>()));
    }
    QColor fill = theme.raspberry;
    fill.setAlphaF(0.14f);
    painter.setPen(QPen(theme.raspberry, 1.5));
    painter.setBrush(fill);
    painter.drawPolygon(sheet);
    if (dragged && *dragged != Grip::Move) dial(*dragged).paint(painter, camera, theme);
    for (const Grip grip : {Grip::Tilt, Grip::Turn})
        if (const auto at = place(grip, camera)) {
            painter.setPen(QPen(theme.card, 1.5));
            painter.setBrush(theme.raspberry);
            QPolygonF mark;
            for (const Vec2& d : {Vec2(0, -7), Vec2(7, 0), Vec2(0, 7), Vec2(-7, 0)})
                mark << gauge_point(*at + d);
            painter.drawPolygon(mark);
            const double angle = grip == Grip::Tilt ? tool.tilt_rad : tool.turn_rad;
            const QString name = grip == Grip::Tilt ? QObject::tr("tilt") : QObject::tr("turn");
            if (angle != 0 || dragged == grip)
                paint_label(painter, *at,
                            name + QLatin1Char(' ') + QString::fromStdString(format_angle(angle)), theme);
        }
    const auto knob = place(Grip::Move, camera);
    if (!knob) return;
    const Vec3 foot = camera.project(tool.point);
    painter.setPen(QPen(theme.raspberry, 2));
    painter.drawLine(QPointF(foot.x(), foot.y()), gauge_point(*knob));
    painter.setPen(QPen(theme.card, 1.5));
    painter.setBrush(theme.raspberry);
    painter.drawEllipse(gauge_point(*knob), 7, 7);
    paint_label(painter, *knob, QString::fromStdString(format_length(tool.offset(), unit, 3)), theme);
}

void CuttingSheet::paint_label(QPainter& painter, const Vec2& at, const QString& text,
                               const Theme& theme) const {
    painter.setFont(Look::uiFont(11, true));
    const QRectF box(at.x() + 12, at.y() - 11, painter.fontMetrics().horizontalAdvance(text) + 14, 21);
    paintPlate(painter, box, text, theme.raspberry, theme);
}

SheetDrag::SheetDrag(const CuttingSheet& start, CuttingSheet::Grip grip, const Camera& camera,
                     const Vec2& pixel, std::vector<double> snaps)
    : start_(start), grip_(grip), pressed_(pixel), snaps_(std::move(snaps)) {
    if (grip == CuttingSheet::Grip::Move) return;
    // It turns about the middle of what is seen of it.
    start_.tool.point = start_.middle;
    const Protractor dial = start_.dial(grip);
    turning_.emplace(dial.turn_rad, dial.angle_at(camera, pixel));
}

double SheetDrag::moved(const Camera& camera, const Vec2& pixel, bool coarse, bool fine) const {
    const Plane plane = start_.tool.plane();
    const Vec2 along = (camera.project(plane.point + plane.normal) - camera.project(plane.point)).head<2>();
    if (along.norm() < 1e-6) return 0;
    double way = along.dot(pixel - pressed_) / along.squaredNorm();
    if (fine) return 0.1 * way;
    if (coarse) return coarse_step_m * std::round(way / coarse_step_m);
    double nearest = snap_px * camera.metres_per_pixel(plane.point + way * plane.normal);
    const double free = way;
    for (const double height : snaps_)
        if (std::abs(height - free) < nearest) {
            nearest = std::abs(height - free);
            way = height;
        }
    return way;
}

ToolPlane SheetDrag::move(const Camera& camera, const Vec2& pixel, bool coarse, bool fine) {
    ToolPlane tool = start_.tool;
    if (grip_ == CuttingSheet::Grip::Move) {
        tool.point += moved(camera, pixel, coarse, fine) * tool.plane().normal;
        return tool;
    }
    double angle = turning_->move(start_.dial(grip_).angle_at(camera, pixel), coarse, fine, {});
    if (!coarse && !fine) angle = rad_per_deg * std::round(angle * deg_per_rad);
    (grip_ == CuttingSheet::Grip::Tilt ? tool.tilt_rad : tool.turn_rad) = std::remainder(angle, 2 * pi);
    return tool;
}

}  // namespace pivrak
