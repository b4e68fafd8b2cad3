// The questions of the window, answered by mouse and keys: what each answer comes to, and how they look.
#include <QDialogButtonBox>
#include <QFileDialog>
#include <QLabel>
#include <QPushButton>

#include "tests/app/raw_models.h"
#include "tests/support/temp_folder.h"

namespace pivrak {
namespace {

/// Does something with the dialog that comes up next, once it has the keys.
template <class D, class F>
void when_asked(F answer, int tries = 500) {
    QTimer::singleShot(20, [answer, tries] {
        auto* dialog = qobject_cast<D*>(QApplication::activeModalWidget());
        if ((!dialog || !dialog->isActiveWindow()) && tries > 0) return when_asked<D>(answer, tries - 1);
        ASSERT_NE(dialog, nullptr);
        answer(*dialog);
    });
}

const auto press = [](Qt::Key key) { return [key](QDialog& dialog) { QTest::keyClick(&dialog, key); }; };
const auto click = [](const char* name) {
    return [name](QDialog& dialog) {
        QTest::mouseClick(dialog.findChild<QPushButton*>(QLatin1String(name)), Qt::LeftButton);
    };
};

TEST(Questions, EachAnswerIsWhatItSays) {
    Hands hands(test::look());
    const Questions asked = Questions::asked_in_dialogs();
    QWidget* parent = &hands.window;
    when_asked<QDialog>(click("answer1"));
    EXPECT_EQ(asked.unsaved(parent), Questions::Unsaved::Save);
    when_asked<QDialog>(click("answer2"));
    EXPECT_EQ(asked.unsaved(parent), Questions::Unsaved::Discard);
    when_asked<QDialog>(press(Qt::Key_Escape));
    EXPECT_EQ(asked.unsaved(parent), Questions::Unsaved::Stay) << "Escape loses nothing";
    when_asked<QDialog>(press(Qt::Key_Return));
    EXPECT_EQ(asked.unsaved(parent), Questions::Unsaved::Save) << "nor does Return";
    when_asked<QDialog>(click("answer2"));
    EXPECT_EQ(asked.left_work(parent, "words"), Questions::LeftWork::ThrowAway);
    when_asked<QDialog>(press(Qt::Key_Escape));
    EXPECT_EQ(asked.left_work(parent, "words"), Questions::LeftWork::Later);
    when_asked<QDialog>(click("answer1"));
    EXPECT_TRUE(asked.removal(parent, {"a", "b"}));
    when_asked<QDialog>(press(Qt::Key_Escape));
    EXPECT_FALSE(asked.removal(parent, {"a", "b"}));
}

/// Many losses are scrolled, not cut; one answer is the main one.
TEST(Questions, LongListsFitTheScreen) {
    Hands hands(test::look());
    QStringList losses;
    for (int i = 0; i < 60; ++i) losses << QStringLiteral("'Follower %1' follows 'Handle'").arg(i);
    when_asked<QDialog>([&](QDialog& dialog) {
        EXPECT_LT(dialog.height(), 520);
        const auto* details = dialog.findChild<QLabel*>("questionDetails");
        EXPECT_EQ(details->text().count('\n'), 59);
        EXPECT_GE(details->height(), details->sizeHint().height());
        int main = 0;
        for (const QPushButton* button : dialog.findChildren<QPushButton*>())
            main += button->property("main").toBool();
        EXPECT_EQ(main, 1);
        QTest::keyClick(&dialog, Qt::Key_Escape);
    });
    EXPECT_FALSE(Questions::asked_in_dialogs().removal(&hands.window, losses));
}

TEST(Questions, FilesAreAskedForInTheWindowsOwnLookWhereTheLastOnesLay) {
    Hands hands(test::look());
    test::TempFolder folder;
    folder.write("cart.glb", "x");
    const Questions asked = Questions::asked_in_dialogs();
    const auto name = [](QFileDialog& dialog, const QString& typed) {
        auto* edit = dialog.findChild<QLineEdit*>(QStringLiteral("fileNameEdit"));
        ASSERT_NE(edit, nullptr) << "a dialog of another program";
        edit->clear();
        QTest::keyClicks(edit, typed);
        QTest::keyClick(edit, Qt::Key_Return);
    };
    const QString path = QString::fromStdString((folder / "cart.glb").string());
    when_asked<QFileDialog>([&](QFileDialog& dialog) {
        EXPECT_TRUE(dialog.testOption(QFileDialog::DontUseNativeDialog));
        name(dialog, path);
    });
    EXPECT_EQ(asked.open_file(&hands.window, "Open", "Models (*.glb)"), path);
    when_asked<QFileDialog>([&](QFileDialog& dialog) {
        EXPECT_EQ(dialog.directory().absolutePath(), QString::fromStdString(folder.path().string()));
        QTest::keyClick(&dialog, Qt::Key_Escape);
    });
    EXPECT_TRUE(asked.open_file(&hands.window, "Open", "Models (*.glb)").isEmpty());
    when_asked<QFileDialog>([&](QFileDialog& dialog) { name(dialog, "mine.pivrak.glb"); });
    EXPECT_EQ(asked.save_file(&hands.window, "Save", "project.pivrak.glb", "Projects (*.pivrak.glb)"),
              QString::fromStdString((folder / "mine.pivrak.glb").string()));
}

}  // namespace
}  // namespace pivrak
