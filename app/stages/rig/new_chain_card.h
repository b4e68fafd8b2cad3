#pragma once

#include <QListWidget>

#include "app/stages/kit/form_card.h"

namespace pivrak {

/// Lays a chain or track round wheels that are picked in the order in which links reach them.
class NewChainCard : public FormCard {
    Q_OBJECT

public:
    explicit NewChainCard(Session& session);
    void refresh();

protected:
    void amend(nlohmann::json& step) const override;
    QString obstacle() const override;

private:
    void takeWheels();

    QPushButton* take_;
    QListWidget* wheels_;
    std::vector<PartId> taken_;
};

}  // namespace pivrak
