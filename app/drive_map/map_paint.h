#pragma once

#include <QPainter>

#include "app/drive_map/map_layout.h"
#include "app/session/session.h"
#include "app/shell/theme.h"

namespace pivrak {

/// A box of the drive map [px].
inline constexpr QSizeF map_box_size(118, 38);

/// Channels that changed since they were last looked at: what moves now.
class MovingChannels {
public:
    void look(const Session& session, const DriveMap& map);
    bool moves(std::size_t channel) const { return channel < moves_.size() && moves_[channel]; }

private:
    std::vector<double> values_;
    std::vector<bool> moves_;
};

/// What is painted, and what of it stands out.
struct MapPicture {
    const Session& session;
    const Theme& theme;
    const DriveMap& map;
    const MapLayout& layout;
    const MovingChannels& moving;
    QString searched = {};  ///< part of a name; all stands out when it is empty
};

void paintMap(QPainter& painter, const MapPicture& picture);

/// Where the words of each line stand on the sheet; empty for a line that has none.
std::vector<QRectF> labelPlates(const DriveMap& map, const MapLayout& layout);

/// The line whose words are at a place of the sheet, by its number; none beside them.
std::optional<std::size_t> labelAt(const std::vector<QRectF>& plates, const QPointF& at);

/// The box at a place of the sheet, by its number in the map; none between them.
std::optional<std::size_t> boxAt(const MapLayout& layout, const QPointF& at);

/// Picks the parts of a box, or adds them to what is picked.
void pickBox(Session& session, const DriveMap& map, std::size_t box, bool adds);

/// What a box is called: the part or element whose channel it is, and how many it stands for.
QString boxName(const Session& session, const DriveMap& map, std::size_t box);

}  // namespace pivrak
