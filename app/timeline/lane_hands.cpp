// What mouse and keys do on the lanes of the time strip.
#include <QKeyEvent>
#include <QMouseEvent>
#include <algorithm>
#include <cmath>

#include "app/timeline/lane_metrics.h"
#include "app/timeline/time_lanes.h"

namespace pivrak {

namespace {

constexpr double lane_grip_px = 7;

}  // namespace

int TimeLanes::laneCount() const {
    return std::max(0, (height() - lane_px::ruler_height) / lane_px::lane_height);
}

QPointF TimeLanes::placeOf(ChannelRef channel, double frame) {
    const auto& all = lanes();
    const auto at = std::ranges::find_if(
        all, [&](const Lane& lane) { return !lane.heads && lane.channels.front() == channel; });
    const auto row = at - all.begin() - first_row_;
    if (at == all.end() || row < 0 || row >= laneCount()) return {};
    return {ruler().x_at(frame),
            lane_px::ruler_height + (static_cast<double>(row) + 0.5) * lane_px::lane_height};
}

QPointF TimeLanes::foldOf(PartId part) {
    const auto& all = lanes();
    const auto at =
        std::ranges::find_if(all, [&](const Lane& lane) { return lane.heads && lane.part == OwnerId(part); });
    const auto row = at - all.begin() - first_row_;
    if (at == all.end() || row < 0 || row >= laneCount()) return {};
    return {7, lane_px::ruler_height + (static_cast<double>(row) + 0.5) * lane_px::lane_height};
}

std::optional<std::size_t> TimeLanes::laneAt(const QPointF& place) {
    const int row = static_cast<int>(std::floor((place.y() - lane_px::ruler_height) / lane_px::lane_height));
    if (row < 0 || row >= laneCount() || static_cast<std::size_t>(first_row_ + row) >= lanes().size())
        return std::nullopt;
    return static_cast<std::size_t>(first_row_ + row);
}

/// Driven channels show how they run, no keys.
std::optional<TimeLanes::LaneKey> TimeLanes::keyAt(const QPointF& place) {
    const auto lane = laneAt(place);
    if (!lane || place.x() < ruler().left_px - lane_grip_px) return std::nullopt;
    std::optional<LaneKey> nearest;
    double least = lane_grip_px;
    for (const ChannelRef channel : lanes()[*lane].channels) {
        const Track* track = session_.clip().track(channel);
        if (!track || session_.drivers().name(channel)) continue;
        for (const Key& key : track->keys)
            if (const double far = std::abs(ruler().x_at(key.frame) - place.x()); far < least)
                least = far, nearest = LaneKey{channel, key.frame};
    }
    return nearest;
}

std::optional<std::pair<TimeLanes::LaneKey, double>> TimeLanes::barAt(const QPointF& place) {
    const auto lane = laneAt(place);
    if (!lane || lanes()[*lane].heads || place.x() < ruler().left_px) return std::nullopt;
    const ChannelRef channel = lanes()[*lane].channels.front();
    const Track* track = session_.clip().track(channel);
    if (!track || session_.drivers().name(channel)) return std::nullopt;
    const double frame = ruler().frame_at(place.x());
    for (std::size_t i = 0; i + 1 < track->keys.size(); ++i)
        if (const Key& a = track->keys[i], &b = track->keys[i + 1];
            a.frame < frame && frame < b.frame && a.value != b.value)
            return std::pair(LaneKey{channel, a.frame}, b.frame);
    return std::nullopt;
}

std::optional<double> TimeLanes::markerAt(const QPointF& place) const {
    if (place.y() > lane_px::ruler_height || place.y() < lane_px::ruler_height - 16) return std::nullopt;
    for (const Marker& marker : session_.clip().markers)
        if (const double off = place.x() - ruler().x_at(marker.frame); off > -3 && off < 10)
            return marker.frame;
    return std::nullopt;
}

void TimeLanes::fold(const Lane& lane) {
    if (!folded_.erase(lane.part)) folded_.insert(lane.part);
    lanes_.reset();
    refresh();
}

/// Where a frame of the picked keys would be.
double TimeLanes::stretched(double frame) const {
    if (doing_ != Doing::Stretch || gripped_ == about_) return frame;
    return about_ + (frame - about_) * (gripped_ + moved_ - about_) / (gripped_ - about_);
}

void TimeLanes::dropStretched() {
    const double times = (gripped_ + moved_ - about_) / (gripped_ - about_);
    moved_ = 0;
    session_.run({{"op", "key.scale"},
                  {"keys", session_.keyPicks().argument()},
                  {"clip", session_.clip().name},
                  {"times", times},
                  {"about", about_}});
    session_.keyPicks().set({});
}

void TimeLanes::dropMarker() {
    session_.run({{"op", "marker.set"},
                  {"clip", session_.clip().name},
                  {"frame", gripped_},
                  {"to_frame", gripped_ + std::exchange(moved_, 0)}});
}

/// On a key, or a bar between two: these are what is dragged.
bool TimeLanes::pressKey(const QMouseEvent& event) {
    if (session_.previewed()) return false;
    const bool adds = event.modifiers() & Qt::ShiftModifier;
    KeyPicks& picks = session_.keyPicks();
    const auto key = keyAt(event.position());
    const auto bar = key || adds ? std::nullopt : barAt(event.position());
    if (!key && !bar) return false;
    doing_ = Doing::Keys;
    if (bar) {
        const auto& [first, last] = *bar;
        if (!picks.has(first.channel, first.frame) || !picks.has(first.channel, last))
            picks.set({{first.channel, {first.frame, last}}});
        return true;
    }
    const bool known = picks.has(key->channel, key->frame);
    if (!known && !adds) picks.set({});
    if (!known) picks.add(key->channel, key->frame);
    if (!(event.modifiers() & Qt::AltModifier)) return true;
    double low = key->frame, high = key->frame;
    for (const auto& [channel, frames] : picks.frames()) {
        low = std::min(low, *frames.begin());
        high = std::max(high, *frames.rbegin());
    }
    if (low == high) return true;
    doing_ = Doing::Stretch;
    gripped_ = key->frame;
    about_ = key->frame - low < high - key->frame ? high : low;
    return true;
}

void TimeLanes::mousePressEvent(QMouseEvent* event) {
    pressed_ = last_ = event->position();
    moved_ = 0;
    if (event->button() == Qt::MiddleButton) doing_ = Doing::Pan;
    if (event->button() != Qt::LeftButton) return;
    const bool adds = event->modifiers() & Qt::ShiftModifier;
    if (const auto marker = markerAt(event->position())) {
        doing_ = Doing::Mark;
        gripped_ = *marker;
        return;
    }
    const auto lane = laneAt(event->position());
    if (lane && lanes()[*lane].heads && event->position().x() < lane_px::label_width - 12)
        return fold(lanes()[*lane]);
    if (pressKey(*event)) return;
    if (adds && event->position().y() > lane_px::ruler_height) {
        doing_ = Doing::Box;
        return;
    }
    session_.keyPicks().set({});
    if (event->position().x() <= lane_px::label_width - 12) return;
    doing_ = Doing::Scrub;
    scrub(event->position().x());
}

void TimeLanes::mouseMoveEvent(QMouseEvent* event) {
    const double run = event->position().x() - last_.x();
    last_ = event->position();
    if (doing_ == Doing::Pan) {
        shown_.pan(-run / ruler().pixels_per_frame());
        return refresh();
    }
    if (doing_ == Doing::Scrub) return scrub(event->position().x());
    if (doing_ != Doing::Box)
        moved_ = std::round((event->position().x() - pressed_.x()) / ruler().pixels_per_frame());
    if (doing_ != Doing::Nothing) refresh();
}

void TimeLanes::mouseReleaseEvent(QMouseEvent* event) {
    const Doing done = std::exchange(doing_, Doing::Nothing);
    if (done == Doing::Keys) {
        if (moved_ != 0)
            dropMoved(event->modifiers() & Qt::ControlModifier);
        else if (const auto key = keyAt(event->position()))
            session_.setFrame(key->frame);  // a click goes there, as it does anywhere else
        else {
            // On a bar, without a move: as anywhere else.
            session_.keyPicks().set({});
            scrub(event->position().x());
        }
    }
    if (done == Doing::Stretch && moved_ != 0) dropStretched();
    if (done == Doing::Mark) moved_ != 0 ? dropMarker() : session_.setFrame(gripped_);
    if (done == Doing::Box) pickBox(QRectF(pressed_, event->position()).normalized());
    refresh();
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
    for (const ChannelRef channel : channelsShown())
        if (const Track* track = session_.clip().track(channel); track && !session_.drivers().name(channel))
            for (const Key& key : track->keys)
                if (const QPointF at = placeOf(channel, key.frame); !at.isNull() && box.contains(at))
                    picked[channel].insert(key.frame);
    session_.keyPicks().set(std::move(picked));
}

void TimeLanes::wheelEvent(QWheelEvent* event) {
    const double notches = (event->angleDelta().y() + event->angleDelta().x()) / 120.0;
    const Ruler r = ruler();
    if (event->modifiers() & Qt::ControlModifier) {
        shown_.zoom(std::pow(1.25, notches), r.frame_at(event->position().x()));
        return refresh();
    }
    if (event->modifiers() & Qt::ShiftModifier) {
        shown_.pan(-notches * 0.1 * (r.last_frame - r.first_frame));
        return refresh();
    }
    const int most = std::max(0, static_cast<int>(lanes().size()) - laneCount());
    first_row_ = std::clamp(first_row_ + (event->angleDelta().y() < 0 ? 1 : -1), 0, most);
    refresh();
}

void TimeLanes::mouseDoubleClickEvent(QMouseEvent* event) {
    if (event->position().y() > lane_px::ruler_height) return mousePressEvent(event);
    shown_.showAll();
    refresh();
}

bool TimeLanes::event(QEvent* event) {
    // Delete here means keys, not the picked parts.
    if (event->type() == QEvent::ShortcutOverride) {
        const auto* key = static_cast<QKeyEvent*>(event);
        const bool of_picks = key->key() == Qt::Key_Delete || key->matches(QKeySequence::Copy);
        if ((of_picks && !session_.keyPicks().empty()) ||
            (key->matches(QKeySequence::Paste) && !copied_.is_null()))
            event->accept();
    }
    return QWidget::event(event);
}

void TimeLanes::keyPressEvent(QKeyEvent* event) {
    KeyPicks& picks = session_.keyPicks();
    if (event->matches(QKeySequence::Copy) && !picks.empty()) {
        copied_ = picks.argument();
        return;
    }
    if (event->matches(QKeySequence::Paste) && !copied_.is_null()) {
        session_.run({{"op", "key.copy"},
                      {"keys", copied_},
                      {"clip", session_.clip().name},
                      {"to_frame", session_.frame()}});
        return;
    }
    if (event->key() == Qt::Key_Escape && doing_ != Doing::Nothing) {
        doing_ = Doing::Nothing;
        moved_ = 0;
        return refresh();
    }
    if (event->key() != Qt::Key_Delete || session_.keyPicks().empty()) return QWidget::keyPressEvent(event);
    session_.run(
        {{"op", "key.drop"}, {"keys", session_.keyPicks().argument()}, {"clip", session_.clip().name}});
}

}  // namespace pivrak
