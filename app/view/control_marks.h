#pragma once

#include <QPainter>
#include <QPolygonF>
#include <optional>
#include <vector>

#include "app/gauges/label_room.h"
#include "app/session/session.h"
#include "app/shell/theme.h"
#include "app/view/camera.h"

namespace pivrak {

/// A control as the view shows it: lines in pixels and its name.
struct SeenControl {
    PartId part;
    std::vector<QPolygonF> lines;
    QString label;
    ControlColor color;
    bool selected = false;

    QRectF bounds() const;
};

/// The controls that are shown and stand before the eye.
std::vector<SeenControl> seenControls(const Session& session, const Camera& camera);

/// The control whose line passes nearest to a pixel, within some pixels.
std::optional<PartId> controlAt(const std::vector<SeenControl>& controls, const QPointF& pixel);
/// Those that lie whole inside an outline.
std::vector<PartId> controlsInside(const std::vector<SeenControl>& controls, const QPolygonF& outline);

/// Where labels of some sizes go beside their boxes so that none covers another and all lie in the view: to
/// the right, left, above or below. One that finds no room gets an empty box. The first ones choose first.
std::vector<QRectF> placeLabels(const std::vector<QRectF>& beside, const std::vector<QSizeF>& sizes,
                                LabelRoom& room);

QColor controlColor(ControlColor color, const Theme& theme);
void paintControls(QPainter& painter, const std::vector<SeenControl>& controls, const Theme& theme);
/// Their names, where there is room.
void paintControlNames(QPainter& painter, const std::vector<SeenControl>& controls, const Theme& theme,
                       LabelRoom& room);

}  // namespace pivrak
