#include "app/stages/rig/run_card.h"

namespace pivrak {

using nlohmann::json;

RunCard::RunCard(Session& session, QWidget* parent)
    : Card(tr("New hoist, cord or cable chain"), parent),
      session_(session),
      kind_(makeChoice("runKind", {{tr("hoist, wound on a drum"), "wound"},
                                   {tr("cord between two parts"), "tied"},
                                   {tr("chain that hangs over a wheel"), "loose"},
                                   {tr("cable chain that folds"), "fold"}})),
      from_(new PartField(session, "runFrom", tr("take picked"))),
      wheels_(new PartField(session, "runWheels", tr("take picked"), true)),
      to_(new PartField(session, "runTo", tr("take picked"))),
      pulls_(new PartField(session, "runPulls", tr("nothing: take picked"))),
      other_side_(new PartField(session, "runOtherSide", tr("none: take picked"), true)),
      pitch_(makeNumber("runPitch")),
      off_(makeNumber("runOff")),
      wound_(makeNumber("runWound")),
      reach_(makeNumber("runReach")),
      bend_(makeNumber("runBend")),
      name_(new QLineEdit),
      back_(makeCheck(tr("Leaves its start the other way"), "runBack")),
      lay_(makeButton(tr("Lay run"), "layRun", true)) {
    name_->setObjectName(QStringLiteral("runName"));
    addRow(tr("Kind"), kind_);
    from_row_ = addOptionalRow(tr("Starts at"), from_);
    wheels_row_ = addOptionalRow(tr("Over wheels"), wheels_);
    wheels_->setToolTip(tr(
        "Pick the wheels one after the other, with Shift, from its start to its end; a drum is the first"));
    addRow(tr("Ends at"), to_);
    pulls_row_ = addOptionalRow(tr("Pulls"), pulls_);
    pulls_->setToolTip(
        tr("A hinge or slide that is moved so that the length stays: what hangs at its end, or "
           "the drum when something else draws the rope"));
    addRow(tr("Links of"), pitch_);
    off_row_ = addOptionalRow(tr("Middle off wheels"), off_);
    wound_row_ = addOptionalRow(tr("Turns on the drum"), wound_);
    other_row_ = addOptionalRow(tr("Other side of"), other_side_);
    other_side_->setToolTip(tr("Wheels that it passes on the other side than the shortest way"));
    reach_row_ = addOptionalRow(tr("Reaches beyond start"), reach_);
    bend_row_ = addOptionalRow(tr("Bends about, at least"), bend_);
    addWidget(back_);
    addRow(tr("Name"), name_);
    pitch_->setText(tr("30 mm"));
    off_->setPlaceholderText(tr("0 mm"));
    wound_->setText(QStringLiteral("3"));
    reach_->setPlaceholderText(tr("as it stands"));
    bend_->setPlaceholderText(tr("0 mm"));
    facts_ = addReadout("runFacts");
    addButtons({lay_});
    connect(kind_, &QComboBox::currentIndexChanged, this, [this] {
        showFields();
        showFacts();
    });
    for (PartField* field : {from_, wheels_, to_, pulls_, other_side_})
        connect(field, &PartField::taken, this, &RunCard::showFacts);
    for (QLineEdit* field : {pitch_, off_, wound_, reach_, bend_})
        connect(field, &QLineEdit::editingFinished, this, &RunCard::showFacts);
    connect(back_, &QCheckBox::toggled, this, &RunCard::showFacts);
    connect(lay_, &QPushButton::clicked, this, [this] { session_.preview(step()); });
    showFields();
}

void RunCard::showFields() {
    const std::string kind = chosen(kind_);
    const bool folds = kind == "fold";
    from_row_->setVisible(folds || kind == "tied");
    for (QWidget* row : {wheels_row_, pulls_row_, other_row_, off_row_}) row->setVisible(!folds);
    wound_row_->setVisible(kind == "wound" || kind == "loose");
    for (QWidget* row : {reach_row_, bend_row_}) row->setVisible(folds);
    back_->setVisible(folds);
    name_->setPlaceholderText(folds ? tr("Cable chain") : tr("Cord"));
}

bool RunCard::isComplete() const {
    const std::string kind = chosen(kind_);
    if (!to_->part() || pitch_->text().trimmed().isEmpty()) return false;
    if ((kind == "fold" || kind == "tied") && !from_->part()) return false;
    return kind == "fold" || !wheels_->parts().empty();
}

json RunCard::step() const {
    const std::string kind = chosen(kind_);
    json step{{"op", kind == "fold" ? "chain.fold" : "chain.run"},
              {"to", to_->part().value},
              {"pitch", pitch_->text().toStdString()}};
    const auto typed = [&](const char* argument, const QLineEdit* field) {
        if (!field->text().trimmed().isEmpty()) step[argument] = field->text().trimmed().toStdString();
    };
    typed("name", name_);
    if (kind == "fold" || kind == "tied") step["from"] = from_->part().value;
    if (kind == "fold") {
        typed("reach", reach_);
        typed("bend", bend_);
        step["back"] = back_->isChecked();
        return step;
    }
    step["wheels"] = part_ids(wheels_->parts());
    typed("pin_height", off_);
    if (kind != "tied") step["wound"] = wound_->text().toDouble();
    if (kind == "loose") step["loose"] = true;
    if (pulls_->part()) step["pulls"] = pulls_->part().value;
    if (!other_side_->parts().empty()) step["other_side"] = part_ids(other_side_->parts());
    return step;
}

void RunCard::showFacts() {
    lay_->setEnabled(false);
    setRole(facts_, "soft");
    if (!isComplete())
        return facts_->setText(chosen(kind_) == "fold"
                                   ? tr("Pick what stands, then what slides, and take each here.")
                                   : tr("Pick its wheels from its start to its end, then what hangs at its "
                                        "end, and take each here."));
    const auto outcome = session_.registry().run(session_.document(), step());
    lay_->setEnabled(outcome.ok());
    setRole(facts_, outcome ? "good" : "bad");
    facts_->setText(QString::fromStdString(outcome ? outcome->messages.front() : outcome.error().message));
}

void RunCard::refresh() {
    for (PartField* field : {from_, wheels_, to_, pulls_, other_side_}) field->refresh();
    showFacts();
}

}  // namespace pivrak
