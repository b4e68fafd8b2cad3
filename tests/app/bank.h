#pragma once

#include <QPlainTextEdit>

#include "tests/app/panel_hands.h"

namespace pivrak {

/// A handle on a slide along z, and slats that turn about y, one above the other.
struct Bank : testing::Test {
    Hands hands{test::look()};
    explicit Bank(int slats = 4) {
        runAll(hands, {box("Handle", {0.8, 0, 0.3}),
                       {{"op", "joint.set"},
                        {"parts", {"Handle"}},
                        {"kind", "slide"},
                        {"axis", "z"},
                        {"min", 0},
                        {"max", "1.2 m"}}});
        for (int i = 1; i <= slats; ++i)
            runAll(hands, {{{"op", "stand_in.add"},
                            {"kind", "box"},
                            {"name", slat(i)},
                            {"length", 0.02},
                            {"width", 0.6},
                            {"height", 0.11},
                            {"at", {0, 0, 0.12 * i}}},
                           {{"op", "joint.set"}, {"parts", {slat(i)}}, {"kind", "hinge"}, {"axis", "y"}}});
        hands.key(Qt::Key_5);
        hands.click("tabDrivers");
    }
    static std::string slat(int i) { return "Slat " + std::to_string(i); }
    PartId handle() { return hands.named("Handle"); }
    std::vector<PartId> slats(int count = 4) {
        std::vector<PartId> parts;
        for (int i = 1; i <= count; ++i) parts.push_back(hands.named(slat(i)));
        return parts;
    }
    /// Of its own axes in the world [deg].
    double turned(int i) {
        const Vec3 up = hands.session.worldFromPart(hands.named(slat(i))).axis(2);
        return std::atan2(up.x(), up.z()) * deg_per_rad;
    }
    void pull(const char* value) {
        hands.clickRow(handle());
        hands.typeAtGauge({handle(), ChannelKind::Shift}, value);
    }
    QString facts(const char* label) { return hands.find<QLabel>(label)->text(); }
    void typeFormula(const QString& text) {
        auto* editor = hands.find<QPlainTextEdit>("formulaText");
        QTest::mouseClick(editor->viewport(), Qt::LeftButton, {}, {20, 12});
        QTest::keyClick(editor, Qt::Key_A, Qt::ControlModifier);
        QTest::keyClicks(editor, text);
        // Words on offer do not take the next keys.
        QTest::keyClick(editor, Qt::Key_End);
        hands.settle();
    }
};

}  // namespace pivrak
