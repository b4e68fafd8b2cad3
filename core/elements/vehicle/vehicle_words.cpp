#include "core/model/joint_question.h"

namespace pivrak {

std::optional<std::string> joint_user(const Vehicle& vehicle, const JointQuestion& asked) {
    bool minds = asked.lacks_turn(vehicle.yaw) || asked.lacks_turn(vehicle.steering) ||
                 asked.lacks_freedom(vehicle.ground_level) || asked.lacks_freedom(vehicle.body);
    for (const VehicleWheel& wheel : vehicle.wheels)
        minds |= asked.lacks_turn(wheel.wheel) || asked.lacks_turn(wheel.steering) ||
                 asked.lacks({wheel.suspension, ChannelKind::Shift});
    return minds ? std::optional("the vehicle '" + vehicle.name + "'") : std::nullopt;
}

}  // namespace pivrak
