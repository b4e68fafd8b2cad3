#pragma once

#include <QFrame>
#include <QHBoxLayout>
#include <QLabel>
#include <QVBoxLayout>

namespace pivrak {

/// What lies below the view in a stage: a title, a line about it, and its contents.
class LowerArea : public QFrame {
public:
    LowerArea(const QString& title, QWidget* contents, QWidget* parent = nullptr);
    void setNote(const QString& note) {
        note_->setText(note);
        note_->setToolTip(note);
    }
    /// At the end of its title.
    void addButton(QWidget* button) { head_->addWidget(button); }

private:
    QLabel* note_;
    QHBoxLayout* head_;
};

}  // namespace pivrak
