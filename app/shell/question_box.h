#pragma once

#include <QDialog>
#include <QStringList>

namespace pivrak {

/// A question with its answers as buttons, in the look of the window. The first answer is the usual one and
/// taken by Return; Escape takes the last, which changes nothing.
class QuestionBox : public QDialog {
    Q_OBJECT

public:
    QuestionBox(const QString& title, const QString& words, const QStringList& details,
                const QStringList& answers, QWidget* parent);
    /// Waits for an answer, by its number.
    int ask();

private:
    int answer_;
};

}  // namespace pivrak
