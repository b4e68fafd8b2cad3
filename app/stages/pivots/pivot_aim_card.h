#pragma once

#include "app/stages/kit/form_card.h"

namespace pivrak {

/// Turns the axes of pivots where they are, and says in words what the joint's channel turns about.
class PivotAimCard : public FormCard {
    Q_OBJECT

public:
    explicit PivotAimCard(Session& session);
    void refresh();

protected:
    void amend(nlohmann::json& step) const override;
    QString obstacle() const override;

private:
    void pickInView();
    void turn(int about, const std::string& angle);
    QString axesInWords(const Part& part) const;
    QPushButton *flip_, *quarter_;
    QLineEdit* angle_;
    QLabel* words_;
};

}  // namespace pivrak
