#pragma once

#include <QFrame>
#include <QHBoxLayout>
#include <QVBoxLayout>

#include "app/stages/kit/shortened_line.h"

namespace pivrak {

/// What lies below the view in a stage: a title, a line about it, and its contents.
class LowerArea : public QFrame {
public:
    LowerArea(const QString& title, QWidget* contents, QWidget* parent = nullptr);
    void setNote(const QString& note) { note_->setLine(note); }
    /// At the end of its title.
    void addButton(QWidget* button) { head_->addWidget(button); }

private:
    ShortenedLine* note_;
    QHBoxLayout* head_;
};

}  // namespace pivrak
