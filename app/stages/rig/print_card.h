#pragma once

#include "app/session/laid_prints.h"
#include "app/stages/kit/card.h"

namespace pivrak {

/// Has picked wheels leave tracks on the ground, and shows how long these are and how well they lie.
class PrintCard : public Card {
    Q_OBJECT

public:
    PrintCard(Session& session, const LaidPrints& prints, QWidget* parent = nullptr);
    void refresh();
    /// What changes while things move.
    void refreshMotion();

private:
    void leave();
    void remove();
    std::vector<const Print*> inHand() const;
    QString factsOf(const Print& print) const;

    Session& session_;
    const LaidPrints& prints_;
    QLineEdit *width_, *tile_;
    QPushButton *leave_, *change_, *remove_;
    QLabel* facts_;
};

}  // namespace pivrak
