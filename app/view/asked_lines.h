#pragma once

#include <QPainter>

#include "app/session/session.h"
#include "app/shell/theme.h"
#include "app/view/camera.h"

namespace pivrak {

/// What constraints ask and rows reach for, as thin lines from a bracket at the part to a cross at what it is
/// asked for; those of the picked parts, which also tell how far they miss, or all where none is picked.
void paintAsked(QPainter& painter, const Session& session, const Camera& camera, const Theme& theme);

}  // namespace pivrak
