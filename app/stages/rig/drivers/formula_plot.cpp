#include "app/stages/rig/drivers/formula_plot.h"

#include <QPainter>
#include <algorithm>
#include <cmath>

#include "core/model/document.h"

namespace pivrak {

FormulaPlot::FormulaPlot(Look& look, const char* object_name) : look_(look) {
    setObjectName(QLatin1String(object_name));
    setFixedHeight(86);
}

void FormulaPlot::setCurve(std::vector<Sample> samples, ChannelKind kind, LengthUnit unit) {
    samples_ = std::move(samples);
    kind_ = kind;
    unit_ = unit;
    update();
}

void FormulaPlot::setFrame(double frame) {
    if (frame == frame_) return;
    frame_ = frame;
    update();
}

void FormulaPlot::paintEvent(QPaintEvent*) {
    const Theme& theme = look_.theme();
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setFont(Look::uiFont(11));
    const QRectF box = QRectF(rect()).adjusted(0.5, 0.5, -0.5, -18.5);
    painter.fillRect(box, theme.paper);
    painter.setPen(QPen(theme.line, 1));
    painter.drawRect(box);
    if (samples_.size() < 2) {
        painter.setPen(theme.softInk);
        painter.drawText(box, Qt::AlignCenter, tr("its course over the clip"));
        return;
    }
    double least = samples_.front().value, most = least;
    for (const Sample& sample : samples_)
        least = std::min(least, sample.value), most = std::max(most, sample.value);
    // What hardly moves is a line in the middle.
    const double room = std::max(most - least, 1e-6 * (1 + std::abs(most)));
    const double first = samples_.front().frame, frames = std::max(samples_.back().frame - first, 1e-9);
    const QRectF inner = box.adjusted(4, 6, -4, -6);
    const auto x = [&](double frame) { return inner.left() + (frame - first) / frames * inner.width(); };
    const auto y = [&](double value) {
        return inner.center().y() - (value - 0.5 * (least + most)) / room * inner.height();
    };
    if (least < 0 && most > 0) painter.drawLine(QPointF(inner.left(), y(0)), QPointF(inner.right(), y(0)));
    QPolygonF line;
    for (const Sample& sample : samples_) line << QPointF(x(sample.frame), y(sample.value));
    painter.setPen(QPen(theme.petrol, 1.8));
    painter.drawPolyline(line);
    if (frame_ >= first && frame_ <= first + frames) {
        painter.setPen(QPen(theme.raspberry, 1.2));
        painter.drawLine(QPointF(x(frame_), box.top()), QPointF(x(frame_), box.bottom()));
    }
    painter.setPen(theme.softInk);
    const QRectF below(box.left(), box.bottom() + 2, box.width(), 16);
    painter.drawText(below, Qt::AlignLeft | Qt::AlignVCenter, tr("frame %1").arg(first));
    painter.drawText(below, Qt::AlignRight | Qt::AlignVCenter, tr("frame %1").arg(first + frames));
    // The highest and the lowest value at their ends of the plot.
    const auto bound = [&](double value, Qt::AlignmentFlag end) {
        const QString words = QString::fromStdString(format_channel(kind_, value, unit_));
        QRectF plate(0, 0, painter.fontMetrics().horizontalAdvance(words) + 8, 15);
        plate.moveTopLeft(QPointF(box.left() + 3, end == Qt::AlignTop ? box.top() + 3 : box.bottom() - 18));
        QColor paper = theme.paper;
        paper.setAlphaF(0.8f);
        painter.setPen(Qt::NoPen);
        painter.setBrush(paper);
        painter.drawRect(plate);
        painter.setPen(theme.ink);
        painter.drawText(plate, Qt::AlignCenter, words);
    };
    bound(most, Qt::AlignTop);
    if (format_channel(kind_, least, unit_) != format_channel(kind_, most, unit_))
        bound(least, Qt::AlignBottom);
}

}  // namespace pivrak
