// Help names only what there is, opens at the present stage, and the first machine can be made as it says.
#include <QAction>
#include <QLabel>
#include <QListWidget>
#include <QRegularExpression>
#include <QTabBar>
#include <set>

#include "app/help/first_machine.h"
#include "app/help/help_window.h"
#include "app/shell/stage_panels.h"
#include "tests/app/app_test.h"
#include "tests/support/temp_folder.h"
#include "tests/support/window.h"

namespace pivrak {
namespace {

using test::Hands;

QString plain(QString text) {
    return text.remove(QLatin1Char('&')).section(QStringLiteral("  "), 0, 0).simplified();
}

HelpWindow* openHelp(Hands& hands) {
    hands.key(Qt::Key_F1);
    auto* help = hands.window.findChild<HelpWindow*>();
    EXPECT_NE(help, nullptr);
    return help;
}

QString shownText(HelpWindow& help) {
    for (QLabel* label : help.findChildren<QLabel*>(QStringLiteral("helpText")))
        if (label->isVisible()) return label->text();
    return {};
}

TEST(Help, F1OpensThePageOfTheStageAndFollowsIt) {
    Hands hands(test::look());
    HelpWindow* help = openHelp(hands);
    ASSERT_NE(help, nullptr);
    for (int stage = 0; stage < stage_count; ++stage) {
        hands.key(Qt::Key_1 + stage);
        const QString text = shownText(*help),
                      name = QString::fromUtf8(stage_name(static_cast<Stage>(stage)).data());
        EXPECT_TRUE(text.startsWith(QStringLiteral("# ") + name)) << name.toStdString();
        EXPECT_TRUE(text.contains(QStringLiteral("Three common mistakes"))) << name.toStdString();
        EXPECT_EQ(
            text.count(QRegularExpression(QStringLiteral("^\\d\\. "), QRegularExpression::MultilineOption)),
            3);
    }
    help->close();
    hands.key(Qt::Key_F1);
    EXPECT_TRUE(help->isVisible()) << "it opens again";
}

/// What stands bold in a page is a button, tab, card or action of that name.
TEST(Help, BoldWordsAreInTheWindow) {
    Hands hands(test::look());
    std::set<QString> there;
    for (int stage = 0; stage < stage_count; ++stage) {
        hands.key(Qt::Key_1 + stage);
        for (QAbstractButton* button : hands.window.findChildren<QAbstractButton*>())
            there.insert(plain(button->text()));
        for (QTabBar* tabs : hands.window.findChildren<QTabBar*>())
            for (int i = 0; i < tabs->count(); ++i) there.insert(plain(tabs->tabText(i)));
    }
    for (QAction* action : hands.window.findChildren<QAction*>()) there.insert(plain(action->text()));
    HelpWindow* help = openHelp(hands);
    ASSERT_NE(help, nullptr);
    for (QAbstractButton* button : help->findChildren<QAbstractButton*>())
        there.insert(plain(button->text()));
    std::size_t bold = 0;
    for (QLabel* label : help->findChildren<QLabel*>(QStringLiteral("helpText"))) {
        auto found = QRegularExpression(QStringLiteral("\\*\\*([^*]+)\\*\\*")).globalMatch(label->text());
        while (found.hasNext()) {
            const QString words = found.next().captured(1);
            ++bold;
            EXPECT_TRUE(there.contains(words)) << words.toStdString();
        }
    }
    EXPECT_GT(bold, 12u);
}

TEST(Help, TheFirstMachineIsMadeAsItSays) {
    Hands hands(test::look());
    test::TempFolder folder;
    hands.window.actions().find(QStringLiteral("firstMachine"))->action->trigger();
    hands.settle();
    auto* help = hands.window.findChild<HelpWindow*>();
    ASSERT_NE(help, nullptr);
    const auto ticks = [&] {
        int count = 0;
        for (int i = 1; i <= 7; ++i)
            count +=
                help->findChild<QLabel*>(QStringLiteral("firstStep%1").arg(i))->text() == QStringLiteral("✓");
        return count;
    };
    EXPECT_EQ(ticks(), 0);
    int step = 0;
    const auto next = [&] {
        EXPECT_EQ(ticks(), step)
            << help->findChild<QLabel*>(QStringLiteral("firstMachineState"))->text().toStdString();
        ++step;
        QTest::mouseClick(help->findChild<QPushButton*>(QStringLiteral("showFirstStep%1").arg(step)),
                          Qt::LeftButton);
        hands.settle();
        EXPECT_EQ(hands.session.stage(), first_machine_steps()[static_cast<std::size_t>(step - 1)].stage);
    };
    for (const char* teeth : {"20", "40"}) {
        next();
        hands.choose("standInKind", "gear");
        hands.type("standIn_teeth", teeth, false);
        hands.click("previewStandIn");
        hands.click("acceptPreview");
    }
    next();
    hands.pickNamed({"Gear 20T", "Gear 40T"});
    hands.choose("jointKind", "hinge");
    hands.choose("jointAxis", "x");
    next();
    hands.click("coupleGears");
    if (hands.find("fitCentres")) hands.click("fitCentres");
    if (hands.session.previewed()) hands.click("acceptPreview");
    next();
    hands.clickRow(hands.named("Gear 20T"));
    hands.key(Qt::Key_K);
    hands.key(Qt::Key_Right, Qt::ControlModifier);
    const ChannelRef turn{hands.named("Gear 20T"), ChannelKind::Turn};
    hands.typeAtGauge(turn, QStringLiteral("360°"));
    hands.key(Qt::Key_K);
    next();
    hands.key(Qt::Key_Space);
    hands.key(Qt::Key_Space);
    next();
    hands.type("deliveryPath", QString::fromStdString((folder / "first.glb").string()), false);
    hands.click("deliver");
    hands.settle();
    EXPECT_EQ(ticks(), 7) << hands.refusals.join("; ").toStdString();
    EXPECT_TRUE(std::filesystem::exists(folder / "first.glb"));
    // What it says of the motion is so.
    const Clip& clip = hands.session.clip();
    const ChannelRef larger{hands.named("Gear 40T"), ChannelKind::Turn};
    hands.session.setFrame(clip.first_frame);
    const double begins = hands.session.valueOf(larger);
    hands.session.setFrame(clip.last_frame);
    EXPECT_NEAR(hands.session.valueOf(larger) - begins, -pi, 1e-9);
    const Vec3 between = world_from_rest(hands.session.document(), hands.named("Gear 40T")).translation -
                         world_from_rest(hands.session.document(), hands.named("Gear 20T")).translation;
    // Source: ISO 53, pitch circles of 4 (20 + 40) / 2 mm.
    EXPECT_NEAR(Vec2(between.x(), between.z()).norm(), 0.12, 1e-6) << "moved to where they mesh";
}

}  // namespace
}  // namespace pivrak
