#pragma once

#include "app/session/session.h"
#include "app/stages/kit/card.h"

namespace pivrak {

/// Turns the axes of pivots where they are, and says in words what the joint's channel turns about.
class PivotAimCard : public Card {
    Q_OBJECT

public:
    explicit PivotAimCard(Session& session, QWidget* parent = nullptr);
    void refresh();

private:
    void aim();
    QString axesInWords(const Part& part) const;
    Session& session_;
    QComboBox *axis_, *along_;
    QPushButton *aim_, *flip_, *quarter_;
    QLabel* words_;
};

}  // namespace pivrak
