#include "app/shell/questions.h"

#include "app/shell/file_question.h"
#include "app/shell/main_window.h"
#include "app/shell/question_box.h"

namespace pivrak {

Questions Questions::asked_in_dialogs() {
    return {
        ask_for_file, ask_where_to_save,
        [](QWidget* parent) {
            QuestionBox box(
                MainWindow::tr("Unsaved work"),
                MainWindow::tr("The project has changes that are not saved yet."), {},
                {MainWindow::tr("Save"), MainWindow::tr("Discard changes"), MainWindow::tr("Go on working")},
                parent);
            const int answer = box.ask();
            return answer == 0 ? Unsaved::Save : answer == 1 ? Unsaved::Discard : Unsaved::Stay;
        },
        [](QWidget* parent, const QString& words) {
            QuestionBox box(MainWindow::tr("Work left behind"), words, {},
                            {MainWindow::tr("Bring it back"), MainWindow::tr("Discard it"),
                             MainWindow::tr("Ask me later")},
                            parent);
            const int answer = box.ask();
            return answer == 0 ? LeftWork::BringBack : answer == 1 ? LeftWork::ThrowAway : LeftWork::Later;
        },
        [](QWidget* parent, const QStringList& losses) {
            QuestionBox box(MainWindow::tr("Remove"),
                            MainWindow::tr("Other parts take something from what you remove:"), losses,
                            {MainWindow::tr("Remove, they stay where they are"), MainWindow::tr("Keep all")},
                            parent);
            return box.ask() == 0;
        }};
}

}  // namespace pivrak
