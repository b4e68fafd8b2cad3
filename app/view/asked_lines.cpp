#include "app/view/asked_lines.h"

#include "core/elements/constraint/constraint_motion.h"

namespace pivrak {
namespace {

/// Two corners of a square, open to the sides.
void paintBracket(QPainter& painter, const QPointF& at) {
    constexpr double half = 6, foot = 4;
    for (const double side : {-1.0, 1.0}) {
        painter.drawPolyline(QPolygonF{at + QPointF(side * (half - foot), -half),
                                       at + QPointF(side * half, -half), at + QPointF(side * half, half),
                                       at + QPointF(side * (half - foot), half)});
    }
}

void paintCross(QPainter& painter, const QPointF& at) {
    constexpr double arm = 6;
    painter.drawLine(at + QPointF(-arm, -arm), at + QPointF(arm, arm));
    painter.drawLine(at + QPointF(-arm, arm), at + QPointF(arm, -arm));
}

/// Beside its line; below what is written there already.
void paintWords(QPainter& painter, const QPointF& at, const QString& words, const Theme& theme,
                QList<QRectF>& written) {
    painter.setFont(Look::uiFont(11, true));
    QRectF box(QPointF(0, 0), QSizeF(painter.fontMetrics().horizontalAdvance(words) + 12, 18));
    box.moveCenter(at + QPointF(0, -16));
    for (const QRectF& other : written)
        if (box.intersects(other)) box.moveTop(other.bottom() + 2);
    written << box;
    QColor card = theme.card;
    card.setAlphaF(0.85f);
    painter.setPen(Qt::NoPen);
    painter.setBrush(card);
    painter.drawRoundedRect(box, 5, 5);
    painter.setPen(theme.rust);
    painter.drawText(box, Qt::AlignCenter, words);
}

}  // namespace

void paintAsked(QPainter& painter, const Session& session, const Camera& camera, const Theme& theme) {
    const Evaluator& evaluator = session.evaluator();
    QList<QRectF> written;
    for (const Constraint& constraint : session.shownDocument().constraints) {
        const bool picked = session.isSelected(constraint.part) || session.isSelected(constraint.target);
        if (!picked && !session.selection().empty()) continue;
        const auto line = asked_line(evaluator, session.pose(), constraint);
        if (!line) continue;
        const Vec3 from = camera.project(line->from), to = camera.project(line->to);
        if (from.z() <= 0 || to.z() <= 0) continue;
        const QPointF a(from.x(), from.y()), b(to.x(), to.y());
        painter.setBrush(Qt::NoBrush);
        painter.setPen(QPen(theme.card, 3.4));
        painter.drawLine(a, b);
        painter.setPen(QPen(theme.rust, picked ? 1.6 : 1.0, Qt::DashDotLine));
        painter.drawLine(a, b);
        painter.setPen(QPen(theme.rust, picked ? 2.0 : 1.4));
        paintBracket(painter, a);
        paintCross(painter, b);
        const auto miss = constraint_miss(evaluator, session.pose(), constraint);
        if (!picked || !miss || miss_words(*miss) == "nothing") continue;
        paintWords(painter, 0.5 * (a + b),
                   QObject::tr("misses by %1").arg(QString::fromStdString(miss_words(*miss))), theme,
                   written);
    }
}

}  // namespace pivrak
