#pragma once

#include "app/session/session.h"
#include "app/stages/kit/card.h"
#include "app/stages/kit/part_field.h"

namespace pivrak {

/// Lets the picked parts ride the path in hand, moves them along it, and couples carriages.
class RideCard : public QWidget {
    Q_OBJECT

public:
    explicit RideCard(Session& session, QWidget* parent = nullptr);
    void refresh();

private:
    nlohmann::json rideStep(const char* op) const;
    void showRide(const Part& part);
    QString facts(const Part& part) const;

    Session& session_;
    Card *ride_, *string_;
    QLabel *path_, *facts_, *string_facts_;
    QComboBox *lead_, *upright_, *coupling_;
    QLineEdit *along_, *speed_, *side_, *height_, *front_, *rear_, *count_, *gap_;
    QPushButton *set_, *leave_, *couple_;
    PartField* bogies_;
    PartId shown_for_;
};

}  // namespace pivrak
