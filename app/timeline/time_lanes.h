#pragma once

#include <QPixmap>
#include <QWidget>
#include <map>
#include <optional>
#include <set>
#include <span>

#include "app/parts/channel_mark.h"
#include "app/session/session.h"
#include "app/shell/theme.h"
#include "app/timeline/lane_metrics.h"
#include "app/timeline/ruler.h"
#include "app/timeline/shown_frames.h"

namespace pivrak {

/// Ruler, keys and lanes, in the machine's order, those of one part foldable. Keys are picked by a click or,
/// with Shift, by a box, and dragged in whole frames; with Ctrl what follows moves along, with Alt the picked
/// ones are stretched from the other end. A move between two keys is a bar that is dragged as one. Delete
/// takes the picked ones out. On the ruler, and anywhere else, the mouse scrubs; markers are dragged along
/// the ruler. The wheel scrolls the lanes; with Ctrl it zooms time about the pointer, with Shift, or a drag
/// of the middle button, it pans. A double click on the ruler shows the whole clip again.
class TimeLanes : public QWidget {
    Q_OBJECT

public:
    TimeLanes(Session& session, Look& look, QWidget* parent = nullptr);
    Ruler ruler() const;
    QSize sizeHint() const override { return {800, 120}; }
    /// Where a key is seen; nowhere when its lane is not.
    QPointF placeOf(ChannelRef channel, double frame);
    /// Where the folding mark of a part is seen; nowhere when it has none.
    QPointF foldOf(PartId part);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    bool event(QEvent* event) override;

private:
    struct LaneKey {
        ChannelRef channel;
        double frame;
    };
    /// A row: a channel, or the part above several of its own.
    struct Lane {
        OwnerId part;
        std::vector<ChannelRef> channels;
        bool heads = false;
    };
    enum class Doing { Nothing, Scrub, Keys, Stretch, Box, Mark, Pan };
    std::optional<LaneKey> keyAt(const QPointF& place);
    /// The first of two keys between which a channel moves.
    std::optional<std::pair<LaneKey, double>> barAt(const QPointF& place);
    std::optional<std::size_t> laneAt(const QPointF& place);
    std::optional<double> markerAt(const QPointF& place) const;
    bool pressKey(const QMouseEvent& event);
    double stretched(double frame) const;
    void dropStretched();
    void dropMarker();
    void fold(const Lane& lane);
    void pickBox(const QRectF& box);
    void dropMoved(bool ripples);
    void scrub(double x);
    /// Something else than the frame changed: all of it is painted anew.
    void refresh();
    /// What stays while the frame moves.
    void paintStill();
    void paintRuler(QPainter& painter) const;
    void paintFrames(QPainter& painter, const QRect& where) const;
    void paintKeysHere(QPainter& painter);
    void paintHint(QPainter& painter) const;
    void paintMarkers(QPainter& painter) const;
    void paintReach(QPainter& painter) const;
    void followFrame();
    std::vector<ChannelMark> marksShown();
    /// The lanes that are seen, from the top.
    std::span<const Lane> lanesShown();
    int room() const { return (height() - lane_px::ruler_height) / lane_px::lane_height; }
    void paintLane(QPainter& painter, int row, const Lane& lane);
    void paintHead(QPainter& painter, double top, const Lane& lane) const;
    void paintBars(QPainter& painter, const Track& track, double y) const;
    void paintKeys(QPainter& painter, const Track& track, double y) const;
    int laneCount() const;
    void paintDriven(QPainter& painter, ChannelRef channel, double y);
    const std::vector<double>& runOf(ChannelRef channel);
    const std::vector<Lane>& lanes();
    std::vector<ChannelRef> channelsShown() const;

    Session& session_;
    Look& look_;
    Doing doing_ = Doing::Nothing;
    QPointF pressed_, last_;
    double moved_ = 0;                ///< frames by which the picked keys, or a marker, are dragged
    double gripped_ = 0, about_ = 0;  ///< the key that is stretched, and the frame that stays
    std::optional<std::vector<Lane>> lanes_;
    std::set<OwnerId> folded_;
    int first_row_ = 0;
    mutable ClipId shown_clip_;
    mutable ShownFrames shown_;  ///< takes the clip's range when it is asked
    nlohmann::json copied_;      ///< keys, as operations name them
    QPixmap still_;              ///< as it was painted last; null when that is no longer true
    double at_ = 0;              ///< the frame that is painted [px]
    std::vector<ChannelMark> marks_;
    /// How driven channels run over the clip, as long as the document is the same.
    std::map<ChannelRef, std::vector<double>> runs_;
};

}  // namespace pivrak
