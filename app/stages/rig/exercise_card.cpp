#include "app/stages/rig/exercise_card.h"

#include "core/checks/exercise/exercise_report.h"

namespace pivrak {

ExerciseCard::ExerciseCard(Session& session, ExerciseResults& results)
    : Card(tr("Exercise the rig")),
      session_(session),
      results_(results),
      which_(makeChoice("exerciseWhich", {{tr("all parts"), "all"}, {tr("picked parts"), "picked"}})),
      pairs_(makeNumber("exercisePairs")),
      seed_(makeNumber("exerciseSeed")),
      contacts_(makeCheck(tr("Look for parts that touch"), "exerciseContacts", true)),
      run_(makeButton(tr("Run through all ranges"), "runExercise", true)),
      save_(makeButton(tr("Save report"), "saveExercise")),
      back_(makeButton(tr("Back to the frame"), "leaveExercise")) {
    addRow(tr("Channels of"), which_);
    addRow(tr("Pairs at once"), pairs_);
    addRow(tr("Drawn by"), seed_);
    addWidget(contacts_);
    addButtons({run_});
    facts_ = addReadout("exerciseFacts");
    addButtons({save_, back_});
    pairs_->setText(QStringLiteral("24"));
    seed_->setText(QStringLiteral("1"));
    pairs_->setToolTip(
        tr("So many times two channels run at once, through corners and insides of both ranges"));
    seed_->setToolTip(tr("The same number draws the same pairs again"));
    back_->setToolTip(tr("What is shown goes back to where the clip and hands have it"));
    connect(run_, &QPushButton::clicked, this, &ExerciseCard::run);
    connect(save_, &QPushButton::clicked, this, &ExerciseCard::saveAsked);
    connect(back_, &QPushButton::clicked, &session_, &Session::dropHeld);
    connect(&results_, &ExerciseResults::changed, this, &ExerciseCard::retell);
    connect(&session_, &Session::poseChanged, this, [this] {
        if (isVisible()) back_->setEnabled(session_.isShowing());
    });
}

ExerciseOptions ExerciseCard::options() const {
    ExerciseOptions options;
    options.contacts = contacts_->isChecked();
    if (chosen(which_) == "picked") options.parts = session_.selection();
    return options;
}

void ExerciseCard::run() {
    ExerciseOptions asked = options();
    bool pairs_read = false, seed_read = false;
    asked.pairs = pairs_->text().toUInt(&pairs_read);
    asked.seed = seed_->text().toUInt(&seed_read);
    if (!pairs_read || !seed_read || asked.pairs > 10000) {
        emit session_.told(tr("pairs and the number they are drawn by are whole numbers, pairs up to 10000"),
                           true);
        return (pairs_read ? seed_ : pairs_)->setFocus();
    }
    if (chosen(which_) == "picked" && asked.parts.empty()) {
        emit session_.told(tr("pick the parts whose channels are run through"), true);
        return;
    }
    results_.run(asked);
}

void ExerciseCard::refresh() {
    run_->setEnabled(!session_.document().parts.empty() && !session_.previewed() && !results_.isRunning());
    save_->setEnabled(results_.report() && !results_.isRunning());
    back_->setEnabled(session_.isShowing());
}

void ExerciseCard::retell() {
    const auto& report = results_.report();
    const QString came =
        report ? QString::fromStdString(exercise_summary(*report))
               : tr("Each channel that a hand can move goes through its range, then pairs of them together.");
    facts_->setText(results_.isRunning() ? tr("Running; Esc stops it.")
                    : results_.isStale() ? came + tr(". Out of date: run it again.")
                                         : came);
    setRole(facts_, !report || results_.isStale() ? "soft" : report->rows.empty() ? "good" : "bad");
    refresh();
}

}  // namespace pivrak
