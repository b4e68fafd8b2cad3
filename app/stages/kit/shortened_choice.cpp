#include "app/stages/kit/shortened_choice.h"

#include <QHelpEvent>
#include <QStylePainter>
#include <QToolTip>

namespace pivrak {
namespace {

constexpr int text_margin_px = 2;  // styles leave a pixel at each end

}  // namespace

QString ShortenedChoice::shortened(const QStyleOptionComboBox& option) const {
    const QRect field =
        style()->subControlRect(QStyle::CC_ComboBox, &option, QStyle::SC_ComboBoxEditField, this);
    const int icon = option.currentIcon.isNull() ? 0 : option.iconSize.width() + text_margin_px;
    return fontMetrics().elidedText(option.currentText, Qt::ElideMiddle,
                                    field.width() - icon - text_margin_px);
}

void ShortenedChoice::paintEvent(QPaintEvent*) {
    QStylePainter painter(this);
    painter.setPen(palette().color(QPalette::Text));
    QStyleOptionComboBox option;
    initStyleOption(&option);
    painter.drawComplexControl(QStyle::CC_ComboBox, option);
    option.currentText = shortened(option);
    painter.drawControl(QStyle::CE_ComboBoxLabel, option);
}

bool ShortenedChoice::isCut() const {
    QStyleOptionComboBox option;
    initStyleOption(&option);
    return shortened(option) != option.currentText;
}

/// With the room that is left beside the letters.
QSize ShortenedChoice::sizeHint() const {
    return QComboBox::sizeHint() + QSize(4 * text_margin_px, 0);
}

bool ShortenedChoice::event(QEvent* event) {
    if (event->type() != QEvent::ToolTip || !isCut()) return QComboBox::event(event);
    const QString tip = toolTip().isEmpty() ? currentText() : currentText() + '\n' + toolTip();
    QToolTip::showText(static_cast<QHelpEvent*>(event)->globalPos(), tip, this);
    return true;
}

}  // namespace pivrak
