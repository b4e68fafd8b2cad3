#include "app/stages/rig/wheel_cards.h"

#include "app/stages/kit/length_text.h"

namespace pivrak {

using nlohmann::json;

namespace {

/// The nearest rider above a part, if any.
PartId riderAbove(const Document& document, PartId id) {
    for (const Part* p = document.parts.find(id); p; p = document.parts.find(p->parent))
        if (p->ride) return p->id;
    return {};
}

/// Why the picked parts are no wheels, in words; nothing when they are.
QString noWheels(const Session& session) {
    if (session.selection().empty()) return RollCard::tr("Pick wheels: hinges about their axles.");
    for (const PartId id : session.selection()) {
        const Part* part = session.document().parts.find(id);
        if (part && !part->joint.has(ChannelKind::Turn))
            return RollCard::tr("%1 is no hinge; see Joint under Gears.")
                .arg(QString::fromStdString(part->name));
    }
    return {};
}

}  // namespace

// ---- rolling

RollCard::RollCard(Session& session)
    : FormCard(session, "roll", {"coupling.roll"}, {tr("Rolling wheels"), tr("Roll"), "letRoll", QString()}),
      free_(makeButton(tr("Stop rolling"), "freeWheels")) {
    add({.argument = "@by",
         .label = tr("Turned by"),
         .choices = {{tr("any motion"), "motion"}, {tr("travel on its path"), "path"}},
         .object_name = "rollBy"});
    add({.argument = "radius", .placeholder = tr("measured"), .object_name = "rollRadius"});
    add({.argument = "slip",
         .label = tr("Slip ratio"),
         .placeholder = QStringLiteral("0"),
         .tip = tr("0 rolls without sliding, 0.2 spins a fifth too fast, -1 is locked"),
         .object_name = "rollSlip"});
    finish(false, {free_});
    connect(free_, &QPushButton::clicked, this, [this] {
        session_.run({{"op", "coupling.remove"}, {"driven", session_.selectedIds()}});
    });
}

void RollCard::amend(json& step) const {
    if (valueOf("@by") != "path") return;
    if (const PartId rider = riderAbove(session_.document(), session_.primary())) step["rider"] = rider.value;
}

QString RollCard::obstacle() const {
    return noWheels(session_);
}

/// How the wheel picked last rolls; nothing when it does not.
QString RollCard::rollWords() const {
    const PartId wheel = session_.primary();
    const Coupling* coupling = session_.drivers().coupling({wheel, ChannelKind::Turn});
    if (!coupling || !coupling->as<Roll>()) return {};
    return tr("Rolls on a radius of %1; turned %2.")
        .arg(length(session_.evaluator().rolling_radius(wheel), session_.document()),
             QString::fromStdString(format_angle(session_.turnOf(wheel), 1)));
}

void RollCard::refresh() {
    FormCard::refresh();
    const bool ready = !session_.selection().empty() && !session_.previewed();
    bool driven = false;
    for (const PartId id : session_.selection())
        driven |= session_.drivers().coupling({id, ChannelKind::Turn}) != nullptr;
    free_->setEnabled(ready && driven);
    if (!do_->isEnabled()) return;
    do_->setEnabled(ready && !driven);
    const QString rolls = rollWords();
    facts_->setText(rolls.isEmpty() ? tr("The radius is measured on its shape, and again when that changes.")
                                    : rolls);
}

// ---- leaning

LeanCard::LeanCard(Session& session)
    : FormCard(session, "lean", {"coupling.lean"}, {tr("Leaning wheels"), tr("Lean"), "letLean", QString()}),
      upright_(makeButton(tr("Remove"), "removeLean")) {
    add({.argument = "ground",
         .label = tr("Stands on"),
         .placeholder = tr("level floor"),
         .object_name = "leanGround"});
    finish(false, {upright_});
    connect(upright_, &QPushButton::clicked, this, [this] {
        if (const Coupling* lean = inHand())
            session_.run({{"op", "coupling.remove"}, {"driven", {lean->driven().part().value}}});
    });
}

QString LeanCard::obstacle() const {
    return noWheels(session_);
}

/// Of the picked wheels or the frames that lean them; null when none leans.
const Coupling* LeanCard::inHand() const {
    for (const Coupling& c : session_.document().couplings)
        if (c.as<Lean>() &&
            (session_.isSelected(c.as<Lean>()->wheel) || session_.isSelected(c.driven().part())))
            return &c;
    return nullptr;
}

void LeanCard::refresh() {
    FormCard::refresh();
    const Coupling* leaning = inHand();
    upright_->setEnabled(leaning && !session_.previewed());
    if (leaning) {
        do_->setEnabled(false);
        const Part* frame = session_.document().parts.find(leaning->driven().part());
        return facts_->setText(tr("Leans by %1, turn x of %2; it stays on the ground.")
                                   .arg(QString::fromStdString(format_angle(
                                            session_.valueOf({frame->id, ChannelKind::TurnX}), 1)),
                                        QString::fromStdString(frame->name)));
    }
    if (!do_->isEnabled()) return;
    do_->setEnabled(!session_.previewed());
    facts_->setText(tr(
        "Adds a lean frame under each picked wheel: it leans over the edge of its tread, down to its side."));
}

// ---- slip

SlipCard::SlipCard(Session& session, SlipResults& slips)
    : Card(tr("Slip over the clip")),
      session_(session),
      slips_(slips),
      measure_(makeButton(tr("Measure slip"), "measureSlip", true)),
      rows_(new QVBoxLayout) {
    addButtons({measure_});
    facts_ = addReadout("slipFacts");
    auto* rows = new QWidget;
    rows->setLayout(rows_);
    rows_->setContentsMargins(0, 0, 0, 0);
    rows_->setSpacing(3);
    addWidget(rows);
    connect(measure_, &QPushButton::clicked, &slips_, &SlipResults::measure);
    connect(&slips_, &SlipResults::changed, this, &SlipCard::showSlips);
}

void SlipCard::refresh() {
    bool rolls = false;
    for (const Coupling& coupling : session_.document().couplings) rolls |= coupling.as<Roll>() != nullptr;
    measure_->setEnabled(rolls && !session_.previewed());
    showSlips();
}

void SlipCard::showSlips() {
    while (QLayoutItem* item = rows_->takeAt(0)) {
        if (item->widget()) item->widget()->deleteLater();
        delete item;
    }
    const auto& check = slips_.check();
    facts_->setText(
        !check ? tr("How far each tyre slides where it touches, and whether it leaves the ground.")
        : slips_.isStale() ? tr("Out of date: measure again.")
                           : tr("For each metre: slip along its way; then the largest gap to the ground."));
    if (!check) return;
    for (const WheelSlip& wheel : check->wheels) {
        const Part* part = session_.document().parts.find(wheel.wheel);
        auto* row = new QLabel(
            tr("%1   %2/m · %3%4")
                .arg(part ? QString::fromStdString(part->name) : QString(),
                     length(wheel.share(), session_.document()),
                     wheel.has_ground ? tr("gap %1").arg(length(wheel.largest_gap_m, session_.document()))
                                      : tr("no ground given"),
                     wheel.deepest_m > 1e-4
                         ? tr(" · sunk %1").arg(length(wheel.deepest_m, session_.document()))
                         : QString()));
        row->setObjectName(QStringLiteral("slipRow"));
        row->setWordWrap(true);
        row->setProperty("role", wheel.share() <= 1e-4 && wheel.largest_gap_m <= 0.002 ? "good" : "bad");
        rows_->addWidget(row);
    }
}

}  // namespace pivrak
