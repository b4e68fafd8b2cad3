#include "core/elements/plans.h"

namespace pivrak {

PlanPhase phase_of(const Path*) {
    return PlanPhase::Riders;
}

/// A path moves its riders, and these have steps.
void plan(const Path&, RigPlan&) {}

}  // namespace pivrak
