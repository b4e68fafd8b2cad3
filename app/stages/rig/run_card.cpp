#include "app/stages/rig/run_card.h"

namespace pivrak {

RunCard::RunCard(Session& session)
    : FormCard(session, "run", {"chain.run", "chain.fold"},
               {tr("New hoist, cord or cable chain"), tr("Lay run"), "layRun",
                tr("Pick what it runs over, from its start to its end, and what it is tied to, and take each "
                   "here.")}),
      click_(new PlaceButton(session, "runClickPlace")),
      start_(makeButton(tr("Start there"), "runStartThere")),
      end_(makeButton(tr("End there"), "runEndThere")) {
    add({.argument = "@kind",
         .label = tr("Kind"),
         .choices = {{tr("hoist on a drum"), "wound"},
                     {tr("cord between parts"), "tied"},
                     {tr("chain over a wheel"), "loose"},
                     {tr("cable chain"), "fold"}},
         .object_name = "runKind"},
        true);
    add({.argument = "from", .shown_for = {"tied", "fold"}, .object_name = "runFrom"});
    add({.argument = "wheels",
         .tip =
             tr("Pick the wheels one after the other, with Shift, from its start to its end; a drum is the "
                "first"),
         .object_name = "runWheels"});
    add({.argument = "to", .label = tr("Ends at"), .placeholder = tr("take picked"), .object_name = "runTo"});
    add({.argument = "pulls",
         .tip = tr("A hinge or slide that is moved so that the length stays: what hangs at its end, or the "
                   "drum when something else draws the rope"),
         .object_name = "runPulls"});
    add({.argument = "pitch", .begins = tr("30 mm"), .object_name = "runPitch"});
    add({.argument = "pin_height", .object_name = "runOff"});
    add({.argument = "wound",
         .shown_for = {"wound", "loose"},
         .begins = QStringLiteral("3"),
         .object_name = "runWound"});
    add({.argument = "other_side",
         .tip = tr("Wheels that it passes on the other side than the shortest way"),
         .object_name = "runOtherSide"});
    add({.argument = "reach",
         .label = tr("Travel past start"),
         .placeholder = tr("as it stands"),
         .object_name = "runReach"});
    add({.argument = "bend",
         .label = tr("Least bend radius"),
         .placeholder = tr("0 mm"),
         .object_name = "runBend"});
    add({.argument = "back", .label = tr("Leaves its start the other way"), .object_name = "runBack"});
    add({.argument = "name", .placeholder = tr("by its kind"), .object_name = "runName"});
    addButtons({click_});
    addButtons({start_, end_});
    tied_ = addReadout("runTied");
    start_->setToolTip(
        tr("Tied at the place clicked last, to the part that it is on; once more lets that go"));
    end_->setToolTip(start_->toolTip());
    finish(true);
    connect(static_cast<QComboBox*>(widget("@kind")), &QComboBox::currentIndexChanged, this,
            &RunCard::refresh);
    connect(start_, &QPushButton::clicked, this, [this] { takePlace(start_at_); });
    connect(end_, &QPushButton::clicked, this, [this] { takePlace(end_at_); });
    connect(click_, &PlaceButton::picked, this, &RunCard::refresh);
}

void RunCard::takePlace(std::optional<PickedPlace>& end) {
    const auto& places = session_.picks().places;
    if (places.empty() || end == places.back())
        end.reset();
    else
        end = places.back();
    refresh();
}

void RunCard::tie(nlohmann::json& step, const char* part, const std::optional<PickedPlace>& end) const {
    if (!end || !end->part) return;
    // Another part taken since has its own pivot.
    if (step.contains(part) && !step[part].is_null() && step[part] != end->part.value) return;
    step[part] = end->part.value;
    step[std::string(part) + "_at"] = nlohmann::json::array({end->argument()});
}

QString RunCard::whereWords(const std::optional<PickedPlace>& end) const {
    const Part* part = end ? session_.document().parts.find(end->part) : nullptr;
    return part ? tr("a place on %1").arg(QString::fromStdString(part->name)) : tr("a pivot");
}

void RunCard::refresh() {
    for (auto* end : {&start_at_, &end_at_})
        if (*end && !session_.document().parts.contains((*end)->part)) end->reset();
    click_->refresh();
    const bool starts = lead() == "tied" || lead() == "fold", any = !session_.picks().places.empty();
    start_->setVisible(starts);
    start_->setEnabled(any || start_at_);
    end_->setEnabled(any || end_at_);
    tied_->setText(starts ? tr("Tied from %1 to %2").arg(whereWords(start_at_), whereWords(end_at_))
                          : tr("Ends at %1").arg(whereWords(end_at_)));
    FormCard::refresh();
}

void RunCard::amend(nlohmann::json& step) const {
    if (lead() == "tied" || lead() == "fold") tie(step, "from", start_at_);
    tie(step, "to", end_at_);
    if (lead() == "loose") step["loose"] = true;
    // A cord that nobody ties at its start is no hoist: it waits for that.
    if (lead() == "tied" && !step.contains("from")) step["wheels"] = nullptr;
}

}  // namespace pivrak
