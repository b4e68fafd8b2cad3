#pragma once

#include <QPainter>

#include "core/model/clip.h"

namespace pivrak {

/// Draws a key about a place, with the painter's pen and brush. Its form tells how it runs on: a disc where
/// it is bent, a square where it runs straight, half of one where it stays, a bar where it is level, a ring
/// where its tangents are its own.
void paintKeyMark(QPainter& painter, const QPointF& at, Interpolation runs, double size);

}  // namespace pivrak
