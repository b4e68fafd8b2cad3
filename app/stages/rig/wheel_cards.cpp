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

}  // namespace

WheelCards::WheelCards(Session& session, SlipResults& slips, QWidget* parent)
    : QWidget(parent),
      session_(session),
      slips_(slips),
      radius_(makeNumber("rollRadius")),
      slip_(makeNumber("rollSlip")),
      by_(makeChoice("rollBy", {{tr("any motion"), "motion"}, {tr("its way along the path"), "path"}})),
      roll_(makeButton(tr("Let roll"), "letRoll", true)),
      free_(makeButton(tr("Free"), "freeWheels")),
      measure_(makeButton(tr("Measure slip"), "measureSlip", true)),
      rows_(new QVBoxLayout) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(9);
    auto* card = new Card(tr("Rolling wheels"));
    card->addRow(tr("Turned by"), by_);
    card->addRow(tr("Radius"), radius_);
    card->addRow(tr("Slip, share"), slip_);
    card->addButtons({roll_, free_});
    facts_ = card->addReadout("rollFacts");
    radius_->setPlaceholderText(tr("measured"));
    slip_->setPlaceholderText(QStringLiteral("0"));
    slip_->setToolTip(tr("0 rolls without sliding, 0.2 spins a fifth too fast, -1 is locked"));
    column->addWidget(card);
    makeLean(column);
    auto* check = new Card(tr("Slip over the clip"));
    check->addButtons({measure_});
    slip_facts_ = check->addReadout("slipFacts");
    auto* rows = new QWidget;
    rows->setLayout(rows_);
    rows_->setContentsMargins(0, 0, 0, 0);
    rows_->setSpacing(3);
    check->addWidget(rows);
    column->addWidget(check);
    connect(roll_, &QPushButton::clicked, this, &WheelCards::roll);
    connect(free_, &QPushButton::clicked, this, [this] {
        session_.run({{"op", "coupling.remove"}, {"driven", session_.selectedIds()}});
    });
    connect(measure_, &QPushButton::clicked, &slips_, &SlipResults::measure);
    connect(&slips_, &SlipResults::changed, this, &WheelCards::showSlips);
}

void WheelCards::makeLean(QVBoxLayout* into) {
    auto* card = new Card(tr("Leaning wheels"));
    lean_ground_ = makeChoice("leanGround", {});
    lean_ = makeButton(tr("Let lean"), "letLean", true);
    card->addRow(tr("Stands on"), lean_ground_);
    upright_ = makeButton(tr("Remove"), "removeLean");
    card->addButtons({lean_, upright_});
    lean_facts_ = card->addReadout("leanFacts");
    into->addWidget(card);
    connect(lean_, &QPushButton::clicked, this, [this] {
        json step{{"op", "coupling.lean"}, {"parts", session_.selectedIds()}};
        if (const auto ground = lean_ground_->currentData().toULongLong()) step["ground"] = ground;
        session_.run(step);
    });
    connect(upright_, &QPushButton::clicked, this, [this] {
        if (const Coupling* lean = leanInHand())
            session_.run({{"op", "coupling.remove"}, {"driven", {lean->driven().part().value}}});
    });
}

const Coupling* WheelCards::leanInHand() const {
    for (const Coupling& c : session_.document().couplings)
        if (c.as<Lean>() &&
            (session_.isSelected(c.as<Lean>()->wheel) || session_.isSelected(c.driven().part())))
            return &c;
    return nullptr;
}

void WheelCards::refreshLean() {
    const Document& document = session_.document();
    const QVariant before = lean_ground_->currentData();
    lean_ground_->clear();
    lean_ground_->addItem(tr("the level floor"), QVariant::fromValue<qulonglong>(0));
    for (const Part& part : document.parts)
        if (part.shape && !session_.isSelected(part.id))
            lean_ground_->addItem(QString::fromStdString(part.name),
                                  QVariant::fromValue<qulonglong>(part.id.value));
    lean_ground_->setCurrentIndex(std::max(0, lean_ground_->findData(before)));
    const Coupling* leaning = leanInHand();
    bool hinges = !session_.selection().empty() && !session_.previewed();
    for (const PartId id : session_.selection()) {
        const Part* part = document.parts.find(id);
        hinges &= part && part->joint.has(ChannelKind::Turn);
    }
    lean_->setEnabled(hinges && !leaning);
    upright_->setEnabled(leaning && !session_.previewed());
    if (!leaning)
        return lean_facts_->setText(
            tr("A frame below each picked wheel leans it: over the edge of its tread, down to its side."));
    const Part* frame = document.parts.find(leaning->driven().part());
    lean_facts_->setText(
        tr("Leans %1: turn x of %2. It touches the ground whatever you do.")
            .arg(QString::fromStdString(format_angle(session_.valueOf({frame->id, ChannelKind::TurnX}), 1)),
                 QString::fromStdString(frame->name)));
}

void WheelCards::roll() {
    json step{{"op", "coupling.roll"}, {"parts", session_.selectedIds()}};
    if (!radius_->text().isEmpty()) step["radius"] = radius_->text().toStdString();
    if (!slip_->text().isEmpty()) step["slip"] = slip_->text().toDouble();
    if (chosen(by_) == "path")
        if (const PartId rider = riderAbove(session_.document(), session_.primary()))
            step["rider"] = rider.value;
    session_.run(step);
}

QString WheelCards::rollFacts() const {
    const Part* part = session_.shownDocument().parts.find(session_.primary());
    if (!part) return tr("Pick wheels: hinges about their axles.");
    const Coupling* coupling = session_.drivers().coupling({part->id, ChannelKind::Turn});
    if (coupling && coupling->as<Roll>())
        return tr("Rolls on a radius of %1; turned %2.")
            .arg(length(session_.evaluator().rolling_radius(part->id)),
                 QString::fromStdString(format_angle(session_.turnOf(part->id), 1)));
    if (!part->joint.has(ChannelKind::Turn))
        return tr("%1 is no hinge; see Joint under Gears.").arg(QString::fromStdString(part->name));
    return tr("The radius is measured on its shape, and again when that changes.");
}

void WheelCards::refresh() {
    const bool ready = !session_.selection().empty() && !session_.previewed();
    bool any_rolls = false, all_hinges = ready;
    for (const PartId id : session_.selection()) {
        const Part* part = session_.document().parts.find(id);
        all_hinges &= part && part->joint.has(ChannelKind::Turn);
        any_rolls |= session_.drivers().coupling({id, ChannelKind::Turn}) != nullptr;
    }
    roll_->setEnabled(all_hinges && !any_rolls);
    free_->setEnabled(ready && any_rolls);
    facts_->setText(rollFacts());
    refreshLean();
    bool rolls = false;
    for (const Coupling& coupling : session_.document().couplings) rolls |= coupling.as<Roll>() != nullptr;
    measure_->setEnabled(rolls && !session_.previewed());
    showSlips();
}

void WheelCards::showSlips() {
    while (QLayoutItem* item = rows_->takeAt(0)) {
        if (item->widget()) item->widget()->deleteLater();
        delete item;
    }
    const auto& check = slips_.check();
    slip_facts_->setText(
        !check ? tr("How far each tyre slides where it touches, and whether it leaves the ground.")
        : slips_.isStale() ? tr("Of before the last change: measure again.")
                           : tr("For each metre: slip along its way; then the largest gap to the ground."));
    if (!check) return;
    for (const WheelSlip& wheel : check->wheels) {
        const Part* part = session_.document().parts.find(wheel.wheel);
        auto* row = new QLabel(
            tr("%1   %2/m · %3%4")
                .arg(part ? QString::fromStdString(part->name) : QString(), length(wheel.share()),
                     wheel.has_ground ? tr("gap %1").arg(length(wheel.largest_gap_m)) : tr("no ground given"),
                     wheel.deepest_m > 1e-4 ? tr(" · sunk %1").arg(length(wheel.deepest_m)) : QString()));
        row->setObjectName(QStringLiteral("slipRow"));
        row->setWordWrap(true);
        row->setProperty("role", wheel.share() <= 1e-4 && wheel.largest_gap_m <= 0.002 ? "good" : "bad");
        rows_->addWidget(row);
    }
}

}  // namespace pivrak
