#pragma once

#include <QPainter>

#include "app/session/session.h"
#include "app/shell/theme.h"
#include "app/view/camera.h"

namespace pivrak {

/// Where linkages close: a half ring at each of the two places, one ring while they are together; a line
/// between them when they are not. Those of the picked parts, or all where none is picked.
void paintClosures(QPainter& painter, const Session& session, const Camera& camera, const Theme& theme);

}  // namespace pivrak
