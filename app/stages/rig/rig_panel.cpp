#include "app/stages/rig/rig_panel.h"

namespace pivrak {

RigPanel::RigPanel(Session& session, SlipResults& slips, const LaidPrints& prints, QWidget* parent)
    : StagePanel(session, Stage::Rig, tr("Still to come here: linkages, constraints, reach, formulas."),
                 parent),
      pairs_(new GearPairCard(session)),
      trains_(new TrainCards(session)),
      chains_(new ChainCard(session)),
      runs_(new RunCard(session)),
      paths_(new PathCard(session)),
      rides_(new RideCard(session)),
      wheels_(new WheelCards(session, slips)),
      prints_(new PrintCard(session, prints)),
      vehicles_(new VehicleCard(session)),
      joint_(new JointCard(session)) {
    addCard(trains_->report(), tr("Gears"));
    addCard(pairs_, tr("Gears"));
    addCard(trains_, tr("Gears"));
    addCard(joint_, tr("Gears"));
    addCard(chains_, tr("Chains"));
    addCard(runs_, tr("Chains"));
    addCard(paths_, tr("Paths"));
    addCard(rides_, tr("Ride"));
    addCard(wheels_, tr("Wheels"));
    addCard(prints_, tr("Wheels"));
    addCard(vehicles_, tr("Vehicle"));
    for (auto signal : {&Session::pathToolChanged, &Session::poseChanged})
        connect(&session, signal, this, [this] {
            if (isVisible()) refreshMotion();
        });
}

/// What changes while things move: no lists are made anew.
void RigPanel::refreshMotion() {
    if (paths_->isVisible()) paths_->refresh();
    if (rides_->isVisible()) rides_->refresh();
    if (prints_->isVisible()) prints_->refreshMotion();
    if (chains_->isVisible()) chains_->refreshMotion();
}

}  // namespace pivrak
