#pragma once

#include <chrono>
#include <cstdio>
#include <cstdlib>

#include "core/base/progress.h"
#include "core/motion/evaluator.h"

namespace pivrak::fuzz {

/// Ends the run as a find.
[[noreturn]] inline void report(const char* what) {
    std::fprintf(stderr, "FOUND: %s\n", what);
    std::abort();
}

/// What is long can be called off: then it ends soon.
inline Progress patience() {
    const auto begun = std::chrono::steady_clock::now();
    return Progress([begun](double, std::string_view) {
        return std::chrono::steady_clock::now() - begun < std::chrono::seconds(4);
    });
}

/// What every document that was let in must bear: it compiles or says why not, and moves without a number
/// that is none, at its clip's ends and between.
inline void check_motion(const Document& document) {
    const auto evaluator = Evaluator::compile(document);
    if (!evaluator) {
        if (evaluator.error().message.empty()) report("a refusal without words");
        return;
    }
    Pose pose = evaluator->make_pose();
    const Clip clip = clip_or_first(document);
    for (const double frame : {clip.first_frame, 0.5 * (clip.first_frame + clip.last_frame)}) {
        // What depends on the past is integrated from the start: far frames take their time rightly.
        evaluator->evaluate(std::min(frame, clip.first_frame + 50.0), pose);
        for (const Frame& world : pose.world_from_part)
            if (!world.translation.allFinite() || !world.rotation.coeffs().allFinite())
                report("a world frame that is not finite");
    }
}

}  // namespace pivrak::fuzz
