#pragma once

#include <QPainter>

#include "app/gauges/label_room.h"
#include "app/shell/theme.h"
#include "core/geometry/types.h"

namespace pivrak {

/// Strokes that dials and rules share.
constexpr double gauge_knob_px = 7;

/// Where a place is painted; a projected one leaves its depth behind.
template <class Place>
QPointF gauge_point(const Place& at) {
    return {at[0], at[1]};
}

/// The knob a gauge is dragged by, with a letter when there are several. A driven one is a plain dot.
void paintKnob(QPainter& painter, const QPointF& at, const QColor& color, const Theme& theme, bool driven,
               const QString& letter);
/// A small text on a plate of its own, centred about a place.
void paintGaugeLabel(QPainter& painter, const QPointF& at, const QString& text, const QColor& color,
                     const Theme& theme, LabelRoom* room = nullptr);

/// A text on a plate with an edge of a colour.
void paintPlate(QPainter& painter, const QRectF& plate, const QString& text, const QColor& edge,
                const Theme& theme);

}  // namespace pivrak
