#pragma once

#include "core/motion/rig_plan.h"

namespace pivrak {

// For every kind, defined in its folder: when it is planned, and the steps it is compiled into.
#define PIVRAK_TABLE(Type, table)    \
    PlanPhase phase_of(const Type*); \
    void plan(const Type& element, RigPlan& plan);
#define PIVRAK_COUPLING(Type)        \
    PlanPhase phase_of(const Type*); \
    void plan(const Type& element, CouplingId id, RigPlan& plan);
#define PIVRAK_FACET(Type, facet)    \
    PlanPhase phase_of(const Type*); \
    void plan(const Type& element, const Part& part, RigPlan& plan);
#include "core/elements/kinds.def"

}  // namespace pivrak
