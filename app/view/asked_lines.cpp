#include "app/view/asked_lines.h"

#include "core/elements/constraint/constraint_motion.h"
#include "core/elements/reach/reach_motion.h"

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

struct Asked {
    Vec3 from, to;
    bool picked;
    std::string missed;  ///< by how much; empty where it is met
};

/// Both its ends as the camera sees them; none when one of them is behind it.
std::optional<QLineF> seen_line(const Asked& asked, const Camera& camera) {
    const Vec3 from = camera.project(asked.from), to = camera.project(asked.to);
    if (from.z() <= 0 || to.z() <= 0) return std::nullopt;
    return QLineF(from.x(), from.y(), to.x(), to.y());
}

void paintLine(QPainter& painter, const QLineF& line, bool picked, const Theme& theme) {
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(theme.card, 3.4));
    painter.drawLine(line);
    painter.setPen(QPen(theme.rust, picked ? 1.6 : 1.0, Qt::DashDotLine));
    painter.drawLine(line);
    painter.setPen(QPen(theme.rust, picked ? 2.0 : 1.4));
    paintBracket(painter, line.p1());
    paintCross(painter, line.p2());
}

/// Of what is picked, or of everything where nothing is.
std::vector<Asked> all_asked(const Session& session) {
    const Evaluator& evaluator = session.evaluator();
    const Document& document = session.shownDocument();
    const LengthUnit unit = document.settings.length_unit;
    std::vector<Asked> all;
    for (const Constraint& constraint : document.constraints) {
        const bool picked = session.isSelected(constraint.part) || session.isSelected(constraint.target);
        if (!picked && !session.selection().empty()) continue;
        const auto line = asked_line(evaluator, session.pose(), constraint);
        if (!line) continue;
        const auto miss = constraint_miss(evaluator, session.pose(), constraint);
        all.push_back({line->from, line->to, picked, miss ? miss_words(*miss, unit) : ""});
    }
    for (const Reach& reach : document.reaches) {
        const bool picked = session.isSelected(reach.tip) || session.isSelected(reach.goal);
        const auto miss = reach_miss(evaluator, session.pose(), reach);
        if (!miss || (!picked && !session.selection().empty())) continue;
        const Frame goal = reach.goal ? session.worldFromPart(reach.goal) : Frame{};
        all.push_back({session.worldFromPart(reach.tip).point(reach.place), goal.point(reach.goal_place),
                       picked, format_miss(miss->place_m, miss->turn_rad, unit)});
    }
    return all;
}

}  // namespace

void paintAsked(QPainter& painter, const Session& session, const Camera& camera, const Theme& theme) {
    const std::vector<Asked> all = all_asked(session);
    for (const Asked& asked : all)
        if (const auto line = seen_line(asked, camera)) paintLine(painter, *line, asked.picked, theme);
    // Above all lines, so that none crosses them.
    QList<QRectF> written;
    for (const Asked& asked : all)
        if (const auto line = seen_line(asked, camera); line && asked.picked && !asked.missed.empty())
            paintWords(painter, line->center(),
                       QObject::tr("misses by %1").arg(QString::fromStdString(asked.missed)), theme, written);
}

}  // namespace pivrak
