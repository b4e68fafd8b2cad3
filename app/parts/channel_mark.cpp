#include "app/parts/channel_mark.h"

#include <QPainterPath>
#include <algorithm>

#include "core/model/element_channels.h"
#include "core/rig/driven_by.h"

namespace pivrak {

ChannelMark channelMark(const Session& session, ChannelRef channel) {
    const Document& document = session.shownDocument();
    const auto found = find_channel(document, channel);
    if (!found) return ChannelMark::None;
    if (found->locked) return ChannelMark::Locked;
    if (const auto& limits = found->limits) {
        const double value = session.valueOf(channel);
        if (value <= limits->min || value >= limits->max) return ChannelMark::AtLimit;
    }
    if (session.drivers().name(channel)) return ChannelMark::Driven;
    const Track* track = session.clip().track(channel);
    return track && !track->keys.empty() ? ChannelMark::Keyed : ChannelMark::Free;
}

ChannelMark channelMark(const Session& session, PartId id) {
    const Part* part = session.shownDocument().parts.find(id);
    ChannelMark most = ChannelMark::None;
    if (!part) return most;
    for (const ChannelKind kind : channels_of(part->joint.kind))
        most = std::max(most, channelMark(session, {id, kind}));
    return most;
}

void paintMark(QPainter& painter, const QPointF& at, ChannelMark mark, const Theme& theme) {
    painter.setBrush(Qt::NoBrush);
    switch (mark) {
        case ChannelMark::None:
            return;
        case ChannelMark::Free:
            painter.setPen(QPen(theme.softInk, 1.3));
            painter.drawEllipse(at, 3.6, 3.6);
            return;
        case ChannelMark::Locked:
            painter.setPen(Qt::NoPen);
            painter.setBrush(theme.softInk);
            painter.drawRect(QRectF(at.x() - 3.4, at.y() - 3.4, 6.8, 6.8));
            return;
        case ChannelMark::Keyed:
            painter.setPen(Qt::NoPen);
            painter.setBrush(theme.saffron);
            painter.drawPolygon(
                QPolygonF{at + QPointF(0, -5), at + QPointF(5, 0), at + QPointF(0, 5), at + QPointF(-5, 0)});
            return;
        case ChannelMark::Driven: {
            painter.setPen(QPen(theme.steel, 1.6));
            QPainterPath wave(at + QPointF(-6, 1));
            wave.cubicTo(at + QPointF(-3, -7), at + QPointF(-1, -5), at);
            wave.cubicTo(at + QPointF(1, 5), at + QPointF(3, 7), at + QPointF(6, -1));
            painter.drawPath(wave);
            return;
        }
        case ChannelMark::AtLimit:
            painter.setPen(QPen(theme.rust, 1.8));
            painter.drawLine(at + QPointF(-5, 0), at + QPointF(4, 0));
            painter.drawLine(at + QPointF(4, -5), at + QPointF(4, 5));
            return;
    }
}

}  // namespace pivrak
