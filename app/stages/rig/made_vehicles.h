#pragma once

#include "app/session/session.h"
#include "app/stages/kit/card.h"

namespace pivrak {

/// A card for each vehicle that is rigged: its name, ground, travel, and how much its body follows the
/// wheels.
class MadeVehicles : public QWidget {
    Q_OBJECT

public:
    explicit MadeVehicles(Session& session, QWidget* parent = nullptr);
    void refresh();

private:
    Card* cardOf(const Vehicle& vehicle);
    /// Something of a vehicle typed: `value` of the field's text goes into its step.
    void addField(Card& card, const Vehicle& vehicle, const char* argument, const QString& label,
                  const QString& text, const std::function<nlohmann::json(const QString&)>& value);
    void set(const std::string& vehicle, nlohmann::json change);
    Session& session_;
    QVBoxLayout* cards_;
};

}  // namespace pivrak
