// No button of a panel is left to chance: each has a name, and some test of the window goes by it.

#include <QAbstractButton>
#include <QDir>
#include <QRegularExpression>
#include <set>

#include "app/stages/kit/stage_panel.h"
#include "tests/app/app_test.h"
#include "tests/support/window.h"

namespace pivrak {
namespace {

/// Every text in quotes of the window's tests, this one apart.
std::set<QString> words_of_tests() {
    std::set<QString> words;
    const QDir folder(QStringLiteral(WINDOW_TESTS));
    for (const QString& name : folder.entryList({QStringLiteral("*_test.cpp"), QStringLiteral("*.h")})) {
        if (name == QLatin1String("buttons_test.cpp")) continue;
        QFile file(folder.filePath(name));
        EXPECT_TRUE(file.open(QIODevice::ReadOnly));
        auto found = QRegularExpression(QStringLiteral("\"([A-Za-z_0-9 -]+)\"")).globalMatch(file.readAll());
        while (found.hasNext()) words.insert(found.next().captured(1));
    }
    return words;
}

TEST(Buttons, EachOneOfEveryPanelIsNamedByATest) {
    test::Hands hands(test::look());
    const std::set<QString> words = words_of_tests();
    ASSERT_GT(words.size(), 200u);
    std::set<QString> unknown, nameless;
    std::size_t buttons = 0;
    for (int stage = 0; stage < 7; ++stage) {
        hands.key(Qt::Key_1 + stage);
        for (StagePanel* panel : hands.window.findChildren<StagePanel*>()) {
            if (!panel->isVisible()) continue;
            for (QAbstractButton* button : panel->findChildren<QAbstractButton*>()) {
                const QString name = button->objectName();
                // The empty corner of a table's headers.
                if (button->inherits("QTableCornerButton")) continue;
                ++buttons;
                if (name.isEmpty())
                    nameless.insert(QStringLiteral("%1: '%2'").arg(stage + 1).arg(button->text()));
                else if (!words.contains(name))
                    unknown.insert(QStringLiteral("%1: %2").arg(stage + 1).arg(name));
            }
        }
    }
    EXPECT_GT(buttons, 100u);
    for (const QString& name : unknown) ADD_FAILURE() << "no test clicks " << name.toStdString();
    for (const QString& text : nameless) ADD_FAILURE() << "a button without a name: " << text.toStdString();
}

}  // namespace
}  // namespace pivrak
