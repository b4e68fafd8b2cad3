#include "core/elements/plans.h"

namespace pivrak {

PlanPhase phase_of(const Lens*) {
    return PlanPhase::Riders;
}

/// It moves nothing.
void plan(const Lens&, const Part&, RigPlan&) {}

}  // namespace pivrak
