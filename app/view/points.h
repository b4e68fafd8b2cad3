#pragma once

#include <QPointF>

#include "core/geometry/types.h"

namespace pivrak {

inline Vec2 vec(const QPointF& p) {
    return {p.x(), p.y()};
}

}  // namespace pivrak
