#pragma once

#include <QListWidget>

#include "app/session/session.h"
#include "app/stages/kit/card.h"

namespace pivrak {

/// What is untidy in the tree, with one action for each kind and one for all.
class TidyCard : public Card {
    Q_OBJECT

public:
    explicit TidyCard(Session& session, QWidget* parent = nullptr);
    void refresh();

private:
    Session& session_;
    QListWidget* list_;
    std::vector<std::pair<std::string, QPushButton*>> actions_;
    QPushButton *all_, *group_, *flatten_, *join_, *repair_;
    QLabel* state_;
};

}  // namespace pivrak
