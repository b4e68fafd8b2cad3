#include "app/drive_map/map_paint.h"

#include <algorithm>
#include <cmath>

#include "app/parts/channel_mark.h"
#include "core/model/element_channels.h"

namespace pivrak {
namespace {

/// Shown of a channel, in its unit; the joint's own turn without its word.
QString valueWords(const Session& session, ChannelRef channel) {
    const auto slot = session.evaluator().channel_slot(channel);
    if (!slot || *slot >= session.pose().channels.size()) return {};
    double value = session.pose().channels[*slot];
    if (std::abs(value) < 1e-4) value = 0;  // no sign before nothing
    const Dimension dimension = dimension_of(channel.kind);
    const std::string words = dimension == Dimension::Angle ? format_angle(value, 1)
                              : dimension == Dimension::Length
                                  ? format_length(value, session.document().settings.length_unit, 3)
                                  : format_channel(channel.kind, value, session.document());
    if (channel.kind == ChannelKind::Turn) return QString::fromStdString(words);
    return QString::fromStdString(std::string(channel_word(channel.kind)) + " " + words);
}

bool isPicked(const Session& session, const DriveMap& map, ChannelRef channel) {
    if (session.isSelected(channel.part())) return true;
    const auto others = map.folded.find(channel);
    return others != map.folded.end() &&
           std::any_of(others->second.begin(), others->second.end(),
                       [&](ChannelRef other) { return session.isSelected(other.part()); });
}

QString labelOf(const DriveEdge& edge) {
    const QString label = QString::fromStdString(edge.label);
    return edge.off ? QObject::tr("%1, off").arg(label) : label;
}

class MapPainter {
public:
    MapPainter(QPainter& painter, const MapPicture& picture) : painter_(painter), p_(picture) {}

    void run() {
        for (std::size_t i = 0; i < p_.layout.lines.size(); ++i) paintLine(i);
        const std::vector<QRectF> plates = labelPlates(p_.map, p_.layout);
        for (std::size_t i = 0; i < plates.size(); ++i) paintLabel(i, plates[i]);
        for (std::size_t i = 0; i < p_.layout.boxes.size(); ++i) paintBox(i);
    }

private:
    bool touchesPicked(const DriveEdge& edge) const {
        return isPicked(p_.session, p_.map, edge.from) || isPicked(p_.session, p_.map, edge.to);
    }
    bool clashes(const DriveEdge& edge) const {
        return p_.map.clashes.contains(edge.from) && p_.map.clashes.contains(edge.to);
    }
    bool moves(ChannelRef channel) const {
        const auto at = std::find(p_.map.channels.begin(), p_.map.channels.end(), channel);
        return p_.moving.moves(static_cast<std::size_t>(at - p_.map.channels.begin()));
    }

    void paintLine(std::size_t i) {
        const QPolygonF& line = p_.layout.lines[i];
        if (line.size() < 2) return;
        const DriveEdge& edge = p_.map.edges[i];
        const bool picked = touchesPicked(edge), lit = moves(edge.from) && moves(edge.to);
        const QColor color = clashes(edge) ? p_.theme.rust
                             : picked      ? p_.theme.raspberry
                             : lit         ? p_.theme.saffron
                                           : p_.theme.steel;
        painter_.setPen(
            QPen(color, picked || lit || clashes(edge) ? 2 : 1.4, edge.off ? Qt::DotLine : Qt::SolidLine));
        painter_.setBrush(Qt::NoBrush);
        painter_.drawPolyline(line);
        const QPointF tip = line.last(), before = line[line.size() - 2];
        const QLineF back(tip, before);
        if (!(back.length() > 0)) return;
        const QPointF along = (before - tip) / back.length(), across(-along.y(), along.x());
        painter_.setBrush(color);
        painter_.setPen(Qt::NoPen);
        painter_.drawPolygon(QPolygonF{tip, tip + 8 * along + 4 * across, tip + 8 * along - 4 * across});
    }

    void paintLabel(std::size_t i, const QRectF& plate) {
        if (plate.isEmpty()) return;
        painter_.setFont(Look::uiFont(10));
        painter_.fillRect(plate, p_.theme.card);
        painter_.setPen(clashes(p_.map.edges[i]) ? p_.theme.rust : p_.theme.steel);
        painter_.drawText(plate, Qt::AlignCenter, labelOf(p_.map.edges[i]));
    }

    QString countWords(ChannelRef group) const {
        const auto others = p_.map.folded.find(group);
        const std::size_t count = others == p_.map.folded.end() ? 1 : 1 + others->second.size();
        return QObject::tr("%n channels", nullptr, static_cast<int>(count));
    }

    void paintBox(std::size_t i) {
        const ChannelRef channel = p_.map.channels[i];
        const QString name = boxName(p_.session, p_.map, i);
        const bool picked = isPicked(p_.session, p_.map, channel), lit = p_.moving.moves(i);
        const bool found = p_.searched.isEmpty() || name.contains(p_.searched, Qt::CaseInsensitive);
        const QRectF box = p_.layout.boxes[i];
        painter_.setOpacity(found ? 1 : 0.35);
        painter_.setBrush(p_.theme.paper);
        const QColor edge = picked                             ? p_.theme.raspberry
                            : p_.map.clashes.contains(channel) ? p_.theme.rust
                            : !p_.searched.isEmpty() && found  ? p_.theme.petrol
                                                               : p_.theme.line;
        painter_.setPen(QPen(edge, picked || (!p_.searched.isEmpty() && found) ? 2 : 1));
        if (p_.map.folded.contains(channel)) painter_.drawRoundedRect(box.translated(3, 3), 4, 4);
        painter_.drawRoundedRect(box, 4, 4);
        if (lit) {
            painter_.setPen(Qt::NoPen);
            painter_.setBrush(p_.theme.saffron);
            painter_.drawRoundedRect(QRectF(box.left(), box.top(), 4, box.height()), 2, 2);
        }
        painter_.setFont(Look::uiFont(11));
        painter_.setPen(p_.theme.ink);
        const QRectF place = box.adjusted(7, 3, -20, -19);
        painter_.drawText(
            place, Qt::AlignLeft | Qt::AlignVCenter,
            painter_.fontMetrics().elidedText(name, Qt::ElideMiddle, static_cast<int>(place.width())));
        painter_.setFont(Look::uiFont(10));
        painter_.setPen(p_.theme.softInk);
        const bool is_group = p_.map.titles.contains(channel);
        painter_.drawText(box.adjusted(7, 18, -6, -3), Qt::AlignLeft | Qt::AlignVCenter,
                          is_group ? countWords(channel) : valueWords(p_.session, channel));
        if (!is_group)
            paintMark(painter_, QPointF(box.right() - 12, box.top() + 12), channelMark(p_.session, channel),
                      p_.theme);
        painter_.setOpacity(1);
    }

    QPainter& painter_;
    const MapPicture& p_;
};

}  // namespace

void MovingChannels::look(const Session& session, const DriveMap& map) {
    std::vector<double> now;
    for (const ChannelRef channel : map.channels) {
        const auto slot = session.evaluator().channel_slot(channel);
        now.push_back(slot && *slot < session.pose().channels.size() ? session.pose().channels[*slot] : 0);
    }
    moves_.assign(now.size(), false);
    if (now.size() == values_.size())
        for (std::size_t i = 0; i < now.size(); ++i) moves_[i] = std::abs(now[i] - values_[i]) > 1e-9;
    values_ = std::move(now);
}

void paintMap(QPainter& painter, const MapPicture& picture) {
    MapPainter(painter, picture).run();
}

/// On its line, just before the box it leads to; a little beside it where another one stands already.
std::vector<QRectF> labelPlates(const DriveMap& map, const MapLayout& layout) {
    const QFontMetricsF metrics(Look::uiFont(10));
    std::vector<QRectF> plates;
    for (std::size_t i = 0; i < layout.lines.size(); ++i) {
        const QPolygonF& line = layout.lines[i];
        if (line.size() < 2 || map.edges[i].label.empty()) {
            plates.emplace_back();
            continue;
        }
        const double wide = metrics.horizontalAdvance(labelOf(map.edges[i])) + 6;
        QRectF on_line(line.last().x() - 10 - wide, line.last().y() - 6.5, wide, 13);
        // One that comes from above or below has room on the way there.
        if (std::abs(line.last().x() - line[line.size() - 2].x()) < 1 && line.size() > 2)
            on_line.moveCenter(0.5 * (line[line.size() - 2] + line[line.size() - 3]));
        QRectF plate = on_line;
        for (const double aside : {0.0, 7.0, -7.0, 14.0, -14.0}) {
            plate = on_line.translated(0, aside);
            if (std::none_of(plates.begin(), plates.end(),
                             [&](const QRectF& other) { return other.intersects(plate); }))
                break;
        }
        plates.push_back(plate);
    }
    return plates;
}

std::optional<std::size_t> labelAt(const std::vector<QRectF>& plates, const QPointF& at) {
    for (std::size_t i = 0; i < plates.size(); ++i)
        if (plates[i].contains(at)) return i;
    return std::nullopt;
}

std::optional<std::size_t> boxAt(const MapLayout& layout, const QPointF& at) {
    for (std::size_t i = 0; i < layout.boxes.size(); ++i)
        if (layout.boxes[i].contains(at)) return i;
    return std::nullopt;
}

void pickBox(Session& session, const DriveMap& map, std::size_t box, bool adds) {
    std::vector<PartId> picked;
    if (adds) picked = session.selection();
    std::vector<ChannelRef> channels{map.channels[box]};
    if (const auto others = map.folded.find(channels.front()); others != map.folded.end())
        channels.insert(channels.end(), others->second.begin(), others->second.end());
    for (const ChannelRef channel : channels) {
        const PartId part = home_of(session.document(), channel.owner);
        if (part && std::find(picked.begin(), picked.end(), part) == picked.end()) picked.push_back(part);
    }
    session.select(picked);
}

QString boxName(const Session& session, const DriveMap& map, std::size_t box) {
    const ChannelRef channel = map.channels[box];
    if (const auto title = map.titles.find(channel); title != map.titles.end())
        return QString::fromStdString(title->second);
    const QString name = QString::fromStdString(owner_name(session.shownDocument(), channel.owner));
    const auto others = map.folded.find(channel);
    if (others == map.folded.end()) return name;
    return QObject::tr("%1 +%2").arg(name).arg(others->second.size());
}

}  // namespace pivrak
