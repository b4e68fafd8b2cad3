#include "app/stages/kit/lower_area.h"

namespace pivrak {

LowerArea::LowerArea(const QString& title, QWidget* contents, QWidget* parent)
    : QFrame(parent), note_(new ShortenedLine), head_(new QHBoxLayout) {
    setObjectName(QStringLiteral("lowerArea"));
    setProperty("lower", true);
    auto* name = new QLabel(title);
    name->setProperty("role", "cardtitle");
    note_->setProperty("role", "soft");
    head_->addWidget(name);
    head_->addSpacing(10);
    head_->addWidget(note_, 1);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(12, 6, 12, 4);
    layout->setSpacing(4);
    layout->addLayout(head_);
    layout->addWidget(contents, 1);
}

}  // namespace pivrak
