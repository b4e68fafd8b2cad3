#pragma once

#include <QPointF>
#include <QPolygonF>

#include "core/geometry/types.h"

namespace pivrak {

inline Vec2 vec(const QPointF& p) {
    return {p.x(), p.y()};
}

/// Where a projected place is seen.
inline QPointF point(const Vec3& seen) {
    return {seen.x(), seen.y()};
}

/// A line without places that lie nearer than so many pixels to the one before, its ends kept.
inline QPolygonF thinned(const QPolygonF& line, double nearest_px) {
    QPolygonF out;
    for (int i = 0; i < line.size(); ++i) {
        const QPointF step = out.isEmpty() ? QPointF() : line[i] - out.back();
        if (out.isEmpty() || i + 1 == line.size() ||
            step.x() * step.x() + step.y() * step.y() > nearest_px * nearest_px)
            out << line[i];
    }
    return out;
}

}  // namespace pivrak
