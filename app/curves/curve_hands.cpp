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
    update();
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
            return update();
        }
        case Doing::Scrub:
            return session_.setFrame(std::round(ruler().frame_at(event->position().x())));
        case Doing::Box:
            return update();
    }
}

/// In whole frames, but for Ctrl; values only while keys of one channel are picked.
void CurveSheet::dragKeys(const QPointF& to, Qt::KeyboardModifiers keys) {
    const QPointF way = to - pressed_;
    double frames = way.x() / ruler().pixels_per_frame();
    if (!(keys & Qt::ControlModifier)) frames = std::round(frames);
    double value = session_.keyPicks().frames().size() == 1
                       ? valueAt(gripped_->channel, to.y()) - valueAt(gripped_->channel, pressed_.y())
                       : 0;
    if (keys & Qt::ShiftModifier) (std::abs(way.x()) > std::abs(way.y()) ? value : frames) = 0;
    if (way.manhattanLength() < 3) frames = value = 0;
    clip_ = before_;
    for (const auto& [channel, picked] : session_.keyPicks().frames()) {
        Track& changed = clip_.track_or_new(channel);
        std::vector<Key> moved;
        std::erase_if(changed.keys, [&, &own = picked](const Key& key) {
            if (!own.contains(key.frame)) return false;
            moved.push_back(key);
            return true;
        });
        for (Key& key : moved) {
            key.frame += frames;
            key.value += value;
            std::erase_if(changed.keys, [&](const Key& other) { return other.frame == key.frame; });
            changed.keys.push_back(key);
        }
        std::ranges::sort(changed.keys, {}, &Key::frame);
    }
    moved_frames_ = frames;
    moved_value_ = value;
    update();
}

void CurveSheet::dragHandle(const QPointF& to) {
    clip_ = before_;
    Track& changed = clip_.track_or_new(gripped_->channel);
    Key& key = *const_cast<Key*>(changed.key_at(gripped_->frame));
    const auto i = static_cast<std::size_t>(&key - changed.keys.data());
    const double beside = changed.keys[gripped_out_ ? i + 1 : i - 1].frame, span = beside - key.frame;
    const double way = ruler().frame_at(to.x()) - key.frame;
    const double weight = std::clamp(way / span, 0.02, 1.0);
    const double slope = (valueAt(gripped_->channel, to.y()) - key.value) / (weight * span);
    const CurveKey now = compile_curve(before_.track(gripped_->channel)->keys)[i];
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
    update();
}

void CurveSheet::mouseReleaseEvent(QMouseEvent* event) {
    const Doing done = std::exchange(doing_, Doing::Nothing);
    if (done == Doing::Keys) finishKeys();
    if (done == Doing::Handle) finishHandle();
    if (done == Doing::Box)
        pickBox(QRectF(pressed_, event->position()).normalized(), event->modifiers() & Qt::ShiftModifier);
    update();
}

void CurveSheet::finishKeys() {
    if (moved_frames_ == 0 && moved_value_ == 0) {
        clip_ = before_;
        return;
    }
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
    const Track* shown = clip_.track(gripped_->channel);
    const Key* key = shown ? shown->key_at(gripped_->frame) : nullptr;
    if (!key || !key->out || clip_ == before_) return;
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

void CurveSheet::pickBox(const QRectF& box, bool adds) {
    KeyPicks::Frames picked = adds ? session_.keyPicks().frames() : KeyPicks::Frames();
    for (const ChannelRef channel : channels_)
        for (const Key& key : track(channel)->keys)
            if (box.contains(placeOf(channel, key.frame))) picked[channel].insert(key.frame);
    session_.keyPicks().set(std::move(picked));
}

void CurveSheet::mouseDoubleClickEvent(QMouseEvent* event) {
    doing_ = Doing::Nothing;
    if (event->button() != Qt::LeftButton || keyAt(event->position()) || session_.previewed()) return;
    const double frame = std::round(ruler().frame_at(event->position().x()));
    std::optional<ChannelRef> on;
    double least = 2 * curve_px::grip;
    for (const ChannelRef channel : channels_) {
        const Track& its = *track(channel);
        const double value = sample_curve(compile_curve(its.keys, its.before, its.after), its.before,
                                          its.after, ruler().frame_at(event->position().x()));
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
    update();
}

bool CurveSheet::event(QEvent* event) {
    // Delete here means keys, not the picked parts.
    if (event->type() == QEvent::ShortcutOverride && static_cast<QKeyEvent*>(event)->key() == Qt::Key_Delete)
        event->accept();
    return QWidget::event(event);
}

void CurveSheet::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Escape && (doing_ == Doing::Keys || doing_ == Doing::Handle)) {
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
