#pragma once

#include "tests/support/window.h"

namespace pivrak::test {

/// Brings a project to where the hands begin: each step must work.
inline void runAll(Hands& hands, const std::vector<nlohmann::json>& steps) {
    for (const nlohmann::json& step : steps)
        ASSERT_TRUE(hands.session.run(step)) << step.dump() << hands.refusals.join("; ").toStdString();
}

}  // namespace pivrak::test
