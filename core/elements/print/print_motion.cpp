#include "core/elements/plans.h"

namespace pivrak {

PlanPhase phase_of(const Print*) {
    return PlanPhase::Stands;
}

/// A print is laid along a motion that is known, and moves nothing.
void plan(const Print&, RigPlan&) {}

}  // namespace pivrak
