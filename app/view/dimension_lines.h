#pragma once

#include <QPainter>

#include "app/gauges/label_room.h"
#include "app/session/session.h"
#include "app/shell/theme.h"
#include "app/view/camera.h"

namespace pivrak {

/// What is measured, drawn as on a drawing: a line between two short bounds with its length along it, an arc
/// between two legs with its angle. Where there is no room for a value, the panel tells it.
void paintMeasures(QPainter& painter, const Session& session, const Camera& camera, const Theme& theme,
                   LabelRoom& room);

}  // namespace pivrak
