#include "app/parts/key_mark.h"

namespace pivrak {

void paintKeyMark(QPainter& painter, const QPointF& at, Interpolation runs, double size) {
    switch (runs) {
        case Interpolation::Smooth:
            return painter.drawEllipse(at, size, size);
        case Interpolation::Linear:
            return painter.drawRect(QRectF(at - QPointF(size, size), QSizeF(2 * size, 2 * size)));
        case Interpolation::Stepped:
            return painter.drawRect(QRectF(at - QPointF(0, size), QSizeF(size, 2 * size)));
        case Interpolation::Flat:
            return painter.drawRect(
                QRectF(at - QPointF(1.5 * size, 0.45 * size), QSizeF(3 * size, 0.9 * size)));
        case Interpolation::Own:
            painter.drawEllipse(at, size + 1, size + 1);
            return painter.drawEllipse(at, size - 2, size - 2);
    }
}

}  // namespace pivrak
