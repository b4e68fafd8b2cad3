#pragma once

#include "app/stages/kit/card.h"
#include "app/stages/kit/part_field.h"

namespace pivrak {

/// Lays open runs: a hoist wound on a drum, a cord between two parts, a chain that hangs over a wheel, a
/// cable chain that folds.
class RunCard : public Card {
    Q_OBJECT

public:
    explicit RunCard(Session& session, QWidget* parent = nullptr);
    void refresh();

private:
    bool isComplete() const;
    nlohmann::json step() const;
    void showFields();
    void showFacts();

    Session& session_;
    QComboBox* kind_;
    PartField *from_, *wheels_, *to_, *pulls_, *other_side_;
    QLineEdit *pitch_, *off_, *wound_, *reach_, *bend_, *name_;
    QCheckBox* back_;
    QWidget *from_row_, *wheels_row_, *pulls_row_, *other_row_, *off_row_, *wound_row_, *reach_row_,
        *bend_row_;
    QLabel* facts_;
    QPushButton* lay_;
};

}  // namespace pivrak
