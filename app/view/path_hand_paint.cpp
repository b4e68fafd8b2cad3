// Paths as the view draws them.
#include <algorithm>
#include <cmath>

#include "app/view/path_hand.h"
#include "app/view/points.h"
#include "core/rig/paths/ride_frame.h"

namespace pivrak {

void PathHand::paintRider(QPainter& painter, const Theme& theme) const {
    const auto id = rider();
    if (!id) return;
    const Vec3 at = camera_.project(riderKnob(*id));
    if (at.z() <= 0) return;
    painter.setPen(QPen(theme.card, 2));
    painter.setBrush(theme.raspberry);
    const QPointF c = point(at);
    painter.drawPolygon(
        QPolygonF{c + QPointF(0, -10), c + QPointF(10, 0), c + QPointF(0, 10), c + QPointF(-10, 0)});
    painter.setFont(Look::uiFont(11, true));
    painter.setPen(theme.raspberry);
    painter.drawText(c + QPointF(14, 15),
                     QString::fromStdString(
                         format_length(session_.valueOf({*id, ChannelKind::Along}), session_.document())));
}

void PathHand::paint(QPainter& painter, const Theme& theme) {
    const bool rig = session_.stage() == Stage::Rig;
    if (!rig && session_.stage() != Stage::Keys) return;
    paintStill(painter, theme);
    if (const Path* path = shown_ ? &*shown_ : session_.pathInHand()) paintPath(painter, theme, *path);
    if (rig) paintGrips(painter, theme);
    paintRider(painter, theme);
    if (isDrawing()) paintDrawn(painter, theme);
}

/// What all paths but the one in hand look like depends on.
PathHand::StillKey PathHand::stillKey(const Theme& theme, double pixel_ratio) const {
    StillKey key;
    const Mat4 clip = camera_.clip_from_world();
    key.numbers.assign(clip.data(), clip.data() + clip.size());
    key.numbers.insert(key.numbers.end(), {camera_.width(), camera_.height(), theme.night ? 1.0 : 0.0,
                                           pixel_ratio, static_cast<double>(session_.pathTool().path.value)});
    for (const Path& path : session_.shownDocument().paths) {
        const Frame world = worldFromPath(path);
        key.paths.push_back(session_.measuredPath(path));
        key.numbers.insert(key.numbers.end(),
                           {world.rotation.w(), world.rotation.x(), world.rotation.y(), world.rotation.z(),
                            world.translation.x(), world.translation.y(), world.translation.z(), world.size});
    }
    return key;
}

/// Strokes take long: when they are the same twice, they are kept as a picture.
void PathHand::paintStill(QPainter& painter, const Theme& theme) {
    const auto paint = [&](QPainter& to) {
        for (const Path& path : session_.shownDocument().paths)
            if (path.id != session_.pathTool().path && !(shown_ && shown_->id == path.id))
                paintPath(to, theme, path);
    };
    const double ratio = painter.device()->devicePixelRatioF();
    StillKey key = stillKey(theme, ratio);
    if (key != still_key_) {
        still_key_ = std::move(key);
        still_ = {};
        return paint(painter);
    }
    if (still_.isNull()) {
        const QSizeF size(camera_.width(), camera_.height());
        still_ = QImage((size * ratio).toSize(), QImage::Format_ARGB32_Premultiplied);
        still_.setDevicePixelRatio(ratio);
        still_.fill(Qt::transparent);
        QPainter once(&still_);
        once.setRenderHint(QPainter::Antialiasing);
        paint(once);
    }
    painter.drawImage(QPointF(0, 0), still_);
}

/// The line, and small darts that tell which way it runs.
void PathHand::paintPath(QPainter& painter, const Theme& theme, const Path& path) const {
    const bool in_hand = path.id == session_.pathTool().path;
    const QColor color = in_hand ? theme.raspberry : theme.petrolLight;
    const QPolygonF line = seen(path);
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(theme.card, in_hand ? 4.6 : 3.6, Qt::SolidLine, Qt::RoundCap));
    const QPolygonF drawn = thinned(line, 2.5);
    painter.drawPolyline(drawn);
    painter.setPen(QPen(color, in_hand ? 2.4 : 1.7, Qt::SolidLine, Qt::RoundCap));
    painter.drawPolyline(drawn);
    painter.setBrush(color);
    painter.setPen(QPen(theme.card, 1));
    double since = 40;
    for (int i = 1; i < line.size(); ++i) {
        const QPointF step = line[i] - line[i - 1];
        const double size = std::hypot(step.x(), step.y());
        since += size;
        if (since < 90 || size < 0.5 || size > 1e4) continue;
        since = 0;
        const QPointF way = step / size, side(-way.y(), way.x());
        painter.drawPolygon(QPolygonF{line[i] + 7 * way, line[i] - 4 * way + 4.5 * side, line[i] - 2 * way,
                                      line[i] - 4 * way - 4.5 * side});
    }
    if (line.isEmpty() || !in_hand) return;
    paintRolls(painter, theme, path);
    painter.setFont(Look::uiFont(11, true));
    painter.setPen(color);
    painter.drawText(line.front() + QPointF(10, -10), QString::fromStdString(path.name));
}

/// How a path rolls what rides it: a comb that leans as they do, its keys with their angles.
void PathHand::paintRolls(QPainter& painter, const Theme& theme, const Path& path) const {
    if (path.rolls.empty()) return;
    const auto measured = shown_ && shown_->id == path.id ? nullptr : session_.measuredPath(path);
    const auto curve = measured ? Result<PathCurve>(measured->curve) : PathCurve::make(path);
    if (!curve) return;
    const Frame world = worldFromPath(path);
    const double tooth = 0.05 * camera_.distance, length = curve->length();
    const auto tip = [&](double along, Vec3& foot) {
        const PathSample at = curve->at(along);
        const double roll = roll_at(path.rolls, along, length, path.is_closed());
        foot = camera_.project(world.point(at.place));
        return camera_.project(world.point(at.place + tooth * (Eigen::AngleAxisd(roll, at.tangent) * at.up)));
    };
    Vec3 foot;
    painter.setPen(QPen(theme.petrolLight, 1));
    constexpr int teeth = 60;
    for (int i = 0; i <= teeth; ++i)
        if (const Vec3 end = tip(length * i / teeth, foot); end.z() > 0 && foot.z() > 0)
            painter.drawLine(point(foot), point(end));
    painter.setFont(Look::uiFont(11, true));
    for (const PathRoll& key : path.rolls) {
        const Vec3 end = tip(key.at_m, foot);
        if (end.z() <= 0 || foot.z() <= 0) continue;
        painter.setPen(QPen(theme.raspberry, 2));
        painter.drawLine(point(foot), point(end));
        painter.setBrush(theme.card);
        painter.drawEllipse(point(end), 3.5, 3.5);
        painter.drawText(point(end) + QPointF(7, 4), QString::fromStdString(format_angle(key.roll_rad, 1)));
    }
}

void PathHand::paintGrips(QPainter& painter, const Theme& theme) const {
    const auto& picked = session_.pathTool().points;
    const auto all = grips();
    const Path* path = shown_ ? &*shown_ : session_.pathInHand();
    // A smooth path's points control it from outside: thin lines tell which belong together.
    if (path && path->form == PathForm::Smooth) {
        QPolygonF control;
        for (const Grip& grip : all)
            if (const Vec3 at = camera_.project(grip.place); at.z() > 0) control << point(at);
        if (path->closed && !control.isEmpty()) control << control.front();
        painter.setPen(QPen(theme.softInk, 1, Qt::DotLine));
        painter.setBrush(Qt::NoBrush);
        painter.drawPolyline(control);
    }
    for (const Grip& grip : all) {
        if (grip.what == "point") continue;
        const Vec3 at = camera_.project(grip.place),
                   from = camera_.project(std::find_if(all.begin(), all.end(), [&](const Grip&g) {
                                              return g.point == grip.point && g.what == "point";
                                          })->place);
        if (at.z() <= 0 || from.z() <= 0) continue;
        painter.setPen(QPen(theme.softInk, 1.2));
        painter.drawLine(point(from), point(at));
        painter.setBrush(theme.card);
        painter.setPen(QPen(theme.raspberry, 1.8));
        painter.drawEllipse(point(at), 3.6, 3.6);
    }
    for (const Grip& grip : all) {
        if (grip.what != "point") continue;
        const Vec3 at = camera_.project(grip.place);
        if (at.z() <= 0) continue;
        const bool chosen = std::find(picked.begin(), picked.end(), grip.point) != picked.end();
        painter.setBrush(chosen ? theme.raspberry : theme.card);
        painter.setPen(QPen(theme.raspberry, 2));
        painter.drawRect(QRectF(at.x() - 4.5, at.y() - 4.5, 9, 9));
        if (!chosen) continue;
        painter.setFont(Look::uiFont(11, true));
        painter.drawText(point(at) + QPointF(9, -7), QString::number(grip.point));
    }
}

void PathHand::paintDrawn(QPainter& painter, const Theme& theme) const {
    QPolygonF line;
    for (const Vec3& p : session_.pathTool().drawn)
        if (const Vec3 at = camera_.project(p); at.z() > 0) line << point(at);
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(theme.raspberry, 2, Qt::DashLine));
    painter.drawPolyline(line);
    painter.setPen(QPen(theme.raspberry, 2));
    painter.setBrush(theme.card);
    for (const QPointF& p : line) painter.drawRect(QRectF(p.x() - 4.5, p.y() - 4.5, 9, 9));
}

}  // namespace pivrak
