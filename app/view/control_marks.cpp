#include "app/view/control_marks.h"

#include <algorithm>
#include <cmath>

#include "app/view/points.h"
#include "core/model/control_sizes.h"

namespace pivrak {
namespace {

constexpr double mark_reach_px = 7, gap_px = 5;

double distance(const QPointF& p, const QPointF& a, const QPointF& b) {
    const QPointF along = b - a, from = p - a;
    const double length = QPointF::dotProduct(along, along);
    const double share = length > 0 ? std::clamp(QPointF::dotProduct(from, along) / length, 0.0, 1.0) : 0;
    const QPointF off = from - share * along;
    return std::hypot(off.x(), off.y());
}

/// The lines as the camera sees them; none when a point is behind the eye.
std::vector<QPolygonF> seen_lines(const ControlSymbol& symbol, const Frame& world,
                                  const Projection& project) {
    std::vector<QPolygonF> lines;
    for (const std::vector<Vec3>& line : symbol_lines(symbol)) {
        QPolygonF seen;
        for (const Vec3& p : line) {
            const Vec3 at = project(world.point(p));
            if (at.z() <= 0) return {};
            seen << QPointF(at.x(), at.y());
        }
        lines.push_back(std::move(seen));
    }
    return lines;
}

}  // namespace

QRectF SeenControl::bounds() const {
    QRectF box;
    for (const QPolygonF& line : lines) box = box.united(line.boundingRect());
    return box;
}

std::vector<SeenControl> seenControls(const Session& session, const Camera& camera) {
    std::vector<SeenControl> seen;
    const Projection project = camera.projection();
    for (const Part& part : session.shownDocument().parts) {
        if (!part.control || !part.shown) continue;
        SeenControl control{part.id, seen_lines(*part.control, session.worldFromPart(part.id), project),
                            QString::fromStdString(part.name), part.control->color,
                            session.isSelected(part.id)};
        if (!control.lines.empty()) seen.push_back(std::move(control));
    }
    return seen;
}

std::optional<PartId> controlAt(const std::vector<SeenControl>& controls, const QPointF& pixel) {
    std::optional<PartId> best;
    double nearest = mark_reach_px;
    for (const SeenControl& control : controls)
        for (const QPolygonF& line : control.lines)
            for (int i = 0; i + 1 < line.size(); ++i)
                if (const double off = distance(pixel, line[i], line[i + 1]); off < nearest) {
                    nearest = off;
                    best = control.part;
                }
    return best;
}

std::vector<PartId> controlsInside(const std::vector<SeenControl>& controls, const QPolygonF& outline) {
    std::vector<PartId> inside;
    for (const SeenControl& control : controls) {
        const bool all = std::all_of(control.lines.begin(), control.lines.end(), [&](const QPolygonF& line) {
            return std::all_of(line.begin(), line.end(),
                               [&](const QPointF& p) { return outline.containsPoint(p, Qt::OddEvenFill); });
        });
        if (all) inside.push_back(control.part);
    }
    return inside;
}

std::vector<QRectF> placeLabels(const std::vector<QRectF>& beside, const std::vector<QSizeF>& sizes,
                                LabelRoom& room) {
    std::vector<QRectF> placed;
    for (std::size_t i = 0; i < beside.size(); ++i) {
        const QRectF& box = beside[i];
        const QSizeF& size = sizes[i];
        const double x = box.center().x() - size.width() / 2, y = box.center().y() - size.height() / 2;
        const QPointF corners[] = {{box.right() + gap_px, y},
                                   {box.left() - gap_px - size.width(), y},
                                   {x, box.top() - gap_px - size.height()},
                                   {x, box.bottom() + gap_px}};
        QRectF chosen;
        for (const QPointF& corner : corners) {
            const QRectF label(corner, size);
            if (!room.take(label)) continue;
            chosen = label;
            break;
        }
        placed.push_back(chosen);
    }
    return placed;
}

QColor controlColor(ControlColor color, const Theme& theme) {
    switch (color) {
        case ControlColor::Petrol:
            return theme.night ? theme.petrolLight.lighter(190) : theme.petrolLight;
        case ControlColor::Steel:
            return theme.steel;
        case ControlColor::Leaf:
            return theme.leaf;
        case ControlColor::Saffron:
            return theme.saffron.darker(theme.night ? 100 : 125);
        case ControlColor::Rust:
            return theme.rust;
        case ControlColor::Ink:
            return theme.ink;
        case ControlColor::Plum:
            return theme.plum;
    }
    return theme.ink;
}

void paintControls(QPainter& painter, const std::vector<SeenControl>& controls, const Theme& theme) {
    QColor halo = theme.card;
    halo.setAlphaF(0.6f);
    painter.setBrush(Qt::NoBrush);
    for (const SeenControl& control : controls) {
        const QColor color = control.selected ? theme.raspberry : controlColor(control.color, theme);
        std::vector<QPolygonF> lines;
        for (const QPolygonF& line : control.lines) lines.push_back(thinned(line, 1.2));
        for (const QPolygonF& line : lines) {
            painter.setPen(QPen(halo, control.selected ? 6 : 5, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
            painter.drawPolyline(line);
        }
        for (const QPolygonF& line : lines) {
            painter.setPen(
                QPen(color, control.selected ? 3.2 : 2.2, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
            painter.drawPolyline(line);
        }
    }
}

void paintControlNames(QPainter& painter, const std::vector<SeenControl>& controls, const Theme& theme,
                       LabelRoom& room) {
    painter.setFont(Look::uiFont(11, true));
    std::vector<QRectF> boxes;
    std::vector<QSizeF> sizes;
    // The panel tells the name of what is picked; there its gauges stand.
    std::vector<const SeenControl*> named;
    for (const SeenControl& control : controls) {
        if (control.selected) continue;
        named.push_back(&control);
        boxes.push_back(control.bounds());
        sizes.emplace_back(painter.fontMetrics().horizontalAdvance(control.label) + 10, 17);
    }
    const std::vector<QRectF> labels = placeLabels(boxes, sizes, room);
    for (std::size_t i = 0; i < named.size(); ++i) {
        if (labels[i].isEmpty()) continue;
        QColor plate = theme.card;
        plate.setAlphaF(0.82f);
        painter.setPen(Qt::NoPen);
        painter.setBrush(plate);
        painter.drawRoundedRect(labels[i], 3, 3);
        painter.setPen(controlColor(named[i]->color, theme));
        painter.drawText(labels[i], Qt::AlignCenter, named[i]->label);
    }
}

}  // namespace pivrak
