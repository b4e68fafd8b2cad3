#include "app/shell/stage_rail.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <algorithm>
#include <cmath>

#include "app/shell/own_keys.h"

namespace pivrak {

StageRail::StageRail(Session& session, Look& look, QWidget* parent)
    : QWidget(parent), session_(session), look_(look) {
    setObjectName(QStringLiteral("stageRail"));
    setAccessibleName(tr("Stages"));
    setFocusPolicy(Qt::TabFocus);
    setFixedWidth(74);
    setMouseTracking(true);
    connect(&session_, &Session::stageChanged, this, qOverload<>(&QWidget::update));
    connect(&session_, &Session::findingsChanged, this, qOverload<>(&QWidget::update));
    connect(&session_, &Session::documentChanged, this, qOverload<>(&QWidget::update));
    connect(&look_, &Look::changed, this, qOverload<>(&QWidget::update));
}

QPointF StageRail::stopOf(Stage stage) const {
    const double step = std::clamp((height() - 60.0) / stage_count, 64.0, 92.0);
    return {37, 40 + step * static_cast<int>(stage)};
}

std::size_t StageRail::findingsOf(Stage stage) const {
    return static_cast<std::size_t>(std::count_if(session_.findings().begin(), session_.findings().end(),
                                                  [&](const Finding& f) { return f.stage == stage; }));
}

void StageRail::paintEvent(QPaintEvent*) {
    const Theme& theme = look_.theme();
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.fillRect(rect(), theme.petrol);
    painter.setPen(QPen(theme.petrolLight.lighter(125), 3));
    painter.drawLine(stopOf(Stage::Intake), stopOf(Stage::Handover));
    const bool anything = !session_.document().shapes.empty();
    for (int i = 0; i < stage_count; ++i) {
        const auto stage = static_cast<Stage>(i);
        const QPointF at = stopOf(stage);
        const bool present = stage == session_.stage();
        painter.setPen(QPen(present ? Qt::white : theme.railText, present ? 2.5 : 1.6));
        painter.setBrush(present ? theme.saffron : i == hovered_ ? theme.petrolLight : theme.petrol);
        painter.drawEllipse(at, present ? 16 : 12.5, present ? 16 : 12.5);
        if (present && hasFocus()) {
            painter.setBrush(Qt::NoBrush);
            painter.drawEllipse(at, 20, 20);
        }
        painter.setPen(present ? QColor("#123C46") : theme.railText);
        painter.setFont(Look::uiFont(present ? 14 : 12, true));
        painter.drawText(QRectF(at.x() - 12, at.y() - 10, 24, 20), Qt::AlignCenter, QString::number(i + 1));
        painter.setPen(present ? Qt::white : theme.railText);
        painter.setFont(Look::uiFont(11, present));
        painter.drawText(QRectF(0, at.y() + 18, width(), 16), Qt::AlignCenter,
                         QString::fromUtf8(stage_name(stage).data()));
        if (const std::size_t count = findingsOf(stage); count > 0) {
            painter.setPen(Qt::NoPen);
            painter.setBrush(QColor("#B23A1E"));
            painter.drawEllipse(at + QPointF(19, -11), 8.5, 8.5);
            painter.setPen(Qt::white);
            painter.setFont(Look::uiFont(count > 9 ? 9 : 11, true));
            painter.drawText(QRectF(at.x() + 9, at.y() - 20, 20, 18), Qt::AlignCenter,
                             count > 99 ? QStringLiteral("99") : QString::number(count));
        } else if (anything) {
            painter.setPen(QPen(QColor("#7FD3A0"), 2));
            painter.setBrush(Qt::NoBrush);
            painter.drawPolyline(
                QPolygonF{at + QPointF(17, -10), at + QPointF(20, -7), at + QPointF(25, -14)});
        }
    }
}

int StageRail::stageAt(const QPointF& pixel) const {
    for (int i = 0; i < stage_count; ++i)
        if (std::abs(pixel.y() - stopOf(static_cast<Stage>(i)).y() - 8) < 30) return i;
    return -1;
}

void StageRail::mousePressEvent(QMouseEvent* event) {
    if (const int stage = stageAt(event->position()); stage >= 0)
        session_.setStage(static_cast<Stage>(stage));
}

void StageRail::mouseMoveEvent(QMouseEvent* event) {
    const int stage = stageAt(event->position());
    if (stage == hovered_) return;
    hovered_ = stage;
    setCursor(stage >= 0 ? Qt::PointingHandCursor : Qt::ArrowCursor);
    update();
}

bool StageRail::event(QEvent* event) {
    return keepsKey(event, {Qt::Key_Up, Qt::Key_Down}) || QWidget::event(event);
}

void StageRail::keyPressEvent(QKeyEvent* event) {
    const int step = event->key() == Qt::Key_Up ? -1 : event->key() == Qt::Key_Down ? 1 : 0;
    const int stage = static_cast<int>(session_.stage()) + step;
    if (step == 0) return QWidget::keyPressEvent(event);
    if (stage >= 0 && stage < stage_count) session_.setStage(static_cast<Stage>(stage));
}

void StageRail::leaveEvent(QEvent*) {
    hovered_ = -1;
    update();
}

}  // namespace pivrak
