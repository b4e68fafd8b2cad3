#pragma once

#include "app/session/session.h"
#include "app/stages/kit/card.h"
#include "app/stages/kit/dry_run.h"

namespace pivrak {

/// Names many parts at once by a pattern, shown before it is done.
class PatternCard : public Card {
    Q_OBJECT

public:
    explicit PatternCard(Session& session, QWidget* parent = nullptr);
    void refresh();

private:
    nlohmann::json step() const;
    void showNames();
    void tellNames(const Result<Outcome>& outcome);
    Session& session_;
    DryRun* trial_;
    QComboBox *pattern_, *order_;
    QLineEdit *first_, *find_, *put_;
    QPushButton *rename_, *replace_;
    QLabel* names_;
};

/// What the project asks of names, how many do not keep it, and one button for all.
class ConventionCard : public Card {
    Q_OBJECT

public:
    explicit ConventionCard(Session& session, QWidget* parent = nullptr);
    void refresh();

private:
    void apply();
    Session& session_;
    QComboBox *letters_, *separator_, *sides_;
    QCheckBox* plain_;
    QLabel* state_;
    QPushButton* conform_;
};

}  // namespace pivrak
