#pragma once

#include <QListWidget>

#include "app/session/session.h"
#include "app/stages/kit/card.h"

namespace pivrak {

/// Named sets of parts: pick, hide, show only, lock.
class SetCard : public Card {
    Q_OBJECT

public:
    explicit SetCard(Session& session, QWidget* parent = nullptr);
    void refresh();

private:
    const PartSet* current() const;
    nlohmann::json members() const;
    /// Pre: a set is picked.
    bool anyMember(bool (*is)(const Part&)) const;
    QPushButton* button(const QString& text, const char* name, std::function<void()> act);
    Session& session_;
    QListWidget* list_;
    QLineEdit* name_;
    QPushButton *make_, *hide_, *lock_, *rename_;
    std::vector<QPushButton*> for_set_;
    QPushButton *add_, *take_;
};

}  // namespace pivrak
