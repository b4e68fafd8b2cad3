#pragma once

#include <QPolygonF>
#include <QRectF>
#include <vector>

#include "core/checks/drive/drive_map.h"

namespace pivrak {

/// So many that do the same are one box: the planets of a gear, the slats of a shutter.
inline constexpr std::size_t one_box_from = 3;

/// A drive map laid out on a sheet [px]: drivers left of what they move, lines in right angles.
struct MapLayout {
    std::vector<QRectF> boxes;     ///< of each channel of the map
    std::vector<QPolygonF> lines;  ///< of each edge, from box to box
    QSizeF size;
};

MapLayout lay_out(const DriveMap& map, const QSizeF& box);

}  // namespace pivrak
