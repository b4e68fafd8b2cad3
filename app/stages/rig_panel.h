#pragma once

#include "app/stages/chain_card.h"
#include "app/stages/gear_pair_card.h"
#include "app/stages/joint_card.h"
#include "app/stages/path_card.h"
#include "app/stages/print_card.h"
#include "app/stages/ride_card.h"
#include "app/stages/run_card.h"
#include "app/stages/stage_panel.h"
#include "app/stages/train_cards.h"
#include "app/stages/vehicle_card.h"
#include "app/stages/wheel_cards.h"

namespace pivrak {

/// Gears and their trains, chains, paths and riders, wheels and vehicles.
class RigPanel : public StagePanel {
    Q_OBJECT

public:
    RigPanel(Session& session, SlipResults& slips, const LaidPrints& prints, QWidget* parent = nullptr);
    PathCard& pathCard() { return *paths_; }

protected:
    void refresh() override;

private:
    void refreshMotion();
    GearPairCard* pairs_;
    TrainCards* trains_;
    ChainCard* chains_;
    RunCard* runs_;
    PathCard* paths_;
    RideCard* rides_;
    WheelCards* wheels_;
    PrintCard* prints_;
    VehicleCard* vehicles_;
    JointCard* joint_;
};

}  // namespace pivrak
