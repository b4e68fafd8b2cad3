// The list of steps by hands: back and on, steps taken again on other parts, kept as a job.
#include <QListWidget>

#include "app/steps/steps_window.h"
#include "core/io/atomic_file.h"
#include "tests/app/panel_hands.h"

namespace pivrak {
namespace {

struct Listed {
    Hands hands{test::look()};
    StepsWindow* window = nullptr;
    QListWidget* list = nullptr;

    explicit Listed(const std::vector<json>& steps) {
        runAll(hands, steps);
        hands.window.actions().find(QStringLiteral("steps"))->action->trigger();
        hands.settle();
        window = hands.window.findChild<StepsWindow*>();
        list = window ? window->findChild<QListWidget*>(QStringLiteral("stepsList")) : nullptr;
    }
    void click(int row, Qt::KeyboardModifiers modifiers = {}) {
        list->scrollToItem(list->item(row));
        QTest::mouseClick(list->viewport(), Qt::LeftButton, modifiers,
                          list->visualItemRect(list->item(row)).center());
        hands.settle();
    }
    void press(const char* button) {
        auto* found = window->findChild<QPushButton*>(QLatin1String(button));
        ASSERT_NE(found, nullptr) << button;
        ASSERT_TRUE(found->isEnabled()) << button << " is grey";
        QTest::mouseClick(found, Qt::LeftButton);
        hands.settle();
    }
    QString facts() const { return window->findChild<QLabel*>(QStringLiteral("stepsFacts"))->text(); }
};

const std::vector<json> two_hinges{
    box("A", {0, 0, 0.5}),
    box("B", {1, 0, 0.5}),
    box("C", {2, 0, 0.5}),
    {{"op", "joint.set"}, {"parts", {"A"}}, {"kind", "hinge"}, {"axis", "y"}},
    {{"op", "joint.set"}, {"parts", {"A"}}, {"min", "0 deg"}, {"max", "90 deg"}}};

TEST(Steps, ANewcomerGoesBackAndOnToAnyOfThem) {
    Listed l(two_hinges);
    ASSERT_NE(l.list, nullptr);
    ASSERT_EQ(l.list->count(), 6) << "as it was opened, and five steps";
    l.click(2);
    l.press("goToStep");
    EXPECT_EQ(l.hands.session.document().parts.size(), 2u);
    EXPECT_TRUE(l.list->item(5)->text().endsWith(QStringLiteral("undone")));
    EXPECT_EQ(l.list->item(5)->foreground().color(), test::look().theme().softInk) << "and is paler";
    l.click(5);
    l.press("goToStep");
    EXPECT_EQ(l.hands.session.document().parts.size(), 3u);
    EXPECT_EQ(part(l.hands, "A").joint.kind, JointKind::Hinge);
    l.click(0);
    l.press("goToStep");
    EXPECT_TRUE(l.hands.session.document().parts.empty());
    // Closed, it misses nothing.
    l.window->close();
    ASSERT_TRUE(l.hands.session.run(box("D", {3, 0, 0.5})));
    l.hands.window.actions().find(QStringLiteral("steps"))->action->trigger();
    l.hands.settle();
    EXPECT_EQ(l.list->count(), 2) << "the step took the place of those undone";
}

TEST(Steps, MarkedOnesAreTakenAgainOnWhatIsPicked) {
    Listed l(two_hinges);
    ASSERT_NE(l.list, nullptr);
    l.click(4);
    l.click(5, Qt::ShiftModifier);
    EXPECT_TRUE(l.facts().contains(QStringLiteral("one lot"))) << l.facts().toStdString();
    l.hands.pickNamed({"B", "C"});
    l.press("repeatSteps");
    for (const char* name : {"B", "C"}) {
        EXPECT_EQ(part(l.hands, name).joint.kind, JointKind::Hinge) << name;
        ASSERT_TRUE(part(l.hands, name).joint.turn.limits.has_value()) << name;
    }
    EXPECT_EQ(l.list->count(), 8);
    // Each can be undone.
    l.hands.session.undo();
    EXPECT_FALSE(part(l.hands, "C").joint.turn.limits.has_value());
}

TEST(Steps, KeptAsAJobTheyGoOverOtherModels) {
    Listed l(two_hinges);
    ASSERT_NE(l.list, nullptr);
    test::TempFolder folder;
    l.hands.save_answer = QString::fromStdString((folder / "hinge.job.json").string());
    l.click(4);
    l.click(5, Qt::ShiftModifier);
    l.press("saveStepsAsJob");
    const auto text = read_file(folder / "hinge.job.json");
    ASSERT_TRUE(text.ok());
    const json job = json::parse(*text);
    ASSERT_EQ(job["steps"].size(), 2u);
    EXPECT_EQ(job["steps"][0]["parts"], (json{"A"}));
}

}  // namespace
}  // namespace pivrak
