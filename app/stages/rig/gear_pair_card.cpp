#include "app/stages/rig/gear_pair_card.h"

#include <QApplication>
#include <cmath>
#include <unordered_set>

#include "app/stages/kit/length_text.h"
#include "app/stages/kit/part_field.h"
#include "app/stages/rig/pair_facts.h"
#include "core/checks/drive/mesh_interference.h"

namespace pivrak {
namespace {

QString kindName(PairKind kind) {
    switch (kind) {
        case PairKind::Outside:
            return GearPairCard::tr("Gear pair");
        case PairKind::Inside:
            return GearPairCard::tr("Gear in a ring");
        case PairKind::Rack:
            return GearPairCard::tr("Rack and pinion");
        case PairKind::Worm:
            return GearPairCard::tr("Worm and wheel");
        case PairKind::Bevel:
            return GearPairCard::tr("Bevel gears");
        case PairKind::Belt:
            return GearPairCard::tr("Belt");
        case PairKind::CrossedBelt:
            return GearPairCard::tr("Crossed belt");
        case PairKind::Screw:
            return GearPairCard::tr("Screw and nut");
    }
    return {};
}

}  // namespace

GearPairCard::GearPairCard(Session& session)
    : session_(session), made_(new QWidget(this)), pairs_(new QVBoxLayout(made_)) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    pairs_->setContentsMargins(0, 0, 0, 0);
    pairs_->setSpacing(9);
    column->addWidget(made_);
}

void GearPairCard::refresh() {
    showPairs();
}

/// Teeth are looked for once for each state of the document.
const GearPairMeasure& GearPairCard::measureOf(const Coupling& coupling) {
    if (measured_at_ != session_.revision()) measured_.clear();
    measured_at_ = session_.revision();
    const auto [known, added] = measured_.try_emplace(coupling.id);
    if (added) known->second = measure_gear_pair(session_.document(), *coupling.as<GearPair>());
    return known->second;
}

/// A card for each pair that touches the selection, or for all of them when nothing is picked.
void GearPairCard::showPairs() {
    while (QLayoutItem* item = pairs_->takeAt(0)) {
        if (item->widget()) item->widget()->deleteLater();
        delete item;
    }
    const Document& document = session_.document();
    std::unordered_set<PartId> hinges;
    for (const PartId picked : session_.selection())
        hinges.insert(turning_hinge(document, picked).value_or(picked));
    const auto touched = [&](PartId hinge) { return hinges.empty() || hinges.contains(hinge); };
    // With nothing picked a long list would only push the other cards away.
    const int most_cards = session_.selection().empty() ? 3 : 12;
    for (const Coupling& coupling : document.couplings) {
        if (!coupling.as<GearPair>() || pairs_->count() >= most_cards) continue;
        const GearPair& gear = *coupling.as<GearPair>();
        if (!touched(gear.driver.part()) && !touched(gear.driven.part())) continue;
        const bool toothed =
            gear.driver_radius_m == 0 && gear.driven_radius_m == 0 && gear.kind != PairKind::Screw;
        auto* card = new Card(
            toothed ? tr("%1  %2 : %3").arg(kindName(gear.kind)).arg(gear.driver_teeth).arg(gear.driven_teeth)
                    : kindName(gear.kind));
        auto* names = new QLabel(
            tr("%1 → %2").arg(nameOf(document, gear.driver.part()), nameOf(document, gear.driven.part())));
        names->setWordWrap(true);
        card->addWidget(names);
        const GearPairMeasure& m = measureOf(coupling);
        card->addReadout("pairFacts", m.phase_measured || !toothed ? "good" : "soft")
            ->setText(pairFacts(m, gear));
        auto* remove = makeButton(tr("Remove"), "removePair");
        connect(remove, &QPushButton::clicked, this,
                [this, driver = gear.driver.part(), driven = gear.driven.part()] {
                    session_.run(
                        {{"op", "coupling.remove"}, {"driven", {driven.value}}, {"driver", driver.value}});
                });
        auto* fit = makeButton(tr("Move shaft to fit"), "fitCentres");
        fit->setEnabled(m.fitting_m > 0 && std::abs(m.fitting_m - m.centre_distance_m) > 1e-5);
        connect(fit, &QPushButton::clicked, this,
                [this, driver = gear.driver.part(), driven = gear.driven.part()] {
                    session_.preview(
                        {{"op", "coupling.fit_centres"}, {"driver", driver.value}, {"driven", driven.value}});
                });
        auto* turn = makeButton(tr("Check mesh"), "turnPair");
        turn->setToolTip(tr("Measures how deep teeth overlap over a turn"));
        connect(turn, &QPushButton::clicked, this, [this, id = coupling.id] { turnRound(id); });
        if (const QString words = meshWords(coupling); !words.isEmpty())
            card->addReadout("pairMesh", "good")->setText(words);
        card->addButtons({turn});
        card->addButtons({fit, remove});
        turn->setVisible(toothed || gear.kind == PairKind::Rack);
        fit->setVisible(m.module_m > 0);
        pairs_->addWidget(card);
    }
    made_->setVisible(pairs_->count() > 0);
}

void GearPairCard::turnRound(CouplingId id) {
    const Document& document = session_.document();
    const Coupling* coupling = document.couplings.find(id);
    if (!coupling || !coupling->as<GearPair>()) return;
    const GearPair& pair = *coupling->as<GearPair>();
    QApplication::setOverrideCursor(Qt::WaitCursor);
    const auto found = mesh_interference(document, pair);
    QApplication::restoreOverrideCursor();
    const QString words =
        !found ? QString::fromStdString(found.error().message)
        : found->deepest_m < 1e-5
            ? tr("No interference in one turn.")
            : tr("In one turn teeth overlap by %1, deepest at %2 of the driver.")
                  .arg(millimetres(found->deepest_m, 3),
                       is_turn(pair.driver.kind) ? QString::fromStdString(format_angle(found->driver_at, 1))
                                                 : millimetres(found->driver_at, 1));
    turned_[id] = {pair, world_from_rest(document, pair.driver.part()),
                   world_from_rest(document, pair.driven.part()), words};
    refresh();
}

/// Empty when nothing was measured, or something moved since.
QString GearPairCard::meshWords(const Coupling& coupling) const {
    const auto found = turned_.find(coupling.id);
    if (found == turned_.end()) return {};
    const GearPair& pair = *coupling.as<GearPair>();
    const Turned& turned = found->second;
    const bool same = turned.pair == pair &&
                      turned.driver == world_from_rest(session_.document(), pair.driver.part()) &&
                      turned.driven == world_from_rest(session_.document(), pair.driven.part());
    return same ? turned.words : QString();
}

}  // namespace pivrak
