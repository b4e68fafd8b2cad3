#include "app/view/place_gauges.h"

#include "core/rig/joint_motion.h"

namespace pivrak {
namespace {

Vec3 pivot_at_rest(const Session& session) {
    return world_from_rest(session.document(), session.primary()).translation;
}

int axis_of(ChannelKind kind) {
    return static_cast<int>(kind) -
           static_cast<int>(is_turn(kind) ? ChannelKind::TurnX : ChannelKind::ShiftX);
}

}  // namespace

std::optional<JointStand> place_stand(const Session& session, const Bounds& bounds, const PlaceHand& hand) {
    const Part* part = session.document().parts.find(session.primary());
    if (!part || session.previewed()) return std::nullopt;
    JointStand stand;
    stand.part = part->id;
    stand.joint.kind = JointKind::Free;
    const Frame carried = hand.carried.value_or(session.carriedAtRest(part->id));
    stand.world_from_rest = {carried.rotation, carried.point(pivot_at_rest(session)), carried.size};
    for (const ChannelKind kind : channels_of(JointKind::Free)) {
        stand.values.push_back(kind == hand.kind ? hand.value : 0);
        stand.driven.push_back(false);
    }
    stand.bounds = bounds;
    return stand;
}

Frame placed_by(const Session& session, const PlaceHand& hand) {
    const int axis = axis_of(hand.kind);
    if (!is_turn(hand.kind)) return {Quat::Identity(), hand.value * Vec3::Unit(axis)};
    const Quat turn = turn_about_axis(axis, hand.value);
    const Vec3 about = pivot_at_rest(session);
    return {turn, about - turn * about};
}

nlohmann::json place_step(const Session& session, const PlaceHand& hand) {
    nlohmann::json step{{"op", "tree.place"}, {"parts", session.selectedIds()}};
    const auto axis = static_cast<std::size_t>(axis_of(hand.kind));
    if (!is_turn(hand.kind)) {
        constexpr const char* ways[] = {"forward", "left", "up"};
        step[ways[axis]] = hand.value;
        return step;
    }
    step["turn"] = hand.value;
    step["axis"] = std::string(1, "xyz"[axis]);
    return step;
}

}  // namespace pivrak
