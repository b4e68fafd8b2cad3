#pragma once

#include <QListWidget>
#include <QTimer>

#include "app/session/pivot_checks.h"
#include "app/stages/kit/card.h"
#include "app/stages/pivots/swept_range.h"

namespace pivrak {

/// Run-out and tilt of round parts, the worst first; centres their pivots, and lets one turn to look at.
class SpinCard : public Card {
    Q_OBJECT

public:
    SpinCard(Session& session, PivotChecks& checks, QWidget* parent = nullptr);
    void refresh();

protected:
    void showEvent(QShowEvent* event) override;
    void hideEvent(QHideEvent* event) override;

private:
    void fill();
    void turn(bool on);
    Session& session_;
    PivotChecks& checks_;
    QListWidget* list_;
    QPushButton *centre_, *turn_;
    QLabel* state_;
    QTimer turning_;
    double turned_ = 0;
    PartId turned_part_;
    bool filling_ = false;
};

/// Sweeps the picked part through a range and offers what it meets as limits.
class SwingCard : public Card {
    Q_OBJECT

public:
    SwingCard(Session& session, PivotChecks& checks, QWidget* parent = nullptr);
    void refresh();

private:
    void run();
    void takeLimit(bool upper);
    QString contactWords(const QString& way, const std::optional<SwingContact>& contact) const;
    Session& session_;
    PivotChecks& checks_;
    SweptRange range_;
    QComboBox* against_;
    QPushButton *run_, *lower_, *upper_, *show_;
    QLabel* result_;
};

}  // namespace pivrak
