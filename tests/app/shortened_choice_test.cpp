// Choices with long words in narrow fields.
#include "app/stages/kit/shortened_choice.h"
#include "app/stages/kit/card.h"

#include <QHelpEvent>
#include <QTest>
#include <QToolTip>
#include <memory>

#include "tests/app/app_test.h"
#include "tests/support/window.h"

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

}  // namespace
}  // namespace pivrak
