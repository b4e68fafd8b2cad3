#pragma once

#include <QLineEdit>

#include "app/session/session.h"
#include "app/stages/kit/card.h"
#include "app/stages/rig/drivers/response_plot.h"

namespace pivrak {

/// The response curve of what follows in the row in hand, edited in its plot or by typed values; a straight
/// rule can be made one.
class ResponseCard : public Card {
    Q_OBJECT

public:
    ResponseCard(Session& session, Look& look);
    /// Those that follow in one way; none for nothing in hand.
    void setFollowers(std::vector<CouplingId> followers);
    void refresh();
    void refreshMotion();

private:
    const Follow* current() const;
    void put(const Follow& follow);
    void bend();
    void typed();
    void showPoint();

    Session& session_;
    ResponsePlot* plot_;
    QLineEdit *driver_, *answer_, *slope_;
    QWidget *row_, *slopeRow_;
    QPushButton* bend_;
    QLabel* facts_;
    std::vector<CouplingId> followers_;
};

}  // namespace pivrak
