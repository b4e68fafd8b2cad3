#pragma once

#include <QCheckBox>
#include <QComboBox>
#include <QFrame>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QVBoxLayout>
#include <string>

namespace pivrak {

/// A framed group of controls with a title; rows run from label to field.
class Card : public QFrame {
public:
    explicit Card(const QString& title, QWidget* parent = nullptr);
    void addRow(const QString& label, QWidget* field);
    /// One without a row's label is called by the card's title, for who hears the window.
    void addWidget(QWidget* widget);
    /// A row that can be shown and hidden as a whole.
    QWidget* addOptionalRow(const QString& label, QWidget* field);
    /// A quiet line above rows that belong together.
    void addHeading(const QString& text);
    void addButtons(std::initializer_list<QPushButton*> buttons);
    /// A line of measured facts; `role` is good, bad or soft.
    QLabel* addReadout(const char* object_name, const char* role = "soft");

private:
    QVBoxLayout* layout_;
    QString title_;
};

QPushButton* makeButton(const QString& text, const char* object_name, bool main = false);
QLineEdit* makeNumber(const char* object_name);
QLineEdit* makeText(const char* object_name);
QCheckBox* makeCheck(const QString& text, const char* object_name, bool checked = false);
/// The value that stands behind a choice.
std::string chosen(const QComboBox* choice);
QComboBox* makeChoice(const char* object_name, const QList<std::pair<QString, QString>>& text_and_value);
/// Changes a label's role, and with it its colour.
void setRole(QLabel* label, const char* role);

}  // namespace pivrak
