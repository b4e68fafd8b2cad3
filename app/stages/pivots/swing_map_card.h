#pragma once

#include "app/session/pivot_checks.h"
#include "app/stages/kit/card.h"
#include "app/stages/pivots/swept_range.h"

namespace pivrak {

/// Sweeps the two parts picked last together, each through its range, for the chart below the view.
class SwingMapCard : public Card {
    Q_OBJECT

public:
    SwingMapCard(Session& session, PivotChecks& checks, QWidget* parent = nullptr);
    void refresh();

private:
    struct Joint {
        SweptRange range;
        QWidget* row = nullptr;
        QLabel* name = nullptr;
    };
    /// The two parts that would be swept, when two that move are picked.
    std::optional<std::pair<PartId, PartId>> pair() const;
    void run();
    Session& session_;
    PivotChecks& checks_;
    Joint joints_[2];
    QPushButton* run_;
    QLabel* result_;
};

}  // namespace pivrak
