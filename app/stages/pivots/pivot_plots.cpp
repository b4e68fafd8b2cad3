#include "app/stages/pivots/pivot_plots.h"

#include <QPainter>
#include <algorithm>
#include <cmath>

#include "app/gauges/gauge_paint.h"
#include "app/session/shown_value.h"
#include "app/stages/kit/length_text.h"

namespace pivrak {
namespace {

/// Round numbers at a distance that leaves about `count` of them between two values.
double round_step(double span, int count) {
    const double raw = span / count, decade = std::pow(10.0, std::floor(std::log10(raw)));
    for (const double step : {1.0, 2.0, 5.0})
        if (raw <= step * decade) return step * decade;
    return 10 * decade;
}

/// Draws both plots; repaints when told.
class Canvas : public QWidget {
public:
    Canvas(Session& session, PivotChecks& checks, Look& look)
        : session_(session), checks_(checks), look_(look) {
        setObjectName(QStringLiteral("pivotPlots"));
        setMinimumHeight(110);
    }

protected:
    void paintEvent(QPaintEvent*) override {
        QPainter painter(this);
        painter.setRenderHint(QPainter::Antialiasing);
        const double side = std::max(170.0, std::min<double>(height(), 0.34 * width()));
        paintSpin(painter, QRectF(0, 0, side, height()));
        paintSwing(painter, QRectF(side + 14, 0, width() - side - 14, height()));
    }

private:
    const PivotChecks::Spin* shownSpin() const {
        const auto& spins = checks_.spins();
        const auto found = std::find_if(spins.begin(), spins.end(), [&](const PivotChecks::Spin& s) {
            return s.part == session_.primary();
        });
        if (found != spins.end()) return &*found;
        return session_.selection().empty() && !spins.empty() ? &spins.front() : nullptr;
    }

    void paintNothing(QPainter& painter, const QRectF& box, const QString& words) const {
        painter.setPen(look_.theme().softInk);
        painter.setFont(Look::uiFont(12));
        painter.drawText(box.adjusted(6, 0, -6, 0), Qt::AlignCenter | Qt::TextWordWrap, words);
    }

    void paintSpin(QPainter& painter, const QRectF& box) const {
        const Theme& theme = look_.theme();
        const PivotChecks::Spin* spin = shownSpin();
        if (!spin || spin->check.samples.empty())
            return paintNothing(painter, box,
                                tr("Pick a round part that turns, under Spin, to see its run-out."));
        const SpinCheck& check = spin->check;
        const PolarScale scale = PolarScale::fit(box.adjusted(10, 16, -10, -16), check);
        painter.setPen(QPen(theme.line, 1));
        painter.setBrush(Qt::NoBrush);
        painter.drawEllipse(scale.middle, 3, 3);
        painter.setPen(QPen(theme.softInk, 1, Qt::DashLine));
        painter.drawEllipse(scale.middle, scale.mean_px, scale.mean_px);
        painter.setPen(QPen(check.is_true() ? theme.leaf : theme.rust, 1.8));
        QPolygonF line;
        for (const auto& sample : check.samples) line << scale.at(sample);
        line << line.first();
        painter.drawPolyline(line);
        painter.setFont(Look::uiFont(11, true));
        painter.setPen(theme.ink);
        const Part* part = session_.shownDocument().parts.find(spin->part);
        painter.drawText(
            QRectF(box.left(), box.top(), box.width(), 14), Qt::AlignCenter,
            part ? painter.fontMetrics().elidedText(QString::fromStdString(part->name), Qt::ElideMiddle,
                                                    static_cast<int>(box.width()))
                 : QString());
        painter.setFont(Look::uiFont(11));
        painter.drawText(QRectF(box.left(), box.bottom() - 15, box.width(), 14), Qt::AlignCenter,
                         tr("run-out %1").arg(length(check.run_out_m, session_.document())));
    }

    void paintSwing(QPainter& painter, const QRectF& box) const {
        const auto& swing = checks_.swing();
        if (!swing || swing->curve.size() < 2)
            return paintNothing(painter, box, tr("Sweep a hinge or slide under Swing to see its clearance."));
        const CurveScale scale = CurveScale::fit(box.adjusted(52, 10, -10, -20), *swing);
        paintAxes(painter, scale, swing->channel.kind);
        paintLimits(painter, scale, *swing);
        paintCurve(painter, scale, *swing);
        for (const auto* contact : {&swing->below, &swing->above})
            if (*contact) paintContact(painter, scale, **contact, swing->channel.kind);
    }

    QString shown(ChannelKind kind, double value) const {
        return QString::fromStdString(format_channel(kind, value, session_.document(), 1));
    }

    void paintAxes(QPainter& painter, const CurveScale& scale, ChannelKind kind) const {
        const Theme& theme = look_.theme();
        painter.setFont(Look::uiFont(10));
        const double unit = is_turn(kind) ? rad_per_deg : 1;
        const double step = unit * round_step((scale.to - scale.from) / unit, 8);
        for (double v = step * std::ceil(scale.from / step); v <= scale.to + 1e-9; v += step) {
            painter.setPen(QPen(theme.line, 1));
            painter.drawLine(QPointF(scale.x(v), scale.box.top()), QPointF(scale.x(v), scale.box.bottom()));
            painter.setPen(theme.softInk);
            painter.drawText(QRectF(scale.x(v) - 40, scale.box.bottom() + 3, 80, 14), Qt::AlignCenter,
                             scaleValue(session_.document(), kind, v, step));
        }
        const double rise = round_step(scale.highest, 4);
        for (double c = 0; c <= scale.highest * 1.001; c += rise) {
            painter.setPen(QPen(theme.line, 1));
            painter.drawLine(QPointF(scale.box.left(), scale.y(c)), QPointF(scale.box.right(), scale.y(c)));
            painter.setPen(theme.softInk);
            painter.drawText(QRectF(scale.box.left() - 54, scale.y(c) - 7, 50, 14),
                             Qt::AlignRight | Qt::AlignVCenter,
                             scaleValue(session_.document(), ChannelKind::Shift, c, rise));
        }
    }

    void paintLimits(QPainter& painter, const CurveScale& scale, const SwingCheck& swing) const {
        const Part* part = session_.document().parts.find(swing.channel.part());
        if (!part) return;
        const auto& limits = part->joint.channel(swing.channel.kind).limits;
        if (!limits) return;
        painter.setPen(QPen(look_.theme().raspberry, 1.5, Qt::DashLine));
        for (const double limit : {limits->min, limits->max})
            if (limit >= scale.from && limit <= scale.to)
                painter.drawLine(QPointF(scale.x(limit), scale.box.top()),
                                 QPointF(scale.x(limit), scale.box.bottom()));
    }

    void paintCurve(QPainter& painter, const CurveScale& scale, const SwingCheck& swing) const {
        const Theme& theme = look_.theme();
        QPolygonF line;
        for (const auto& sample : swing.curve)
            line << QPointF(scale.x(sample.value), scale.y(sample.clearance_m));
        painter.setPen(QPen(theme.steel, 2));
        painter.drawPolyline(line);
        painter.setPen(QPen(theme.rust, 4));
        for (std::size_t i = 0; i + 1 < swing.curve.size(); ++i)
            if (swing.curve[i].clearance_m <= 0 && swing.curve[i + 1].clearance_m <= 0)
                painter.drawLine(line[static_cast<qsizetype>(i)], line[static_cast<qsizetype>(i + 1)]);
    }

    void paintContact(QPainter& painter, const CurveScale& scale, const SwingContact& contact,
                      ChannelKind kind) const {
        const Theme& theme = look_.theme();
        const QPointF at(scale.x(contact.value), scale.y(0));
        painter.setPen(QPen(theme.card, 1.5));
        painter.setBrush(theme.rust);
        painter.drawEllipse(at, 5, 5);
        painter.setBrush(Qt::NoBrush);
        painter.setFont(Look::uiFont(11, true));
        const QString words = shown(kind, contact.value);
        const double wide = painter.fontMetrics().horizontalAdvance(words) + 10;
        const double left = std::clamp(at.x() - wide / 2, scale.box.left(), scale.box.right() - wide);
        paintPlate(painter, QRectF(left, at.y() - 26, wide, 17), words, theme.rust, theme);
    }

    Session& session_;
    PivotChecks& checks_;
    Look& look_;
};

}  // namespace

PolarScale PolarScale::fit(const QRectF& box, const SpinCheck& check) {
    double largest = 1e-9;
    for (const auto& sample : check.samples) largest = std::max(largest, std::abs(sample.deviation_m));
    const double radius = 0.5 * std::min(box.width(), box.height());
    // Errors nobody needs to see are not blown up beyond a tenth of what is allowed.
    largest = std::max(largest, 0.1 * allowed_run_out_m);
    return {box.center(), 0.7 * radius, 0.28 * radius / largest};
}

QPointF PolarScale::at(const SpinCheck::Sample& sample) const {
    const double r = mean_px + px_per_m * sample.deviation_m;
    return middle + QPointF(r * std::cos(sample.angle_rad), -r * std::sin(sample.angle_rad));
}

CurveScale CurveScale::fit(const QRectF& box, const SwingCheck& check) {
    double highest = 0;
    for (const auto& sample : check.curve)
        if (std::isfinite(sample.clearance_m)) highest = std::max(highest, sample.clearance_m);
    return {box, check.curve.front().value, check.curve.back().value, highest > 0 ? 1.05 * highest : 1.0};
}

double CurveScale::x(double value) const {
    return box.left() + (value - from) / (to - from) * box.width();
}

double CurveScale::y(double clearance) const {
    return box.bottom() - std::min(1.0, clearance / highest) * box.height();
}

PivotPlots::PivotPlots(Session& session, PivotChecks& checks, Look& look, QWidget* parent)
    : QWidget(parent),
      session_(session),
      checks_(checks),
      canvas_(new Canvas(session, checks, look)),
      map_(new SwingMapChart(session, checks, look)) {
    auto* both = new QWidget;
    auto* stack = new QVBoxLayout(both);
    stack->setContentsMargins(0, 0, 0, 0);
    stack->addWidget(canvas_);
    stack->addWidget(map_);
    area_ = new LowerArea(tr("Run-out and clearance"), both);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(area_);
    for (auto signal : {&PivotChecks::spinsChanged, &PivotChecks::swingChanged})
        connect(&checks_, signal, this, &PivotPlots::retell);
    connect(&session_, &Session::selectionChanged, this, &PivotPlots::retell);
    connect(map_, &SwingMapChart::posed, this, [this](double first, double second) {
        const SwingMap map = *checks_.map();
        session_.setValue(map.first, first);
        session_.setValue(map.second, second);
    });
    connect(&look, &Look::changed, canvas_, qOverload<>(&QWidget::update));
    retell();
}

bool PivotPlots::hasSomething() const {
    return !checks_.spins().empty() || checks_.swing() || checks_.map();
}

void PivotPlots::retell() {
    emit retold();
    canvas_->setVisible(!checks_.map());
    map_->setVisible(checks_.map().has_value());
    if (checks_.map())
        return area_->setNote(checks_.swingIsStale()
                                  ? tr("two joints at once, out of date")
                                  : tr("two joints at once: rust touches, green has room"));
    const auto& swing = checks_.swing();
    const Part* part = swing ? session_.document().parts.find(swing->channel.part()) : nullptr;
    area_->setNote(!part                    ? QString()
                   : checks_.swingIsStale() ? tr("%1, out of date").arg(QString::fromStdString(part->name))
                                            : QString::fromStdString(part->name));
    canvas_->update();
}

}  // namespace pivrak
