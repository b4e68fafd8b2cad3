#pragma once

#include <QSpinBox>

#include "app/session/session.h"
#include "app/stages/kit/card.h"
#include "app/stages/kit/dry_run.h"
#include "app/stages/kit/place_button.h"
#include "app/stages/rig/drivers/formula_plot.h"

namespace pivrak {

/// What can be seen of the motion of the picked part: its way and speed, pale poses before and after, and how
/// near two parts come to each other.
class SeeCard : public Card {
    Q_OBJECT

public:
    SeeCard(Session& session, Look& look);
    void refresh();

private:
    void see();
    Vec3 place() const;
    void takeClicked();
    void ask();
    void tell(const PlaceCourse& course);
    void askClearance();

    Session& session_;
    QCheckBox* path_;
    PlaceButton* click_;
    QSpinBox *before_, *after_;
    QLineEdit* step_;
    QLabel *facts_, *gap_;
    FormulaPlot* speed_;
    QPushButton *measure_, *to_nearest_;
    Trial<PlaceCourse>* courses_;
    Trial<Result<LeastClearance>>* gaps_;
};

}  // namespace pivrak
