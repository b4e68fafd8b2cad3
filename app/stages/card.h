#pragma once

#include <QComboBox>
#include <QFrame>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QVBoxLayout>

namespace pivrak {

/// A framed group of controls with a title; rows run from label to field.
class Card : public QFrame {
public:
    explicit Card(const QString& title, QWidget* parent = nullptr);
    void addRow(const QString& label, QWidget* field);
    void addWidget(QWidget* widget) { layout_->addWidget(widget); }
    void addButtons(std::initializer_list<QPushButton*> buttons);
    /// A line of measured facts; `role` is good, bad or soft.
    QLabel* addReadout(const char* object_name, const char* role = "soft");

private:
    QVBoxLayout* layout_;
};

QPushButton* makeButton(const QString& text, const char* object_name, bool main = false);
QLineEdit* makeNumber(const char* object_name);
QComboBox* makeChoice(const char* object_name, const QList<std::pair<QString, QString>>& text_and_value);
/// Changes a label's role, and with it its colour.
void setRole(QLabel* label, const char* role);

}  // namespace pivrak
