#include "app/view/path_hand.h"

#include <algorithm>
#include <cmath>

#include "app/session/shown_value.h"
#include "app/view/points.h"
#include "core/elements/ride/ride_motion.h"
#include "core/rig/paths/path_edit.h"
#include "core/rig/paths/ride_frame.h"

namespace pivrak {
namespace {

using nlohmann::json;

constexpr double handle_reach_px = 9;
constexpr int looks_least = 64, looks_most = 600;

json place_json(const Vec3& p) {
    return {p.x(), p.y(), p.z()};
}

}  // namespace

PathHand::PathHand(Session& session, Camera& camera, ViewPicker& picker, QObject* parent)
    : QObject(parent), session_(session), camera_(camera), picker_(picker) {}

Frame PathHand::worldFromPath(const Path& path) const {
    return path.carrier ? session_.worldFromPart(path.carrier) : Frame{};
}

// ---- drawing

std::optional<Vec3> PathHand::onPlane(const Vec2& pixel, const Vec3& through, const Vec3& normal) const {
    const Ray ray = camera_.ray(pixel);
    const double steep = ray.direction.dot(normal);
    if (std::abs(steep) < 0.02) return std::nullopt;
    const double along = (through - ray.origin).dot(normal) / steep;
    if (along <= 0) return std::nullopt;
    return ray.origin + along * ray.direction;
}

/// A shape under the pixel, or the work plane, through the point put down last.
std::optional<Vec3> PathHand::placeUnder(const Vec2& pixel) const {
    const PathTool& tool = session_.pathTool();
    if (tool.on == "shapes")
        if (const auto hit = picker_.hit(camera_, QPointF(pixel.x(), pixel.y()))) return hit->place;
    return onPlane(pixel, tool.drawn.empty() ? tool.plane_point : tool.drawn.back(), tool.plane_normal);
}

void PathHand::put(const Vec2& pixel) {
    PathTool tool = session_.pathTool();
    if (tool.drawn.size() > 2) {
        const Vec3 first = camera_.project(tool.drawn.front());
        if (first.z() > 0 && (first.head<2>() - pixel).norm() < handle_reach_px) {
            finish(true);
            return;
        }
    }
    if (tool.on == "view" && tool.drawn.empty()) {
        tool.plane_normal = camera_.back();
        session_.setPathTool(tool);
    }
    const auto place = placeUnder(pixel);
    if (!place) {
        emit hint(tr("The work plane is seen edge-on here: turn the view"));
        return;
    }
    tool.drawn.push_back(*place);
    session_.setPathTool(tool);
    emit hint(tool.drawn.size() < 2
                  ? tr("Click for the next point; Esc leaves")
                  : tr("%1 points. Enter ends the path, a click on the first point closes it, "
                       "Backspace takes the last one back")
                        .arg(tool.drawn.size()));
}

bool PathHand::finish(bool closed) {
    PathTool tool = session_.pathTool();
    json points = json::array();
    for (const Vec3& p : tool.drawn) points.push_back(place_json(p));
    if (!session_.run({{"op", "path.add"}, {"form", tool.form}, {"points", points}, {"closed", closed}}))
        return false;
    tool.drawing = false;
    tool.drawn.clear();
    tool.path = newest_path(session_.document());
    const bool curved = tool.form == "bezier";
    const Path* made = session_.document().paths.find(tool.path);
    if (curved && made)
        session_.run({{"op", "path.handles"},
                      {"path", made->name},
                      {"points", "0-" + std::to_string(made->points.size() - 1)},
                      {"as", "smooth"}});
    session_.setPathTool(tool);
    return true;
}

void PathHand::leave() {
    PathTool tool = session_.pathTool();
    tool.drawing = false;
    tool.drawn.clear();
    tool.points.clear();
    session_.setPathTool(tool);
}

// ---- points and handles

std::vector<PathHand::Grip> PathHand::grips() const {
    const Path* path = shown_ ? &*shown_ : session_.pathInHand();
    std::vector<Grip> grips;
    if (!path || session_.stage() != Stage::Rig || session_.previewed()) return grips;
    const Frame world = worldFromPath(*path);
    for (int i = 0; i < static_cast<int>(path->points.size()); ++i) {
        const PathPoint& p = path->points[static_cast<std::size_t>(i)];
        grips.push_back({i, "point", world.point(p.place)});
        if (path->form != PathForm::Bezier) continue;
        if (p.before.norm() > 0) grips.push_back({i, "before", world.point(p.place + p.before)});
        if (p.after.norm() > 0) grips.push_back({i, "after", world.point(p.place + p.after)});
    }
    return grips;
}

std::optional<PathHand::Grip> PathHand::gripAt(const Vec2& pixel) const {
    std::optional<Grip> nearest;
    double best = handle_reach_px;
    for (const Grip& grip : grips()) {
        const Vec3 seen = camera_.project(grip.place);
        const double away = (seen.head<2>() - pixel).norm();
        if (seen.z() <= 0 || away >= best) continue;
        best = away;
        nearest = grip;
    }
    return nearest;
}

bool PathHand::isOnGrip(const Vec2& pixel) const {
    return isOnRider(pixel) || gripAt(pixel).has_value();
}

// ---- riders

std::optional<PartId> PathHand::rider() const {
    const bool stage = session_.stage() == Stage::Rig || session_.stage() == Stage::Keys;
    const Part* part = session_.shownDocument().parts.find(session_.primary());
    if (!stage || !part || !part->ride || part->ride->ahead || session_.previewed()) return std::nullopt;
    return ridden_path(session_.evaluator(), part->id) ? std::optional(part->id) : std::nullopt;
}

/// On the path itself, where the rider is.
Vec3 PathHand::riderKnob(PartId id) const {
    const Part& part = *session_.shownDocument().parts.find(id);
    const Path& path = *session_.shownDocument().paths.find(part.ride->path);
    const PathCurve& curve = ridden_path(session_.evaluator(), id)->curve;
    return worldFromPath(path).point(curve.place(session_.valueOf({id, ChannelKind::Along})));
}

bool PathHand::isOnRider(const Vec2& pixel) const {
    const auto id = rider();
    if (!id) return false;
    const Vec3 seen = camera_.project(riderKnob(*id));
    return seen.z() > 0 && (seen.head<2>() - pixel).norm() < 12;
}

/// To the place on the path that is seen nearest to the pointer, looked for round where it is, so that it
/// never leaps over to another branch.
void PathHand::dragRider(const Vec2& pixel, Qt::KeyboardModifiers modifiers) {
    const PartId id = *rider_dragged_;
    const Part* part = session_.document().parts.find(id);
    const DrapedPath* path = ridden_path(session_.evaluator(), id);
    if (!part || !part->ride || !path) return;
    const Frame world = worldFromPath(*session_.document().paths.find(part->ride->path));
    const ChannelRef channel{id, ChannelKind::Along};
    const double now = session_.valueOf(channel), length = path->curve.length();
    double best = 1e300, along = now;
    constexpr int looks = 240;
    const auto look = [&](double s) {
        const Vec3 at = camera_.project(world.point(path->curve.place(s)));
        const double away = (at.head<2>() - pixel).norm();
        if (at.z() <= 0 || away >= best) return;
        best = away;
        along = s;
    };
    for (int i = -looks; i <= looks; ++i) {
        const double s = now + 0.25 * length * i / looks;
        if (path->curve.closed() || (s >= 0 && s <= length)) look(s);
    }
    for (double width = 0.25 * length / looks; width > 1e-5; width *= 0.5) {
        const double middle = along;
        for (const double s : {middle - width, middle + width})
            if (path->curve.closed() || (s >= 0 && s <= length)) look(s);
    }
    if (modifiers & Qt::ShiftModifier) along = 0.1 * std::round(along / 0.1);
    session_.hold(channel, along);
    emit hint(tr("%1 along, %2 %. Shift steps by 100 mm")
                  .arg(QString::fromStdString(format_length(along, session_.document())))
                  .arg(100 * along / length, 0, 'f', 1));
}

/// Places along it, evenly, in its own frame. One that stays as it is is not measured again.
const PathHand::Looked* PathHand::looked(const Path& path) const {
    const auto measured = shown_ && shown_->id == path.id ? nullptr : session_.measuredPath(path);
    Looked& known = looked_[path.id];
    if (measured && known.of == measured) return &known;
    const auto own = measured ? Result<PathCurve>(measured->curve) : PathCurve::make(path);
    if (!own) return nullptr;
    const int looks = std::clamp(static_cast<int>(path.points.size()) * 24, looks_least, looks_most);
    known = {measured, {}, own->length()};
    for (int i = 0; i <= looks; ++i) known.places.push_back(own->place(own->length() * i / looks));
    return &known;
}

QPolygonF PathHand::seen(const Path& path, double* length) const {
    const Looked* known = looked(path);
    if (!known) return {};
    const Frame world = worldFromPath(path);
    const Projection project = camera_.projection();
    QPolygonF line;
    for (const Vec3& place : known->places) {
        const Vec3 at = project(world.point(place));
        line << (at.z() > 0 ? point(at) : QPointF(-1e6, -1e6));
    }
    if (length) *length = known->length_m;
    return line;
}

std::optional<std::pair<PathId, double>> PathHand::pathAt(const Vec2& pixel) const {
    if (session_.stage() != Stage::Rig || session_.previewed()) return std::nullopt;
    std::optional<std::pair<PathId, double>> found;
    double best = 7;
    for (const Path& path : session_.document().paths) {
        double length = 0;
        const QPolygonF line = seen(path, &length);
        for (int i = 0; i + 1 < line.size(); ++i) {
            const Vec2 a(line[i].x(), line[i].y()), b(line[i + 1].x(), line[i + 1].y()), run = b - a;
            const double t =
                run.squaredNorm() > 0 ? std::clamp((pixel - a).dot(run) / run.squaredNorm(), 0.0, 1.0) : 0;
            const double away = (a + t * run - pixel).norm();
            if (away >= best) continue;
            best = away;
            found = {path.id, length * (i + t) / (line.size() - 1)};
        }
    }
    return found;
}

bool PathHand::press(const Vec2& pixel, Qt::KeyboardModifiers modifiers) {
    if (isOnRider(pixel)) {
        const ChannelRef channel{*rider(), ChannelKind::Along};
        if (const auto may = session_.mayMove(channel); !may)
            emit session_.told(QString::fromStdString(may.error().message), true);
        else
            rider_dragged_ = channel.part();
        return true;
    }
    if (const auto grip = gripAt(pixel)) {
        PathTool tool = session_.pathTool();
        const bool more = modifiers & (Qt::ShiftModifier | Qt::ControlModifier);
        const bool known =
            std::find(tool.points.begin(), tool.points.end(), grip->point) != tool.points.end();
        if (!more && !known) tool.points.clear();
        if (known && more)
            std::erase(tool.points, grip->point);
        else if (!known)
            tool.points.push_back(grip->point);
        session_.setPathTool(tool);
        dragged_ = Dragged{*grip, grip->place};
        return true;
    }
    const auto path = pathAt(pixel);
    if (!path || path->first == session_.pathTool().path) return false;
    session_.setPathTool({path->first});
    emit hint(
        tr("Drag points; double click puts one in, Delete takes picked ones out. Shift moves up and down"));
    return true;
}

/// A flat path stays flat; all others are dragged level.
Vec3 PathHand::dragNormal() const {
    const Path* path = session_.pathInHand();
    const auto flat = path ? plane_normal(*path) : std::nullopt;
    return flat ? worldFromPath(*path).direction(*flat) : Vec3::UnitZ();
}

/// In the path's plane or level by default, up and down with Shift, by whole steps of the grid with Ctrl.
Vec3 PathHand::moved(const Vec3& start, const Vec2& pixel, Qt::KeyboardModifiers modifiers) const {
    const Ray ray = camera_.ray(pixel);
    if (modifiers & Qt::ShiftModifier) {
        // Nearest to the line of sight on the upright line through the start.
        const Vec3 up(0, 0, 1), across = up.cross(ray.direction);
        const double size = across.squaredNorm();
        if (size < 1e-9) return start;
        const double height = (ray.origin - start).cross(ray.direction).dot(across) / size;
        return start + height * up;
    }
    // Seen edge-on: on the plane that faces the eye.
    auto found = onPlane(pixel, start, dragNormal());
    if (!found) found = onPlane(pixel, start, camera_.back());
    Vec3 place = found.value_or(start);
    if (modifiers & Qt::ControlModifier)
        for (int k = 0; k < 2; ++k) place[k] = 0.1 * std::round(place[k] / 0.1);
    return place;
}

void PathHand::drag(const Vec2& pixel, Qt::KeyboardModifiers modifiers) {
    if (rider_dragged_) return dragRider(pixel, modifiers);
    const Path* path = session_.pathInHand();
    if (!dragged_ || !path) return;
    const Vec3 place = moved(dragged_->start, pixel, modifiers);
    const auto outcome = session_.registry().run(session_.document(), {{"op", "path.move_point"},
                                                                       {"path", path->name},
                                                                       {"point", dragged_->grip.point},
                                                                       {"what", dragged_->grip.what},
                                                                       {"place", place_json(place)}});
    dragged_->grip.place = place;
    if (!outcome) return;
    shown_ = *outcome->document.paths.find(path->id);
    if (!outcome->messages.empty()) emit hint(QString::fromStdString(outcome->messages.front()));
    emit changed();
}

void PathHand::release() {
    if (std::exchange(rider_dragged_, std::nullopt)) return session_.release();
    if (!dragged_) return;
    const Dragged dragged = *std::exchange(dragged_, std::nullopt);
    const bool was_moved = shown_.has_value();
    shown_.reset();
    const Path* path = session_.pathInHand();
    if (was_moved && path)
        session_.run({{"op", "path.move_point"},
                      {"path", path->name},
                      {"point", dragged.grip.point},
                      {"what", dragged.grip.what},
                      {"place", place_json(dragged.grip.place)}});
    emit changed();
}

bool PathHand::insertAt(const Vec2& pixel) {
    const auto found = pathAt(pixel);
    if (!found) return false;
    const Path& path = *session_.document().paths.find(found->first);
    return session_.run(
        {{"op", "path.insert"}, {"path", path.name}, {"at", wholeValue(ChannelKind::Shift, found->second)}});
}

bool PathHand::deletePicked() {
    const Path* path = session_.pathInHand();
    std::vector<int> picked = session_.pathTool().points;
    if (!path || picked.empty()) return false;
    std::sort(picked.begin(), picked.end());
    std::string numbers;
    for (const int i : picked) numbers += std::to_string(i) + " ";
    const PathId id = path->id;
    session_.run({{"op", "path.delete_points"}, {"path", path->name}, {"points", numbers}});
    session_.setPathTool({id});
    return true;
}

}  // namespace pivrak
