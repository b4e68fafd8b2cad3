#pragma once

#include <QTableWidget>

#include "app/session/exercise_results.h"
#include "app/stages/kit/lower_area.h"

namespace pivrak {

/// Below the view in Rig: what went wrong as the rig was exercised. The button of a row, or Enter, poses the
/// machine as it stood then.
class ExerciseTable : public QWidget {
    Q_OBJECT

public:
    explicit ExerciseTable(ExerciseResults& results, QWidget* parent = nullptr);

signals:
    void retold();

private:
    void retell();
    void addRow(int row, const ExerciseRow& told);
    ExerciseResults& results_;
    QTableWidget* table_;
    LowerArea* area_;
};

}  // namespace pivrak
