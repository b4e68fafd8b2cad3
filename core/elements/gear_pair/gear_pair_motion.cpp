#include "core/elements/plans.h"

namespace pivrak {

PlanPhase phase_of(const GearPair*) {
    return PlanPhase::Trains;
}

/// A pair is a tie of its train, which is solved as a whole.
void plan(const GearPair& pair, CouplingId, RigPlan& plan) {
    if (plan.require(pair.driven) && plan.require(pair.driver)) plan.want_trains();
}

}  // namespace pivrak
