#pragma once

#include "app/curves/curve_sheet.h"
#include "tests/app/bank.h"

namespace pivrak {

/// The handle is keyed by hands at frames 0, 40 and 80: 0, 400 and 100 mm.
struct Curves : Bank {
    ChannelRef shift{};
    explicit Curves(int slats = 1) : Bank(slats) {
        shift = {handle(), ChannelKind::Shift};
        hands.key(Qt::Key_6);
        for (const auto& [frame, value] : {std::pair("0", "0 mm"), {"40", "400 mm"}, {"80", "100 mm"}}) {
            hands.clickRow(handle());
            hands.type("frameEntry", frame);
            QTest::keyClick(hands.find("frameEntry"), Qt::Key_Return);
            hands.settle();
            hands.type("keyValue", value);
            hands.click("panelSetKey");
        }
    }
    CurveSheet& sheet() { return *hands.find<CurveSheet>("curveSheet"); }
    const Track& track() { return *hands.session.clip().track(shift); }
    const Key& key(double frame) {
        const Key* found = track().key_at(frame);
        EXPECT_NE(found, nullptr) << frame;
        static const Key none;
        return found ? *found : none;
    }
    void pick(double frame) {
        QTest::mouseClick(&sheet(), Qt::LeftButton, {}, sheet().placeOf(shift, frame).toPoint());
        hands.settle();
    }
    void drag(const QPointF& from, const QPointF& by, Qt::KeyboardModifiers keys = {}) {
        QTest::mousePress(&sheet(), Qt::LeftButton, keys, from.toPoint());
        for (const double share : {0.4, 0.8, 1.0}) {
            QMouseEvent move(QEvent::MouseMove, from + share * by, sheet().mapToGlobal(from + share * by),
                             Qt::NoButton, Qt::LeftButton, keys);
            QApplication::sendEvent(&sheet(), &move);
        }
        QTest::mouseRelease(&sheet(), Qt::LeftButton, keys, (from + by).toPoint());
        hands.settle();
    }
    void typeField(const char* name, const char* text) {
        hands.type(name, text);
        QTest::keyClick(hands.find(name), Qt::Key_Return);
        hands.settle();
    }
    /// Of the handle in the world [m], above where it rests.
    double raised(double frame) {
        hands.session.setFrame(frame);
        hands.settle();
        return hands.session.worldFromPart(handle()).translation.z() - rest_;
    }
    double rest_ = 0.3;
};

}  // namespace pivrak
