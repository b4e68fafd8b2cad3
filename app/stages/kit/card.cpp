#include "app/stages/kit/card.h"

#include <QStyle>

#include "app/stages/kit/button_tips.h"
#include "app/stages/kit/shortened_choice.h"

namespace pivrak {

Card::Card(const QString& title, QWidget* parent)
    : QFrame(parent), layout_(new QVBoxLayout(this)), title_(title) {
    setProperty("card", "true");
    layout_->setContentsMargins(12, 9, 12, 10);
    layout_->setSpacing(6);
    auto* label = new QLabel(title);
    label->setProperty("role", "cardtitle");
    layout_->addWidget(label);
}

void Card::addWidget(QWidget* widget) {
    const bool says_itself = qobject_cast<QAbstractButton*>(widget) || qobject_cast<QLabel*>(widget);
    if (!says_itself && widget->accessibleName().isEmpty()) widget->setAccessibleName(title_);
    layout_->addWidget(widget);
}

void Card::addRow(const QString& label, QWidget* field) {
    (void)addOptionalRow(label, field);
}

QWidget* Card::addOptionalRow(const QString& label, QWidget* field) {
    auto* whole = new QWidget;
    auto* row = new QHBoxLayout(whole);
    row->setContentsMargins(0, 0, 0, 0);
    auto* name = new QLabel(label);
    name->setBuddy(field);
    name->setMinimumWidth(96);
    row->addWidget(name);
    row->addWidget(field, 1);
    layout_->addWidget(whole);
    return whole;
}

void Card::addHeading(const QString& text) {
    auto* heading = new QLabel(text);
    heading->setProperty("role", "soft");
    layout_->addWidget(heading);
}

void Card::addButtons(std::initializer_list<QPushButton*> buttons) {
    auto* row = new QHBoxLayout;
    row->setSpacing(6);
    for (QPushButton* button : buttons) row->addWidget(button, 1);
    layout_->addLayout(row);
}

QLabel* Card::addReadout(const char* object_name, const char* role) {
    auto* label = new QLabel;
    label->setObjectName(QLatin1String(object_name));
    label->setProperty("role", role);
    label->setWordWrap(true);
    label->setTextInteractionFlags(Qt::TextSelectableByMouse);
    layout_->addWidget(label);
    return label;
}

QPushButton* makeButton(const QString& text, const char* object_name, bool main) {
    auto* button = new QPushButton(text);
    button->setObjectName(QLatin1String(object_name));
    button->setProperty("main", main);
    button->setToolTip(buttonTip(button->objectName()));
    return button;
}

QLineEdit* makeNumber(const char* object_name) {
    auto* edit = new QLineEdit;
    edit->setObjectName(QLatin1String(object_name));
    edit->setProperty("number", true);
    edit->setAlignment(Qt::AlignRight);
    return edit;
}

QLineEdit* makeText(const char* object_name) {
    auto* edit = new QLineEdit;
    edit->setObjectName(QLatin1String(object_name));
    return edit;
}

QCheckBox* makeCheck(const QString& text, const char* object_name, bool checked) {
    auto* box = new QCheckBox(text);
    box->setObjectName(QLatin1String(object_name));
    box->setChecked(checked);
    return box;
}

std::string chosen(const QComboBox* choice) {
    return choice->currentData().toString().toStdString();
}

QComboBox* makeChoice(const char* object_name, const QList<std::pair<QString, QString>>& choices) {
    auto* combo = new ShortenedChoice;
    combo->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    combo->setMinimumContentsLength(6);
    combo->setObjectName(QLatin1String(object_name));
    for (const auto& [text, value] : choices) combo->addItem(text, value);
    return combo;
}

void setRole(QLabel* label, const char* role) {
    label->setProperty("role", role);
    label->style()->unpolish(label);
    label->style()->polish(label);
}

}  // namespace pivrak
