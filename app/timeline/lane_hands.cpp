// What mouse and keys do on the lanes of the time strip.
#include <QKeyEvent>
#include <QMouseEvent>
#include <algorithm>
#include <cmath>

#include "app/timeline/lane_metrics.h"
#include "app/timeline/time_strip.h"

namespace pivrak {

namespace {

constexpr double lane_grip_px = 7;

}  // namespace

int TimeLanes::laneCount() const {
    return std::max(0, (height() - lane_px::ruler_height) / lane_px::lane_height);
}

QPointF TimeLanes::placeOf(ChannelRef channel, double frame) const {
    const auto all = lanes();
    const auto row = std::find(all.begin(), all.end(), channel) - all.begin();
    if (row >= std::min<std::ptrdiff_t>(laneCount(), static_cast<std::ptrdiff_t>(all.size()))) return {};
    return {ruler().x_at(frame),
            lane_px::ruler_height + (static_cast<double>(row) + 0.5) * lane_px::lane_height};
}

/// Driven channels show how they run, no keys.
std::optional<TimeLanes::LaneKey> TimeLanes::keyAt(const QPointF& place) const {
    const auto all = lanes();
    const int row = static_cast<int>(std::floor((place.y() - lane_px::ruler_height) / lane_px::lane_height));
    if (row < 0 || row >= laneCount() || static_cast<std::size_t>(row) >= all.size()) return std::nullopt;
    const ChannelRef channel = all[static_cast<std::size_t>(row)];
    const Track* track = session_.clip().track(channel);
    if (!track || session_.drivers().name(channel)) return std::nullopt;
    std::optional<LaneKey> nearest;
    double least = lane_grip_px;
    for (const Key& key : track->keys)
        if (const double far = std::abs(ruler().x_at(key.frame) - place.x()); far < least)
            least = far, nearest = LaneKey{channel, key.frame};
    return nearest;
}

void TimeLanes::mousePressEvent(QMouseEvent* event) {
    if (event->button() != Qt::LeftButton) return;
    pressed_ = last_ = event->position();
    moved_ = 0;
    const bool adds = event->modifiers() & Qt::ShiftModifier;
    KeyPicks& picks = session_.keyPicks();
    if (const auto key = session_.previewed() ? std::nullopt : keyAt(event->position())) {
        doing_ = Doing::Keys;
        if (picks.has(key->channel, key->frame)) return;
        if (!adds) picks.set({});
        return picks.add(key->channel, key->frame);
    }
    if (adds && event->position().y() > lane_px::ruler_height) {
        doing_ = Doing::Box;
        return;
    }
    picks.set({});
    if (event->position().x() <= lane_px::label_width - 12) return;
    doing_ = Doing::Scrub;
    scrub(event->position().x());
}

void TimeLanes::mouseMoveEvent(QMouseEvent* event) {
    last_ = event->position();
    if (doing_ == Doing::Scrub) return scrub(event->position().x());
    if (doing_ == Doing::Keys)
        moved_ = std::round((event->position().x() - pressed_.x()) / ruler().pixels_per_frame());
    if (doing_ != Doing::Nothing) update();
}

void TimeLanes::mouseReleaseEvent(QMouseEvent* event) {
    const Doing done = std::exchange(doing_, Doing::Nothing);
    if (done == Doing::Keys) {
        if (moved_ != 0)
            dropMoved(event->modifiers() & Qt::ControlModifier);
        else if (const auto key = keyAt(event->position()))
            session_.setFrame(key->frame);  // a click goes there, as it does anywhere else
    }
    if (done == Doing::Box) pickBox(QRectF(pressed_, event->position()).normalized());
    update();
}

void TimeLanes::dropMoved(bool ripples) {
    KeyPicks& picks = session_.keyPicks();
    nlohmann::json step{{"op", "key.move"},
                        {"keys", picks.argument()},
                        {"clip", session_.clip().name},
                        {"frames", std::exchange(moved_, 0)}};
    if (ripples) step["ripple"] = true;
    const KeyPicks::Frames before = picks.frames();
    picks.move(step["frames"].get<double>());
    if (!session_.run(step)) picks.set(before);
}

void TimeLanes::pickBox(const QRectF& box) {
    KeyPicks::Frames picked = session_.keyPicks().frames();
    for (const ChannelRef channel : lanes())
        if (const Track* track = session_.clip().track(channel); track && !session_.drivers().name(channel))
            for (const Key& key : track->keys)
                if (const QPointF at = placeOf(channel, key.frame); !at.isNull() && box.contains(at))
                    picked[channel].insert(key.frame);
    session_.keyPicks().set(std::move(picked));
}

bool TimeLanes::event(QEvent* event) {
    // Delete here means keys, not the picked parts.
    const bool takes = event->type() == QEvent::ShortcutOverride && !session_.keyPicks().empty() &&
                       static_cast<QKeyEvent*>(event)->key() == Qt::Key_Delete;
    if (takes) event->accept();
    return QWidget::event(event);
}

void TimeLanes::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Escape && doing_ != Doing::Nothing) {
        doing_ = Doing::Nothing;
        moved_ = 0;
        return update();
    }
    if (event->key() != Qt::Key_Delete || session_.keyPicks().empty()) return QWidget::keyPressEvent(event);
    session_.run(
        {{"op", "key.drop"}, {"keys", session_.keyPicks().argument()}, {"clip", session_.clip().name}});
}

}  // namespace pivrak
