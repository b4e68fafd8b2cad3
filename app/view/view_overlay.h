#pragma once

#include <QWidget>

#include "app/gauges/label_room.h"
#include "core/geometry/frame.h"
#include "core/geometry/mesh/mesh.h"

namespace pivrak {

class Viewport;

/// Corners of an arrow on the floor before a model: there its front is.
std::vector<Vec3> front_arrow(const Bounds& model);

/// What is written over the picture: gauge, frames, box being drawn, floor scale. Lets the mouse through.
class ViewOverlay : public QWidget {
public:
    explicit ViewOverlay(Viewport& view);

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    struct FloorScale {
        QString words;
        QRectF box;
    };
    FloorScale floorScale() const;
    LabelRoom roomForWords() const;
    void paintFloorScale(QPainter& painter) const;
    void paintFrames(QPainter& painter) const;
    void paintFrame(QPainter& painter, const Frame& world, double length_px, bool named,
                    const QColor& color) const;
    void paintOldPivots(QPainter& painter) const;
    void paintOutline(QPainter& painter) const;
    void paintPicks(QPainter& painter) const;
    void paintPlaces(QPainter& painter) const;
    void paintFront(QPainter& painter) const;
    void paintEmpty(QPainter& painter) const;
    Viewport& view_;
};

}  // namespace pivrak
