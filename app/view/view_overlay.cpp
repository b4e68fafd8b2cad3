#include "app/view/view_overlay.h"

#include <fmt/format.h>

#include <QPainter>

#include "app/view/viewport.h"

namespace pivrak {

ViewOverlay::ViewOverlay(Viewport& view) : QWidget(&view), view_(view) {
    setAttribute(Qt::WA_TransparentForMouseEvents);
    setAttribute(Qt::WA_NoSystemBackground);
}

void ViewOverlay::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const Document& document = view_.session_.shownDocument();
    if (document.shapes.empty()) paintEmpty(painter);
    paintFloorScale(painter);
    if (view_.frames_ || view_.session_.stage() == Stage::Pivots) paintFrames(painter);
    if (const auto gauge = view_.gauge()) gauge->paint(painter, view_.camera_, view_.look_.theme());
    if (view_.hand_ == Viewport::Hand::Box) paintBox(painter);
}

void ViewOverlay::paintEmpty(QPainter& painter) const {
    painter.setPen(view_.look_.theme().softInk);
    painter.setFont(Look::uiFont(14));
    painter.drawText(rect().adjusted(20, 0, -20, -60), Qt::AlignCenter,
                     tr("Nothing here yet.\nOpen a model with Ctrl+I, or take one from File, Examples."));
}

void ViewOverlay::paintFloorScale(QPainter& painter) const {
    const Theme& theme = view_.look_.theme();
    const double step = view_.gridStep();
    const QString text = tr("grid %1").arg(QString::fromStdString(
        step >= 1 ? fmt::format("{:g} m", step) : fmt::format("{:g} mm", step * 1000)));
    painter.setFont(Look::uiFont(11));
    const int wide = painter.fontMetrics().horizontalAdvance(text);
    const QRectF box(width() - wide - 26, height() - 32, wide + 14, 20);
    painter.setPen(Qt::NoPen);
    QColor card = theme.card;
    card.setAlphaF(0.8f);
    painter.setBrush(card);
    painter.drawRoundedRect(box, 5, 5);
    painter.setPen(theme.softInk);
    painter.drawText(box, Qt::AlignCenter, text);
}

void ViewOverlay::paintFrames(QPainter& painter) const {
    const Session& session = view_.session_;
    const bool many = view_.frames_;
    for (std::size_t i = 0; i < session.evaluator().parts().size(); ++i) {
        const PartId part = session.evaluator().parts()[i];
        const bool selected = session.isSelected(part);
        if (!selected && !many) continue;
        paintFrame(painter, session.pose().world_from_part[i], selected ? 34 : 12,
                   selected && session.selection().size() <= 3);
    }
}

/// Three plain lines with letters: x solid, y dashed, z dotted. Form tells them apart, not colour alone.
void ViewOverlay::paintFrame(QPainter& painter, const Frame& world, double length_px, bool named) const {
    const Theme& theme = view_.look_.theme();
    const Camera& camera = view_.camera_;
    const Vec3 origin = camera.project(world.translation);
    if (origin.z() <= 0) return;
    const double length = length_px * camera.metres_per_pixel(world.translation);
    const Qt::PenStyle styles[] = {Qt::SolidLine, Qt::DashLine, Qt::DotLine};
    painter.setFont(Look::uiFont(11, true));
    for (int axis = 0; axis < 3; ++axis) {
        const Vec3 end = camera.project(world.translation + length * world.axis(axis));
        painter.setPen(QPen(theme.raspberry, named ? 2.0 : 1.2, styles[axis]));
        painter.drawLine(QPointF(origin.x(), origin.y()), QPointF(end.x(), end.y()));
        if (!named) continue;
        const Vec2 out = (end - origin).head<2>();
        const Vec2 at = end.head<2>() + (out.norm() > 1 ? Vec2(10 * out.normalized()) : Vec2(8, -8));
        painter.drawText(QRectF(at.x() - 9, at.y() - 9, 18, 18), Qt::AlignCenter,
                         QString(QLatin1Char("xyz"[axis])));
    }
    painter.setPen(Qt::NoPen);
    painter.setBrush(theme.raspberry);
    painter.drawEllipse(QPointF(origin.x(), origin.y()), named ? 3.5 : 2.0, named ? 3.5 : 2.0);
}

void ViewOverlay::paintBox(QPainter& painter) const {
    const Theme& theme = view_.look_.theme();
    QColor fill = theme.raspberry;
    fill.setAlphaF(0.10f);
    painter.setPen(QPen(theme.raspberry, 1.2, Qt::DashLine));
    painter.setBrush(fill);
    painter.drawRect(QRectF(view_.pressed_, view_.last_).normalized());
}

}  // namespace pivrak
