#pragma once

#include <QPainter>
#include <QWidget>
#include <optional>

#include "app/session/pivot_checks.h"
#include "app/shell/theme.h"

namespace pivrak {

/// The cells of a swing map on a rectangle: the first joint from left to right, the second from bottom to
/// top.
struct MapScale {
    QRectF box;
    std::size_t columns, rows;

    static MapScale fit(const QRectF& box, const SwingMap& map);
    QRectF cell(std::size_t column, std::size_t row) const;
    struct Place {
        std::size_t column, row;
    };
    std::optional<Place> at(const QPointF& pixel) const;
};

/// Contact in rust, then from saffron where it is close to leaf where there is room: full room from a fifth
/// of the largest clearance on.
QColor clearanceColor(double clearance_m, double largest_m, const Theme& theme);

/// Draws the map with both joints' values; a click on a cell poses both.
class SwingMapChart : public QWidget {
    Q_OBJECT

public:
    SwingMapChart(Session& session, PivotChecks& checks, Look& look, QWidget* parent = nullptr);

signals:
    void posed(double first, double second);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;

private:
    MapScale scale(const SwingMap& map) const;
    QString shown(ChannelKind kind, double value) const;
    void paintAxes(QPainter& painter, const SwingMap& map, const MapScale& scale) const;
    Session& session_;
    PivotChecks& checks_;
    Look& look_;
};

}  // namespace pivrak
