#pragma once

#include "app/stages/kit/stage_panel.h"
#include "app/stages/rig/chain_card.h"
#include "app/stages/rig/constraint_cards.h"
#include "app/stages/rig/drivers/driven_card.h"
#include "app/stages/rig/drivers/follow_card.h"
#include "app/stages/rig/drivers/formula_card.h"
#include "app/stages/rig/drivers/measure_cards.h"
#include "app/stages/rig/drivers/response_card.h"
#include "app/stages/rig/drivers/sway_card.h"
#include "app/stages/rig/exercise_card.h"
#include "app/stages/rig/gear_pair_card.h"
#include "app/stages/rig/linkage_cards.h"
#include "app/stages/rig/new_chain_card.h"
#include "app/stages/rig/new_pair_card.h"
#include "app/stages/rig/path_card.h"
#include "app/stages/rig/print_card.h"
#include "app/stages/rig/reach_cards.h"
#include "app/stages/rig/ride_card.h"
#include "app/stages/rig/run_card.h"
#include "app/stages/rig/stretch_cards.h"
#include "app/stages/rig/train_cards.h"
#include "app/stages/rig/vehicle_card.h"
#include "app/stages/rig/wheel_cards.h"
#include "app/stages/tree/joint_card.h"

namespace pivrak {

/// Gears and their trains, chains, paths and riders, wheels and vehicles.
class RigPanel : public StagePanel {
    Q_OBJECT

public:
    RigPanel(Session& session, SlipResults& slips, ExerciseResults& exercised, const LaidPrints& prints,
             Look& look, QWidget* parent = nullptr);
    PathCard& pathCard() { return *paths_; }
    ExerciseCard& exerciseCard() { return *exercise_; }

private:
    void refreshMotion();
    NewPairCard* new_pair_;
    GearPairCard* pairs_;
    TrainCards* trains_;
    ChainCard* chains_;
    NewChainCard* new_chain_;
    RunCard* runs_;
    PathCard* paths_;
    RideCard* rides_;
    StringCard* strings_;
    RollCard* rolls_;
    LeanCard* leans_;
    SlipCard* slips_;
    PrintCard* prints_;
    VehicleCard* vehicles_;
    AskCard* asking_;
    CarrierChangeCard* carrying_;
    AskedCard* asked_;
    CloseLoopCard* closing_;
    RamCard* rams_;
    StretchCard* stretching_;
    StretchesCard* stretches_;
    LinkagesCard* linkages_;
    ReachCard* reaching_;
    ReachesCard* reaches_;
    ExerciseCard* exercise_;
    DrivenCard* driven_;
    ResponseCard* response_;
    FollowCard* following_;
    SwayCard* swaying_;
    FormulaCard* formula_;
    MeasureCard* measuring_;
    MeasuresCard* measures_;
    JointCard* joint_;
};

}  // namespace pivrak
