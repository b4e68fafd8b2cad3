#pragma once

#include <QTimer>

#include "app/stages/kit/form_card.h"

namespace pivrak {

/// Makes stand-ins by their dimensions, shown in the view as they are typed.
class StandInCard : public FormCard {
    Q_OBJECT

public:
    explicit StandInCard(Session& session);
    void refresh();

protected:
    void doStep() override;

private:
    void addNumber(const char* argument, const QStringList& kinds, const QString& begins);
    void begin();

    QTimer soon_;
};

}  // namespace pivrak
