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
    void setNote(const QString& note) { note_->setText(note); }

private:
    QLabel* note_;
};

}  // namespace pivrak
