// How the curve sheet is drawn.
#include <QPainter>
#include <algorithm>
#include <array>
#include <cmath>

#include "app/curves/curve_metrics.h"
#include "app/curves/curve_sheet.h"
#include "app/parts/key_mark.h"
#include "app/session/no_keys.h"
#include "app/session/shown_value.h"
#include "core/model/element_channels.h"

namespace pivrak {
namespace {

/// 1, 2 or 5 of some decade, the least that is no less.
double friendly_step(double least) {
    const double decade = std::pow(10, std::floor(std::log10(std::max(least, 1e-12))));
    for (const double times : {1.0, 2.0, 5.0})
        if (times * decade >= least) return times * decade;
    return 10 * decade;
}

}  // namespace

QColor CurveSheet::colorOf(std::size_t channel) const {
    return channel == 0 ? look_.theme().petrol : pieceColor(channel - 1);
}

void CurveSheet::paintEvent(QPaintEvent*) {
    const Theme& theme = look_.theme();
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    if (channels_.empty() && driven_.empty()) {
        painter.fillRect(rect(), theme.card);
        painter.setPen(theme.softInk);
        painter.setFont(Look::uiFont(12));
        painter.drawText(rect(), Qt::AlignCenter, noKeysWords(session_));
        return;
    }
    if (still_.isNull()) {
        still_ = QPixmap(size() * devicePixelRatioF());
        still_.setDevicePixelRatio(devicePixelRatioF());
        still_.fill(theme.card);
        QPainter still(&still_);
        still.setRenderHint(QPainter::Antialiasing);
        paintStill(still);
    }
    painter.drawPixmap(0, 0, still_);
    const QRectF box(curve_px::left, curve_px::top, width() - curve_px::left - curve_px::right,
                     footY() - curve_px::top);
    painter.save();
    painter.setClipRect(
        box.adjusted(-curve_px::key - 2, -curve_px::key - 2, curve_px::key + 2, curve_px::key + 2));
    for (std::size_t i = 0; i < channels_.size(); ++i) {
        if (!isInHand(channels_[i])) continue;
        paintCurve(painter, shown_.at(channels_[i]), colorOf(i), 1.8);
        paintHandles(painter, channels_[i]);
        paintKeys(painter, channels_[i], colorOf(i));
    }
    if (doing_ == Doing::Box || doing_ == Doing::Lasso) {
        painter.setPen(QPen(theme.petrol, 1, Qt::DashLine));
        painter.setBrush(Qt::NoBrush);
        painter.drawPolygon(doing_ == Doing::Box ? QPolygonF(QRectF(pressed_, last_place_).normalized())
                                                 : lasso_);
    }
    painter.restore();
    if (speeds_) paintSpeeds(painter);
    const double now = ruler().x_at(session_.frame());
    painter.setPen(QPen(theme.saffron, 1.6));
    if (now >= box.left() && now <= box.right()) painter.drawLine(QPointF(now, 0), QPointF(now, height()));
}

/// All but what a hand has, and of that how it was, pale.
void CurveSheet::paintStill(QPainter& painter) const {
    paintGrid(painter);
    const QRectF box(curve_px::left, curve_px::top, width() - curve_px::left - curve_px::right,
                     footY() - curve_px::top);
    painter.save();
    painter.setClipRect(
        box.adjusted(-curve_px::key - 2, -curve_px::key - 2, curve_px::key + 2, curve_px::key + 2));
    paintDriven(painter);
    for (std::size_t i = 0; i < channels_.size(); ++i) {
        QColor color = colorOf(i);
        if (isInHand(channels_[i])) color.setAlphaF(0.3f);
        paintCurve(painter, asItWas(channels_[i]), color, isInHand(channels_[i]) ? 1.4 : 1.8);
    }
    for (std::size_t i = 0; i < channels_.size(); ++i) {
        if (isInHand(channels_[i])) continue;
        paintHandles(painter, channels_[i]);
        paintKeys(painter, channels_[i], colorOf(i));
    }
    painter.restore();
}

/// Speed as a full line, its change as a thin dashed one, each on a scale of its own about a line of nothing;
/// of the first curve with its greatest speed in words.
void CurveSheet::paintSpeeds(QPainter& painter) const {
    const Theme& theme = look_.theme();
    const Ruler r = ruler();
    const QRectF strip(r.left_px, footY() + curve_px::foot, r.right_px - r.left_px,
                       height() - footY() - curve_px::foot - 2);
    painter.fillRect(strip, theme.paper);
    painter.setPen(QPen(theme.line, 1));
    painter.drawLine(strip.left(), strip.center().y(), strip.right(), strip.center().y());
    const double rate = frame_rate_of(session_.shownDocument(), session_.clip());
    constexpr double step_px = 2, little = 1e-3;
    for (std::size_t i = 0; i < channels_.size(); ++i) {
        const CompiledTrack& curve = shown_.at(channels_[i]);
        const auto speed = [&](double frame) { return curve.slope(frame) * rate; };
        std::vector<std::array<double, 3>> seen;
        std::array<double, 2> most{1e-12, 1e-12};
        for (double x = r.left_px; x <= r.right_px; x += step_px) {
            const double frame = r.frame_at(x),
                         change = (speed(frame + little) - speed(frame - little)) / (2 * little) * rate;
            seen.push_back({x, speed(frame), change});
            for (const std::size_t k : {0u, 1u}) most[k] = std::max(most[k], std::abs(seen.back()[k + 1]));
        }
        for (const std::size_t k : {1u, 0u}) {
            QPolygonF line;
            for (const auto& at : seen)
                line << QPointF(at[0], strip.center().y() - 0.46 * strip.height() * at[k + 1] / most[k]);
            painter.setPen(QPen(colorOf(i), k == 0 ? 1.5 : 0.8, k == 0 ? Qt::SolidLine : Qt::DashLine));
            painter.setBrush(Qt::NoBrush);
            painter.drawPolyline(line);
        }
        if (i > 0) continue;
        painter.setPen(theme.softInk);
        painter.setFont(Look::uiFont(11));
        painter.drawText(strip.adjusted(6, 1, -6, -1), Qt::AlignTop | Qt::AlignRight,
                         tr("fastest %1 a second; dashed: its change")
                             .arg(toldValue(session_.document(), channels_[i].kind, most[0])));
    }
}

/// With who drives it at its end.
void CurveSheet::paintDriven(QPainter& painter) const {
    const Theme& theme = look_.theme();
    const Ruler r = ruler();
    const double high = footY() - curve_px::top;
    painter.setFont(Look::uiFont(11));
    for (const DrivenCurve& one : driven_) {
        if (one.samples.size() < 2) continue;
        const auto [low, most] = std::ranges::minmax(one.samples, {}, &FormulaPlot::Sample::value);
        const double span = std::max(most.value - low.value, 1e-9);
        QPolygonF line;
        for (const auto& [frame, value] : one.samples)
            line << QPointF(r.x_at(frame), curve_px::top + high * (0.92 - 0.84 * (value - low.value) / span));
        painter.setPen(QPen(theme.steel, 1));
        painter.setBrush(Qt::NoBrush);
        painter.drawPolyline(line);
        const QString words =
            tr("%1, by %2")
                .arg(QString::fromStdString(channel_name(session_.shownDocument(), one.channel)),
                     QString::fromStdString(one.by));
        const double wide = painter.fontMetrics().horizontalAdvance(words) + 4;
        const double right = std::min(line.last().x(), r.right_px);
        const QRectF plate(right - wide, line.last().y() - 16, wide, 15);
        painter.drawText(plate, Qt::AlignRight | Qt::AlignVCenter, words);
    }
}

/// Frames along the foot, values of the first curve at the side; what is not played is shaded.
void CurveSheet::paintGrid(QPainter& painter) const {
    const Theme& theme = look_.theme();
    const Ruler r = ruler();
    const double foot = footY(), top_y = curve_px::top;
    painter.fillRect(QRectF(curve_px::left, curve_px::top, width() - curve_px::left - curve_px::right,
                            foot - curve_px::top),
                     theme.paper);
    QColor shade = theme.line;
    shade.setAlphaF(0.35f);
    const double begins = std::clamp(r.x_at(clip_.first_frame), r.left_px, r.right_px),
                 ends = std::clamp(r.x_at(clip_.last_frame), r.left_px, r.right_px);
    painter.fillRect(QRectF(r.left_px, curve_px::top, begins - r.left_px, foot - curve_px::top), shade);
    painter.fillRect(QRectF(ends, curve_px::top, r.right_px - ends, foot - curve_px::top), shade);
    painter.setFont(Look::uiFont(11));
    const double step = r.label_step(52);
    for (double f = std::ceil(r.first_frame / step) * step; f <= r.last_frame + 1e-9; f += step) {
        painter.setPen(QPen(theme.line, 1));
        painter.drawLine(QPointF(r.x_at(f), curve_px::top), QPointF(r.x_at(f), foot));
        painter.setPen(theme.softInk);
        painter.drawText(QRectF(r.x_at(f) - 30, foot + 2, 60, 16), Qt::AlignCenter, QString::number(f));
    }
    if (channels_.empty()) return;
    const ChannelRef channel = channels_.front();
    painter.setFont(Look::uiFont(10));
    // Round values, as far apart as there is room for.
    const double per_px = (valueAt(channel, top_y) - valueAt(channel, foot)) / (foot - top_y);
    const double unit = unitSize(session_.document(), channel.kind);
    const double step_value = unit * friendly_step(26 * per_px / unit);
    const double lowest = valueAt(channel, foot), highest = valueAt(channel, top_y);
    for (double value = std::ceil(lowest / step_value) * step_value; value <= highest; value += step_value) {
        if (std::abs(value) < 1e-6 * step_value) value = 0;  // no sign before nothing
        const double at = y(channel, value);
        painter.setPen(QPen(theme.line, 1));
        painter.drawLine(QPointF(r.left_px, at), QPointF(r.right_px, at));
        painter.setPen(colorOf(0));
        painter.drawText(QRectF(2, at - 8, curve_px::left - 8, 16), Qt::AlignRight | Qt::AlignVCenter,
                         scaleValue(session_.document(), channel.kind, value, step_value));
    }
}

/// Dashed beyond its keys. Many of them are drawn plainly: soft edges would take most of the time.
void CurveSheet::paintCurve(QPainter& painter, const CompiledTrack& track, const QColor& color,
                            double wide) const {
    const Scale& scale = scales_.at(track.track.channel);
    const double foot = footY(), per_value = (foot - curve_px::top) / (scale.high - scale.low);
    const bool many = channels_.size() > curve_px::many;
    const DrawnCurve drawn =
        drawn_curve(track, ruler(), [&](double value) { return foot - per_value * (value - scale.low); });
    painter.setRenderHint(QPainter::Antialiasing, !many);
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(color, many ? 0 : wide));
    painter.drawPolyline(drawn.inside);
    painter.setPen(QPen(color, many ? 0 : wide * 0.8, Qt::DashLine));
    painter.drawPolyline(drawn.before);
    painter.drawPolyline(drawn.behind);
    painter.setRenderHint(QPainter::Antialiasing);
}

void CurveSheet::paintKeys(QPainter& painter, ChannelRef channel, const QColor& color) const {
    const Theme& theme = look_.theme();
    const Ruler r = ruler();
    const bool many = channels_.size() > curve_px::many;
    for (const Key& key : track(channel)->keys) {
        if (key.frame < r.first_frame || key.frame > r.last_frame) continue;
        const QPointF at(r.x_at(key.frame), y(channel, key.value));
        const bool picked = session_.keyPicks().has(channel, key.frame);
        if (many && !picked) {
            painter.fillRect(QRectF(at - QPointF(2, 2), QSizeF(4, 4)), color);
            continue;
        }
        painter.setPen(QPen(picked ? theme.raspberry : color, 1.6));
        painter.setBrush(picked ? theme.saffron : theme.card);
        paintKeyMark(painter, at, key.interpolation, curve_px::key);
    }
}

void CurveSheet::paintHandles(QPainter& painter, ChannelRef channel) const {
    const auto& picked = session_.keyPicks().frames();
    const auto found = picked.find(channel);
    if (found == picked.end()) return;
    const Theme& theme = look_.theme();
    for (const double frame : found->second)
        for (const bool out : {true, false}) {
            const QPointF end = handleOf(channel, frame, out);
            if (end.isNull()) continue;
            painter.setPen(QPen(theme.steel, 1.2));
            painter.drawLine(placeOf(channel, frame), end);
            painter.setBrush(theme.steel);
            painter.drawEllipse(end, 3, 3);
        }
}

}  // namespace pivrak
