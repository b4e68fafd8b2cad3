#pragma once

#include "app/session/exercise_results.h"
#include "app/stages/kit/card.h"

namespace pivrak {

/// Runs everything that moves through its range, and saves what came of it.
class ExerciseCard : public Card {
    Q_OBJECT

public:
    ExerciseCard(Session& session, ExerciseResults& results);
    void refresh();

signals:
    void saveAsked();

private:
    ExerciseOptions options() const;
    void run();
    void retell();

    Session& session_;
    ExerciseResults& results_;
    QComboBox* which_;
    QLineEdit *pairs_, *seed_;
    QCheckBox* contacts_;
    QPushButton *run_, *save_, *back_;
    QLabel* facts_;
};

}  // namespace pivrak
