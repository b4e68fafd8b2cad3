#pragma once

#include <QTimer>

#include "app/stages/kit/form_card.h"
#include "app/stages/kit/place_button.h"

namespace pivrak {

/// Makes stand-ins by their dimensions, shown in the view as they are typed.
class StandInCard : public FormCard {
    Q_OBJECT

public:
    explicit StandInCard(Session& session);
    void refresh();

protected:
    void doStep() override;
    bool isOfUse(const std::string& argument) const override;
    void amend(nlohmann::json& step) const override;

private:
    void addNumber(const char* argument, const QStringList& kinds, const QString& begins);
    void begin();

    PlaceButton* click_;
    QTimer soon_;
};

}  // namespace pivrak
