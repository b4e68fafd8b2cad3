#pragma once

#include <QCheckBox>
#include <QLineEdit>
#include <QPushButton>

#include "app/drive_map/map_paint.h"
#include "app/shell/questions.h"

namespace pivrak {

/// A drive map that is zoomed by the wheel and drawn about by the mouse; a click picks.
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
    double zoom() const { return zoom_; }
    /// Errors: `file.*` (it cannot be written). The ending says which: a drawing or a picture.
    Result<void> save(const QString& file) const;

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;

private:
    QPointF onSheet(const QPointF& at) const { return (at - shift_) / zoom_; }
    MapPicture picture() const;

    Session& session_;
    Look& look_;
    DriveMap map_;
    MapLayout layout_;
    MovingChannels moving_;
    QString searched_;
    double zoom_ = 1;
    QPointF shift_{0, 0}, pressed_, last_;
    bool drags_ = false, fitted_ = true;
};

/// The drive map in a window of its own.
class MapWindow : public QWidget {
    Q_OBJECT

public:
    MapWindow(Session& session, Look& look, const Questions& questions, QWidget* parent);
    MapCanvas* canvas() const { return canvas_; }

protected:
    void showEvent(QShowEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    void refresh();
    void save();

    Session& session_;
    const Questions& questions_;
    MapCanvas* canvas_;
    QLineEdit* search_;
    QCheckBox *fold_, *around_;
    QLabel* note_;
};

}  // namespace pivrak
