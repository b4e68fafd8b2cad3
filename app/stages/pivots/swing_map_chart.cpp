#include "app/stages/pivots/swing_map_chart.h"

#include <QMouseEvent>
#include <QToolTip>
#include <algorithm>
#include <cmath>

#include "app/stages/kit/length_text.h"
namespace pivrak {
namespace {

QColor mixed(const QColor& a, const QColor& b, double share) {
    const auto f = static_cast<float>(share);
    return QColor::fromRgbF(a.redF() + f * (b.redF() - a.redF()), a.greenF() + f * (b.greenF() - a.greenF()),
                            a.blueF() + f * (b.blueF() - a.blueF()));
}

double largest_clearance(const SwingMap& map) {
    double largest = 0;
    for (const auto& cell : map.cells)
        if (std::isfinite(cell.clearance_m)) largest = std::max(largest, cell.clearance_m);
    return largest;
}

}  // namespace

MapScale MapScale::fit(const QRectF& box, const SwingMap& map) {
    return {box, map.first_values.size(), map.second_values.size()};
}

QRectF MapScale::cell(std::size_t column, std::size_t row) const {
    const double wide = box.width() / static_cast<double>(columns),
                 high = box.height() / static_cast<double>(rows);
    return {box.left() + wide * static_cast<double>(column),
            box.bottom() - high * static_cast<double>(row + 1), wide, high};
}

std::optional<MapScale::Place> MapScale::at(const QPointF& pixel) const {
    if (!box.contains(pixel)) return std::nullopt;
    const auto column = static_cast<std::size_t>((pixel.x() - box.left()) / box.width() *
                                                 static_cast<double>(columns)),
               row = static_cast<std::size_t>((box.bottom() - pixel.y()) / box.height() *
                                              static_cast<double>(rows));
    return Place{std::min(column, columns - 1), std::min(row, rows - 1)};
}

QColor clearanceColor(double clearance, double largest, const Theme& theme) {
    if (clearance <= 0) return theme.rust;
    const double room = largest > 0 ? std::min(1.0, clearance / (0.2 * largest)) : 1;
    return mixed(theme.saffron, theme.leaf, room);
}

SwingMapChart::SwingMapChart(Session& session, PivotChecks& checks, Look& look, QWidget* parent)
    : QWidget(parent), session_(session), checks_(checks), look_(look) {
    setObjectName(QStringLiteral("swingMap"));
    setMouseTracking(true);
    setMinimumHeight(110);
    connect(&checks_, &PivotChecks::swingChanged, this, qOverload<>(&QWidget::update));
    connect(&session_, &Session::poseChanged, this, qOverload<>(&QWidget::update));
    connect(&look_, &Look::changed, this, qOverload<>(&QWidget::update));
}

MapScale SwingMapChart::scale(const SwingMap& map) const {
    return MapScale::fit(QRectF(rect()).adjusted(150, 6, -12, -34), map);
}

void SwingMapChart::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const auto& map = checks_.map();
    if (!map) return;
    const MapScale scale = this->scale(*map);
    const double largest = largest_clearance(*map);
    painter.setPen(Qt::NoPen);
    for (std::size_t i = 0; i < scale.columns; ++i)
        for (std::size_t j = 0; j < scale.rows; ++j)
            painter.fillRect(scale.cell(i, j).adjusted(0, 0, 0.6, 0.6),
                             clearanceColor(map->at(i, j).clearance_m, largest, look_.theme()));
    painter.setRenderHint(QPainter::Antialiasing);
    paintAxes(painter, *map, scale);
    // Where both stand now.
    const auto share = [&](const std::vector<double>& values, ChannelRef channel) {
        return (session_.valueOf(channel) - values.front()) / (values.back() - values.front());
    };
    const double x = share(map->first_values, map->first), y = share(map->second_values, map->second);
    if (x < 0 || x > 1 || y < 0 || y > 1) return;
    const QPointF now(scale.box.left() + x * scale.box.width(), scale.box.bottom() - y * scale.box.height());
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(look_.theme().card, 4));
    painter.drawEllipse(now, 6, 6);
    painter.setPen(QPen(look_.theme().raspberry, 2));
    painter.drawEllipse(now, 6, 6);
}

QString SwingMapChart::shown(ChannelKind kind, double value) const {
    return QString::fromStdString(format_channel(kind, value, session_.document(), 1));
}

void SwingMapChart::paintAxes(QPainter& painter, const SwingMap& map, const MapScale& scale) const {
    const Theme& theme = look_.theme();
    painter.setFont(Look::uiFont(11));
    painter.setPen(theme.softInk);
    for (int k = 0; k <= 4; ++k) {
        const double share = k / 4.0, x = scale.box.left() + share * scale.box.width(),
                     y = scale.box.bottom() - share * scale.box.height();
        const auto value = [&](const std::vector<double>& v) {
            return v.front() + share * (v.back() - v.front());
        };
        painter.drawText(QRectF(std::min(x - 40, scale.box.right() - 62), scale.box.bottom() + 2, 80, 14),
                         Qt::AlignCenter, shown(map.first.kind, value(map.first_values)));
        if (k % 2 == 0)
            painter.drawText(QRectF(scale.box.left() - 84,
                                    y - (k == 4   ? 0
                                         : k == 0 ? 14
                                                  : 7),
                                    80, 14),
                             Qt::AlignRight | Qt::AlignVCenter,
                             shown(map.second.kind, value(map.second_values)));
    }
    const auto name = [&](ChannelRef channel) {
        const Part* part = session_.shownDocument().parts.find(channel.part());
        return part ? QString::fromStdString(part->name) : QString();
    };
    painter.setFont(Look::uiFont(11, true));
    painter.setPen(theme.ink);
    painter.drawText(QRectF(scale.box.left(), scale.box.bottom() + 17, scale.box.width(), 15),
                     Qt::AlignCenter, name(map.first));
    painter.drawText(QRectF(4, scale.box.center().y() - 8, 84, 16), Qt::AlignLeft | Qt::AlignVCenter,
                     painter.fontMetrics().elidedText(name(map.second), Qt::ElideMiddle, 84));
}

void SwingMapChart::mousePressEvent(QMouseEvent* event) {
    const auto& map = checks_.map();
    const auto place = map ? scale(*map).at(event->position()) : std::nullopt;
    if (place) emit posed(map->first_values[place->column], map->second_values[place->row]);
}

void SwingMapChart::mouseMoveEvent(QMouseEvent* event) {
    const auto& map = checks_.map();
    const auto place = map ? scale(*map).at(event->position()) : std::nullopt;
    if (!place) return QToolTip::hideText();
    const SwingMap::Cell& cell = map->at(place->column, place->row);
    const Part* neighbour = session_.shownDocument().parts.find(cell.neighbour);
    const QString to = neighbour ? QString::fromStdString(neighbour->name) : tr("anything");
    QToolTip::showText(
        event->globalPosition().toPoint(),
        tr("%1 and %2: %3")
            .arg(shown(map->first.kind, map->first_values[place->column]),
                 shown(map->second.kind, map->second_values[place->row]),
                 cell.clearance_m <= 0 ? tr("touches %1").arg(to)
                 : std::isinf(cell.clearance_m)
                     ? tr("nothing to meet")
                     : tr("%1 from %2").arg(length(cell.clearance_m, session_.document()), to)),
        this);
}

}  // namespace pivrak
