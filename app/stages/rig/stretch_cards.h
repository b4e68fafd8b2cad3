#pragma once

#include <QListWidget>

#include "app/stages/kit/form_card.h"

namespace pivrak {

/// Hangs the picked springs and cables between two seats.
class StretchCard : public FormCard {
    Q_OBJECT

public:
    explicit StretchCard(Session& session);

protected:
    void amend(nlohmann::json& step) const override;
    QString obstacle() const override;
};

/// Springs and cables, with how long each is now.
class StretchesCard : public Card {
    Q_OBJECT

public:
    explicit StretchesCard(Session& session);
    void refresh();
    /// What changes while things move.
    void refreshMotion();

private:
    QString wordsOf(const Stretch& stretch) const;
    void switchRow(QListWidgetItem* item);

    Session& session_;
    QListWidget* list_;
    QPushButton* remove_;
    std::vector<StretchId> rows_;
    bool listing_ = false;
};

}  // namespace pivrak
