#include "app/view/view_overlay.h"

#include <fmt/format.h>

#include <QPainter>
#include <algorithm>

#include "app/view/asked_lines.h"
#include "app/view/closure_marks.h"
#include "app/view/control_marks.h"
#include "app/view/dimension_lines.h"
#include "app/view/viewport.h"
#include "core/model/units.h"

namespace pivrak {
namespace {

/// The corners (world, m) as the camera sees them; empty when one of them is behind it.
QPolygonF seen_polygon(const Camera& camera, const std::vector<Vec3>& corners) {
    QPolygonF polygon;
    for (const Vec3& corner : corners) {
        const Vec3 seen = camera.project(corner);
        if (seen.z() <= 0) return {};
        polygon << QPointF(seen.x(), seen.y());
    }
    return polygon;
}

}  // namespace

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
    if (view_.marksFront()) paintFront(painter);
    if (view_.frames_ || view_.session_.stage() == Stage::Pivots) paintFrames(painter);
    const std::vector<SeenControl> controls = seenControls(view_.session_, view_.camera_);
    paintControls(painter, controls, view_.look_.theme());
    if (view_.session_.stage() == Stage::Rig) {
        paintAsked(painter, view_.session_, view_.camera_, view_.look_.theme());
        paintClosures(painter, view_.session_, view_.camera_, view_.look_.theme());
    }
    view_.paths_->paint(painter, view_.look_.theme());
    view_.trail_->paint(painter, view_.look_.theme());
    view_.tips_->paint(painter, view_.look_.theme());
    // Knobs choose first, then the numbers of gauges, what is measured, and names.
    LabelRoom room = roomForWords();
    view_.gauges_->paint(painter, view_.look_.theme(), room);
    if (view_.session_.stage() == Stage::Rig || view_.session_.stage() == Stage::Keys)
        paintMeasures(painter, view_.session_, view_.camera_, view_.look_.theme(), room);
    paintControlNames(painter, controls, view_.look_.theme(), room);
    paintPicks(painter);
    if (const auto sheet = view_.sheet())
        sheet->paint(painter, view_.camera_, view_.look_.theme(), document.settings.length_unit,
                     view_.sheet_drag_ ? std::optional(view_.sheet_drag_->grip()) : std::nullopt);
    if (view_.hand_ == Viewport::Hand::Outline) paintOutline(painter);
}

/// What no knob, button or dial of the view stands on.
LabelRoom ViewOverlay::roomForWords() const {
    LabelRoom room{QRectF(rect()).adjusted(4, 4, -4, -4), view_.gauges_->taken()};
    for (const QWidget* child : view_.findChildren<QWidget*>(Qt::FindDirectChildrenOnly))
        if (child->isVisible() && !child->testAttribute(Qt::WA_TransparentForMouseEvents))
            room.taken.emplace_back(child->geometry());
    room.taken.push_back(floorScale().box);
    return room;
}

void ViewOverlay::paintEmpty(QPainter& painter) const {
    painter.setPen(view_.look_.theme().softInk);
    painter.setFont(Look::uiFont(14));
    painter.drawText(rect().adjusted(20, 0, -20, -60), Qt::AlignCenter,
                     tr("Nothing here yet.\nOpen a model with Ctrl+I, or take one from File, Examples."));
}

/// How far the lines of the floor's grid are apart, in the lower right corner.
ViewOverlay::FloorScale ViewOverlay::floorScale() const {
    const double step = view_.gridStep();
    LengthUnit unit = view_.session_.shownDocument().settings.length_unit;
    if (unit == LengthUnit::Metre && step < 1) unit = LengthUnit::Millimetre;
    const QString words = tr("grid %1").arg(
        QString::fromStdString(fmt::format("{:g} {}", step / metres_per(unit), symbol(unit))));
    const int wide = QFontMetrics(Look::uiFont(11)).horizontalAdvance(words);
    return {words, QRectF(width() - wide - 26, height() - 32, wide + 14, 20)};
}

void ViewOverlay::paintFloorScale(QPainter& painter) const {
    const Theme& theme = view_.look_.theme();
    const auto [text, box] = floorScale();
    painter.setFont(Look::uiFont(11));
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
                   selected && session.selection().size() <= 3, view_.look_.theme().raspberry);
    }
    // Of one part alone, also the axes of what carries it: a channel turns about the part's own.
    const Part* part = session.shownDocument().parts.find(session.primary());
    if (part && part->parent && session.selection().size() == 1)
        paintFrame(painter, session.worldFromPart(part->parent), 26, true, view_.look_.theme().steel);
    paintOldPivots(painter);
}

/// Where pivots stood before the step that is previewed.
void ViewOverlay::paintOldPivots(QPainter& painter) const {
    const Session& session = view_.session_;
    if (!session.previewed() || !session.previewed()->step.value("op", "").starts_with("pivot.")) return;
    for (const PartId id : session.selection()) {
        if (!session.document().parts.contains(id)) continue;
        const Vec3 old = view_.camera_.project(world_from_rest(session.document(), id).translation),
                   now = view_.camera_.project(world_from_rest(session.shownDocument(), id).translation);
        if (old.z() <= 0 || now.z() <= 0) continue;
        painter.setPen(QPen(view_.look_.theme().softInk, 1.5, Qt::DashLine));
        painter.setBrush(Qt::NoBrush);
        painter.drawLine(QPointF(old.x(), old.y()), QPointF(now.x(), now.y()));
        painter.setPen(QPen(view_.look_.theme().softInk, 1.8));
        painter.drawEllipse(QPointF(old.x(), old.y()), 4.5, 4.5);
    }
}

/// Three plain lines with letters: x solid, y dashed, z dotted. Form tells them apart, not colour alone.
void ViewOverlay::paintFrame(QPainter& painter, const Frame& world, double length_px, bool named,
                             const QColor& color) const {
    const Camera& camera = view_.camera_;
    const Vec3 origin = camera.project(world.translation);
    if (origin.z() <= 0) return;
    const double length = length_px * camera.metres_per_pixel(world.translation);
    const Qt::PenStyle styles[] = {Qt::SolidLine, Qt::DashLine, Qt::DotLine};
    painter.setFont(Look::uiFont(11, true));
    for (int axis = 0; axis < 3; ++axis) {
        const Vec3 end = camera.project(world.translation + length * world.axis(axis));
        painter.setPen(QPen(color, named ? 2.0 : 1.2, styles[axis]));
        painter.drawLine(QPointF(origin.x(), origin.y()), QPointF(end.x(), end.y()));
        if (!named) continue;
        const Vec2 out = (end - origin).head<2>();
        const Vec2 at = end.head<2>() + (out.norm() > 1 ? Vec2(10 * out.normalized()) : Vec2(8, -8));
        painter.drawText(QRectF(at.x() - 9, at.y() - 9, 18, 18), Qt::AlignCenter,
                         QString(QLatin1Char("xyz"[axis])));
    }
    painter.setPen(Qt::NoPen);
    painter.setBrush(color);
    painter.drawEllipse(QPointF(origin.x(), origin.y()), named ? 3.5 : 2.0, named ? 3.5 : 2.0);
}

void ViewOverlay::paintOutline(QPainter& painter) const {
    const Theme& theme = view_.look_.theme();
    QColor fill = theme.raspberry;
    fill.setAlphaF(0.10f);
    painter.setPen(QPen(theme.raspberry, 1.2, Qt::DashLine));
    painter.setBrush(fill);
    painter.drawPolygon(view_.outline());
}

/// Picked edges as lines, picked points as dots; two points are measured.
void ViewOverlay::paintPicks(QPainter& painter) const {
    const Theme& theme = view_.look_.theme();
    const Session& session = view_.session_;
    const auto seen = [&](PartId part, std::uint32_t vertex) -> std::optional<QPointF> {
        if (!session.shownDocument().parts.contains(part)) return std::nullopt;
        const Vec3 at = view_.camera_.project(
            picked_place(session.shownDocument(), {part, vertex}, session.worldFromPart(part)));
        return at.z() > 0 ? std::optional(QPointF(at.x(), at.y())) : std::nullopt;
    };
    painter.setPen(QPen(theme.raspberry, 2.4));
    for (const PickedEdge& edge : session.picks().edges) {
        const auto a = seen(edge.part, edge.from), b = seen(edge.part, edge.to);
        if (a && b) painter.drawLine(*a, *b);
    }
    std::vector<QPointF> places;
    for (const PickedPoint& point : session.picks().points)
        if (const auto at = seen(point.part, point.vertex)) places.push_back(*at);
    if (places.size() == 2) {
        painter.setPen(QPen(theme.raspberry, 1.4, Qt::DashLine));
        painter.drawLine(places[0], places[1]);
    }
    painter.setPen(QPen(theme.card, 1.5));
    painter.setBrush(theme.raspberry);
    for (const QPointF& at : places) painter.drawEllipse(at, 4.5, 4.5);
    paintPlaces(painter);
}

/// Picked places as numbered rings, with the line that two of them make.
void ViewOverlay::paintPlaces(QPainter& painter) const {
    const Theme& theme = view_.look_.theme();
    const Session& session = view_.session_;
    QPolygonF seen;
    for (const PickedPlace& place : session.picks().places) {
        const auto world = place_in_world(session.shownDocument(), place, session.worldFromPart(place.part));
        if (!world) return;
        const Vec3 at = view_.camera_.project(*world);
        if (at.z() <= 0) return;
        seen << QPointF(at.x(), at.y());
    }
    painter.setBrush(Qt::NoBrush);
    if (seen.size() == 2) {
        painter.setPen(QPen(theme.raspberry, 2, Qt::DashLine));
        painter.drawLine(seen[0], seen[1]);
    }
    painter.setFont(Look::uiFont(11, true));
    for (int i = 0; i < seen.size(); ++i) {
        painter.setPen(QPen(theme.card, 4.5));
        painter.drawEllipse(seen[i], 6, 6);
        painter.setPen(QPen(theme.raspberry, 2));
        painter.drawEllipse(seen[i], 6, 6);
        painter.drawPoint(seen[i]);
        painter.drawText(seen[i] + QPointF(9, -6), QString::number(i + 1));
    }
}

std::vector<Vec3> front_arrow(const Bounds& model) {
    const double size = std::clamp(0.12 * model.longest(), 0.05, 5.0), x = model.max.x() + 0.6 * size,
                 y = model.middle().y();
    std::vector<Vec3> corners;
    for (const Vec2& p : {Vec2(0, -0.35), Vec2(0.9, -0.35), Vec2(0.9, -0.8), Vec2(1.9, 0), Vec2(0.9, 0.8),
                          Vec2(0.9, 0.35), Vec2(0, 0.35)})
        corners.emplace_back(x + size * p.x(), y + size * p.y(), 0);
    return corners;
}

void ViewOverlay::paintFront(QPainter& painter) const {
    const Theme& theme = view_.look_.theme();
    const Bounds bounds = view_.shownBounds();
    if (bounds.empty()) return;
    // Seen from straight behind, the model stands before it.
    const Vec3 eye = view_.camera_.eye();
    if (eye.x() < bounds.min.x() && std::abs(eye.y() - bounds.middle().y()) < bounds.size().y() &&
        eye.z() < 2 * bounds.max.z())
        return;
    const QPolygonF arrow = seen_polygon(view_.camera_, front_arrow(bounds));
    if (arrow.empty()) return;
    QColor fill = theme.petrolLight;
    fill.setAlphaF(0.55f);
    painter.setPen(QPen(theme.petrol, 1.2));
    painter.setBrush(fill);
    painter.drawPolygon(arrow);
    painter.setFont(Look::uiFont(11, true));
    painter.setPen(view_.look_.theme().ink);
    // Below it, and in the view as long as the arrow reaches into it.
    QRectF words(arrow.boundingRect().center() + QPointF(-20, arrow.boundingRect().height() / 2 + 3),
                 QSizeF(40, 16));
    if (arrow.boundingRect().intersects(QRectF(rect())))
        words.moveLeft(std::clamp(words.left(), 4.0, width() - 44.0));
    painter.drawText(words, Qt::AlignHCenter, tr("front"));
}

}  // namespace pivrak
