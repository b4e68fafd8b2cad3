#pragma once

#include <vector>

#include "core/base/result.h"
#include "core/checks/findings.h"
#include "core/model/document.h"
#include "core/rig/rig_facts.h"

namespace pivrak {

/// How a chain fares over a clip.
struct ChainCourse {
    ChainId chain;
    double least_slack_m = 0, least_at = 0;  ///< in the hanging run, and at which frame; below zero: missing
    double most_slack_m = 0, most_at = 0;    ///< of an open run that can leave none
    double least_wound_rad = 0, wound_at = 0;  ///< on a drum; below zero: it is empty
    bool possible = true;
    double impossible_at = 0;
    PartId blocked;                            ///< the wheel it cannot go round
    double off_teeth_m = 0, off_teeth_at = 0;  ///< largest way between a pin on a sprocket and its gap
    PartId off_wheel;
};

/// Looks at every frame of a clip. Errors: those of `Evaluator::compile`.
Result<std::vector<ChainCourse>> chain_course(const Document& document, ClipId clip,
                                              RigFacts* facts = nullptr);

/// What of it is wrong. `at` puts a frame into words.
void tell_courses(const Document& document, const std::vector<ChainCourse>& courses, const MomentWords& at,
                  std::vector<Finding>& findings);

}  // namespace pivrak
