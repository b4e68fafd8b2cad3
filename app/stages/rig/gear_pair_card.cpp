#include "app/stages/rig/gear_pair_card.h"

#include <QApplication>
#include <cmath>
#include <unordered_set>

#include "app/stages/kit/length_text.h"
#include "app/stages/kit/part_field.h"
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

QString phaseWords(const GearPairMeasure& m, const GearPair& pair) {
    const double phase = std::abs(pair.phase) < 1e-5 ? 0 : pair.phase;
    return GearPairCard::tr(" · phase %1%2")
        .arg(is_turn(pair.driven.kind) ? QString::fromStdString(format_angle(phase, 3))
                                       : millimetres(phase, 3),
             m.phase_measured ? GearPairCard::tr(" ✓") : GearPairCard::tr(", no teeth found"));
}

/// Ratio, centre distance against the module, and the phase.
QString pairFacts(const GearPairMeasure& m, const GearPair& pair) {
    if (!is_turn(pair.driven.kind))
        return GearPairCard::tr("%1 a turn").arg(millimetres(2 * pi * std::abs(m.ratio))) +
               (pair.kind == PairKind::Rack && m.phase_measured ? phaseWords(m, pair) : QString());
    QString facts = GearPairCard::tr("Turns %1").arg(QString::fromStdString(ratio_words(m.ratio)));
    if (pair.kind == PairKind::Worm)
        facts = GearPairCard::tr("Threads %1, %2 · ")
                    .arg(pair.driver_teeth)
                    .arg(pair.left_hand ? GearPairCard::tr("left-hand") : GearPairCard::tr("right-hand")) +
                facts;
    if (m.module_m > 0) {
        const int both = pair.kind == PairKind::Inside ? std::abs(pair.driven_teeth - pair.driver_teeth)
                                                       : pair.driver_teeth + pair.driven_teeth;
        facts += GearPairCard::tr(" · centres %1 = %2 × %3")
                     .arg(millimetres(m.centre_distance_m), millimetres(m.module_m))
                     .arg(0.5 * both);
        if (m.fitting_m > 0 && std::abs(m.fitting_m - m.centre_distance_m) > 1e-5)
            facts += GearPairCard::tr(", the module asks for %1").arg(millimetres(m.fitting_m));
    }
    const bool has_phase = pair.kind != PairKind::Belt && pair.kind != PairKind::CrossedBelt &&
                           pair.kind != PairKind::Screw && (m.module_m > 0 || m.phase_measured);
    if (has_phase) facts += phaseWords(m, pair);
    return facts;
}

}  // namespace

GearPairCard::GearPairCard(Session& session, QWidget* parent)
    : QWidget(parent),
      session_(session),
      pair_(new Card(tr("New pair"))),
      driver_(new QLabel),
      driven_(new QLabel),
      kind_(makeChoice("pairKind", {{tr("as they stand"), ""},
                                    {tr("teeth outside"), "outside"},
                                    {tr("inside a ring"), "inside"},
                                    {tr("rack and pinion"), "rack"},
                                    {tr("worm and wheel"), "worm"},
                                    {tr("bevels"), "bevel"},
                                    {tr("belt"), "belt"},
                                    {tr("crossed belt"), "crossed_belt"},
                                    {tr("screw and nut"), "screw"}})),
      hand_(makeChoice("pairHand",
                       {{tr("as it shows"), ""}, {tr("right-hand"), "right"}, {tr("left-hand"), "left"}})),
      driver_teeth_(makeNumber("driverTeeth")),
      driven_teeth_(makeNumber("drivenTeeth")),
      driver_radius_(makeNumber("driverRadius")),
      driven_radius_(makeNumber("drivenRadius")),
      module_(makeNumber("pairModule")),
      lead_(makeNumber("pairLead")),
      swap_(makeButton(tr("Swap"), "swapGears")),
      couple_(makeButton(tr("Couple"), "coupleGears", true)),
      made_(new QWidget),
      pairs_(new QVBoxLayout),
      trial_(new Trial<Result<TriedPair>>(
          session, [this](const Result<TriedPair>& found) { tell(found); }, this)) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(9);
    driver_->setObjectName(QStringLiteral("gearDriver"));
    driven_->setObjectName(QStringLiteral("gearDriven"));
    pair_->addRow(tr("Runs as"), kind_);
    pair_->addRow(tr("Driver"), driver_);
    driver_teeth_row_ = pair_->addOptionalRow(tr("its teeth"), driver_teeth_);
    driver_radius_row_ = pair_->addOptionalRow(tr("its radius"), driver_radius_);
    pair_->addRow(tr("Driven"), driven_);
    driven_teeth_row_ = pair_->addOptionalRow(tr("its teeth"), driven_teeth_);
    driven_radius_row_ = pair_->addOptionalRow(tr("its radius"), driven_radius_);
    module_row_ = pair_->addOptionalRow(tr("Module"), module_);
    lead_row_ = pair_->addOptionalRow(tr("One turn goes"), lead_);
    hand_row_ = pair_->addOptionalRow(tr("Thread"), hand_);
    for (QLineEdit* field : {driver_radius_, driven_radius_, module_})
        field->setPlaceholderText(tr("measured"));
    lead_->setPlaceholderText(tr("5 mm"));
    facts_ = pair_->addReadout("gearFacts");
    pair_->addButtons({swap_, couple_});
    pairs_->setContentsMargins(0, 0, 0, 0);
    pairs_->setSpacing(9);
    made_->setLayout(pairs_);
    column->addWidget(pair_);
    column->addWidget(made_);
    connect(swap_, &QPushButton::clicked, this, [this] {
        std::vector<PartId> turned = session_.selection();
        std::swap(turned.front(), turned.back());
        session_.select(turned);
    });
    connect(couple_, &QPushButton::clicked, this, [this] { session_.run(step()); });
    connect(kind_, &QComboBox::currentIndexChanged, this, &GearPairCard::showNewPair);
    connect(hand_, &QComboBox::currentIndexChanged, this, &GearPairCard::showNewPair);
    for (QLineEdit* field : {driver_teeth_, driven_teeth_, driver_radius_, driven_radius_, module_, lead_})
        connect(field, &QLineEdit::textEdited, this, &GearPairCard::showNewPair);
}

void GearPairCard::refresh() {
    if (session_.selection() != counted_for_) countTeeth();
    showNewPair();
    showPairs();
}

/// Teeth are counted once for a selection, so that typed numbers stay.
void GearPairCard::countTeeth() {
    counted_for_ = session_.selection();
    driver_teeth_->clear();
    driven_teeth_->clear();
    if (counted_for_.size() != 2) return;
    const auto text = [&](PartId part) {
        const auto teeth = teeth_of(session_.document(), part);
        return teeth ? QString::number(*teeth) : QString();
    };
    driver_teeth_->setText(text(counted_for_.front()));
    driven_teeth_->setText(text(counted_for_.back()));
}

PairKind GearPairCard::kind() const {
    if (const auto chosen_kind = value_of<PairKind>(pair_kind_words, chosen(kind_))) return *chosen_kind;
    const auto& picked = session_.selection();
    return picked.size() == 2 ? likely_kind(session_.document(), picked.front(), picked.back())
                              : PairKind::Outside;
}

nlohmann::json GearPairCard::step() const {
    const auto& picked = session_.selection();
    nlohmann::json step{{"op", "coupling.gear"},
                        {"driver", picked.front().value},
                        {"driven", picked.back().value},
                        {"kind", word_of(pair_kind_words, kind())}};
    if (const std::string hand = chosen(hand_); !hand.empty()) step["hand"] = hand;
    const auto number = [&](const char* key, const QLineEdit* field, const QWidget* row) {
        if (!row->isHidden() && field->text().toInt() > 0) step[key] = field->text().toInt();
    };
    const auto length = [&](const char* key, const QLineEdit* field, const QWidget* row) {
        if (!row->isHidden() && !field->text().trimmed().isEmpty()) step[key] = field->text().toStdString();
    };
    number("driver_teeth", driver_teeth_, driver_teeth_row_);
    number("driven_teeth", driven_teeth_, driven_teeth_row_);
    length("driver_radius", driver_radius_, driver_radius_row_);
    length("driven_radius", driven_radius_, driven_radius_row_);
    length("module", module_, module_row_);
    length("lead", lead_, lead_row_);
    return step;
}

namespace {

/// The pair that would come of a step, or why it cannot.
Result<TriedPair> tried(const Registry& registry, const Document& document, const nlohmann::json& step,
                        const Progress& progress) {
    PIVRAK_TRY(outcome, registry.run(document, step, {{}, progress}));
    const GearPair* last = nullptr;
    for (const Coupling& coupling : outcome.document.couplings)
        if (coupling.as<GearPair>() && !document.couplings.contains(coupling.id))
            last = coupling.as<GearPair>();
    if (!last) return Error{"gear.none", "no pair came of it", ""};
    return TriedPair{*last, measure_gear_pair(document, *last)};
}

}  // namespace

/// Only what the kind asks for.
void GearPairCard::showRows(PairKind kind) {
    const bool belt = kind == PairKind::Belt || kind == PairKind::CrossedBelt,
               screw = kind == PairKind::Screw, rack = kind == PairKind::Rack, worm = kind == PairKind::Worm;
    driver_teeth_row_->setVisible(!belt && !screw);
    driven_teeth_row_->setVisible(!belt && !screw && !rack);
    driver_radius_row_->setVisible(belt);
    driven_radius_row_->setVisible(belt);
    module_row_->setVisible(rack);
    lead_row_->setVisible(screw);
    hand_row_->setVisible(screw || worm);
}

void GearPairCard::showNewPair() {
    const auto& picked = session_.selection();
    const bool two = picked.size() == 2 && !session_.previewed();
    showRows(kind());
    for (QWidget* widget : std::initializer_list<QWidget*>{driver_teeth_, driven_teeth_, driver_radius_,
                                                           driven_radius_, module_, lead_, hand_, swap_})
        widget->setEnabled(two);
    const Document& document = session_.document();
    driver_->setText(two ? nameOf(document, picked.front()) : tr("pick the driver first"));
    driven_->setText(two ? nameOf(document, picked.back()) : tr("then Shift: the driven"));
    couple_->setEnabled(false);
    setRole(facts_, "soft");
    if (!two) {
        trial_->forget();
        return facts_->setText(tr("Two parts make a pair; teeth and radii are found on their shapes."));
    }
    couple_->setEnabled(true);
    trial_->ask(step(), [&registry = session_.registry(), step = step()](const Document& document,
                                                                         const Progress& progress) {
        return tried(registry, document, step, progress);
    });
}

void GearPairCard::tell(const Result<TriedPair>& found) {
    couple_->setEnabled(found.ok());
    if (!found) {
        setRole(facts_, "bad");
        return facts_->setText(QString::fromStdString(found.error().message));
    }
    facts_->setText(pairFacts(found->measure, found->pair));
    setRole(facts_, found->measure.phase_measured || found->pair.kind > PairKind::Bevel ? "good" : "soft");
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
        auto* turn = makeButton(tr("Turn once round"), "turnPair");
        turn->setToolTip(tr("Measures how deep teeth stand in each other over a turn"));
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
            ? tr("Over a turn no tooth stands in another.")
            : tr("Over a turn teeth stand %1 in each other, deepest at %2 of the driver.")
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
