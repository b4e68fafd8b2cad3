#pragma once

#include "app/session/slip_results.h"
#include "app/stages/kit/card.h"

namespace pivrak {

/// Lets picked hinges roll, and measures how much wheels slide over the clip.
class WheelCards : public QWidget {
    Q_OBJECT

public:
    WheelCards(Session& session, SlipResults& slips, QWidget* parent = nullptr);
    void refresh();

private:
    void makeLean(QVBoxLayout* into);
    void roll();
    void refreshLean();
    /// Of the picked wheels or the frames that lean them; null when none leans.
    const Coupling* leanInHand() const;
    QString rollFacts() const;
    void showSlips();

    Session& session_;
    SlipResults& slips_;
    QLineEdit *radius_, *slip_;
    QComboBox* by_;
    QComboBox* lean_ground_;
    QPushButton *roll_, *free_, *lean_, *upright_, *measure_;
    QLabel *facts_, *lean_facts_, *slip_facts_;
    QVBoxLayout* rows_;
};

}  // namespace pivrak
