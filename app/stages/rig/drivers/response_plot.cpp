#include "app/stages/rig/drivers/response_plot.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <algorithm>
#include <cmath>

#include "core/elements/follow/follow_motion.h"

namespace pivrak {
namespace {

constexpr double knob_px = 5, grip_px = 10, bar_px = 34;

/// A range with room about it.
void widen(double& low, double& high, double least) {
    const double room = std::max(0.08 * (high - low), high - low < least ? 0.5 * least : 0);
    low -= room;
    high += room;
}

bool takesOut(int key) {
    return key == Qt::Key_Delete || key == Qt::Key_Backspace;
}

}  // namespace

ResponsePlot::ResponsePlot(Look& look) : look_(look) {
    setObjectName(QStringLiteral("responsePlot"));
    setFixedHeight(170);
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Response curve"));
    setMouseTracking(true);
    setToolTip(
        tr("Drag a point, or an end of the bar of the picked one; a double click puts one in, Delete takes "
           "the picked one out"));
}

void ResponsePlot::setFollow(const Follow& follow, LengthUnit unit) {
    if (held_) return;  // a hand has it
    follow_ = follow;
    unit_ = unit;
    if (picked_ && *picked_ >= follow_.curve.size()) picked_.reset();
    update();
}

void ResponsePlot::setDriver(double value) {
    if (value == driver_) return;
    driver_ = value;
    update();
}

ResponsePlot::Ranges ResponsePlot::ranges() const {
    if (held_) return *held_;
    Ranges r{follow_.curve.front().driver, follow_.curve.back().driver, follow_.curve.front().answer,
             follow_.curve.front().answer};
    for (const ResponsePoint& point : follow_.curve)
        r.least = std::min(r.least, point.answer), r.most = std::max(r.most, point.answer);
    widen(r.low, r.high, 1e-3);
    widen(r.least, r.most, 1e-3);
    return r;
}

QRectF ResponsePlot::inner() const {
    return QRectF(rect()).adjusted(0.5, 0.5, -0.5, -20.5);
}

QPointF ResponsePlot::seen(double driver, double answer) const {
    const Ranges r = ranges();
    const QRectF box = inner();
    return {box.left() + (driver - r.low) / (r.high - r.low) * box.width(),
            box.bottom() - (answer - r.least) / (r.most - r.least) * box.height()};
}

ResponsePoint ResponsePlot::at(const QPointF& place) const {
    const Ranges r = ranges();
    const QRectF box = inner();
    return {r.low + (place.x() - box.left()) / box.width() * (r.high - r.low),
            r.least + (box.bottom() - place.y()) / box.height() * (r.most - r.least)};
}

QPointF ResponsePlot::placeOf(std::size_t point) const {
    return seen(follow_.curve[point].driver, follow_.curve[point].answer);
}

std::optional<std::size_t> ResponsePlot::pointAt(const QPointF& place) const {
    std::optional<std::size_t> nearest;
    double least = grip_px;
    for (std::size_t i = 0; i < follow_.curve.size(); ++i)
        if (const double far = QLineF(placeOf(i), place).length(); far < least) least = far, nearest = i;
    return nearest;
}

double ResponsePlot::slopeAt(std::size_t point) const {
    const Response response = Response::of(follow_);
    // A cam's points stand in the middle of three rounds.
    const std::size_t behind = response.each_turn ? (response.keys.size() - follow_.curve.size()) / 2 : 0;
    return response.keys[behind + point].out;
}

std::optional<QPointF> ResponsePlot::barEnd() const {
    if (!picked_ || follow_.straight) return std::nullopt;
    const Ranges r = ranges();
    const QRectF box = inner();
    const QPointF along(box.width() / (r.high - r.low),
                        -slopeAt(*picked_) * box.height() / (r.most - r.least));
    return placeOf(*picked_) + along / std::hypot(along.x(), along.y()) * bar_px;
}

void ResponsePlot::paintBar(QPainter& painter) const {
    const auto end = barEnd();
    if (!end) return;
    const QPointF middle = placeOf(*picked_), other = 2 * middle - *end;
    painter.setPen(QPen(look_.theme().ink, 1.2));
    painter.setBrush(follow_.curve[*picked_].slope ? look_.theme().ink : look_.theme().card);
    painter.drawLine(other, *end);
    for (const QPointF& knob : {other, *end}) painter.drawEllipse(knob, 3.5, 3.5);
}

void ResponsePlot::paintCurve(QPainter& painter) const {
    const Theme& theme = look_.theme();
    const Response response = Response::of(follow_);
    const Ranges r = ranges();
    QPolygonF line;
    constexpr int pieces = 160;
    for (int i = 0; i <= pieces; ++i) {
        const double driver = r.low + i * (r.high - r.low) / pieces;
        line << seen(driver, response(driver));
    }
    painter.setPen(QPen(theme.petrol, 1.8));
    painter.drawPolyline(line);
    const QPointF now = seen(driver_, response(driver_));
    if (driver_ >= r.low && driver_ <= r.high) {
        painter.setPen(QPen(theme.raspberry, 1.2));
        painter.drawLine(QPointF(now.x(), inner().top()), QPointF(now.x(), inner().bottom()));
        painter.drawLine(QPointF(inner().left(), now.y()), now);
    }
    paintBar(painter);
    for (std::size_t i = 0; i < follow_.curve.size(); ++i) {
        painter.setPen(QPen(theme.ink, 1.4));
        painter.setBrush(picked_ == i ? theme.saffron : theme.card);
        painter.drawRect(QRectF(placeOf(i) - QPointF(knob_px, knob_px), QSizeF(2 * knob_px, 2 * knob_px)));
    }
}

void ResponsePlot::paintEvent(QPaintEvent*) {
    const Theme& theme = look_.theme();
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setFont(Look::uiFont(11));
    const QRectF box = inner();
    painter.fillRect(box, theme.paper);
    painter.setPen(QPen(theme.line, 1));
    painter.drawRect(box);
    if (follow_.curve.empty()) return;
    const Ranges r = ranges();
    if (r.least < 0 && r.most > 0) painter.drawLine(seen(r.low, 0), seen(r.high, 0));
    if (r.low < 0 && r.high > 0) painter.drawLine(seen(0, r.least), seen(0, r.most));
    painter.save();
    painter.setClipRect(box.adjusted(-knob_px, -knob_px, knob_px, knob_px));
    paintCurve(painter);
    painter.restore();
    painter.setPen(theme.softInk);
    const auto words = [&](ChannelKind kind, double value) {
        return QString::fromStdString(format_channel(kind, value, unit_));
    };
    const QRectF below(box.left(), box.bottom() + 2, box.width(), 17);
    painter.drawText(below, Qt::AlignLeft | Qt::AlignVCenter,
                     words(follow_.driver.kind, follow_.curve.front().driver));
    painter.drawText(below, Qt::AlignRight | Qt::AlignVCenter,
                     words(follow_.driver.kind, follow_.curve.back().driver));
    painter.drawText(below, Qt::AlignHCenter | Qt::AlignVCenter, tr("the driver"));
    const auto [least, most] = std::ranges::minmax(follow_.curve, {}, &ResponsePoint::answer);
    // In the corners where the curve is not.
    const bool rises = follow_.curve.front().answer <= follow_.curve.back().answer;
    const QRectF corners = box.adjusted(6, 3, -6, -3);
    painter.drawText(corners, Qt::AlignTop | (rises ? Qt::AlignLeft : Qt::AlignRight),
                     words(follow_.driven.kind, most.answer));
    painter.drawText(corners, Qt::AlignBottom | (rises ? Qt::AlignRight : Qt::AlignLeft),
                     words(follow_.driven.kind, least.answer));
}

void ResponsePlot::mousePressEvent(QMouseEvent* event) {
    if (follow_.curve.empty() || event->button() != Qt::LeftButton) return;
    turns_ = 0;
    if (const auto end = barEnd()) {
        const QPointF other = 2 * placeOf(*picked_) - *end;
        if (QLineF(*end, event->position()).length() < grip_px)
            turns_ = 1;
        else if (QLineF(other, event->position()).length() < grip_px)
            turns_ = -1;
    }
    if (turns_ == 0) picked_ = pointAt(event->position());
    if (picked_) held_ = ranges();
    moved_ = false;
    update();
    emit shown();
}

void ResponsePlot::mouseMoveEvent(QMouseEvent* event) {
    if (follow_.curve.empty()) return;
    if (!held_ || !picked_) {
        setCursor(pointAt(event->position()) ? Qt::SizeAllCursor : Qt::CrossCursor);
        return;
    }
    turns_ == 0 ? dragPoint(event->position()) : turnBar(event->position());
    update();
    emit shown();
}

/// Never upright: a slope has to be a number.
void ResponsePlot::turnBar(const QPointF& place) {
    const Ranges r = *held_;
    const QRectF box = inner();
    const QPointF along = (place - placeOf(*picked_)) * turns_;
    const double across = std::max(along.x(), 1.0);
    follow_.curve[*picked_].slope =
        -along.y() / across * (box.width() / (r.high - r.low)) / (box.height() / (r.most - r.least));
    moved_ = true;
}

void ResponsePlot::dragPoint(const QPointF& place) {
    auto& curve = follow_.curve;
    const std::size_t i = *picked_;
    ResponsePoint point = at(place);
    point.slope = curve[i].slope;
    // A little apart from its neighbours, so that the curve goes on.
    const double apart = 1e-3 * (held_->high - held_->low);
    if (i > 0) point.driver = std::max(point.driver, curve[i - 1].driver + apart);
    if (i + 1 < curve.size()) point.driver = std::min(point.driver, curve[i + 1].driver - apart);
    moved_ |= !(point == curve[i]);
    curve[i] = point;
}

void ResponsePlot::mouseReleaseEvent(QMouseEvent*) {
    if (!held_) return;
    held_.reset();
    update();
    if (moved_) emit edited();
}

void ResponsePlot::mouseDoubleClickEvent(QMouseEvent* event) {
    if (follow_.curve.empty() || pointAt(event->position())) return;
    const ResponsePoint point = at(event->position());
    auto& curve = follow_.curve;
    const auto behind = std::ranges::upper_bound(curve, point.driver, {}, &ResponsePoint::driver);
    picked_ = static_cast<std::size_t>(behind - curve.begin());
    curve.insert(behind, point);
    update();
    emit edited();
}

/// Delete here means a point, not the picked parts.
bool ResponsePlot::event(QEvent* event) {
    if (event->type() == QEvent::ShortcutOverride && takesOut(static_cast<QKeyEvent*>(event)->key()))
        event->accept();
    return QWidget::event(event);
}

void ResponsePlot::keyPressEvent(QKeyEvent* event) {
    if (!takesOut(event->key())) return QWidget::keyPressEvent(event);
    if (!picked_ || follow_.curve.size() < 3) return;
    follow_.curve.erase(follow_.curve.begin() + static_cast<std::ptrdiff_t>(*picked_));
    picked_.reset();
    update();
    emit edited();
}

}  // namespace pivrak
