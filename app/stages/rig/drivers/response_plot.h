#pragma once

#include <QWidget>
#include <optional>

#include "app/shell/theme.h"
#include "core/model/document.h"

namespace pivrak {

/// What a follower's curve answers, with its points to drag: a double click puts one in, Delete takes the
/// picked one out. Between its neighbours a point stays. The picked one has a bar along the curve, whose ends
/// turn it: its slope.
class ResponsePlot : public QWidget {
    Q_OBJECT

public:
    explicit ResponsePlot(Look& look);
    /// Keeps which point is picked; lengths stand in the unit. Pre: it has a curve.
    void setFollow(const Follow& follow, LengthUnit unit);
    /// Where the driver stands now [rad or m].
    void setDriver(double value);
    const Follow& follow() const { return follow_; }
    /// None picked.
    std::optional<std::size_t> picked() const { return picked_; }
    /// Where a point is seen.
    QPointF placeOf(std::size_t point) const;
    /// The end of the picked point's bar towards larger drivers; none where the curve has corners.
    std::optional<QPointF> barEnd() const;
    /// With which the curve goes through a point, its own or that of its kind.
    double slopeAt(std::size_t point) const;

signals:
    /// While a point is dragged, or another is picked.
    void shown();
    /// A point was put somewhere else, in, or out.
    void edited();

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    bool event(QEvent* event) override;

private:
    /// The ranges that are seen.
    struct Ranges {
        double low = 0, high = 1, least = 0, most = 1;
    };
    Ranges ranges() const;
    QRectF inner() const;
    QPointF seen(double driver, double answer) const;
    ResponsePoint at(const QPointF& place) const;
    std::optional<std::size_t> pointAt(const QPointF& place) const;
    void paintCurve(QPainter& painter) const;
    void paintBar(QPainter& painter) const;
    void dragPoint(const QPointF& place);
    void turnBar(const QPointF& place);

    Look& look_;
    Follow follow_;
    LengthUnit unit_ = LengthUnit::Metre;
    double driver_ = 0;
    std::optional<std::size_t> picked_;
    std::optional<Ranges> held_;  ///< ranges while a point is dragged: they stay
    bool moved_ = false;
    double turns_ = 0;  ///< the side, 1 or -1, on which the bar is held; 0 for none
};

}  // namespace pivrak
