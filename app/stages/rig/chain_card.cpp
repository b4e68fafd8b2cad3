#include "app/stages/rig/chain_card.h"

#include <algorithm>

#include "app/stages/kit/fact_list.h"
#include "app/stages/kit/length_text.h"
#include "core/elements/chain/chain_motion.h"
#include "core/rig/chains/chain_builder.h"
#include "core/rig/gears/gear_pair.h"

namespace pivrak {

using nlohmann::json;

ChainCard::ChainCard(Session& session)
    : session_(session),
      chain_(new Card(tr("Chain or run, whole links"))),
      links_(new Card(tr("Links"))),
      remedies_(makeFactList("chainRemedies", 6, true)),
      slack_(makeChoice("chainSlack", {})),
      count_(makeNumber("chainCount")),
      every_(makeNumber("chainEvery")),
      kept_(makeNumber("chainKept")),
      apply_(makeButton(tr("Preview"), "applyRemedy", true)),
      set_count_(makeButton(tr("Set"), "setLinks")),
      build_(makeButton(tr("Build links"), "buildLinks", true)),
      attach_(makeButton(tr("Attach"), "attachPieces")),
      remove_(makeButton(tr("Remove chain"), "removeChain")),
      drop_links_(makeButton(tr("with its links"), "removeChainLinks")),
      link_parts_(new PartField(session, "linkParts", tr("take picked"), true)),
      piece_(new PartField(session, "linkPiece", tr("take picked"))),
      take_up_(new PartField(session, "chainTakeUp", tr("none: take picked"))),
      pins_(new PlaceButton(session, "linkClickPins")) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(9);
    facts_ = chain_->addReadout("chainFacts");
    slack_row_ = chain_->addOptionalRow(tr("Slack run after"), slack_);
    chain_->addRow(tr("Tensioner"), take_up_);
    take_up_->setToolTip(
        tr("A tensioner, or what a run pulls: a hinge or slide that carries a wheel or an end. It is set so "
           "that the chain keeps its slack. Pick the chain itself to take it away"));
    kept_row_ = chain_->addOptionalRow(tr("Slack kept"), kept_);
    kept_->setToolTip(tr("What the tensioner leaves to hang at this frame; keyed where it has keys"));
    chain_->addWidget(remedies_);
    chain_->addButtons({apply_});
    chain_->addRow(tr("Links"), count_);
    chain_->addButtons({set_count_});
    links_->addRow(tr("Link, or two"), link_parts_);
    pins_->setText(tr("Click its two pins"));
    pins_->setToolTip(tr("Of a single link; left out, pins are half a pitch from its middle"));
    links_->addButtons({pins_});
    links_->addButtons({build_});
    links_->addRow(tr("Bucket or pad"), piece_);
    links_->addRow(tr("on every"), every_);
    every_->setPlaceholderText(tr("4"));
    link_facts_ = links_->addReadout("linkFacts");
    links_->addButtons({attach_});
    links_->addButtons({remove_, drop_links_});
    column->addWidget(chain_);
    column->addWidget(links_);

    connect(remedies_, &QListWidget::currentRowChanged, this,
            [this](int row) { apply_->setEnabled(row >= 0); });
    const auto with_chain = [this](auto make_step) {
        return [this, make_step] {
            if (const Chain* one = chain()) session_.preview(make_step(*one));
        };
    };
    connect(apply_, &QPushButton::clicked, this, with_chain([this](const Chain& one) {
                const ChainRemedy& remedy =
                    found_[static_cast<std::size_t>(std::max(0, remedies_->currentRow()))];
                json step{{"op", "chain.fit"},
                          {"chain", one.frame.value},
                          {"links", remedy.links},
                          {"remedy", word(remedy.kind)}};
                if (remedy.part) step["part"] = remedy.part.value;
                return step;
            }));
    connect(
        set_count_, &QPushButton::clicked, this, with_chain([this](const Chain& one) {
            return json{{"op", "chain.set"}, {"chain", one.frame.value}, {"links", count_->text().toInt()}};
        }));
    connect(slack_, &QComboBox::activated, this, [this](int) {
        if (const Chain* one = chain())
            session_.run({{"op", "chain.set"},
                          {"chain", one->frame.value},
                          {"slack_after", slack_->currentData().toULongLong()}});
    });
    connect(kept_, &QLineEdit::returnPressed, this, [this] {
        const Chain* one = chain();
        if (one && kept_->isModified())
            session_.setChannel({one->id, ChannelKind::Slack}, kept_->text().toStdString());
        kept_->setModified(false);
        refreshMotion();
    });
    connect(build_, &QPushButton::clicked, this, with_chain([this](const Chain& one) {
                json step{{"op", "chain.build"},
                          {"chain", one.frame.value},
                          {"parts", part_ids(link_parts_->parts())}};
                if (const json pins = clickedPins(); !pins.empty()) step["pins"] = pins;
                return step;
            }));
    connect(attach_, &QPushButton::clicked, this, with_chain([this](const Chain& one) {
                const int every = every_->text().toInt();
                return json{{"op", "chain.attach"},
                            {"chain", one.frame.value},
                            {"part", piece_->part().value},
                            {"every", every > 0 ? every : 4}};
            }));
    for (QPushButton* button : {remove_, drop_links_})
        connect(button, &QPushButton::clicked, this, [this, button] {
            if (const Chain* one = chain())
                session_.run(
                    {{"op", "chain.remove"}, {"chain", one->frame.value}, {"links", button == drop_links_}});
        });
    connect(take_up_, &PartField::taken, this, [this] {
        const Chain* one = chain_shown_ ? session_.document().chains.find(chain_shown_) : nullptr;
        if (one && take_up_->part())
            session_.run(
                {{"op", "chain.set"}, {"chain", one->frame.value}, {"take_up", take_up_->part().value}});
        refresh();
    });
    connect(pins_, &PlaceButton::picked, this, &ChainCard::refresh);
    for (PartField* field : {link_parts_, piece_})
        connect(field, &PartField::taken, this, &ChainCard::refresh);
}

const Chain* ChainCard::chain() const {
    const Document& document = session_.document();
    for (const PartId picked : session_.selection())
        for (const Chain& one : document.chains) {
            if (one.frame == picked || is_below(document, picked, one.frame)) return &one;
            const PartId hinge = turning_hinge(document, picked).value_or(picked);
            for (const ChainWheel& wheel : one.wheels)
                if (wheel.part == hinge) return &one;
            if (one.take_up == picked ||
                (one.ends && (one.ends->to.part == picked || one.ends->from.part == picked)))
                return &one;
        }
    // A tensioner may be picked, to be taken, that no chain knows yet.
    if (const Chain* shown = document.chains.find(chain_shown_)) return shown;
    return document.chains.size() > 0 ? &*document.chains.begin() : nullptr;
}

void ChainCard::refresh() {
    for (PartField* field : {link_parts_, piece_}) field->refresh();
    pins_->refresh();
    showChain();
}

/// Of an open run at the present frame.
QString ChainCard::runWords(const Chain& run, const ChainFit& now) const {
    QString text =
        tr("%1: %2 links of %3, %4.")
            .arg(QString::fromStdString(run.name))
            .arg(run.link_count)
            .arg(millimetres(run.pitch_m), length(run.link_count * run.pitch_m, session_.document()));
    text += QLatin1Char(' ');
    if (!now.possible) return text + tr("At this frame it cannot go its way.");
    if (now.slack_m < -1e-6) return text + tr("At this frame %1 are missing.").arg(millimetres(-now.slack_m));
    if (run.folds())
        return text +
               tr("At this frame it could reach %1 further.").arg(length(now.slack_m, session_.document()));
    if (run.travels())
        text += tr("At this frame %1 hang off its first wheel").arg(length(now.line_m, session_.document()));
    else
        text += tr("At this frame it runs over %1").arg(length(now.line_m, session_.document()));
    if (run.ends->start == RunStart::Wound)
        text += tr(", %1 turns are wound on it").arg(now.wound_rad / (2 * pi), 0, 'f', 2);
    if (now.slack_m > 1e-6) text += tr("; %1 are loose").arg(millimetres(now.slack_m));
    return text + QLatin1Char('.');
}

QString ChainCard::loopWords(const Chain& loop, const ChainFit& now) const {
    const double needed = needed_length(chain_loop(session_.document(), loop)) / loop.pitch_m;
    QString text = tr("%1: %2 links of %3. At rest the loop needs %4.")
                       .arg(QString::fromStdString(loop.name))
                       .arg(loop.link_count)
                       .arg(millimetres(loop.pitch_m), QString::number(needed, 'f', 3));
    const QString amount = millimetres(std::abs(now.slack_m));
    text += QLatin1Char(' ');
    if (!now.possible) return text + tr("At this frame it cannot go round its wheels.");
    if (now.slack_m < 0) return text + tr("At this frame %1 are missing.").arg(amount);
    return text +
           tr("Slack at this frame: %1; the slack run sags %2.").arg(amount, millimetres(now.sag_m, 1));
}

void ChainCard::refreshMotion() {
    const Chain* one = chain();
    if (!one || !isVisible()) return;
    const ChainStand* stand = chain_stand(session_.evaluator(), session_.pose(), one->id);
    if (!stand || session_.previewed()) return;
    const ChainFit& now = stand->fit;
    const QString text = one->ends ? runWords(*one, now) : loopWords(*one, now);
    facts_->setText(text);
    setRole(facts_, now.possible && now.slack_m >= -1e-6 ? "good" : "bad");
    if (!kept_->hasFocus() || !kept_->isModified())
        kept_->setText(millimetres(session_.valueOf({one->id, ChannelKind::Slack})));
}

void ChainCard::showChain() {
    const Chain* one = chain();
    chain_->setVisible(one != nullptr);
    links_->setVisible(one != nullptr);
    if (!one) return;
    const Document& document = session_.document();
    const bool there = std::all_of(one->wheels.begin(), one->wheels.end(), [&](const ChainWheel& wheel) {
        return document.parts.contains(wheel.part);
    });
    if (!there || !document.parts.contains(one->frame)) return;
    chain_shown_ = one->id;
    refreshMotion();
    slack_row_->setVisible(!one->ends);
    kept_row_->setVisible(static_cast<bool>(one->take_up));
    remedies_->setVisible(!one->ends);
    apply_->setVisible(!one->ends);
    slack_->clear();
    for (std::size_t i = 0; i < one->wheels.size() && !one->ends; ++i)
        slack_->addItem(tr("%1 → %2").arg(nameOf(document, one->wheels[i].part),
                                          nameOf(document, one->wheels[(i + 1) % one->wheels.size()].part)),
                        QVariant::fromValue<qulonglong>(one->wheels[i].part.value));
    slack_->setCurrentIndex(static_cast<int>(one->slack_after));
    take_up_->setParts(one->take_up ? std::vector{one->take_up} : std::vector<PartId>{});
    if (!count_->hasFocus()) count_->setText(QString::number(one->link_count));
    showRemedies(document, *one);
    const bool built = !one->links.empty();
    link_parts_->setEnabled(!built);
    pins_->setEnabled(!built);
    build_->setEnabled(!built && !link_parts_->parts().empty());
    attach_->setEnabled(built && static_cast<bool>(piece_->part()));
    if (!built)
        link_facts_->setText(clickedPins().empty()
                                 ? tr("Pick one link, or an inner and an outer one, and take them here.")
                                 : tr("Its pins are the two places clicked last."));
    else if (one->pattern == 1)
        link_facts_->setText(tr("%1 links built, all alike.").arg(one->links.size()));
    else
        link_facts_->setText(tr("%1 links built, in %2 kinds.").arg(one->links.size()).arg(one->pattern));
}

/// Searched for anew only when the chain or the places of its wheels changed.
void ChainCard::showRemedies(const Document& document, const Chain& chain) {
    std::vector<Vec2> centres;
    for (const ChainCircle& circle : chain_loop(document, chain).circles) centres.push_back(circle.centre);
    if (chain == shown_ && centres == shown_centres_) return;
    shown_ = chain;
    shown_centres_ = centres;
    found_ = chain_remedies(document, chain);
    constexpr std::size_t most = 12;
    if (found_.size() > most) found_.resize(most);
    remedies_->clear();
    for (const ChainRemedy& remedy : found_) {
        QString words = QString::fromStdString(remedy_words(document, chain, remedy));
        words[0] = words[0].toUpper();
        remedies_->addItem(words);
    }
    apply_->setEnabled(false);
}

/// The two places clicked last, when both are on the link that is to be built of; of one link only.
json ChainCard::clickedPins() const {
    const auto& places = session_.picks().places;
    const std::vector<PartId> parts = link_parts_->parts();
    if (parts.size() != 1 || places.size() < 2) return json::array();
    const PickedPlace &first = places[places.size() - 2], &second = places.back();
    if (first.part != parts.front() || second.part != parts.front()) return json::array();
    return {first.argument(), second.argument()};
}

}  // namespace pivrak
