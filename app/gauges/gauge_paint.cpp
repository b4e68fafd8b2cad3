#include "app/gauges/gauge_paint.h"

namespace pivrak {

void paintKnob(QPainter& painter, const QPointF& at, const QColor& color, const Theme& theme, bool driven,
               const QString& letter) {
    if (driven) return;
    const double radius = letter.isEmpty() ? gauge_knob_px : gauge_knob_px + 1.5;
    painter.setPen(QPen(theme.card, 1.5));
    painter.setBrush(color);
    painter.drawEllipse(at, radius, radius);
    if (letter.isEmpty()) return;
    painter.setFont(Look::uiFont(11, true));
    painter.setPen(theme.card);
    painter.drawText(QRectF(at.x() - 9, at.y() - 9.5, 18, 18), Qt::AlignCenter, letter);
}

void paintGaugeLabel(QPainter& painter, const QPointF& at, const QString& text, const QColor& color,
                     const Theme& theme, LabelRoom* room) {
    QColor plate = theme.card;
    plate.setAlphaF(0.78f);
    const double wide = painter.fontMetrics().horizontalAdvance(text) + 6;
    const QRectF box(at.x() - wide / 2, at.y() - 7.5, wide, 15);
    if (room && !room->take(box)) return;
    painter.setPen(Qt::NoPen);
    painter.setBrush(plate);
    painter.drawRoundedRect(box, 3, 3);
    painter.setPen(color);
    painter.drawText(box, Qt::AlignCenter, text);
}

void paintPlate(QPainter& painter, const QRectF& plate, const QString& text, const QColor& edge,
                const Theme& theme) {
    QColor card = theme.card;
    card.setAlphaF(0.92f);
    painter.setPen(QPen(edge, 1));
    painter.setBrush(card);
    painter.drawRoundedRect(plate, 4, 4);
    painter.setPen(theme.ink);
    painter.drawText(plate, Qt::AlignCenter, text);
}

}  // namespace pivrak
