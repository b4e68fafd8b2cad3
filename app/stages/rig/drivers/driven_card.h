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
    /// Another row is in hand, or what stands in it changed: who does the same; none for no row.
    void rowShown(const std::vector<CouplingId>& row);

private:
    QString wordsOf(const std::vector<CouplingId>& row) const;
    /// Null when there is none in hand.
    const Coupling* current() const;
    bool isShown(const Coupling& coupling) const;
    void letGo(bool hold);
    void switchRow();
    /// A step on all that stand in the row.
    nlohmann::json stepOnRow(const char* operation) const;
    /// Waits for a part to be picked that is to take the driver's place; takes it; or not.
    void replace();
    void showReplacing();
    void pickDriver();
    void pickFollowers();
    void enable();

    Session& session_;
    QListWidget* list_;
    QPushButton *edit_, *driver_, *followers_, *hold_, *drop_, *switch_, *replace_, *keep_;
    QLabel* facts_;
    /// Those that do the same stand in one row.
    std::vector<std::vector<CouplingId>> rows_;
    bool listing_ = false;
    std::optional<ChannelRef> replacing_;  ///< another one is being picked to take its place
};

}  // namespace pivrak
