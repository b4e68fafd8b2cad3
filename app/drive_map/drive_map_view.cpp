#include "app/drive_map/drive_map_view.h"

#include <QMouseEvent>
#include <QPainter>
#include <algorithm>
#include <cmath>

#include "app/parts/channel_mark.h"
#include "app/session/words.h"

namespace pivrak {
namespace {

constexpr QSizeF box_size(118, 38);
constexpr double map_margin_px = 8;
/// Larger maps show what the picked parts have to do with.
constexpr std::size_t most_shown = 36;
/// Beyond so many there is nothing to be seen in the whole, and laying it out takes long.
constexpr std::size_t most_drawn = 300;

class Sheet : public QWidget {
public:
    Sheet(Session& session, Look& look, const DriveMap& map, const MapLayout& layout)
        : session_(session), look_(look), map_(map), layout_(layout) {
        setObjectName(QStringLiteral("driveMap"));
        setFocusPolicy(Qt::NoFocus);
    }

protected:
    void paintEvent(QPaintEvent*) override {
        QPainter painter(this);
        painter.setRenderHint(QPainter::Antialiasing);
        painter.translate(map_margin_px, map_margin_px);
        for (std::size_t i = 0; i < layout_.lines.size(); ++i) paintLine(painter, i);
        std::vector<QRectF> taken;
        for (std::size_t i = 0; i < layout_.lines.size(); ++i) paintLabel(painter, i, taken);
        for (std::size_t i = 0; i < layout_.boxes.size(); ++i) paintBox(painter, i);
    }

    void mousePressEvent(QMouseEvent* event) override {
        for (std::size_t i = 0; i < layout_.boxes.size(); ++i)
            if (layout_.boxes[i].translated(map_margin_px, map_margin_px).contains(event->position())) {
                std::vector<PartId> picked;
                if (event->modifiers() & Qt::ShiftModifier) picked = session_.selection();
                if (std::find(picked.begin(), picked.end(), map_.channels[i].part()) == picked.end())
                    picked.push_back(map_.channels[i].part());
                return session_.select(picked);
            }
    }

private:
    bool touchesPicked(std::size_t edge) const {
        return session_.isSelected(map_.edges[edge].from.part()) ||
               session_.isSelected(map_.edges[edge].to.part());
    }

    void paintLine(QPainter& painter, std::size_t i) const {
        const QPolygonF& line = layout_.lines[i];
        if (line.size() < 2) return;
        const QColor color = touchesPicked(i) ? look_.theme().raspberry : look_.theme().steel;
        painter.setPen(QPen(color, touchesPicked(i) ? 2 : 1.4));
        painter.setBrush(Qt::NoBrush);
        painter.drawPolyline(line);
        const QPointF tip = line.last(), before = line[line.size() - 2];
        const QLineF back(tip, before);
        if (!(back.length() > 0)) return;
        const QPointF along = (before - tip) / back.length(), across(-along.y(), along.x());
        painter.setBrush(color);
        painter.setPen(Qt::NoPen);
        painter.drawPolygon(QPolygonF{tip, tip + 8 * along + 4 * across, tip + 8 * along - 4 * across});
    }

    /// On its line, just before the box it leads to; a little beside it where another one stands already.
    void paintLabel(QPainter& painter, std::size_t i, std::vector<QRectF>& taken) const {
        const QPolygonF& line = layout_.lines[i];
        if (line.size() < 2) return;
        painter.setFont(Look::numberFont(10));
        const QString text = QString::fromStdString(map_.edges[i].label);
        const double wide = painter.fontMetrics().horizontalAdvance(text) + 6;
        const QRectF on_line(line.last().x() - 10 - wide, line.last().y() - 6.5, wide, 13);
        QRectF plate = on_line;
        for (const double aside : {0.0, 7.0, -7.0, 14.0, -14.0}) {
            plate = on_line.translated(0, aside);
            if (std::none_of(taken.begin(), taken.end(),
                             [&](const QRectF& other) { return other.intersects(plate); }))
                break;
        }
        taken.push_back(plate);
        painter.fillRect(plate, look_.theme().card);
        painter.setPen(look_.theme().steel);
        painter.drawText(plate, Qt::AlignCenter, text);
    }

    void paintBox(QPainter& painter, std::size_t i) const {
        const Theme& theme = look_.theme();
        const ChannelRef channel = map_.channels[i];
        const bool picked = session_.isSelected(channel.part());
        const QRectF box = layout_.boxes[i];
        painter.setPen(QPen(picked ? theme.raspberry : theme.line, picked ? 2 : 1));
        painter.setBrush(theme.paper);
        painter.drawRoundedRect(box, 4, 4);
        const Part* part = session_.document().parts.find(channel.part());
        if (!part) return;
        painter.setFont(Look::uiFont(11));
        painter.setPen(theme.ink);
        const QRectF name = box.adjusted(7, 3, -20, -19);
        painter.drawText(name, Qt::AlignLeft | Qt::AlignVCenter,
                         painter.fontMetrics().elidedText(QString::fromStdString(part->name), Qt::ElideRight,
                                                          static_cast<int>(name.width())));
        painter.setFont(Look::numberFont(10));
        painter.setPen(theme.softInk);
        painter.drawText(box.adjusted(7, 18, -6, -3), Qt::AlignLeft | Qt::AlignVCenter, valueOf(channel));
        paintMark(painter, QPointF(box.right() - 12, box.top() + 12), channelMark(session_, channel), theme);
    }

    QString valueOf(ChannelRef channel) const {
        const auto slot = session_.evaluator().channel_slot(channel);
        if (!slot || *slot >= session_.pose().channels.size()) return {};
        double value = session_.pose().channels[*slot];
        if (std::abs(value) < 1e-4) value = 0;  // no sign before nothing
        const Dimension dimension = dimension_of(channel.kind);
        const std::string words = dimension == Dimension::Angle ? format_angle(value, 1)
                                  : dimension == Dimension::Length
                                      ? format_length(value, session_.document().settings.length_unit, 3)
                                      : format_channel(channel.kind, value);
        if (channel.kind == ChannelKind::Turn) return QString::fromStdString(words);
        const std::string_view kind = channel_word(channel.kind);
        return QString::fromStdString(std::string(kind) + " " + words);
    }

    Session& session_;
    Look& look_;
    const DriveMap& map_;
    const MapLayout& layout_;
};

}  // namespace

DriveMapView::DriveMapView(Session& session, Look& look, QWidget* parent)
    : QWidget(parent), session_(session), scroll_(new QScrollArea) {
    sheet_ = new Sheet(session, look, map_, layout_);
    scroll_->setWidget(sheet_);
    scroll_->setObjectName(QStringLiteral("driveScroll"));
    scroll_->setFrameShape(QFrame::NoFrame);
    scroll_->setMinimumHeight(70);
    area_ = new LowerArea(tr("Drive map"), scroll_);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(area_);
    connect(&session, &Session::documentChanged, this, &DriveMapView::refresh);
    connect(&session, &Session::projectChanged, this, &DriveMapView::refresh);
    connect(&session, &Session::stageChanged, this, &DriveMapView::refresh);
    connect(&session, &Session::poseChanged, sheet_, qOverload<>(&QWidget::update));
    connect(&look, &Look::changed, sheet_, qOverload<>(&QWidget::update));
    connect(&session, &Session::selectionChanged, this, &DriveMapView::showPicked);
    refresh();
}

QRectF DriveMapView::boxOf(ChannelRef channel) const {
    const auto found = std::find(map_.channels.begin(), map_.channels.end(), channel);
    if (found == map_.channels.end()) return {};
    return layout_.boxes[static_cast<std::size_t>(found - map_.channels.begin())].translated(map_margin_px,
                                                                                             map_margin_px);
}

void DriveMapView::refresh() {
    if (session_.stage() != Stage::Rig) return;
    const std::pair known{session_.revision(), session_.clip().id};
    if (known_ != known) {
        known_ = known;
        const bool had = hasSomething();
        whole_ = drive_map(session_.document(), session_.clip());
        if (had != hasSomething()) emit retold();
    }
    const std::size_t all = whole_.channels.size();
    DriveMap map;
    if (all > most_shown) map = around(whole_, session_.selection());
    if (map.edges.empty() && all <= most_drawn) map = whole_;
    area_->setNote(
        map.channels.empty() && all > 0
            ? tr("%1 channels move each other: pick a part to see who moves it, and whom it moves").arg(all)
        : map.channels.size() < all
            ? tr("who moves whom, at this frame: %1 of %2 channels, about what is picked")
                  .arg(map.channels.size())
                  .arg(all)
            : tr("who moves whom, at this frame"));
    if (!(map == map_)) {
        map_ = std::move(map);
        layout_ = lay_out(map_, box_size);
        sheet_->setFixedSize((layout_.size + QSizeF(2 * map_margin_px, 2 * map_margin_px)).toSize());
    }
    sheet_->update();
}

void DriveMapView::showPicked() {
    refresh();
    for (std::size_t i = 0; i < map_.channels.size() && i < layout_.boxes.size(); ++i)
        if (session_.isSelected(map_.channels[i].part())) {
            const QPoint middle = layout_.boxes[i].center().toPoint();
            return scroll_->ensureVisible(middle.x(), middle.y(), 90, 40);
        }
}

}  // namespace pivrak
