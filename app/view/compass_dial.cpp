#include "app/view/compass_dial.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <array>
#include <cmath>

#include "app/shell/own_keys.h"
#include "app/view/viewport.h"

namespace pivrak {
namespace {

constexpr std::array sides{CompassDial::Side::Front, CompassDial::Side::Left, CompassDial::Side::Back,
                           CompassDial::Side::Right, CompassDial::Side::Top};

QString name(CompassDial::Side side) {
    switch (side) {
        case CompassDial::Side::Front:
            return CompassDial::tr("front");
        case CompassDial::Side::Left:
            return CompassDial::tr("left");
        case CompassDial::Side::Back:
            return CompassDial::tr("back");
        case CompassDial::Side::Right:
            return CompassDial::tr("right");
        case CompassDial::Side::Top:
            return CompassDial::tr("top");
    }
    return {};
}

}  // namespace

CompassDial::CompassDial(Viewport& view, Look& look, QWidget* parent)
    : QWidget(parent), view_(view), look_(look) {
    setObjectName(QStringLiteral("compassDial"));
    setToolTip(tr("Look from a side of the model"));
    setAccessibleName(tr("Compass dial"));
    setFocusPolicy(Qt::TabFocus);
    setCursor(Qt::PointingHandCursor);
    resize(sizeHint());
    connect(&view_, &Viewport::cameraChanged, this, qOverload<>(&QWidget::update));
}

QPointF CompassDial::fieldOf(Side side) const {
    const QPointF middle(width() / 2.0, height() / 2.0);
    switch (side) {
        case Side::Front:
            return middle + QPointF(0, -29);
        case Side::Left:
            return middle + QPointF(-28, 0);
        case Side::Back:
            return middle + QPointF(0, 29);
        case Side::Right:
            return middle + QPointF(27, 0);
        case Side::Top:
            return middle;
    }
    return middle;
}

void CompassDial::paintEvent(QPaintEvent*) {
    const Theme& theme = look_.theme();
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const QPointF middle(width() / 2.0, height() / 2.0);
    QColor card = theme.card;
    card.setAlphaF(0.93f);
    painter.setPen(QPen(theme.petrolLight, 1.2));
    painter.setBrush(card);
    if (hasFocus()) painter.setPen(QPen(theme.raspberry, 2.4));
    painter.drawEllipse(middle, 44, 44);
    // Azimuth 0 looks from the front, drawn at the top; to the left of the model is to the left here.
    const double a = view_.camera().azimuth;
    const QPointF out(-std::sin(a), -std::cos(a)), side(out.y(), -out.x());
    painter.setPen(Qt::NoPen);
    painter.setBrush(theme.saffron);
    painter.drawPolygon(
        QPolygonF{middle + 44 * out, middle + 37 * out + 4.5 * side, middle + 37 * out - 4.5 * side});
    painter.setFont(Look::uiFont(10));
    painter.setPen(theme.ink);
    for (const Side one : sides) {
        const QPointF at = fieldOf(one);
        painter.drawText(QRectF(at.x() - 20, at.y() - 8, 40, 16), Qt::AlignCenter, name(one));
    }
}

void CompassDial::mousePressEvent(QMouseEvent* event) {
    Side nearest = Side::Top;
    double best = 1e9;
    for (const Side one : sides) {
        const QPointF way = event->position() - fieldOf(one);
        const double distance = std::hypot(way.x(), way.y());
        if (distance < best) {
            best = distance;
            nearest = one;
        }
    }
    look(nearest);
}

bool CompassDial::event(QEvent* event) {
    return keepsKey(event, {Qt::Key_Left, Qt::Key_Right, Qt::Key_Up, Qt::Key_Down}) || QWidget::event(event);
}

void CompassDial::keyPressEvent(QKeyEvent* event) {
    // The side that the eye is nearest to.
    constexpr std::array round{Side::Front, Side::Left, Side::Back, Side::Right};
    const auto quarters = static_cast<int>(std::lround(view_.camera().azimuth / (pi / 2)));
    const auto at = [&](int step) {
        return round[static_cast<std::size_t>(((quarters + step) % 4 + 4) % 4)];
    };
    switch (event->key()) {
        case Qt::Key_Left:
            return look(at(1));
        case Qt::Key_Right:
            return look(at(-1));
        case Qt::Key_Up:
            return look(Side::Top);
        case Qt::Key_Down:
            return look(at(0));
        default:
            QWidget::keyPressEvent(event);
    }
}

void CompassDial::look(Side side) {
    const double quarter = pi / 2;
    switch (side) {
        case Side::Front:
            return view_.setDirection(0, 0);
        case Side::Left:
            return view_.setDirection(quarter, 0);
        case Side::Back:
            return view_.setDirection(2 * quarter, 0);
        case Side::Right:
            return view_.setDirection(-quarter, 0);
        case Side::Top:
            return view_.setDirection(view_.camera().azimuth, 1.55);
    }
}

}  // namespace pivrak
