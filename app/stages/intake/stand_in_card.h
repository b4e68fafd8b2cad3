#pragma once

#include <QTimer>
#include <vector>

#include "app/session/session.h"
#include "app/stages/kit/card.h"

namespace pivrak {

/// Makes stand-ins by their dimensions, shown in the view as they are typed.
class StandInCard : public Card {
    Q_OBJECT

public:
    explicit StandInCard(Session& session, QWidget* parent = nullptr);
    void refresh();

private:
    struct Field {
        std::string argument;
        QStringList kinds;  ///< of stand-ins that have it
        QWidget* row;
        QLineEdit* number = nullptr;
        QComboBox* choice = nullptr;
        bool whole = false;
    };
    void addNumber(const char* argument, const QString& label, const QStringList& kinds, const QString& value,
                   bool whole = false);
    void addChoice(const char* argument, const QString& label, const QStringList& kinds,
                   const QList<std::pair<QString, QString>>& choices);
    void show();
    void showFields();
    nlohmann::json step() const;

    Session& session_;
    QComboBox* kind_;
    QLineEdit* name_;
    std::vector<Field> fields_;
    QPushButton* show_;
    QLabel* facts_;
    QTimer soon_;
};

}  // namespace pivrak
