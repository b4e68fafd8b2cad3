#pragma once

#include "app/stages/joint_card.h"
#include "app/stages/path_card.h"
#include "app/stages/print_card.h"
#include "app/stages/ride_card.h"
#include "app/stages/stage_panel.h"
#include "app/stages/vehicle_card.h"
#include "app/stages/wheel_cards.h"

namespace pivrak {

/// Paths and riders, wheels and vehicles, and gear pairs: the one to be made from two picked hinges, and
/// those there are.
class RigPanel : public StagePanel {
    Q_OBJECT

public:
    RigPanel(Session& session, SlipResults& slips, const LaidPrints& prints, QWidget* parent = nullptr);
    PathCard& pathCard() { return *paths_; }

protected:
    void refresh() override;

private:
    void refreshMotion();
    void showNewPair();
    void showPairs();
    void countTeeth();
    void couple();
    PathCard* paths_;
    RideCard* rides_;
    WheelCards* wheels_;
    PrintCard* prints_;
    VehicleCard* vehicles_;
    JointCard* joint_;
    Card* pair_;
    QLabel *driver_, *driven_, *facts_;
    QLineEdit *driver_teeth_, *driven_teeth_;
    QPushButton *swap_, *couple_;
    QWidget* made_;
    QVBoxLayout* pairs_;
    std::vector<PartId> counted_for_;
};

}  // namespace pivrak
