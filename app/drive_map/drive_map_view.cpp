#include "app/drive_map/drive_map_view.h"

#include <QMouseEvent>
#include <QPainter>
#include <algorithm>

#include "app/drive_map/map_paint.h"
#include "app/drive_map/map_window.h"
#include "app/stages/kit/card.h"

namespace pivrak {
namespace {

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
        QObject::connect(&session, &Session::poseChanged, this, [this] {
            if (!isVisible()) return;
            moving_.look(session_, map_);
            update();
        });
    }

protected:
    void paintEvent(QPaintEvent*) override {
        QPainter painter(this);
        painter.setRenderHint(QPainter::Antialiasing);
        painter.translate(map_margin_px, map_margin_px);
        paintMap(painter, {session_, look_.theme(), map_, layout_, moving_});
    }

    void mousePressEvent(QMouseEvent* event) override {
        if (const auto box = boxAt(layout_, event->position() - QPointF(map_margin_px, map_margin_px)))
            pickBox(session_, map_, *box, event->modifiers() & Qt::ShiftModifier);
    }

private:
    Session& session_;
    Look& look_;
    const DriveMap& map_;
    const MapLayout& layout_;
    MovingChannels moving_;
};

}  // namespace

DriveMapView::DriveMapView(Session& session, Look& look, const Questions& questions, QWidget* parent)
    : QWidget(parent), session_(session), scroll_(new QScrollArea) {
    sheet_ = new Sheet(session, look, map_, layout_);
    scroll_->setWidget(sheet_);
    scroll_->setObjectName(QStringLiteral("driveScroll"));
    scroll_->setFrameShape(QFrame::NoFrame);
    scroll_->setMinimumHeight(70);
    area_ = new LowerArea(tr("Drive map"), scroll_);
    auto* large = makeButton(tr("Open large"), "openMapLarge");
    area_->addButton(large);
    connect(large, &QPushButton::clicked, this, [this, &look, &questions] {
        if (!large_) large_ = new MapWindow(session_, look, questions, window());
        large_->show();
        large_->raise();
        large_->activateWindow();
    });
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(area_);
    connect(&session, &Session::documentChanged, this, &DriveMapView::refresh);
    connect(&session, &Session::projectChanged, this, &DriveMapView::refresh);
    connect(&session, &Session::stageChanged, this, &DriveMapView::refresh);
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
    const std::size_t shown = map.channels.size();
    map = folded(map, one_box_from);
    area_->setNote(
        map.channels.empty() && all > 0
            ? tr("%1 channels move each other: pick a part to see who moves it, and whom it moves").arg(all)
        : shown < all ? tr("drivers and driven, at this frame: %1 of %2 channels, about what is picked")
                            .arg(shown)
                            .arg(all)
                      : tr("drivers and driven, at this frame"));
    if (!(map == map_)) {
        map_ = std::move(map);
        layout_ = lay_out(map_, map_box_size);
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
