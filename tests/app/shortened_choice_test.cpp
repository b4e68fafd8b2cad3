// Choices with long words in narrow fields.
#include "app/stages/kit/shortened_choice.h"
#include "app/stages/kit/card.h"

#include <QHelpEvent>
#include <QTest>
#include <QToolTip>
#include <memory>

#include "tests/app/app_test.h"
#include "tests/app/panel_tabs.h"

namespace pivrak {
namespace {

/// Columns of pixels, from the field's right end, in which nothing is written.
int blank_columns(QComboBox& choice) {
    QStyleOptionComboBox option;
    option.initFrom(&choice);
    option.subControls = QStyle::SC_All;
    const QRect field =
        choice.style()->subControlRect(QStyle::CC_ComboBox, &option, QStyle::SC_ComboBoxEditField, &choice);
    const QImage picture = choice.grab().toImage();
    const int middle = field.center().y();
    for (int columns = 0; columns < field.width(); ++columns) {
        const int x = field.right() - columns;
        for (int y = middle - 6; y <= middle + 6; ++y)
            if (picture.pixel(x, y) != picture.pixel(field.right(), middle - 6)) return columns;
    }
    return field.width();
}

TEST(ShortenedChoice, CutsWithDotsAndTellsTheWholeInATip) {
    test::look();
    const std::unique_ptr<QComboBox> choice(
        makeChoice("trial", {{"Input shaft to layshaft, after the tensioner", "a"}, {"off", "b"}}));
    choice->resize(140, 27);
    choice->show();
    ASSERT_TRUE(QTest::qWaitForWindowExposed(choice.get()));
    EXPECT_GT(blank_columns(*choice), 0) << "no letter is cut through";
    EXPECT_LT(blank_columns(*choice), 40) << "and the room is used";
    const auto tip = [&] {
        QToolTip::hideText();
        QHelpEvent asked(QEvent::ToolTip, {20, 10}, choice->mapToGlobal(QPoint(20, 10)));
        QApplication::sendEvent(choice.get(), &asked);
        return QToolTip::text();
    };
    EXPECT_EQ(tip(), choice->currentText());
    EXPECT_EQ(choice->currentText(), "Input shaft to layshaft, after the tensioner")
        << "whole for all others";
    choice->setToolTip("How it goes on");
    EXPECT_EQ(tip(), choice->currentText() + "\nHow it goes on");
    choice->setCurrentIndex(1);
    EXPECT_EQ(tip(), "How it goes on");
    QToolTip::hideText();
}

TEST(ShortenedChoice, NamesOfClipsAreWholeWhereThereIsRoom) {
    test::Hands hands(test::look());
    for (const char* name : {"loading", "fold up", "shake"})
        ASSERT_TRUE(hands.session.run({{"op", "clip.add"}, {"name", name}}));
    hands.settle();
    auto& clips = dynamic_cast<ShortenedChoice&>(*hands.find("clipChoice"));
    for (int i = 0; i < clips.count(); ++i) {
        clips.setCurrentIndex(i);
        EXPECT_FALSE(clips.isCut()) << clips.currentText().toStdString() << " in " << clips.width();
    }
}

std::vector<ShortenedChoice*> seen_choices(const test::Hands& hands) {
    std::vector<ShortenedChoice*> seen;
    for (auto* choice : hands.window.findChildren<ShortenedChoice*>())
        if (choice->isVisible() && !choice->isEditable()) seen.push_back(choice);
    return seen;
}

/// The words of each choice that is seen, and of those that each of its words brings; answers how many.
int expect_whole_words(const test::Hands& hands) {
    int looked_at = 0;
    for (auto* choice : seen_choices(hands)) {
        const int before = choice->currentIndex();
        for (int i = 0; i < choice->count(); ++i) {
            choice->setCurrentIndex(i);
            QApplication::processEvents();
            for (auto* other : seen_choices(hands)) {
                EXPECT_FALSE(other->isCut())
                    << other->objectName().toStdString() << ": " << other->currentText().toStdString();
                ++looked_at;
            }
        }
        choice->setCurrentIndex(before);
    }
    return looked_at;
}

/// Of what the application calls things itself; names that people gave may be as long as they like.
TEST(ShortenedChoice, WordsOfTheApplicationAreWholeAtTheUsualSize) {
    test::Hands hands(test::look());
    hands.window.resize(1280, 800);
    hands.settle();
    int looked_at = 0;
    for (int stage = 0; stage < stage_count; ++stage) {
        hands.session.setStage(static_cast<Stage>(stage));
        hands.settle();
        const QStringList tabs = test::shown_tabs(hands);
        if (tabs.isEmpty()) looked_at += expect_whole_words(hands);
        for (const QString& tab : tabs) {
            hands.click(tab.toLatin1());
            looked_at += expect_whole_words(hands);
        }
    }
    EXPECT_GT(looked_at, 150);
}

}  // namespace
}  // namespace pivrak
