#include "app/view/closure_marks.h"

#include "core/elements/linkage/linkage_motion.h"

namespace pivrak {
namespace {

constexpr double radius = 7;

void paintHalf(QPainter& painter, const QPointF& at, bool left) {
    const QRectF box(at - QPointF(radius, radius), QSizeF(2 * radius, 2 * radius));
    // In sixteenths of a degree; a small gap above and below shows that there are two.
    painter.drawArc(box, (left ? 100 : -80) * 16, 160 * 16);
}

}  // namespace

void paintClosures(QPainter& painter, const Session& session, const Camera& camera, const Theme& theme) {
    const Document& document = session.shownDocument();
    for (const Linkage& linkage : document.linkages)
        for (const Closure& closure : linkage.closures) {
            const bool picked = session.isSelected(closure.a) || session.isSelected(closure.b);
            if (linkage.off || closure.closes == Closes::Turn || (!picked && !session.selection().empty()))
                continue;
            const Vec3 a = camera.project(session.worldFromPart(closure.a).point(closure.place_a)),
                       b = camera.project(session.worldFromPart(closure.b).point(closure.place_b));
            if (a.z() <= 0 || b.z() <= 0) continue;
            const auto miss = closure_miss(session.evaluator(), session.pose(), closure);
            const QColor ink =
                miss && miss->apart_m > 1e-6 && closure.closes != Closes::Slider ? theme.rust : theme.plum;
            const QPointF at(a.x(), a.y()), other(b.x(), b.y());
            painter.setBrush(Qt::NoBrush);
            for (const auto& [colour, width] :
                 {std::pair(theme.card, 4.5), std::pair(ink, picked ? 2.4 : 1.6)}) {
                painter.setPen(QPen(colour, width, Qt::SolidLine, Qt::FlatCap));
                paintHalf(painter, at, true);
                paintHalf(painter, closure.closes == Closes::Slider ? at : other, false);
                if (closure.closes != Closes::Slider && (at - other).manhattanLength() > 2)
                    painter.drawLine(at, other);
            }
            painter.setPen(Qt::NoPen);
            painter.setBrush(ink);
            painter.drawEllipse(at, 1.8, 1.8);
        }
}

}  // namespace pivrak
