#pragma once

#include "core/motion/rig_plan.h"

namespace pivrak {

/// Steps for shafts of gears and chains, each by the inputs of its train. What was driven before is set from
/// outside the train.
void plan_trains(RigPlan& plan);

}  // namespace pivrak
