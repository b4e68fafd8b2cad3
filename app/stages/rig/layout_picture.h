#pragma once

#include <QWidget>
#include <optional>
#include <set>

#include "core/rig/vehicles/vehicle_layout.h"

namespace pivrak {

/// A vehicle seen from above: wheels on their axles, steered ones turned. A click on a wheel has its axle
/// steered or not; a wheel dragged off the picture is left out.
class LayoutPicture : public QWidget {
    Q_OBJECT

public:
    explicit LayoutPicture(QWidget* parent = nullptr);
    void show(const VehicleLayout& layout, const std::set<int>& steered);
    /// Where a wheel is drawn, and where a sprocket or idler.
    QRectF wheelBox(std::size_t wheel) const;
    QRectF runnerBox(std::size_t runner) const;

signals:
    void axleClicked(int axle);
    void wheelDropped(int wheel);
    void runnerDropped(int runner);

protected:
    bool event(QEvent* event) override;
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    /// Arrows go from wheel to wheel, Space steers its axle, Delete leaves it out.
    void keyPressEvent(QKeyEvent* event) override;

private:
    QRectF boxOf(const FoundWheel& wheel) const;

    VehicleLayout layout_;
    std::set<int> steered_;
    std::optional<std::size_t> held_, held_runner_;
    std::size_t marked_ = 0;  ///< by keys: wheels first, then sprockets and idlers
    /// The next one of all that stand in the picture, from its left to its right.
    std::size_t beside(std::size_t marked, int step) const;
    QPointF pressed_, at_;
};

}  // namespace pivrak
