#include "app/stages/rig_panel.h"

#include "core/rig/gear_pair.h"

namespace pivrak {
namespace {

QString nameOf(const Document& document, PartId part) {
    const Part* found = document.parts.find(part);
    return found ? QString::fromStdString(found->name) : QString();
}

QString millimetres(double metres) {
    return QString::fromStdString(format_length(metres, LengthUnit::Millimetre, 2));
}

/// Ratio, centre distance against the module, and the phase.
QString pairFacts(const GearPairMeasure& m, const GearPair& pair) {
    const double half = 0.5 * (pair.driver_teeth + pair.driven_teeth);
    return RigPanel::tr("Ratio %1 · centres %2 = %3 × %4 · phase %5%6")
        .arg(m.ratio, 0, 'f', 4)
        .arg(millimetres(m.centre_distance_m), millimetres(m.module_m))
        .arg(half)
        .arg(QString::fromStdString(format_angle(pair.phase_rad, 3)),
             m.phase_measured ? RigPanel::tr(" ✓") : RigPanel::tr(", no teeth found"));
}

}  // namespace

RigPanel::RigPanel(Session& session, SlipResults& slips, const LaidPrints& prints, QWidget* parent)
    : StagePanel(session, Stage::Rig,
                 tr("Still to come here: inside gears, racks, belts, chains, linkages, constraints, reach, "
                    "formulas, the drive map."),
                 parent),
      paths_(new PathCard(session)),
      rides_(new RideCard(session)),
      wheels_(new WheelCards(session, slips)),
      prints_(new PrintCard(session, prints)),
      vehicles_(new VehicleCard(session)),
      joint_(new JointCard(session)),
      pair_(new Card(tr("New gear pair"))),
      driver_(new QLabel),
      driven_(new QLabel),
      driver_teeth_(makeNumber("driverTeeth")),
      driven_teeth_(makeNumber("drivenTeeth")),
      swap_(makeButton(tr("Swap"), "swapGears")),
      couple_(makeButton(tr("Couple"), "coupleGears", true)),
      made_(new QWidget),
      pairs_(new QVBoxLayout) {
    driver_->setObjectName(QStringLiteral("gearDriver"));
    driven_->setObjectName(QStringLiteral("gearDriven"));
    pair_->addRow(tr("Driver"), driver_);
    pair_->addRow(tr("its teeth"), driver_teeth_);
    pair_->addRow(tr("Driven"), driven_);
    pair_->addRow(tr("its teeth"), driven_teeth_);
    facts_ = pair_->addReadout("gearFacts");
    pair_->addButtons({swap_, couple_});
    addCard(pair_, tr("Gears"));
    pairs_->setContentsMargins(0, 0, 0, 0);
    pairs_->setSpacing(9);
    made_->setLayout(pairs_);
    addCard(made_, tr("Gears"));
    addCard(joint_, tr("Gears"));
    addCard(paths_, tr("Paths"));
    addCard(rides_, tr("Ride"));
    addCard(wheels_, tr("Wheels"));
    addCard(prints_, tr("Wheels"));
    addCard(vehicles_, tr("Vehicle"));
    for (auto signal : {&Session::pathToolChanged, &Session::poseChanged})
        connect(&session, signal, this, [this] {
            if (isVisible()) refreshMotion();
        });
    connect(swap_, &QPushButton::clicked, this, [this] {
        std::vector<PartId> turned = this->session().selection();
        std::swap(turned.front(), turned.back());
        this->session().select(turned);
    });
    connect(couple_, &QPushButton::clicked, this, &RigPanel::couple);
    connect(driver_teeth_, &QLineEdit::textEdited, this, &RigPanel::showNewPair);
    connect(driven_teeth_, &QLineEdit::textEdited, this, &RigPanel::showNewPair);
}

/// What changes while things move: no lists are made anew.
void RigPanel::refreshMotion() {
    paths_->refresh();
    rides_->refresh();
    prints_->refreshMotion();
}

void RigPanel::refresh() {
    joint_->refresh();
    paths_->refresh();
    rides_->refresh();
    wheels_->refresh();
    prints_->refresh();
    vehicles_->refresh();
    if (session().selection() != counted_for_) countTeeth();
    showNewPair();
    showPairs();
}

/// Teeth are counted once for a selection, so that typed numbers stay.
void RigPanel::countTeeth() {
    counted_for_ = session().selection();
    driver_teeth_->clear();
    driven_teeth_->clear();
    if (counted_for_.size() != 2) return;
    const auto text = [&](PartId part) {
        const auto teeth = teeth_of(document(), part);
        return teeth ? QString::number(*teeth) : QString();
    };
    driver_teeth_->setText(text(counted_for_.front()));
    driven_teeth_->setText(text(counted_for_.back()));
}

void RigPanel::showNewPair() {
    const auto& picked = session().selection();
    const bool two = picked.size() == 2 && !session().previewed();
    for (QWidget* widget : std::initializer_list<QWidget*>{driver_teeth_, driven_teeth_, swap_})
        widget->setEnabled(two);
    driver_->setText(two ? nameOf(document(), picked.front()) : tr("pick the driver first"));
    driven_->setText(two ? nameOf(document(), picked.back()) : tr("then Shift: the driven"));
    const auto hinge = [&](PartId part) {
        return document().parts.find(part)->joint.kind == JointKind::Hinge;
    };
    const int driver_teeth = driver_teeth_->text().toInt(), driven_teeth = driven_teeth_->text().toInt();
    const bool ready =
        two && hinge(picked.front()) && hinge(picked.back()) && driver_teeth > 2 && driven_teeth > 2;
    couple_->setEnabled(ready);
    setRole(facts_, "soft");
    if (!two) return facts_->setText(tr("Two hinges make a pair; teeth are counted on their shapes."));
    if (!ready)
        return facts_->setText(!hinge(picked.front()) || !hinge(picked.back())
                                   ? tr("Both must be hinges: see Joint below.")
                                   : tr("Type the teeth that could not be counted."));
    const GearPair pair{{picked.front(), ChannelKind::Turn},
                        {picked.back(), ChannelKind::Turn},
                        driver_teeth,
                        driven_teeth,
                        0,
                        false};
    const GearPairMeasure m = measure_gear_pair(document(), pair);
    GearPair shown = pair;
    shown.phase_rad = m.phase_rad;
    facts_->setText(pairFacts(m, shown));
    setRole(facts_, m.phase_measured ? "good" : "soft");
}

void RigPanel::couple() {
    const auto& picked = session().selection();
    session().run({{"op", "coupling.gear"},
                   {"driver", picked.front().value},
                   {"driven", picked.back().value},
                   {"driver_teeth", driver_teeth_->text().toInt()},
                   {"driven_teeth", driven_teeth_->text().toInt()}});
}

/// A card for each pair that touches the selection, or for all of them when nothing is picked.
void RigPanel::showPairs() {
    while (QLayoutItem* item = pairs_->takeAt(0)) {
        if (item->widget()) item->widget()->deleteLater();
        delete item;
    }
    for (const Coupling& coupling : document().couplings) {
        if (!coupling.gear()) continue;
        const GearPair& gear = *coupling.gear();
        if (!session().selection().empty() && !session().isSelected(gear.driver.part) &&
            !session().isSelected(gear.driven.part))
            continue;
        auto* card = new Card(tr("Gear pair  %1 : %2").arg(gear.driver_teeth).arg(gear.driven_teeth));
        auto* names = new QLabel(
            tr("%1 → %2").arg(nameOf(document(), gear.driver.part), nameOf(document(), gear.driven.part)));
        names->setWordWrap(true);
        card->addWidget(names);
        const GearPairMeasure m = measure_gear_pair(document(), gear);
        card->addReadout("pairFacts", m.phase_measured ? "good" : "soft")->setText(pairFacts(m, gear));
        auto* remove = makeButton(tr("Remove"), "removePair");
        connect(remove, &QPushButton::clicked, this, [this, driven = gear.driven.part] {
            this->session().run({{"op", "coupling.remove"}, {"driven", {driven.value}}});
        });
        card->addButtons({remove});
        pairs_->addWidget(card);
    }
    made_->setVisible(pairs_->count() > 0);
}

}  // namespace pivrak
