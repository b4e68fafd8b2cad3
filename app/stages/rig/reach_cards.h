#pragma once

#include <QListWidget>

#include "app/stages/kit/form_card.h"
#include "app/stages/kit/place_button.h"

namespace pivrak {

/// Lets the row of joints from the outermost picked part down to the innermost reach for a goal.
class ReachCard : public FormCard {
    Q_OBJECT

public:
    explicit ReachCard(Session& session);
    void refresh();

protected:
    void amend(nlohmann::json& step) const override;
    QString obstacle() const override;
    void doStep() override { session_.run(step()); }

private:
    PlaceButton* click_;
};

/// The reaches of the picked parts, or all where none is picked: live how far each misses; on and off, its
/// blend, keys of its joints and of its goal.
class ReachesCard : public Card {
    Q_OBJECT

public:
    explicit ReachesCard(Session& session);
    void refresh();
    /// What changes while things move: how far they miss.
    void refreshMotion();

private:
    QString wordsOf(const Reach& reach) const;
    /// Null when there is none in hand.
    const Reach* current() const;
    nlohmann::json step(const char* operation) const;
    void switchRow(QListWidgetItem* item);
    void typeBlend();

    Session& session_;
    QListWidget* list_;
    QLabel* facts_;
    QLineEdit *blend_, *weight_, *stretch_;
    QPushButton *key_, *solved_, *goal_, *remove_;
    std::vector<ReachId> rows_;
    bool listing_ = false;
};

}  // namespace pivrak
