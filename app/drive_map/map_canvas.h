#pragma once

#include <QLineEdit>
#include <QWidget>

#include "app/drive_map/map_edit.h"
#include "app/drive_map/map_paint.h"

namespace pivrak {

/// A drive map that is zoomed by the wheel and drawn about by the mouse; a click on a box picks, one on the
/// words of an arrow changes its number, and what is dragged from box to box asks for a coupling.
class MapCanvas : public QWidget {
    Q_OBJECT

public:
    MapCanvas(Session& session, Look& look);
    void setMap(DriveMap map);
    void search(const QString& name);
    void fit();
    const DriveMap& map() const { return map_; }
    /// Where a channel's box is seen; empty when it is not in the map.
    QRectF boxOf(ChannelRef channel) const;
    /// Where the words of an arrow are seen.
    QRectF labelOf(std::size_t edge) const;
    double zoom() const { return zoom_; }
    /// Errors: `file.*` (it cannot be written). The ending says which: a drawing or a picture.
    Result<void> save(const QString& file) const;

signals:
    void couplingAsked(ChannelRef driver, ChannelRef driven);

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    QPointF onSheet(const QPointF& at) const { return (at - shift_) / zoom_; }
    QRectF seen(const QRectF& on_sheet) const {
        return {on_sheet.topLeft() * zoom_ + shift_, on_sheet.size() * zoom_};
    }
    MapPicture picture() const;
    void paintPulled(QPainter& painter) const;
    void hover(const QPointF& at);
    void edit(std::size_t edge);
    void take();
    void leave();

    Session& session_;
    Look& look_;
    DriveMap map_;
    MapLayout layout_;
    std::vector<QRectF> plates_;
    MovingChannels moving_;
    QString searched_;
    double zoom_ = 1;
    QPointF shift_{0, 0}, pressed_, last_;
    bool drags_ = false, fitted_ = true;
    std::optional<std::size_t> from_;  ///< the box that a coupling is pulled from
    QLineEdit* entry_;
    std::optional<ArrowNumber> number_;  ///< what is typed in it
};

}  // namespace pivrak
