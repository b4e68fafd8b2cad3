#include "app/timeline/time_lanes.h"

#include <QMouseEvent>
#include <QPainter>
#include <algorithm>
#include <cmath>
#include <utility>

#include "app/parts/key_mark.h"
#include "app/session/no_keys.h"
#include "core/model/element_channels.h"
#include "core/rig/driven_by.h"

namespace pivrak {
namespace {

/// What a number of the ruler takes, at most.
constexpr int frame_label_px = 46;

}  // namespace

TimeLanes::TimeLanes(Session& session, Look& look, QWidget* parent)
    : QWidget(parent), session_(session), look_(look) {
    setObjectName(QStringLiteral("timeLanes"));
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Lanes of keys"));
    setAttribute(Qt::WA_OpaquePaintEvent);
    connect(&session.keyPicks(), &KeyPicks::changed, this, &TimeLanes::refresh);
    setMinimumHeight(lane_px::ruler_height + lane_px::lane_height);
    for (auto signal : {&Session::documentChanged, &Session::previewChanged})
        connect(&session_, signal, this, [this] { runs_.clear(); });
    for (auto signal : {&Session::documentChanged, &Session::previewChanged, &Session::selectionChanged})
        connect(&session_, signal, this, [this] {
            lanes_.reset();
            refresh();
        });
    connect(&look_, &Look::changed, this, &TimeLanes::refresh);
    connect(&session_, &Session::poseChanged, this, &TimeLanes::followFrame);
    connect(&session_, &Session::started, this, [this] {
        shown_.showAll();
        refresh();
    });
}

/// While it plays, or steps, the frame stays in sight; not while a hand is at work here. Only where the frame
/// was and where it is now something is painted, unless it goes on elsewhere or a mark is another one.
void TimeLanes::followFrame() {
    const double from = shown_.from();
    if (doing_ == Doing::Nothing && !shown_.isWhole()) shown_.follow(session_.frame());
    if (still_.isNull() || shown_.from() != from || shown_clip_ != session_.clip().id ||
        marksShown() != marks_)
        return refresh();
    for (const double x : {at_, ruler().x_at(session_.frame())})
        update(QRect(static_cast<int>(std::clamp(x, -100.0, width() + 100.0)) - frame_label_px, 0,
                     2 * frame_label_px, height()));
}

Ruler TimeLanes::ruler() const {
    const Clip& clip = session_.clip();
    if (std::exchange(shown_clip_, clip.id) != clip.id) shown_.showAll();
    shown_.setRange(clip.first_frame, clip.last_frame);
    return {shown_.from(), shown_.to(), static_cast<double>(lane_px::label_width),
            static_cast<double>(width() - lane_px::right_margin)};
}

/// Channels of the selection, or when it has none all that have keys. Of a part with many channels only those
/// with keys.
std::vector<ChannelRef> TimeLanes::channelsShown() const {
    std::vector<ChannelRef> lanes;
    const Document& document = session_.shownDocument();
    for (const PartId id : session_.selection())
        if (const Part* part = document.parts.find(id))
            for (const ChannelKind kind : channels_of(part->joint.kind)) {
                const Track* track = session_.clip().track({id, kind});
                if (part->joint.kind == JointKind::Hinge || (track && !track->keys.empty()))
                    lanes.push_back({id, kind});
            }
    for (const Track& track : session_.clip().tracks)
        if (!is_of_part(track.channel.kind) && session_.isSelected(home_of(document, track.channel.owner)))
            lanes.push_back(track.channel);
    if (lanes.empty())
        for (const Track& track : session_.clip().tracks) lanes.push_back(track.channel);
    return lanes;
}

/// In the order of the tree; a part with several channels gets a row of its own above them.
const std::vector<TimeLanes::Lane>& TimeLanes::lanes() {
    if (lanes_) return *lanes_;
    const Document& document = session_.shownDocument();
    std::unordered_map<PartId, std::size_t> order;
    for (const PartId part : Tree(document).all()) order.emplace(part, order.size());
    std::map<std::pair<std::size_t, PartId>, std::vector<ChannelRef>> of_part;
    for (const ChannelRef channel : channelsShown()) {
        const PartId home = is_of_part(channel.kind) ? channel.part() : home_of(document, channel.owner);
        const auto at = order.find(home);
        of_part[{at == order.end() ? order.size() : at->second, home}].push_back(channel);
    }
    lanes_.emplace();
    for (const auto& [key, channels] : of_part) {
        const bool heads = channels.size() > 1;
        if (heads) lanes_->push_back({key.second, channels, true});
        if (heads && folded_.contains(key.second)) continue;
        for (const ChannelRef channel : channels) lanes_->push_back({key.second, {channel}, false});
    }
    first_row_ = std::clamp(first_row_, 0, std::max(0, static_cast<int>(lanes_->size()) - laneCount()));
    return *lanes_;
}

void TimeLanes::refresh() {
    still_ = {};
    update();
}

std::span<const TimeLanes::Lane> TimeLanes::lanesShown() {
    const std::span<const Lane> all(lanes());
    const std::size_t first = std::min(static_cast<std::size_t>(first_row_), all.size());
    return all.subspan(first, std::min(static_cast<std::size_t>(std::max(room(), 0)), all.size() - first));
}

/// Marks of the lanes that are seen, from the top; a head has none.
std::vector<ChannelMark> TimeLanes::marksShown() {
    std::vector<ChannelMark> marks;
    for (const Lane& lane : lanesShown())
        marks.push_back(lane.heads ? ChannelMark::None : channelMark(session_, lane.channels.front()));
    return marks;
}

void TimeLanes::paintStill() {
    still_ = QPixmap(size() * devicePixelRatioF());
    still_.setDevicePixelRatio(devicePixelRatioF());
    marks_ = marksShown();
    const Theme& theme = look_.theme();
    QPainter painter(&still_);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.fillRect(rect(), theme.card);
    const std::vector<Lane>& all = lanes();
    for (int row = 0; row < std::max(room(), 1); ++row)
        if (row % 2 == 0)
            painter.fillRect(0, lane_px::ruler_height + row * lane_px::lane_height, width(),
                             lane_px::lane_height, theme.paper);
    int row_below = 0;
    for (const Lane& lane : lanesShown()) paintLane(painter, row_below++, lane);
    if (static_cast<int>(all.size()) > room()) {
        // How far down the rows are that are seen.
        const double track = room() * lane_px::lane_height, one = track / static_cast<double>(all.size());
        painter.fillRect(QRectF(width() - 5, lane_px::ruler_height + first_row_ * one, 3, room() * one),
                         theme.steel);
    }
    if (doing_ == Doing::Box) {
        painter.setPen(QPen(theme.petrol, 1, Qt::DashLine));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(QRectF(pressed_, last_).normalized());
    }
    paintRuler(painter);
    paintMarkers(painter);
    paintReach(painter);
}

void TimeLanes::paintEvent(QPaintEvent* event) {
    if (still_.isNull() || still_.deviceIndependentSize() != QSizeF(size())) paintStill();
    const Theme& theme = look_.theme();
    QPainter painter(this);
    painter.drawPixmap(QPoint(0, 0), still_);
    painter.setRenderHint(QPainter::Antialiasing);
    paintFrames(painter, event->rect());
    paintKeysHere(painter);
    at_ = ruler().x_at(session_.frame());
    if (at_ >= ruler().left_px - 1 && at_ <= ruler().right_px + 1) {
        painter.setPen(QPen(theme.saffron, 2));
        painter.drawLine(QPointF(at_, 6), QPointF(at_, height()));
        painter.setPen(Qt::NoPen);
        painter.setBrush(theme.saffron);
        painter.drawPolygon(QPolygonF{{at_ - 6, 0}, {at_ + 6, 0}, {at_ + 6, 5}, {at_, 12}, {at_ - 6, 5}});
    }
    if (lanes().empty()) paintHint(painter);
}

/// Over the line of the frame, so that it can be read at any.
void TimeLanes::paintHint(QPainter& painter) const {
    painter.setFont(Look::uiFont(11));
    constexpr int margin = 12;
    const QString hint =
        painter.fontMetrics().elidedText(noKeysWords(session_), Qt::ElideRight, width() - 2 * margin);
    const QRect row(margin, lane_px::ruler_height, painter.fontMetrics().horizontalAdvance(hint) + 8,
                    lane_px::lane_height);
    painter.fillRect(row, look_.theme().paper);
    painter.setPen(look_.theme().softInk);
    painter.drawText(row, Qt::AlignVCenter, hint);
}

void TimeLanes::paintRuler(QPainter& painter) const {
    const Ruler r = ruler();
    painter.setPen(QPen(look_.theme().softInk, 1));
    painter.drawLine(QPointF(r.left_px, lane_px::ruler_height - 6),
                     QPointF(r.right_px, lane_px::ruler_height - 6));
    const double step = r.label_step(frame_label_px);
    for (double f = std::ceil(r.first_frame / step) * step; f <= r.last_frame + 1e-9; f += step)
        painter.drawLine(QPointF(r.x_at(f), lane_px::ruler_height - 11),
                         QPointF(r.x_at(f), lane_px::ruler_height - 2));
}

/// Numbers of the ruler that lie in a part of it; the one behind the frame's flag is left out.
void TimeLanes::paintFrames(QPainter& painter, const QRect& where) const {
    const Ruler r = ruler();
    painter.setFont(Look::uiFont(11));
    painter.setPen(look_.theme().softInk);
    const double step = r.label_step(frame_label_px);
    for (double f = std::ceil(r.first_frame / step) * step; f <= r.last_frame + 1e-9; f += step) {
        const double x = r.x_at(f);
        const QRectF box(x - 30, 2, 60, 15);
        if (box.intersects(QRectF(where)) && std::abs(x - r.x_at(session_.frame())) > 9)
            painter.drawText(box, Qt::AlignCenter, QString::number(f));
    }
}

/// Keys on the frame that is shown stand out.
void TimeLanes::paintKeysHere(QPainter& painter) {
    const double x = ruler().x_at(session_.frame());
    if (x < ruler().left_px - 9 || x > ruler().right_px + 9) return;
    double middle = lane_px::ruler_height - lane_px::lane_height / 2.0;
    for (const Lane& lane : lanesShown()) {
        middle += lane_px::lane_height;
        const ChannelRef channel = lane.channels.front();
        const Track* track =
            lane.heads || session_.drivers().name(channel) ? nullptr : session_.clip().track(channel);
        const Key* key = track ? track->key_at(session_.frame()) : nullptr;
        if (!key || session_.keyPicks().has(channel, key->frame)) continue;
        painter.setPen(QPen(look_.theme().card, 1));
        painter.setBrush(look_.theme().saffron);
        paintKeyMark(painter, {x, middle}, key->interpolation, 5);
    }
}

/// Zoomed in, a line below the ruler tells which part of the clip is seen; what lies beyond the clip is
/// shaded.
void TimeLanes::paintReach(QPainter& painter) const {
    const Ruler r = ruler();
    if (shown_.isWhole()) return;
    const Theme& theme = look_.theme();
    const Clip& clip = session_.clip();
    QColor shade = theme.steel;
    shade.setAlphaF(0.18f);
    const double begins = std::clamp(r.x_at(clip.first_frame), r.left_px, r.right_px),
                 ends = std::clamp(r.x_at(clip.last_frame), r.left_px, r.right_px);
    painter.fillRect(QRectF(r.left_px, lane_px::ruler_height, begins - r.left_px, height()), shade);
    painter.fillRect(QRectF(ends, lane_px::ruler_height, r.right_px - ends, height()), shade);
    const double whole = clip.last_frame - clip.first_frame, wide = r.right_px - r.left_px;
    const auto place = [&](double frame) {
        return r.left_px + wide * std::clamp((frame - clip.first_frame) / whole, 0.0, 1.0);
    };
    painter.fillRect(QRectF(place(shown_.from()), lane_px::ruler_height - 4,
                            std::max(4.0, place(shown_.to()) - place(shown_.from())), 3),
                     theme.petrol);
}

void TimeLanes::paintMarkers(QPainter& painter) const {
    const Theme& theme = look_.theme();
    painter.setFont(Look::uiFont(10));
    for (const Marker& marker : session_.clip().markers) {
        const bool dragged = doing_ == Doing::Mark && marker.frame == gripped_;
        const double x = ruler().x_at(marker.frame + (dragged ? moved_ : 0));
        if (x < ruler().left_px - 1 || x > ruler().right_px + 1) continue;
        painter.setPen(QPen(theme.leaf, 1));
        painter.drawLine(QPointF(x, lane_px::ruler_height - 14), QPointF(x, height()));
        painter.setBrush(theme.leaf);
        painter.drawPolygon(QPolygonF{{x, lane_px::ruler_height - 14.0},
                                      {x + 8, lane_px::ruler_height - 10.0},
                                      {x, lane_px::ruler_height - 6.0}});
        painter.setPen(theme.ink);
        painter.drawText(QPointF(x + 10, lane_px::ruler_height - 7), QString::fromStdString(marker.name));
    }
}

/// The keys of all its channels, as ticks.
void TimeLanes::paintHead(QPainter& painter, double top, const Lane& lane) const {
    const Theme& theme = look_.theme();
    const double middle = top + lane_px::lane_height / 2.0;
    painter.setPen(Qt::NoPen);
    painter.setBrush(theme.ink);
    if (folded_.contains(lane.part))
        painter.drawPolygon(QPolygonF{{5, middle - 4}, {10, middle}, {5, middle + 4}});
    else
        painter.drawPolygon(QPolygonF{{3, middle - 2}, {11, middle - 2}, {7, middle + 3}});
    painter.setPen(theme.ink);
    painter.setFont(Look::uiFont(12, true));
    const QString name = QString::fromStdString(name_of(session_.shownDocument(), PartId{lane.part.value}));
    painter.drawText(QRectF(14, top, lane_px::label_width - 30, lane_px::lane_height), Qt::AlignVCenter,
                     painter.fontMetrics().elidedText(name, Qt::ElideMiddle, lane_px::label_width - 34));
    painter.setPen(QPen(theme.steel, 2));
    for (const ChannelRef channel : lane.channels)
        if (const Track* track = session_.clip().track(channel))
            for (const Key& key : track->keys)
                painter.drawLine(QPointF(ruler().x_at(key.frame), middle - 4),
                                 QPointF(ruler().x_at(key.frame), middle + 4));
}

void TimeLanes::paintLane(QPainter& painter, int row, const Lane& lane) {
    const Theme& theme = look_.theme();
    const double top = lane_px::ruler_height + row * lane_px::lane_height,
                 middle = top + lane_px::lane_height / 2.0;
    if (lane.heads) return paintHead(painter, top, lane);
    const ChannelRef channel = lane.channels.front();
    painter.setFont(Look::uiFont(12));
    painter.setPen(theme.ink);
    const QString name = QString::fromStdString(channel_name(session_.shownDocument(), channel));
    painter.drawText(QRectF(14, top, lane_px::label_width - 50, lane_px::lane_height), Qt::AlignVCenter,
                     painter.fontMetrics().elidedText(name, Qt::ElideMiddle, lane_px::label_width - 54));
    paintMark(painter, QPointF(lane_px::label_width - 30, middle), channelMark(session_, channel), theme);
    painter.save();
    // Zoomed in, keys end where the names begin.
    painter.setClipRect(
        QRectF(ruler().left_px - 9, top, ruler().right_px - ruler().left_px + 18, lane_px::lane_height));
    if (session_.drivers().name(channel))
        paintDriven(painter, channel, middle);
    else if (const Track* track = session_.clip().track(channel))
        paintKeys(painter, *track, middle);
    painter.restore();
}

/// A bar where it moves, a thin line where it stands; what lies beyond the keys dashed.
void TimeLanes::paintBars(QPainter& painter, const Track& track, double y) const {
    const Theme& theme = look_.theme();
    const Ruler r = ruler();
    QColor band = theme.petrolLight;
    band.setAlphaF(0.45f);
    for (std::size_t i = 0; i + 1 < track.keys.size(); ++i) {
        const Key &a = track.keys[i], &b = track.keys[i + 1];
        const bool both = session_.keyPicks().has(track.channel, a.frame) &&
                          session_.keyPicks().has(track.channel, b.frame);
        painter.setPen(
            QPen(both ? theme.saffron : band, a.value == b.value ? 2 : 7, Qt::SolidLine, Qt::FlatCap));
        painter.drawLine(QPointF(r.x_at(stretched(a.frame + (both ? moved_ : 0))), y),
                         QPointF(r.x_at(stretched(b.frame + (both ? moved_ : 0))), y));
    }
    painter.setPen(QPen(band, 2, Qt::DashLine));
    if (!track.keys.empty() && track.before != Beyond::Hold)
        painter.drawLine(QPointF(r.left_px, y), QPointF(r.x_at(track.keys.front().frame), y));
    if (!track.keys.empty() && track.after != Beyond::Hold)
        painter.drawLine(QPointF(r.x_at(track.keys.back().frame), y), QPointF(r.right_px, y));
}

void TimeLanes::paintKeys(QPainter& painter, const Track& track, double y) const {
    const Theme& theme = look_.theme();
    const Ruler r = ruler();
    paintBars(painter, track, y);
    for (const Key& key : track.keys) {
        const bool picked = session_.keyPicks().has(track.channel, key.frame);
        painter.setPen(picked ? QPen(theme.raspberry, 1.6) : QPen(theme.card, 1));
        painter.setBrush(picked ? theme.saffron : theme.petrolLight);
        const double frame = picked ? stretched(key.frame + (doing_ == Doing::Keys ? moved_ : 0)) : key.frame;
        paintKeyMark(painter, {r.x_at(frame), y}, key.interpolation, 5);
    }
}

constexpr int run_samples = 96;

const std::vector<double>& TimeLanes::runOf(ChannelRef channel) {
    const auto [known, added] = runs_.try_emplace(channel);
    std::vector<double>& values = known->second;
    const auto slot = session_.evaluator().channel_slot(channel);
    if (!added || !slot) return values;
    const Clip& clip = session_.clip();
    Pose pose = session_.evaluator().make_pose();
    for (int i = 0; i <= run_samples; ++i) {
        session_.evaluator().evaluate(
            clip.first_frame + (clip.last_frame - clip.first_frame) * i / run_samples, pose);
        values.push_back(pose.channels[*slot]);
    }
    return values;
}

/// The run of a driven channel over the clip, scaled to its lane.
void TimeLanes::paintDriven(QPainter& painter, ChannelRef channel, double y) {
    const std::vector<double>& values = runOf(channel);
    if (values.empty()) return;
    const Ruler r = ruler();
    const Clip& clip = session_.clip();
    const auto [low, high] = std::minmax_element(values.begin(), values.end());
    const double span = std::max(*high - *low, 1e-9);
    QPolygonF line;
    for (int i = 0; i <= run_samples; ++i)
        line << QPointF(r.x_at(clip.first_frame + (clip.last_frame - clip.first_frame) * i / run_samples),
                        y + 8 - 16 * (values[static_cast<std::size_t>(i)] - *low) / span);
    painter.setPen(QPen(look_.theme().steel, 1.6));
    painter.setBrush(Qt::NoBrush);
    painter.drawPolyline(line);
}

void TimeLanes::scrub(double x) {
    const Clip& clip = session_.clip();
    session_.setFrame(std::clamp(std::round(ruler().frame_at(x)), clip.first_frame, clip.last_frame));
}

}  // namespace pivrak
