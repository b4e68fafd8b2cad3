#pragma once

#include <QListWidget>

#include "app/stages/kit/form_card.h"
#include "app/stages/kit/place_button.h"

namespace pivrak {

/// Asks the joints of picked parts for something.
class AskCard : public FormCard {
    Q_OBJECT

public:
    explicit AskCard(Session& session);
    void refresh();

protected:
    void amend(nlohmann::json& step) const override;
    QString obstacle() const override;
    bool isOfUse(const std::string& argument) const override;
    void doStep() override { session_.run(step()); }

private:
    /// Whether the part picked last is what the others are asked to follow.
    bool lastIsTarget() const;
    bool toClicked() const;
    bool toPath() const;
    void matchNow();
    QPushButton* match_;
    PlaceButton* click_;
};

/// Lets others carry picked parts.
class CarrierChangeCard : public FormCard {
    Q_OBJECT

public:
    explicit CarrierChangeCard(Session& session);
    void refresh();

protected:
    std::string operation() const override;
    void amend(nlohmann::json& step) const override;
    QString obstacle() const override;
    void doStep() override { session_.run(step()); }

private:
    bool lastCarries() const;
};

/// What is asked of the picked parts and who else carries them, or of all where none is picked: live, with
/// how far each misses; on and off, its blend, its place in the order.
class AskedCard : public Card {
    Q_OBJECT

public:
    explicit AskedCard(Session& session);
    void refresh();
    /// What changes while things move: how far they miss.
    void refreshMotion();

private:
    struct Row {
        OwnerId owner;
        bool carries;
    };
    void listRows();
    QString wordsOf(const Row& row) const;
    bool isOff(const Row& row) const;
    /// The row in hand; null when there is none.
    const Row* current() const;
    nlohmann::json step(const char* what, const Row& row) const;
    void switchRow(QListWidgetItem* item);
    void dropped();
    /// Puts a constraint among those of its part, from 1.
    void putAt(OwnerId constraint, int place);
    void moveBy(int steps);
    void typeBlend();
    void keyBlend();

    Session& session_;
    QListWidget* list_;
    QLabel* facts_;
    QLineEdit* blend_;
    QPushButton *key_, *earlier_, *later_, *remove_;
    std::vector<Row> rows_;
    bool listing_ = false;
};

}  // namespace pivrak
