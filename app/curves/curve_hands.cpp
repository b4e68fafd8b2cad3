// What mouse and keys do on the curve sheet.
#include <QKeyEvent>
#include <QMouseEvent>
#include <algorithm>
#include <cmath>

#include "app/curves/curve_metrics.h"
#include "app/curves/curve_sheet.h"
#include "core/io/project/project_json.h"

namespace pivrak {

using nlohmann::json;
void CurveSheet::mousePressEvent(QMouseEvent* event) {
    pressed_ = last_place_ = event->position();
    moved_frames_ = moved_value_ = 0;
    doing_ = Doing::Nothing;
    if (event->button() == Qt::MiddleButton || event->button() == Qt::RightButton) {
        doing_ = Doing::Pan;
        return;
    }
    if (event->button() != Qt::LeftButton || session_.previewed()) return;
    if (event->position().y() > footY()) {
        doing_ = Doing::Scrub;
        session_.setFrame(std::round(ruler().frame_at(event->position().x())));
        return;
    }
    if (const auto handle = handleAt(event->position())) {
        doing_ = Doing::Handle;
        gripped_ = handle->key;
        gripped_out_ = handle->out;
        return;
    }
    const bool adds = event->modifiers() & Qt::ShiftModifier;
    if (event->modifiers() & Qt::AltModifier) {
        doing_ = Doing::Lasso;
        lasso_ = QPolygonF({event->position()});
        return;
    }
    gripped_ = keyAt(event->position());
    if (!gripped_) {
        doing_ = Doing::Box;
        return;
    }
    doing_ = Doing::Keys;
    KeyPicks& picks = session_.keyPicks();
    if (!picks.has(gripped_->channel, gripped_->frame)) {
        if (!adds) picks.set({});
        picks.add(gripped_->channel, gripped_->frame);
    }
    paintAnew();
}

void CurveSheet::mouseMoveEvent(QMouseEvent* event) {
    const QPointF before = std::exchange(last_place_, event->position());
    switch (doing_) {
        case Doing::Nothing:
            setCursor(handleAt(event->position()) || keyAt(event->position()) ? Qt::PointingHandCursor
                                                                              : Qt::ArrowCursor);
            return;
        case Doing::Keys:
            return dragKeys(event->position(), event->modifiers());
        case Doing::Handle:
            return dragHandle(event->position());
        case Doing::Pan: {
            const double frames = (before.x() - event->position().x()) / ruler().pixels_per_frame();
            first_ += frames;
            last_ += frames;
            fitted_ = false;
            return paintAnew();
        }
        case Doing::Scrub:
            return session_.setFrame(std::round(ruler().frame_at(event->position().x())));
        case Doing::Lasso:
            lasso_ << event->position();
            return update();
        case Doing::Box:
            return update();
    }
}

namespace {

/// Some keys of a track moved; what they come to stand on goes.
Track moved(Track track, const std::set<double>& picked, double frames, double value) {
    std::vector<Key> those;
    std::erase_if(track.keys, [&](const Key& key) {
        if (!picked.contains(key.frame)) return false;
        those.push_back(key);
        return true;
    });
    for (Key& key : those) {
        key.frame += frames;
        key.value += value;
        std::erase_if(track.keys, [&](const Key& other) { return other.frame == key.frame; });
        track.keys.push_back(key);
    }
    std::ranges::sort(track.keys, {}, &Key::frame);
    return track;
}

/// The nearest of some numbers, if it is near enough.
double caught(double at, double reach, const std::vector<double>& on) {
    const auto nearest = std::ranges::min_element(on, {}, [at](double one) { return std::abs(one - at); });
    return nearest != on.end() && std::abs(*nearest - at) < reach ? *nearest : at;
}

}  // namespace

double CurveSheet::caughtFrame(double frame) const {
    std::vector<double> frames;
    for (const ChannelRef channel : channels_)
        for (const Key& key : asItWas(channel).track.keys)
            if (!session_.keyPicks().has(channel, key.frame)) frames.push_back(key.frame);
    return caught(frame, curve_px::catches / ruler().pixels_per_frame(), frames);
}

/// Of its own channel, and nothing.
double CurveSheet::caughtValue(double value) const {
    const ChannelRef channel = gripped_->channel;
    const Track& was = asItWas(channel).track;
    std::vector<double> values{0};
    for (const Key& key : was.keys)
        if (!session_.keyPicks().has(channel, key.frame)) values.push_back(key.value);
    return caught(value, std::abs(valueAt(channel, 0) - valueAt(channel, curve_px::catches)), values);
}

/// In whole frames, onto frames and values of other keys when they are near, but for Ctrl; values only while
/// keys of one channel are picked.
void CurveSheet::dragKeys(const QPointF& to, Qt::KeyboardModifiers keys) {
    const QPointF way = to - pressed_;
    const bool is_free = keys & Qt::ControlModifier;
    double frames = way.x() / ruler().pixels_per_frame();
    const double at = gripped_->frame + frames;
    if (!is_free) {
        const double on = caughtFrame(at);
        frames = on != at ? on - gripped_->frame : std::round(frames);
    }
    double value = 0;
    if (session_.keyPicks().frames().size() == 1) {
        const Key was = *asItWas(gripped_->channel).track.key_at(gripped_->frame);
        value = valueAt(gripped_->channel, to.y()) - valueAt(gripped_->channel, pressed_.y());
        if (!is_free) value = caughtValue(was.value + value) - was.value;
    }
    if (keys & Qt::ShiftModifier) (std::abs(way.x()) > std::abs(way.y()) ? value : frames) = 0;
    if (way.manhattanLength() < 3) frames = value = 0;
    for (const auto& [channel, picked] : session_.keyPicks().frames())
        shape(moved(asItWas(channel).track, picked, frames, value));
    moved_frames_ = frames;
    moved_value_ = value;
    update();
}

void CurveSheet::dragHandle(const QPointF& to) {
    const CompiledTrack was = asItWas(gripped_->channel);
    Track changed = was.track;
    Key& key = *const_cast<Key*>(changed.key_at(gripped_->frame));
    const auto i = static_cast<std::size_t>(&key - changed.keys.data());
    const double beside = changed.keys[gripped_out_ ? i + 1 : i - 1].frame, span = beside - key.frame;
    const double way = ruler().frame_at(to.x()) - key.frame;
    const double weight = std::clamp(way / span, 0.02, 1.0);
    const double slope = (valueAt(gripped_->channel, to.y()) - key.value) / (weight * span);
    const CurveKey& now = was.curve[i];
    if (!key.out) key.out = Handle{now.out, now.weight_out};
    if (gripped_out_) {
        const bool joined = !key.in || std::abs(key.in->slope - key.out->slope) < 1e-12;
        if (joined && key.in) key.in->slope = slope;
        key.out = Handle{slope, weight};
    } else {
        const bool joined = !key.in || std::abs(key.in->slope - key.out->slope) < 1e-12;
        key.in = Handle{slope, weight};
        if (joined) key.out->slope = slope;
    }
    shape(changed);
    update();
}

void CurveSheet::mouseReleaseEvent(QMouseEvent* event) {
    const Doing done = std::exchange(doing_, Doing::Nothing);
    const bool adds = event->modifiers() & Qt::ShiftModifier;
    if (done == Doing::Keys) finishKeys();
    if (done == Doing::Handle) finishHandle();
    if (done == Doing::Box) pickInside(QRectF(pressed_, event->position()).normalized(), adds);
    if (done == Doing::Lasso) pickInside(std::exchange(lasso_, {}), adds);
    paintAnew();
}

void CurveSheet::finishKeys() {
    if (moved_frames_ == 0 && moved_value_ == 0) return refresh();
    KeyPicks& picks = session_.keyPicks();
    json step{{"op", "key.move"},
              {"keys", picks.argument()},
              {"clip", session_.clip().name},
              {"frames", moved_frames_}};
    if (moved_value_ != 0) step["value"] = moved_value_;
    // They stay picked where they are now.
    const KeyPicks::Frames before = picks.frames();
    picks.move(moved_frames_);
    if (!session_.run(step)) picks.set(before);
    refresh();
}

void CurveSheet::finishHandle() {
    const Track* shown = track(gripped_->channel);
    const Key* key = shown ? shown->key_at(gripped_->frame) : nullptr;
    if (!key || !key->out || !before_.contains(gripped_->channel)) return;
    const double rate = frame_rate_of(session_.document(), session_.clip());
    json step{{"op", "key.shape"},
              {"keys",
               {{{"of", gripped_->channel.owner.value},
                 {"channel", word(gripped_->channel.kind)},
                 {"frames", {gripped_->frame}}}}},
              {"clip", session_.clip().name},
              {"slope", key->out->slope * rate},
              {"weight", std::min(key->out->weight, 1.0)}};
    if (key->in) {
        step["slope_in"] = key->in->slope * rate;
        step["weight_in"] = std::min(key->in->weight, 1.0);
    }
    session_.run(step);
    refresh();
}

void CurveSheet::pickInside(const QPolygonF& outline, bool adds) {
    KeyPicks::Frames picked = adds ? session_.keyPicks().frames() : KeyPicks::Frames();
    const Ruler r = ruler();
    for (const ChannelRef channel : channels_)
        for (const Key& key : track(channel)->keys)
            if (outline.containsPoint({r.x_at(key.frame), y(channel, key.value)}, Qt::OddEvenFill))
                picked[channel].insert(key.frame);
    session_.keyPicks().set(std::move(picked));
}

void CurveSheet::mouseDoubleClickEvent(QMouseEvent* event) {
    doing_ = Doing::Nothing;
    if (event->button() != Qt::LeftButton || keyAt(event->position()) || session_.previewed()) return;
    const double frame = std::round(ruler().frame_at(event->position().x()));
    std::optional<ChannelRef> on;
    double least = 2 * curve_px::grip;
    for (const ChannelRef channel : channels_) {
        const double value = compiled(channel)->at(ruler().frame_at(event->position().x()));
        if (const double far = std::abs(y(channel, value) - event->position().y()); far < least)
            least = far, on = channel;
    }
    if (!on) return;
    session_.run({{"op", "key.insert"},
                  {is_of_part(on->kind) ? "parts" : "elements", {on->owner.value}},
                  {"channel", word(on->kind)},
                  {"clip", session_.clip().name},
                  {"frame", frame}});
    refresh();
    session_.keyPicks().set({{*on, {frame}}});
}

void CurveSheet::wheelEvent(QWheelEvent* event) {
    const double at = ruler().frame_at(event->position().x());
    const double by =
        std::clamp((last_ - first_) * std::pow(0.9985, event->angleDelta().y()), 2.0, 1e6) / (last_ - first_);
    first_ = at + (first_ - at) * by;
    last_ = at + (last_ - at) * by;
    fitted_ = false;
    paintAnew();
}

bool CurveSheet::event(QEvent* event) {
    // Delete here means keys, not the picked parts.
    if (event->type() == QEvent::ShortcutOverride && static_cast<QKeyEvent*>(event)->key() == Qt::Key_Delete)
        event->accept();
    return QWidget::event(event);
}

void CurveSheet::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Escape && hasInHand()) {
        doing_ = Doing::Nothing;
        refresh();
        return;
    }
    if (event->key() != Qt::Key_Delete) return QWidget::keyPressEvent(event);
    if (session_.keyPicks().empty()) return;
    session_.run(
        {{"op", "key.drop"}, {"keys", session_.keyPicks().argument()}, {"clip", session_.clip().name}});
    refresh();
}

}  // namespace pivrak
