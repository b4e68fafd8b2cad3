#include "app/view/dimension_lines.h"

#include <QLineF>
#include <algorithm>
#include <cmath>
#include <optional>

#include "app/session/shown_value.h"
#include "core/elements/measure/measure_motion.h"

namespace pivrak {
namespace {

constexpr double arrow = 9, bound = 7, shortest = 24;

std::optional<QPointF> seen(const Camera& camera, const Vec3& place) {
    const Vec3 pixel = camera.project(place);
    return pixel.z() > 0 ? std::optional(QPointF(pixel.x(), pixel.y())) : std::nullopt;
}

/// A thin line over a pale one, so that it shows on any ground.
class Drawn {
public:
    Drawn(QPainter& painter, const Theme& theme, LabelRoom& room)
        : painter_(painter), theme_(theme), room_(room) {}

    template <class Draw>
    void twice(Draw draw) {
        for (const auto& [ink, width] : {std::pair(theme_.card, 3.6), {theme_.ink, 1.2}}) {
            painter_.setPen(QPen(ink, width, Qt::SolidLine, Qt::FlatCap));
            painter_.setBrush(Qt::NoBrush);
            draw();
        }
    }
    /// A slim closed head, its tip at a place.
    void head(const QPointF& tip, const QPointF& away) {
        const QLineF way(tip, away);
        if (way.length() < 1e-6) return;
        const QPointF back = arrow * (away - tip) / way.length(), side(-0.28 * back.y(), 0.28 * back.x());
        painter_.setPen(Qt::NoPen);
        painter_.setBrush(theme_.ink);
        painter_.drawPolygon(QPolygonF{tip, tip + back + side, tip + back - side});
    }
    void words(const QPointF& at, const QString& text, double angle_deg = 0) {
        painter_.save();
        painter_.translate(at);
        // Read from below or from the right, never head over.
        if (angle_deg > 90 || angle_deg <= -90) angle_deg += angle_deg > 0 ? -180 : 180;
        painter_.rotate(angle_deg);
        painter_.setFont(Look::uiFont(12, true));
        QRectF box(QPointF(0, 0), QSizeF(painter_.fontMetrics().horizontalAdvance(text) + 10, 18));
        box.moveCenter(QPointF(0, -12));
        if (!room_.take(QTransform().translate(at.x(), at.y()).rotate(angle_deg).mapRect(box)))
            return painter_.restore();
        QColor card = theme_.card;
        card.setAlphaF(0.8f);
        painter_.setPen(Qt::NoPen);
        painter_.setBrush(card);
        painter_.drawRoundedRect(box, 4, 4);
        painter_.setPen(theme_.ink);
        painter_.drawText(box, Qt::AlignCenter, text);
        painter_.restore();
    }

private:
    QPainter& painter_;
    const Theme& theme_;
    LabelRoom& room_;
};

void paintLength(QPainter& painter, Drawn& drawn, const QPointF& a, const QPointF& b, const QString& words) {
    const QLineF line(a, b);
    const QPointF square =
        line.length() < 1e-6 ? QPointF(0, 1) : QPointF(-line.dy(), line.dx()) / line.length() * bound;
    drawn.twice([&] {
        painter.drawLine(a, b);
        painter.drawLine(a - square, a + square);
        painter.drawLine(b - square, b + square);
    });
    if (line.length() > 2.5 * arrow) drawn.head(a, b), drawn.head(b, a);
    // Beside a line too short to carry it.
    if (line.length() < shortest) return drawn.words(b + QPointF(0, -8), words);
    drawn.words(0.5 * (a + b), words, std::atan2(line.dy(), line.dx()) * deg_per_rad);
}

/// From one leg to the other in the plane of both, as seen.
void paintAngle(QPainter& painter, Drawn& drawn, const Camera& camera, const MeasureMarks& marks,
                const QString& words) {
    const Vec3 one = marks.from - marks.corner, other = marks.to - marks.corner;
    const double radius = 0.6 * std::min(one.norm(), other.norm());
    const auto corner = seen(camera, marks.corner), a = seen(camera, marks.from), b = seen(camera, marks.to);
    if (!corner || !a || !b || !(radius > 0)) return;
    QPolygonF arc;
    const Quat whole = Quat::FromTwoVectors(one, other);
    for (int i = 0; i <= 24; ++i) {
        const Vec3 leg = Quat(1, 0, 0, 0).slerp(i / 24.0, whole) * one.normalized();
        if (const auto at = seen(camera, marks.corner + radius * leg)) arc << *at;
    }
    drawn.twice([&] {
        painter.drawLine(*corner, *a);
        painter.drawLine(*corner, *b);
        painter.drawPolyline(arc);
    });
    if (arc.size() < 8) return;
    if (QLineF(arc.front(), arc.back()).length() > 2.5 * arrow) {
        drawn.head(arc.front(), arc[3]);
        drawn.head(arc.back(), arc[arc.size() - 4]);
    }
    // Outside the arc, away from its corner.
    const QPointF middle = arc[arc.size() / 2], out = middle - *corner;
    const double far = std::max(1.0, std::hypot(out.x(), out.y()));
    drawn.words(middle + out / far * (14 + 12 * std::abs(out.x()) / far) + QPointF(0, 12), words);
}

}  // namespace

void paintMeasures(QPainter& painter, const Session& session, const Camera& camera, const Theme& theme,
                   LabelRoom& room) {
    const Document& document = session.shownDocument();
    Drawn drawn(painter, theme, room);
    for (const Measure& measure : document.measures) {
        if (measure.hidden) continue;
        const auto marks = measure_marks(document, session.evaluator(), session.pose(), measure);
        if (!marks) continue;
        const QString value =
            toldValue(document, measure.gives(), session.valueOf({measure.id, measure.gives()}));
        const QString words = measure.what == Measures::Radius      ? QObject::tr("radius %1").arg(value)
                              : measure.what == Measures::PathBend  ? QObject::tr("bend %1").arg(value)
                              : measure.what == Measures::PathPlace ? QObject::tr("at %1").arg(value)
                                                                    : value;
        if (measure.gives() == ChannelKind::Angle) {
            paintAngle(painter, drawn, camera, *marks, words);
            continue;
        }
        const auto a = seen(camera, marks->from), b = seen(camera, marks->to);
        if (a && b) paintLength(painter, drawn, *a, *b, words);
    }
}

}  // namespace pivrak
