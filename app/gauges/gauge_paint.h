#pragma once

#include <QPainter>

#include "app/shell/theme.h"
#include "core/geometry/types.h"

namespace pivrak {

/// Strokes that dials and rules share.
constexpr double gauge_knob_px = 7;

inline QPointF gauge_point(const Vec3& projected) {
    return {projected.x(), projected.y()};
}

/// The knob a gauge is dragged by, with a letter when there are several. A driven one is a plain dot.
void paintKnob(QPainter& painter, const QPointF& at, const QColor& color, const Theme& theme, bool driven,
               const QString& letter);
/// A small text on a plate of its own, centred about a place.
void paintGaugeLabel(QPainter& painter, const QPointF& at, const QString& text, const QColor& color,
                     const Theme& theme);

}  // namespace pivrak
