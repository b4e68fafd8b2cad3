// Buttons of the panels that no longer story goes by: each is clicked by hand, and what it does is looked at.
#pragma once

#include <QListWidget>

#include "core/checks/findings.h"
#include "core/model/edits/stand.h"
#include "tests/app/app_test.h"
#include "tests/support/steps.h"
#include "tests/support/temp_folder.h"
#include "tests/support/window.h"

namespace pivrak {
namespace {

using nlohmann::json;
using test::Hands;
using test::runAll;

inline json box(const char* name, const Vec3& at) {
    return {{"op", "stand_in.add"},
            {"kind", "box"},
            {"name", name},
            {"length", 0.4},
            {"width", 0.3},
            {"height", 0.2},
            {"at", {at.x(), at.y(), at.z()}}};
}

inline json round_part(const char* kind, const char* name, const Vec3& at, double diameter = 0.5) {
    return {{"op", "stand_in.add"}, {"kind", kind}, {"name", name}, {"diameter", diameter},
            {"length", 0.2},        {"width", 0.1}, {"axis", "y"},  {"at", {at.x(), at.y(), at.z()}}};
}

inline const Part& part(Hands& hands, const char* name) {
    return *hands.session.document().parts.find(hands.named(name));
}

/// What shows itself first is taken.
inline void accept(Hands& hands) {
    if (hands.session.previewed()) hands.click("acceptPreview");
    EXPECT_TRUE(hands.refusals.isEmpty()) << hands.refusals.join("; ").toStdString();
}

/// Clicks in the view on a part, beside each other; all but the first add to what is picked.
inline int click_across(Hands& hands, PartId id, int count) {
    Viewport& view = hands.window.view();
    int clicks = 0;
    for (int y = 40; y < view.height() - 40 && clicks < count; y += 7) {
        clicks = 0;
        for (int x = 20; x < view.width() - 20 && clicks < count; x += 11) {
            const QPoint pixel(x, y);
            if (!hands.isClear(pixel) || view.partAt(pixel) != id) continue;
            QTest::mouseClick(&view, Qt::LeftButton, clicks == 0 ? Qt::NoModifier : Qt::ShiftModifier, pixel);
            hands.settle();
            ++clicks;
        }
    }
    return clicks;
}

inline json gear(const char* name, int teeth, double x) {
    json step = round_part("gear", name, {x, 0, 0.5});
    step["teeth"] = teeth;
    return step;
}

}  // namespace
}  // namespace pivrak
