#include "app/stages/kit/shortened_line.h"

#include <QPainter>

namespace pivrak {

void ShortenedLine::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setPen(palette().color(foregroundRole()));
    painter.drawText(contentsRect(), static_cast<int>(alignment()) | Qt::TextSingleLine,
                     fontMetrics().elidedText(text(), cut_, contentsRect().width()));
}

}  // namespace pivrak
