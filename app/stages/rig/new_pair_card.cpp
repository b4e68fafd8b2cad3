#include "app/stages/rig/new_pair_card.h"

#include "app/stages/rig/pair_facts.h"

namespace pivrak {
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

NewPairCard::NewPairCard(Session& session)
    : FormCard(session, "gear", {"coupling.gear"}, {tr("New pair"), tr("Couple"), "coupleGears", QString()}),
      swap_(makeButton(tr("Swap"), "swapGears")),
      tried_(new Trial<Result<TriedPair>>(
          session, [this](const Result<TriedPair>& found) { tellPair(found); }, this)) {
    add({.argument = "kind",
         .label = tr("Kind"),
         .choices = {{tr("automatic"), ""},
                     {tr("teeth outside"), "outside"},
                     {tr("inside a ring"), "inside"},
                     {tr("rack and pinion"), "rack"},
                     {tr("worm and wheel"), "worm"},
                     {tr("bevels"), "bevel"},
                     {tr("belt"), "belt"},
                     {tr("crossed belt"), "crossed_belt"},
                     {tr("screw and nut"), "screw"}},
         .object_name = "pairKind"},
        true);
    addMember("gearDriver", tr("Driver"), "driver_teeth", "driver_radius");
    addMember("gearDriven", tr("Driven"), "driven_teeth", "driven_radius");
    add({.argument = "module",
         .shown_for = {"rack"},
         .placeholder = tr("measured"),
         .object_name = "pairModule"});
    add({.argument = "lead",
         .label = tr("Lead"),
         .shown_for = {"screw"},
         .placeholder = tr("5 mm"),
         .object_name = "pairLead"});
    add({.argument = "hand",
         .label = tr("Thread"),
         .shown_for = {"screw", "worm"},
         .choices = {{tr("by its shape"), ""}, {tr("right-hand"), "right"}, {tr("left-hand"), "left"}},
         .object_name = "pairHand"});
    add({.argument = "phase",
         .shown_for = {"", "outside", "inside", "worm", "bevel"},
         .placeholder = tr("teeth interleave"),
         .tip = tr("Turn of the driven one while the driver is at zero"),
         .object_name = "pairPhase"});
    finish(false, {swap_});
    connect(swap_, &QPushButton::clicked, this, [this] {
        std::vector<PartId> turned = session_.selection();
        std::swap(turned.front(), turned.back());
        session_.select(turned);
    });
}

/// Who it is, and its size below.
void NewPairCard::addMember(const char* object_name, const QString& label, const char* teeth,
                            const char* radius) {
    auto* name = new QLabel;
    name->setObjectName(QLatin1String(object_name));
    addRow(label, name);
    QStringList toothed{"outside", "inside", "worm", "bevel"};
    if (std::string_view(teeth) == "driver_teeth") toothed << "rack";
    const std::string teeth_name = (std::string(teeth).substr(0, 6) + "Teeth"),
                      radius_name = (std::string(radius).substr(0, 6) + "Radius");
    add({.argument = teeth,
         .label = tr("its teeth"),
         .shown_for = toothed,
         .object_name = teeth_name.c_str()});
    add({.argument = radius,
         .label = tr("its radius"),
         .shown_for = {"belt", "crossed_belt"},
         .placeholder = tr("measured"),
         .object_name = radius_name.c_str()});
}

/// The kind that is chosen, or that their shapes and places speak for.
std::string NewPairCard::lead() const {
    const std::string asked = valueOf("kind");
    const auto& picked = session_.selection();
    if (!asked.empty() || picked.size() != 2)
        return asked.empty() ? std::string(word_of(pair_kind_words, PairKind::Outside)) : asked;
    return std::string(
        word_of(pair_kind_words, likely_kind(session_.document(), picked.front(), picked.back())));
}

void NewPairCard::amend(nlohmann::json& step) const {
    const auto& picked = session_.selection();
    if (picked.size() != 2) return;
    step["driver"] = picked.front().value;
    step["driven"] = picked.back().value;
    step["kind"] = lead();
}

QString NewPairCard::obstacle() const {
    return session_.selection().size() == 2 && !session_.previewed()
               ? QString()
               : tr("Two parts make a pair; teeth and radii are found on their shapes.");
}

/// Teeth are counted once for a selection, so that typed numbers stay.
void NewPairCard::countTeeth() {
    if (session_.selection() == counted_for_) return;
    counted_for_ = session_.selection();
    const auto text = [&](PartId part) {
        const auto teeth = counted_for_.size() == 2 ? teeth_of(session_.document(), part) : std::nullopt;
        return teeth ? QString::number(*teeth) : QString();
    };
    setValue("driver_teeth", counted_for_.empty() ? QString() : text(counted_for_.front()));
    setValue("driven_teeth", counted_for_.empty() ? QString() : text(counted_for_.back()));
}

void NewPairCard::ask(const nlohmann::json& step) {
    tried_->ask(step,
                [&registry = session_.registry(), step](const Document& document, const Progress& progress) {
                    return tried(registry, document, step, progress);
                });
}

void NewPairCard::tellPair(const Result<TriedPair>& found) {
    do_->setEnabled(found.ok());
    if (!found) {
        setRole(facts_, "bad");
        return facts_->setText(QString::fromStdString(found.error().message));
    }
    facts_->setText(pairFacts(found->measure, found->pair));
    setRole(facts_, found->measure.phase_measured || found->pair.kind > PairKind::Bevel ? "good" : "soft");
}

void NewPairCard::refresh() {
    countTeeth();
    const auto& picked = session_.selection();
    const bool two = obstacle().isEmpty();
    const Document& document = session_.document();
    findChild<QLabel*>("gearDriver")
        ->setText(two ? nameOf(document, picked.front()) : tr("pick the driver first"));
    findChild<QLabel*>("gearDriven")
        ->setText(two ? nameOf(document, picked.back()) : tr("then Shift: the driven"));
    for (const char* argument :
         {"driver_teeth", "driven_teeth", "driver_radius", "driven_radius", "module", "lead", "hand"})
        widget(argument)->setEnabled(two);
    swap_->setEnabled(two);
    showRows();
    FormCard::refresh();
}

}  // namespace pivrak
