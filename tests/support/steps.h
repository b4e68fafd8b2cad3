#pragma once

#include "tests/support/window.h"

namespace pivrak::test {

/// Brings a project to where the hands begin: each step must work.
inline void runAll(Hands& hands, const std::vector<nlohmann::json>& steps) {
    for (const nlohmann::json& step : steps)
        ASSERT_TRUE(hands.session.run(step)) << step.dump() << hands.refusals.join("; ").toStdString();
}

/// A box of 60 mm at y = 0, standing at a height.
inline nlohmann::json small_box(const char* name, double x, double z) {
    return {{"op", "stand_in.add"}, {"kind", "box"}, {"name", name},  {"at", {x, 0, z}},
            {"length", 0.06},       {"width", 0.05}, {"height", 0.05}};
}

/// A thin bar along x between a box at 0 and one at 1.
inline nlohmann::json cable_between_boxes() {
    return {{"op", "stand_in.add"}, {"kind", "cylinder"}, {"name", "Cable"},      {"diameter", 0.01},
            {"length", 0.94},       {"axis", "x"},        {"at", {0.5, 0, 0.025}}};
}

}  // namespace pivrak::test
