#include "app/view/trail_hand.h"

#include <algorithm>
#include <cmath>

#include "app/view/points.h"

namespace pivrak {
namespace {

constexpr double trail_grip_px = 9;

/// What part of it is in front of the eye, in runs.
std::vector<QPolygonF> seenRuns(const Camera& camera, const std::vector<Vec3>& places) {
    std::vector<QPolygonF> runs(1);
    for (const Vec3& place : places) {
        const Vec3 seen = camera.project(place);
        if (seen.z() > 0)
            runs.back() << point(seen);
        else if (!runs.back().isEmpty())
            runs.emplace_back();
    }
    return runs;
}

}  // namespace

TrailHand::TrailHand(Session& session, const Camera& camera, QObject* parent)
    : QObject(parent), session_(session), camera_(camera) {}

const PlaceCourse* TrailHand::course() const {
    const Seeing& seeing = session_.seeing();
    if (!seeing.path || !seeing.course || seeing.of != session_.primary() || session_.previewed())
        return nullptr;
    return seeing.course->places.size() > 1 ? seeing.course.get() : nullptr;
}

QPointF TrailHand::placeOf(double frame) const {
    const PlaceCourse* way = course();
    if (!way) return {};
    const auto at = std::ranges::find(way->frames, frame);
    return at == way->frames.end()
               ? QPointF()
               : point(camera_.project(way->places[static_cast<std::size_t>(at - way->frames.begin())]));
}

/// Frames of the clip on which any free channel has a key.
std::vector<double> TrailHand::keyFrames() const {
    std::vector<double> frames;
    for (const Track& track : session_.clip().tracks)
        if (!session_.drivers().name(track.channel))
            for (const Key& key : track.keys) frames.push_back(key.frame);
    std::ranges::sort(frames);
    frames.erase(std::unique(frames.begin(), frames.end()), frames.end());
    return frames;
}

std::optional<std::size_t> TrailHand::gripAt(const Vec2& pixel) const {
    const PlaceCourse* way = course();
    if (!way) return std::nullopt;
    std::optional<std::size_t> nearest;
    double least = trail_grip_px;
    for (const double frame : keyFrames()) {
        const auto at = std::ranges::find(way->frames, frame);
        if (at == way->frames.end()) continue;
        const auto moment = static_cast<std::size_t>(at - way->frames.begin());
        const Vec3 seen = camera_.project(way->places[moment]);
        if (const double far = (seen.head<2>() - pixel).norm(); seen.z() > 0 && far < least)
            least = far, nearest = moment;
    }
    return nearest;
}

bool TrailHand::isOnGrip(const Vec2& pixel) const {
    return gripAt(pixel).has_value();
}

bool TrailHand::press(const Vec2& pixel) {
    const auto moment = gripAt(pixel);
    if (!moment) return false;
    const PlaceCourse& way = *course();
    const double frame = way.frames[*moment];
    session_.setFrame(frame);
    std::vector<ChannelRef> keyed;
    for (const ChannelRef channel : keyed_at(session_.document(), session_.clip(), frame))
        if (session_.evaluator().channel_slot(channel)) keyed.push_back(channel);
    const Vec3 place = way.places[*moment];
    keyed = moving_channels(session_.evaluator(), {session_.primary(), session_.seeing().place, place, frame},
                            keyed);
    if (keyed.empty()) {
        emit hint(tr("No key at frame %1 moves it").arg(frame));
        return false;
    }
    dragged_ = Dragged{*moment, keyed, place, place};
    return true;
}

void TrailHand::drag(const Vec2& pixel) {
    if (!dragged_ || !course()) return;
    const Ray ray = camera_.ray(pixel);
    const double along =
        (dragged_->start - ray.origin).dot(camera_.back()) / ray.direction.dot(camera_.back());
    if (!std::isfinite(along)) return;
    dragged_->to = ray.origin + along * ray.direction;
    const double frame = course()->frames[dragged_->moment];
    const std::vector<double> values =
        bring_place(session_.evaluator(), {session_.primary(), session_.seeing().place, dragged_->to, frame},
                    dragged_->channels);
    std::vector<std::pair<ChannelRef, double>> shown;
    for (std::size_t i = 0; i < values.size(); ++i) shown.emplace_back(dragged_->channels[i], values[i]);
    session_.show(std::move(shown));
    emit hint(tr("The keys of frame %1 go along").arg(frame));
}

void TrailHand::release() {
    if (!dragged_) return;
    const Dragged done = *std::exchange(dragged_, std::nullopt);
    session_.dropHeld();
    if (done.to == done.start || !course()) return;
    const Vec3 at = world_from_rest(session_.document(), session_.primary()).point(session_.seeing().place);
    session_.run({{"op", "key.place"},
                  {"part", session_.primary().value},
                  {"at", {at.x(), at.y(), at.z()}},
                  {"to", {done.to.x(), done.to.y(), done.to.z()}},
                  {"frame", course()->frames[done.moment]},
                  {"clip", session_.clip().name}});
}

void TrailHand::paint(QPainter& painter, const Theme& theme) const {
    const PlaceCourse* way = course();
    if (!way) return;
    for (const auto& [ink, width] : {std::pair(theme.card, 4.0), {theme.petrolLight, 1.8}}) {
        painter.setPen(QPen(ink, width));
        painter.setBrush(Qt::NoBrush);
        for (const QPolygonF& run : seenRuns(camera_, way->places)) painter.drawPolyline(run);
    }
    const std::vector<double> keys = keyFrames();
    for (std::size_t i = 0; i < way->frames.size(); ++i) {
        const Vec3 seen = camera_.project(way->places[i]);
        if (seen.z() <= 0) continue;
        const bool dragged = dragged_ && dragged_->moment == i;
        const QPointF at = dragged ? point(camera_.project(dragged_->to)) : point(seen);
        const bool keyed = std::ranges::binary_search(keys, way->frames[i]);
        const bool now = way->frames[i] == session_.frame();
        painter.setPen(QPen(keyed ? theme.ink : theme.card, keyed ? 1.4 : 0.8));
        painter.setBrush(now ? theme.saffron : keyed ? theme.card : theme.petrolLight);
        const double size = keyed ? 5 : now ? 4 : 2;
        if (keyed)
            painter.drawRect(QRectF(at - QPointF(size, size), QSizeF(2 * size, 2 * size)));
        else
            painter.drawEllipse(at, size, size);
    }
}

}  // namespace pivrak
