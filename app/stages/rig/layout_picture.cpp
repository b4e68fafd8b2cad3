#include "app/stages/rig/layout_picture.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <algorithm>
#include <cmath>
#include <numeric>
#include <tuple>

#include "app/shell/own_keys.h"

namespace pivrak {

LayoutPicture::LayoutPicture(QWidget* parent) : QWidget(parent) {
    setObjectName(QStringLiteral("layoutPicture"));
    setMinimumHeight(150);
    setMouseTracking(true);
    setAccessibleName(tr("The vehicle from above"));
    setFocusPolicy(Qt::TabFocus);
    setToolTip(
        tr("Front is to the right. Click a wheel to steer its axle. Drag out what is no wheel, and a hollow "
           "sprocket or idler that is none. By keys: arrows, Space and Delete."));
}

void LayoutPicture::show(const VehicleLayout& layout, const std::set<int>& steered) {
    layout_ = layout;
    steered_ = steered;
    update();
}

QRectF LayoutPicture::wheelBox(std::size_t wheel) const {
    return boxOf(layout_.wheels[wheel]);
}

QRectF LayoutPicture::runnerBox(std::size_t runner) const {
    return boxOf(layout_.runners[runner]);
}

QRectF LayoutPicture::boxOf(const FoundWheel& w) const {
    double low_x = 1e300, high_x = -1e300, low_y = 1e300, high_y = -1e300;
    for (const auto* wheels : {&layout_.wheels, &layout_.runners})
        for (const FoundWheel& one : *wheels) {
            low_x = std::min(low_x, one.hub.x() - one.radius_m);
            high_x = std::max(high_x, one.hub.x() + one.radius_m);
            low_y = std::min(low_y, one.hub.y() - one.width_m);
            high_y = std::max(high_y, one.hub.y() + one.width_m);
        }
    const QRectF box = QRectF(rect()).adjusted(16, 14, -16, -14);
    const double scale =
        std::min(box.width() / std::max(high_x - low_x, 1e-6), box.height() / std::max(high_y - low_y, 1e-6));
    const QPointF middle(box.center().x() + scale * (w.hub.x() - 0.5 * (low_x + high_x)),
                         box.center().y() - scale * (w.hub.y() - 0.5 * (low_y + high_y)));
    const double half = scale * w.radius_m, thick = std::max(4.0, scale * 0.5 * w.width_m);
    return {middle.x() - half, middle.y() - thick, 2 * half, 2 * thick};
}

void LayoutPicture::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const QPalette& colors = palette();
    const QColor ink = colors.color(QPalette::WindowText), soft = colors.color(QPalette::Mid);
    // Axles, and the middle line with the front's dart.
    painter.setPen(QPen(soft, 2));
    QPointF front, rear;
    for (std::size_t i = 0; i < layout_.wheels.size(); ++i) {
        const QPointF a = wheelBox(i).center();
        if (i == 0 || a.x() > front.x()) front = {a.x(), height() / 2.0};
        if (i == 0 || a.x() < rear.x()) rear = {a.x(), height() / 2.0};
        for (std::size_t k = i + 1; k < layout_.wheels.size(); ++k)
            if (layout_.wheels[i].axle_index == layout_.wheels[k].axle_index)
                painter.drawLine(a, wheelBox(k).center());
    }
    painter.setPen(QPen(soft, 4));
    painter.drawLine(rear, front);
    painter.setBrush(soft);
    painter.drawPolygon(QPolygonF{front + QPointF(13, 0), front + QPointF(2, -6), front + QPointF(2, 6)});
    // What a track runs over besides: hollow.
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(ink, 2));
    for (std::size_t i = 0; i < layout_.runners.size(); ++i) {
        QRectF box = runnerBox(i);
        if (held_runner_ == i) box.moveCenter(at_);
        painter.drawRoundedRect(box, 4, 4);
    }
    for (std::size_t i = 0; i < layout_.wheels.size(); ++i) {
        const QRectF box = wheelBox(i);
        painter.save();
        painter.translate(held_ == i ? at_ : box.center());
        if (steered_.contains(layout_.wheels[i].axle_index)) painter.rotate(-18);
        painter.setBrush(held_ == i ? soft : ink);
        painter.setPen(Qt::NoPen);
        painter.drawRoundedRect(QRectF(-box.width() / 2, -box.height() / 2, box.width(), box.height()), 4, 4);
        painter.restore();
    }
    if (!hasFocus() || layout_.wheels.size() + layout_.runners.size() == 0) return;
    const std::size_t wheels = layout_.wheels.size(),
                      marked = std::min(marked_, wheels + layout_.runners.size() - 1);
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(colors.color(QPalette::Highlight), 2));
    painter.drawRoundedRect(
        (marked < wheels ? wheelBox(marked) : runnerBox(marked - wheels)).adjusted(-5, -5, 5, 5), 6, 6);
}

bool LayoutPicture::event(QEvent* event) {
    return keepsKey(event,
                    {Qt::Key_Left, Qt::Key_Right, Qt::Key_Up, Qt::Key_Down, Qt::Key_Space, Qt::Key_Delete}) ||
           QWidget::event(event);
}

std::size_t LayoutPicture::beside(std::size_t marked, int step) const {
    const std::size_t wheels = layout_.wheels.size();
    std::vector<std::size_t> order(wheels + layout_.runners.size());
    std::iota(order.begin(), order.end(), std::size_t{0});
    const auto place = [&](std::size_t i) {
        const Vec3& hub = i < wheels ? layout_.wheels[i].hub : layout_.runners[i - wheels].hub;
        return std::tuple(hub.x(), hub.y(), i);
    };
    std::sort(order.begin(), order.end(), [&](std::size_t a, std::size_t b) { return place(a) < place(b); });
    const auto at = std::find(order.begin(), order.end(), marked) - order.begin();
    const auto count = static_cast<std::ptrdiff_t>(order.size());
    return order[static_cast<std::size_t>((at + step + count) % count)];
}

void LayoutPicture::keyPressEvent(QKeyEvent* event) {
    const std::size_t wheels = layout_.wheels.size(), all = wheels + layout_.runners.size();
    const int key = event->key();
    if (all == 0) return QWidget::keyPressEvent(event);
    marked_ = std::min(marked_, all - 1);
    if (key == Qt::Key_Right || key == Qt::Key_Down)
        marked_ = beside(marked_, 1);
    else if (key == Qt::Key_Left || key == Qt::Key_Up)
        marked_ = beside(marked_, -1);
    else if (key == Qt::Key_Space && marked_ < wheels)
        emit axleClicked(layout_.wheels[marked_].axle_index);
    else if (key == Qt::Key_Delete && marked_ < wheels)
        emit wheelDropped(static_cast<int>(marked_));
    else if (key == Qt::Key_Delete)
        emit runnerDropped(static_cast<int>(marked_ - wheels));
    else
        return QWidget::keyPressEvent(event);
    update();
}

void LayoutPicture::mousePressEvent(QMouseEvent* event) {
    pressed_ = at_ = event->position();
    held_.reset();
    for (std::size_t i = 0; i < layout_.wheels.size(); ++i)
        if (wheelBox(i).adjusted(-4, -4, 4, 4).contains(pressed_)) held_ = i;
    held_runner_.reset();
    for (std::size_t i = 0; i < layout_.runners.size() && !held_; ++i)
        if (runnerBox(i).adjusted(-4, -4, 4, 4).contains(pressed_)) held_runner_ = i;
}

void LayoutPicture::mouseMoveEvent(QMouseEvent* event) {
    at_ = event->position();
    if (held_ || held_runner_) update();
}

void LayoutPicture::mouseReleaseEvent(QMouseEvent* event) {
    const bool off = !rect().contains(event->position().toPoint());
    if (held_runner_) {
        const std::size_t runner = *std::exchange(held_runner_, std::nullopt);
        if (off) emit runnerDropped(static_cast<int>(runner));
        update();
    }
    if (!held_) return;
    const std::size_t wheel = *std::exchange(held_, std::nullopt);
    const QPointF way = event->position() - pressed_;
    if (off)
        emit wheelDropped(static_cast<int>(wheel));
    else if (std::hypot(way.x(), way.y()) < 5)
        emit axleClicked(layout_.wheels[wheel].axle_index);
    update();
}

}  // namespace pivrak
