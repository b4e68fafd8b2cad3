#pragma once

#include <QButtonGroup>

#include "app/session/session.h"
#include "app/stages/kit/card.h"

namespace pivrak {

/// What is picked and how, and how a picking grows.
class PickCard : public Card {
    Q_OBJECT

public:
    explicit PickCard(Session& session, QWidget* parent = nullptr);
    void refresh();

private:
    QPushButton* growButton(const QString& text, const char* name, Growth growth);
    void takeAngle();
    Session& session_;
    QButtonGroup* kinds_;
    QCheckBox *through_, *lasso_;
    QLineEdit* angle_;
    QLabel* count_;
    std::vector<std::pair<Growth, QPushButton*>> growths_;
    QPushButton *hide_, *only_, *all_;
};

}  // namespace pivrak
