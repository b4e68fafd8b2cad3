// What a person reads who waits over a button before pressing it.
#include <QPushButton>

#include "tests/app/app_test.h"
#include "tests/support/window.h"

namespace pivrak {
namespace {

using test::Hands;

bool isOfPanels(const QPushButton* button) {
    const QString name = button->objectName();
    // The pinned one says what that says for which it stands.
    return !name.isEmpty() && !name.startsWith(QStringLiteral("tab")) &&
           !name.startsWith(QStringLiteral("qt_")) && name != QStringLiteral("pinnedMain");
}

TEST(Tips, EveryButtonSaysWhatItWillDo) {
    Hands hands(test::look());
    hands.window.openFile(QStringLiteral(FINISHED_STATION));
    hands.settle();
    QStringList silent;
    for (int stage = 1; stage <= 7; ++stage) {
        hands.key(Qt::Key_0 + stage);
        QStringList tabs{QString()};
        for (const QAbstractButton* tab : hands.window.findChildren<QAbstractButton*>())
            if (tab->isVisible() && tab->objectName().startsWith(QStringLiteral("tab")))
                tabs << tab->objectName();
        for (const QString& tab : tabs) {
            if (!tab.isEmpty()) hands.click(tab.toUtf8().constData());
            for (const QPushButton* button : hands.window.findChildren<QPushButton*>())
                if (isOfPanels(button) && button->toolTip().isEmpty() &&
                    !silent.contains(button->objectName()))
                    silent << button->objectName();
        }
    }
    EXPECT_TRUE(silent.isEmpty()) << silent.join(", ").toStdString();
}

TEST(Tips, SayWhyNotWhileAButtonCannotBePressed) {
    Hands hands(test::look());
    hands.window.openFile(QStringLiteral(FINISHED_STATION));
    hands.settle();
    hands.key(Qt::Key_2);
    hands.click("tabPick");
    hands.pickNothing();
    EXPECT_FALSE(hands.find("growMaterial")->isEnabled());
    EXPECT_EQ(hands.find("growMaterial")->toolTip(), "pick a part first");
    hands.clickRow(hands.session.document().parts.begin()->id);
    EXPECT_TRUE(hands.find("growMaterial")->isEnabled());
    EXPECT_EQ(hands.find("growMaterial")->toolTip(), "Picks all of the same material");
    // A form's button says what its operation does as the form stands.
    hands.click("tabCopy");
    hands.choose("copyWay", "part.mirror");
    const QString mirrors = hands.find("previewCopy")->toolTip();
    hands.choose("copyWay", "part.repeat_line");
    EXPECT_NE(hands.find("previewCopy")->toolTip(), mirrors);
    EXPECT_EQ(hands.find("previewCopy")->toolTip(),
              QString::fromStdString(hands.session.registry().find("part.repeat_line")->summary));
}

}  // namespace
}  // namespace pivrak
