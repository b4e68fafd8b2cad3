#pragma once

#include <QListWidget>

#include "app/session/session.h"
#include "app/stages/kit/card.h"

namespace pivrak {

/// Who follows whom and what has a formula, at the picked parts or everywhere: live values, the way up to the
/// driver and down to what follows it, letting go with or without staying.
class DrivenCard : public Card {
    Q_OBJECT

public:
    explicit DrivenCard(Session& session);
    void refresh();
    void refreshMotion();

signals:
    void formulaAsked(OwnerId coupling);

private:
    QString wordsOf(const std::vector<CouplingId>& row) const;
    /// Null when there is none in hand.
    const Coupling* current() const;
    bool isShown(const Coupling& coupling) const;
    void letGo(bool hold);
    void pickDriver();
    void pickFollowers();
    void enable();

    Session& session_;
    QListWidget* list_;
    QPushButton *edit_, *driver_, *followers_, *hold_, *drop_;
    QLabel* facts_;
    /// Those that do the same stand in one row.
    std::vector<std::vector<CouplingId>> rows_;
    bool listing_ = false;
};

}  // namespace pivrak
