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
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;

private:
    QRectF boxOf(const FoundWheel& wheel) const;

    VehicleLayout layout_;
    std::set<int> steered_;
    std::optional<std::size_t> held_, held_runner_;
    QPointF pressed_, at_;
};

}  // namespace pivrak
