#pragma once

#include <QScrollArea>

#include "app/drive_map/map_layout.h"
#include "app/session/session.h"
#include "app/shell/theme.h"
#include "app/stages/kit/lower_area.h"

namespace pivrak {

class MapWindow;
struct Questions;

/// Below the view in Rig: who moves whom, with ratios and the values at the present frame. A click picks the
/// part.
class DriveMapView : public QWidget {
    Q_OBJECT

public:
    DriveMapView(Session& session, Look& look, const Questions& questions, QWidget* parent = nullptr);
    bool hasSomething() const { return !whole_.edges.empty(); }
    const DriveMap& shown() const { return map_; }
    /// Where a channel's box stands on the sheet; empty when it is not shown.
    QRectF boxOf(ChannelRef channel) const;
    QWidget* sheet() const { return sheet_; }

signals:
    /// There is something to show now, or nothing any more.
    void retold();

private:
    void refresh();
    void showPicked();
    Session& session_;
    std::pair<std::uint64_t, ClipId> known_{~std::uint64_t{0}, {}};  ///< revision and clip of `whole_`
    DriveMap whole_, map_;
    MapLayout layout_;
    LowerArea* area_;
    QScrollArea* scroll_;
    QWidget* sheet_;
    MapWindow* large_ = nullptr;
};

}  // namespace pivrak
