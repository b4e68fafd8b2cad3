#include "app/stages/rig/rig_panel.h"

namespace pivrak {

RigPanel::RigPanel(Session& session, SlipResults& slips, ExerciseResults& exercised, const LaidPrints& prints,
                   Look& look, QWidget* parent)
    : StagePanel(session, Stage::Rig, parent),
      new_pair_(new NewPairCard(session)),
      pairs_(new GearPairCard(session)),
      trains_(new TrainCards(session)),
      chains_(new ChainCard(session)),
      new_chain_(new NewChainCard(session)),
      runs_(new RunCard(session)),
      paths_(new PathCard(session)),
      rides_(new RideCard(session)),
      strings_(new StringCard(session, *rides_)),
      rolls_(new RollCard(session)),
      leans_(new LeanCard(session)),
      slips_(new SlipCard(session, slips)),
      prints_(new PrintCard(session, prints)),
      vehicles_(new VehicleCard(session)),
      asking_(new AskCard(session)),
      carrying_(new CarrierChangeCard(session)),
      asked_(new AskedCard(session)),
      closing_(new CloseLoopCard(session)),
      rams_(new RamCard(session)),
      stretching_(new StretchCard(session)),
      stretches_(new StretchesCard(session)),
      linkages_(new LinkagesCard(session)),
      reaching_(new ReachCard(session)),
      reaches_(new ReachesCard(session)),
      exercise_(new ExerciseCard(session, exercised)),
      driven_(new DrivenCard(session)),
      response_(new ResponseCard(session, look)),
      following_(new FollowCard(session)),
      swaying_(new SwayCard(session)),
      formula_(new FormulaCard(session, look)),
      measuring_(new MeasureCard(session)),
      measures_(new MeasuresCard(session, look)),
      joint_(new JointCard(session)) {
    addCard(trains_->report(), tr("Gears"));
    addCard(new_pair_, tr("Gears"));
    addCard(pairs_, tr("Gears"));
    addCard(trains_, tr("Gears"));
    addCard(joint_, tr("Gears"));
    addCard(chains_, tr("Chains"));
    addCard(new_chain_, tr("Chains"));
    addCard(runs_, tr("Chains"));
    addCard(paths_, tr("Paths"));
    addCard(rides_, tr("Ride"));
    addCard(strings_, tr("Ride"));
    addCard(rolls_, tr("Wheels"));
    addCard(leans_, tr("Wheels"));
    addCard(slips_, tr("Wheels"));
    addCard(prints_, tr("Wheels"));
    addCard(vehicles_, tr("Vehicle"));
    addCard(asked_, tr("Constraints"));
    addCard(asking_, tr("Constraints"));
    addCard(carrying_, tr("Constraints"));
    addCard(linkages_, tr("Linkages"));
    addCard(closing_, tr("Linkages"));
    addCard(rams_, tr("Linkages"));
    addCard(stretching_, tr("Linkages"));
    addCard(stretches_, tr("Linkages"));
    addCard(reaches_, tr("Reach"));
    addCard(reaching_, tr("Reach"));
    addCard(driven_, tr("Drivers"));
    addCard(response_, tr("Drivers"));
    addCard(following_, tr("Drivers"));
    addCard(swaying_, tr("Drivers"));
    addCard(formula_, tr("Formulas"));
    addCard(measures_, tr("Measures"));
    addCard(measuring_, tr("Measures"));
    addCard(exercise_, tr("Exercise"));
    connect(driven_, &DrivenCard::formulaAsked, this, [this, &session](OwnerId coupling) {
        const Coupling* found = session.document().couplings.find(CouplingId{coupling.value});
        if (!found || !found->as<Formula>()) return;
        formula_->edit(*found->as<Formula>());
        showTab(tr("Formulas"));
    });
    connect(driven_, &DrivenCard::rowShown, response_, &ResponseCard::setFollowers);
    for (auto signal : {&Session::picksChanged, &Session::pickSettingsChanged})
        connect(&session, signal, this, [this] {
            if (asking_->isVisible()) asking_->refresh();
            if (closing_->isVisible()) closing_->refresh();
            if (reaching_->isVisible()) reaching_->refresh();
            if (measuring_->isVisible()) measuring_->refresh();
        });
    for (auto signal : {&Session::pathToolChanged, &Session::poseChanged})
        connect(&session, signal, this, [this] {
            if (isVisible()) refreshMotion();
        });
}

/// What changes while things move: no lists are made anew.
void RigPanel::refreshMotion() {
    if (paths_->isVisible()) paths_->refresh();
    if (rides_->isVisible()) rides_->refreshMotion();
    if (rolls_->isVisible()) rolls_->refresh();
    if (leans_->isVisible()) leans_->refresh();
    if (asked_->isVisible()) asked_->refreshMotion();
    if (linkages_->isVisible()) linkages_->refreshMotion();
    if (reaches_->isVisible()) reaches_->refreshMotion();
    if (stretches_->isVisible()) stretches_->refreshMotion();
    if (driven_->isVisible()) driven_->refreshMotion();
    if (response_->isVisible()) response_->refreshMotion();
    if (formula_->isVisible()) formula_->refreshMotion();
    if (measures_->isVisible()) measures_->refreshMotion();
    if (prints_->isVisible()) prints_->refreshMotion();
    if (chains_->isVisible()) chains_->refreshMotion();
}

}  // namespace pivrak
