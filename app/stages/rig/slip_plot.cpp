#include "app/stages/rig/slip_plot.h"

#include <QPainter>
#include <algorithm>
#include <cmath>

namespace pivrak {
namespace {

class SlipCanvas : public QWidget {
public:
    SlipCanvas(Session& session, SlipResults& slips, Look& look)
        : session_(session), slips_(slips), look_(look) {
        setObjectName(QStringLiteral("slipPlot"));
        setMinimumHeight(110);
    }

protected:
    void paintEvent(QPaintEvent*) override {
        if (!slips_.check() || slips_.check()->frames.size() < 2) return;
        QPainter painter(this);
        painter.setRenderHint(QPainter::Antialiasing);
        painter.setFont(Look::uiFont(11));
        const SlipCheck& check = *slips_.check();
        double most = 1e-4;
        for (const WheelSlip& wheel : check.wheels)
            for (const double slip : wheel.slip_by_frame_m) most = std::max(most, std::abs(slip));
        const QRectF box = QRectF(rect()).adjusted(64, 10, -130, -24);
        paintAxes(painter, box, check, most);
        const auto at = [&](std::size_t i, double slip) {
            const double share =
                (check.frames[i] - check.frames.front()) / (check.frames.back() - check.frames.front());
            return QPointF(box.left() + share * box.width(),
                           box.center().y() - slip / most * 0.5 * box.height());
        };
        double label_y = box.top() + 6;
        for (std::size_t w = 0; w < check.wheels.size(); ++w) {
            const WheelSlip& wheel = check.wheels[w];
            const bool picked = session_.isSelected(wheel.wheel);
            const QColor color = picked ? look_.theme().raspberry : colorOf(w);
            QPolygonF line;
            for (std::size_t i = 0; i < wheel.slip_by_frame_m.size(); ++i)
                line << at(i, wheel.slip_by_frame_m[i]);
            painter.setPen(QPen(color, picked ? 2.4 : 1.5, w % 2 ? Qt::DashLine : Qt::SolidLine));
            painter.drawPolyline(line);
            if (label_y > height() - 4) continue;
            const Part* part = session_.document().parts.find(wheel.wheel);
            painter.drawLine(QPointF(box.right() + 10, label_y), QPointF(box.right() + 28, label_y));
            painter.setPen(look_.theme().ink);
            painter.drawText(QPointF(box.right() + 34, label_y + 4),
                             part ? QString::fromStdString(part->name) : QString());
            label_y += 15;
        }
    }

private:
    QColor colorOf(std::size_t wheel) const {
        const Theme& theme = look_.theme();
        const QColor colors[] = {theme.petrolLight, theme.steel, theme.leaf, theme.softInk};
        return colors[wheel / 2 % 4];
    }

    void paintAxes(QPainter& painter, const QRectF& box, const SlipCheck& check, double most) const {
        const Theme& theme = look_.theme();
        painter.setPen(QPen(theme.line, 1));
        painter.drawRect(box);
        painter.drawLine(QPointF(box.left(), box.center().y()), QPointF(box.right(), box.center().y()));
        painter.setPen(theme.softInk);
        const auto label = [&](double y, double value) {
            painter.drawText(
                QRectF(0, y - 8, box.left() - 6, 16), Qt::AlignRight | Qt::AlignVCenter,
                QString::fromStdString(format_length(value, LengthUnit::Millimetre, most < 0.01 ? 2 : 0)));
        };
        label(box.top(), most);
        label(box.center().y(), 0);
        label(box.bottom(), -most);
        painter.drawText(QRectF(box.left(), box.bottom() + 4, 120, 18), Qt::AlignLeft,
                         tr("frame %1").arg(check.frames.front()));
        painter.drawText(QRectF(box.right() - 120, box.bottom() + 4, 120, 18), Qt::AlignRight,
                         tr("frame %1").arg(check.frames.back()));
        const double share =
            (session_.frame() - check.frames.front()) / (check.frames.back() - check.frames.front());
        if (share < 0 || share > 1) return;
        painter.setPen(QPen(theme.saffron, 2));
        const double x = box.left() + share * box.width();
        painter.drawLine(QPointF(x, box.top()), QPointF(x, box.bottom()));
    }

    Session& session_;
    SlipResults& slips_;
    Look& look_;
};

}  // namespace

SlipPlot::SlipPlot(Session& session, SlipResults& slips, Look& look, QWidget* parent)
    : QWidget(parent), session_(session), slips_(slips), canvas_(new SlipCanvas(session, slips, look)) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    area_ = new LowerArea(tr("Slip"), canvas_);
    column->addWidget(area_);
    connect(&slips_, &SlipResults::changed, this, &SlipPlot::retell);
    connect(&session_, &Session::selectionChanged, canvas_, qOverload<>(&QWidget::update));
    connect(&session_, &Session::poseChanged, canvas_, qOverload<>(&QWidget::update));
    connect(&look, &Look::changed, canvas_, qOverload<>(&QWidget::update));
    retell();
}

void SlipPlot::retell() {
    area_->setNote(slips_.isStale()
                       ? tr("out of date; measure again under Wheels")
                       : tr("slip where tyres touch: above zero they are dragged, below they spin"));
    canvas_->update();
    emit retold();
}

}  // namespace pivrak
