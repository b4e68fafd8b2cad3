// Every control is reached by Tab and says what it is; dial, rail and the vehicle's picture go by keys.
#include <gtest/gtest.h>

#include <QAbstractItemView>
#include <QAbstractSpinBox>
#include <QAccessible>
#include <QPlainTextEdit>
#include <QSignalSpy>
#include <QSlider>

#include "app/shell/stage_rail.h"
#include "app/stages/rig/layout_picture.h"
#include "app/view/compass_dial.h"
#include "tests/app/app_test.h"
#include "tests/support/steps.h"
#include "tests/support/window.h"

namespace pivrak {
namespace {

using test::Hands;

bool isControl(const QWidget* widget) {
    if (widget->objectName().startsWith(QStringLiteral("qt_"))) return false;
    // Parts of other widgets.
    const QWidget* parent = widget->parentWidget();
    if (qobject_cast<const QComboBox*>(parent) || qobject_cast<const QAbstractSpinBox*>(parent) ||
        qobject_cast<const QAbstractItemView*>(parent) || (parent && parent->inherits("QTabBar")) ||
        widget->inherits("QHeaderView") || widget->inherits("QMenuBarExtension"))
        return false;
    for (const char* kind :
         {"QAbstractButton", "QLineEdit", "QComboBox", "QAbstractItemView", "QPlainTextEdit",
          "pivrak::CompassDial", "pivrak::StageRail", "pivrak::LayoutPicture", "pivrak::Viewport",
          "pivrak::TimeLanes", "pivrak::CurveSheet", "pivrak::ResponsePlot"})
        if (widget->inherits(kind)) return true;
    return false;
}

/// What of the visible controls cannot be reached by Tab, or says nothing of itself.
QStringList mute(Hands& hands) {
    QStringList out;
    for (QWidget* widget : hands.window.findChildren<QWidget*>()) {
        if (!widget->isVisible() || !isControl(widget)) continue;
        const QString name =
            QLatin1String(widget->metaObject()->className()) + QLatin1Char(' ') + widget->objectName();
        if (!(widget->focusPolicy() & Qt::TabFocus)) out << name + QStringLiteral(": not by Tab");
        const QAccessibleInterface* told = QAccessible::queryAccessibleInterface(widget);
        if (!told || told->text(QAccessible::Name).trimmed().isEmpty())
            out << name + QStringLiteral(": no name");
    }
    return out;
}

TEST(Keyboard, EveryControlIsReachedByTabAndSaysWhatItIs) {
    Hands hands(test::look());
    hands.window.openFile(QStringLiteral(FINISHED_STATION));
    hands.settle();
    for (int stage = 1; stage <= 7; ++stage) {
        hands.key(Qt::Key_0 + stage);
        QStringList tabs;
        for (const QAbstractButton* tab : hands.window.findChildren<QAbstractButton*>())
            if (tab->isVisible() && tab->objectName().startsWith(QStringLiteral("tab")))
                tabs << tab->objectName();
        tabs.prepend(QString());
        for (const QString& tab : tabs) {
            if (!tab.isEmpty()) hands.click(tab.toUtf8().constData());
            const QStringList found = mute(hands);
            EXPECT_TRUE(found.isEmpty())
                << "stage " << stage << ' ' << tab.toStdString() << ": " << found.join("; ").toStdString();
        }
    }
}

TEST(Keyboard, TheDialAndTheRailGoByArrows) {
    Hands hands(test::look());
    test::runAll(hands, {test::small_box("A", 0, 0)});
    auto* dial = hands.find<CompassDial>("compassDial");
    dial->setFocus(Qt::TabFocusReason);
    const auto azimuth = [&] { return hands.window.view().camera().azimuth; };
    QTest::keyClick(dial, Qt::Key_Down);
    const double side = azimuth();
    EXPECT_NEAR(std::remainder(side, pi / 2), 0, 1e-9) << "straight from a side";
    QTest::keyClick(dial, Qt::Key_Left);
    EXPECT_NEAR(std::remainder(azimuth() - side - pi / 2, 2 * pi), 0, 1e-9);
    for (int i = 0; i < 3; ++i) QTest::keyClick(dial, Qt::Key_Left);
    EXPECT_NEAR(std::remainder(azimuth() - side, 2 * pi), 0, 1e-9) << "once round";
    QTest::keyClick(dial, Qt::Key_Up);
    EXPECT_GT(hands.window.view().camera().elevation, 1.5);
    auto* rail = hands.find<StageRail>("stageRail");
    rail->setFocus(Qt::TabFocusReason);
    QTest::keyClick(rail, Qt::Key_Down);
    EXPECT_EQ(hands.session.stage(), Stage::Split);
    QTest::keyClick(rail, Qt::Key_Up);
    QTest::keyClick(rail, Qt::Key_Up);
    EXPECT_EQ(hands.session.stage(), Stage::Intake) << "the first is the first";
}

TEST(Keyboard, AxlesAreSteeredAndWheelsLeftOutByKeys) {
    Hands hands(test::look());
    std::vector<nlohmann::json> steps;
    for (const double x : {1.3, -1.3})
        for (const double y : {0.8, -0.8})
            steps.push_back({{"op", "stand_in.add"},
                             {"kind", "wheel"},
                             {"name", "wheel " + std::to_string(steps.size())},
                             {"diameter", 0.8},
                             {"width", 0.25},
                             {"axis", "y"},
                             {"at", {x, y, 0.4}}});
    test::runAll(hands, steps);
    hands.key(Qt::Key_5);
    hands.pickNothing();
    hands.click("tabVehicle");
    hands.click("lookForWheels");
    auto* picture = hands.find<LayoutPicture>("layoutPicture");
    ASSERT_NE(picture, nullptr);
    QSignalSpy steered(picture, &LayoutPicture::axleClicked), dropped(picture, &LayoutPicture::wheelDropped);
    ASSERT_EQ(hands.text("vehicleFacts").left(8), "4 wheels") << hands.text("vehicleFacts").toStdString();
    picture->setFocus(Qt::TabFocusReason);
    QTest::keyClick(picture, Qt::Key_Space);
    QTest::keyClick(picture, Qt::Key_Right);
    QTest::keyClick(picture, Qt::Key_Right);
    QTest::keyClick(picture, Qt::Key_Space);
    ASSERT_EQ(steered.size(), 2);
    EXPECT_NE(steered[0][0], steered[1][0]) << "another axle";
    QTest::keyClick(picture, Qt::Key_Delete);
    EXPECT_EQ(dropped.size(), 1);
}

}  // namespace
}  // namespace pivrak
