#pragma once

#include "app/session/slip_results.h"
#include "app/stages/kit/form_card.h"

namespace pivrak {

/// Lets picked hinges roll.
class RollCard : public FormCard {
    Q_OBJECT

public:
    explicit RollCard(Session& session);
    void refresh();

protected:
    void amend(nlohmann::json& step) const override;
    QString obstacle() const override;
    void doStep() override { session_.run(step()); }

private:
    QString rollWords() const;
    QPushButton* free_;
};

/// Lets picked wheels lean over the outline of their tyres.
class LeanCard : public FormCard {
    Q_OBJECT

public:
    explicit LeanCard(Session& session);
    void refresh();

protected:
    QString obstacle() const override;
    void doStep() override { session_.run(step()); }

private:
    const Coupling* inHand() const;
    QPushButton* upright_;
};

/// Measures how much wheels slide over the clip.
class SlipCard : public Card {
    Q_OBJECT

public:
    SlipCard(Session& session, SlipResults& slips);
    void refresh();

private:
    void showSlips();
    Session& session_;
    SlipResults& slips_;
    QPushButton* measure_;
    QLabel* facts_;
    QVBoxLayout* rows_;
};

}  // namespace pivrak
