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

/// A wheel of 1 m and 0.4 m width that rolls along x as "Wheel frame" slides against it: from frame 0 to a
/// last one, so far.
inline std::vector<nlohmann::json> wheel_that_rolls(int last_frame, double shift_m) {
    const auto key = [](int frame, double value) {
        return nlohmann::json{{"op", "key.set"}, {"parts", {"Wheel frame"}}, {"channel", "shift"},
                              {"frame", frame},  {"value", value},           {"interpolation", "linear"}};
    };
    return {{{"op", "stand_in.add"},
             {"kind", "wheel"},
             {"name", "Wheel"},
             {"diameter", 1},
             {"width", 0.4},
             {"axis", "y"},
             {"at", {0, 0, 0.5}}},
            {{"op", "tree.frame_above"}, {"parts", {"Wheel"}}, {"takes_joint", false}},
            {{"op", "joint.set"}, {"parts", {"Wheel frame"}}, {"kind", "slide"}, {"axis", "y"}},
            {{"op", "joint.set"}, {"parts", {"Wheel"}}, {"kind", "hinge"}, {"axis", "x"}},
            {{"op", "coupling.roll"}, {"parts", {"Wheel"}}},
            {{"op", "clip.set"}, {"first_frame", 0}, {"last_frame", last_frame}, {"loop", false}},
            key(0, 0),
            key(last_frame, shift_m)};
}

}  // namespace pivrak::test
