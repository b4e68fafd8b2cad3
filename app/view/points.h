#pragma once

#include <QPointF>

#include "core/geometry/types.h"

namespace pivrak {

inline Vec2 vec(const QPointF& p) {
    return {p.x(), p.y()};
}

/// Where a projected place is seen.
inline QPointF point(const Vec3& seen) {
    return {seen.x(), seen.y()};
}

}  // namespace pivrak
