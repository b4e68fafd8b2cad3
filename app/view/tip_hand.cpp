#include "app/view/tip_hand.h"

#include "app/gauges/gauge_paint.h"
#include "app/gauges/joint_gauges.h"
#include "core/elements/reach/reach_motion.h"
#include "core/rig/joint_answer.h"
#include "core/rig/joint_motion.h"
#include "core/rig/reach/reach_row.h"

namespace pivrak {
namespace {

constexpr double grip_px = 11, dial_px = 40;

/// Where a part's joint hangs, its channels as they stand.
JointAnswer standing_joint(const Session& session, const Part& part) {
    JointAnswer joint{part.joint.kind, part.joint.axis, {}};
    const auto kinds = channels_of(part.joint.kind);
    for (std::size_t k = 0; k < kinds.size(); ++k) {
        const Channel& channel = part.joint.channel(kinds[k]);
        const double value = session.valueOf({part.id, kinds[k]});
        const bool held = channel.locked || session.drivers().name({part.id, kinds[k]});
        joint.value[k] = joint.asked[k] = value;
        joint.limits[k] = held ? Limits{value, value} : channel.limits.value_or(range_of(kinds[k]));
    }
    if (part.joint.size) joint.part_size = session.valueOf({part.id, ChannelKind::Size});
    Frame moved = rest_from_part(part.joint.kind, part.joint.axis, joint.value.data());
    moved.size = joint.part_size;
    joint.base = session.worldFromPart(part.id) * moved.inverse();
    return joint;
}

/// Where the pointer goes on a plane that faces the eye.
Vec3 on_plane_through(const Camera& camera, const Vec3& place, const Vec2& pixel) {
    const Ray ray = camera.ray(pixel);
    const Vec3 facing = camera.back();
    const double along = (place - ray.origin).dot(facing) / ray.direction.dot(facing);
    return ray.origin + along * ray.direction;
}

}  // namespace

TipHand::TipHand(Session& session, const Camera& camera, QObject* parent)
    : QObject(parent), session_(session), camera_(camera) {}

std::optional<TipHand::Grip> TipHand::grip() const {
    if (session_.stage() != Stage::Rig || session_.previewed()) return std::nullopt;
    for (const Reach& reach : session_.document().reaches) {
        if (reach.tip != session_.primary() || reach.off) continue;
        const Part* goal = session_.document().parts.find(reach.goal);
        if (!goal) continue;
        for (const ChannelKind kind : channels_of(goal->joint.kind))
            if (session_.mayMove({goal->id, kind}))
                return Grip{reach.id, reach.tip, goal->id, reach.place, reach.goal_place};
    }
    return std::nullopt;
}

Vec3 TipHand::tipOf(const Grip& grip) const {
    return session_.worldFromPart(grip.tip).point(grip.tip_place);
}

bool TipHand::isOnGrip(const Vec2& pixel) const {
    const auto grip = this->grip();
    if (!grip) return false;
    const Vec3 seen = camera_.project(tipOf(*grip));
    return seen.z() > 0 && (seen.head<2>() - pixel).norm() < grip_px + 4;
}

bool TipHand::press(const Vec2& pixel) {
    if (!isOnGrip(pixel)) return false;
    const Grip grip = *this->grip();
    const Vec3 start = on_plane_through(camera_, tipOf(grip), pixel),
               goal = session_.worldFromPart(grip.goal).point(grip.goal_place);
    dragged_ = Dragged{grip, start, goal - start, std::nullopt};
    return true;
}

std::vector<std::pair<ChannelRef, double>> TipHand::answer(const Grip& grip, const Vec3& wanted) const {
    const Part& goal = *session_.document().parts.find(grip.goal);
    JointAnswer joint = standing_joint(session_, goal);
    joint.reach_place(grip.goal_place, wanted);
    std::vector<std::pair<ChannelRef, double>> values;
    const auto kinds = channels_of(goal.joint.kind);
    for (std::size_t k = 0; k < kinds.size(); ++k)
        values.emplace_back(ChannelRef{goal.id, kinds[k]}, joint.value[k]);
    return values;
}

void TipHand::drag(const Vec2& pixel) {
    if (!dragged_) return;
    const Vec3 wanted = on_plane_through(camera_, dragged_->start, pixel) + dragged_->way;
    if (!wanted.allFinite()) return;
    dragged_->wanted = wanted;
    session_.show(answer(dragged_->grip, wanted));
    const Reach* reach = session_.document().reaches.find(dragged_->grip.reach);
    const auto miss = reach ? reach_miss(session_.evaluator(), session_.pose(), *reach) : std::nullopt;
    if (!miss) return;
    const QString words = QString::fromStdString(
        format_miss(miss->place_m, miss->turn_rad, session_.document().settings.length_unit));
    emit hint(words.isEmpty() ? tr("The arm reaches the goal")
                              : tr("The arm misses the goal by %1").arg(words));
}

void TipHand::release() {
    if (!dragged_) return;
    const Dragged done = *std::exchange(dragged_, std::nullopt);
    session_.dropHeld();
    if (!done.wanted) return;
    const Frame rest = world_from_rest(session_.document(), done.grip.goal);
    const Vec3 own = rest.point(done.grip.goal_place), to = *done.wanted;
    session_.run({{"op", "constraint.match"},
                  {"parts", {done.grip.goal.value}},
                  {"asks", "place"},
                  {"place", {own.x(), own.y(), own.z()}},
                  {"to", {to.x(), to.y(), to.z()}},
                  {"frame", session_.frame()},
                  {"clip", session_.clip().name}});
}

void TipHand::paint(QPainter& painter, const Theme& theme) const {
    const auto grip = this->grip();
    if (!grip) return;
    if (dragged_) paintLimits(painter, theme);
    const Vec3 seen = camera_.project(tipOf(*grip));
    if (seen.z() <= 0) return;
    const QPointF at = gauge_point(seen);
    painter.setPen(QPen(theme.raspberry, 2));
    painter.setBrush(Qt::NoBrush);
    painter.drawEllipse(at, grip_px - 4, grip_px - 4);
    // Four strokes outwards: it goes any way.
    for (const QPointF way : {QPointF(1, 0), QPointF(-1, 0), QPointF(0, 1), QPointF(0, -1)})
        painter.drawLine(at + (grip_px - 4) * way, at + (grip_px + 3) * way);
}

/// The dial of each hinge of the arm, small, with what its limits leave it.
void TipHand::paintLimits(QPainter& painter, const Theme& theme) const {
    const Reach* reach = session_.document().reaches.find(dragged_->grip.reach);
    const auto row = reach ? reach_row(session_.document(), *reach) : Error{};
    if (!row) return;
    for (const PartId id : row->joints) {
        const Part& part = *session_.document().parts.find(id);
        const JointAnswer joint = standing_joint(session_, part);
        JointStand stand{id, part.joint, joint.base.rigid(), {}, {}};
        for (std::size_t k = 0; k < joint.size(); ++k) {
            stand.values.push_back(joint.value[k]);
            stand.driven.push_back(true);
        }
        for (ChannelGauge& gauge : joint_gauges(stand, camera_)) {
            auto* dial = std::get_if<Protractor>(&gauge.form);
            if (!dial || !dial->limits) continue;
            dial->radius_m = dial_px * camera_.metres_per_pixel(dial->centre);
            dial->paint(painter, camera_, theme);
        }
    }
}

}  // namespace pivrak
