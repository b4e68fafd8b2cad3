#include "app/shell/questions.h"

#include <QFileDialog>
#include <QMessageBox>

#include "app/shell/main_window.h"

namespace pivrak {

Questions Questions::asked_in_dialogs() {
    return {[](QWidget* parent, const QString& title, const QString& filter) {
                return QFileDialog::getOpenFileName(parent, title, {}, filter);
            },
            [](QWidget* parent, const QString& title, const QString& proposed, const QString& filter) {
                return QFileDialog::getSaveFileName(parent, title, proposed, filter);
            },
            [](QWidget* parent) {
                QMessageBox box(QMessageBox::NoIcon, MainWindow::tr("Unsaved work"),
                                MainWindow::tr("The project has changes that are not saved yet."),
                                QMessageBox::Save | QMessageBox::Discard | QMessageBox::Cancel, parent);
                box.setDefaultButton(QMessageBox::Save);
                const int answer = box.exec();
                return answer == QMessageBox::Save      ? Unsaved::Save
                       : answer == QMessageBox::Discard ? Unsaved::Discard
                                                        : Unsaved::Stay;
            },
            [](QWidget* parent, const QString& words) {
                QMessageBox box(QMessageBox::NoIcon, MainWindow::tr("Work left behind"), words,
                                QMessageBox::NoButton, parent);
                const auto* back = box.addButton(MainWindow::tr("Bring it back"), QMessageBox::AcceptRole);
                const auto* away = box.addButton(MainWindow::tr("Discard it"), QMessageBox::DestructiveRole);
                box.addButton(MainWindow::tr("Ask me later"), QMessageBox::RejectRole);
                box.exec();
                return box.clickedButton() == back   ? LeftWork::BringBack
                       : box.clickedButton() == away ? LeftWork::ThrowAway
                                                     : LeftWork::Later;
            },
            [](QWidget* parent, const QStringList& losses) {
                QMessageBox box(QMessageBox::NoIcon, MainWindow::tr("Remove"),
                                MainWindow::tr("Other parts take something from what you remove:"),
                                QMessageBox::NoButton, parent);
                box.setInformativeText(losses.join("\n"));
                const auto* remove = box.addButton(MainWindow::tr("Remove, they stay where they are"),
                                                   QMessageBox::AcceptRole);
                box.addButton(MainWindow::tr("Keep all"), QMessageBox::RejectRole);
                box.exec();
                return box.clickedButton() == remove;
            }};
}

}  // namespace pivrak
