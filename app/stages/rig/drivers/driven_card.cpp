#include "app/stages/rig/drivers/driven_card.h"

#include <algorithm>

#include "app/session/shown_value.h"
#include "app/stages/kit/fact_list.h"
#include "app/stages/kit/part_field.h"
#include "core/elements/follow/follow_words.h"
#include "core/io/project/project_json.h"
#include "core/model/element_channels.h"
#include "core/operations/drivers/driven_channel.h"

namespace pivrak {

using nlohmann::json;

namespace {

/// The channels that a follow or a formula takes; none for other couplings.
std::vector<ChannelRef> takenBy(const Coupling& coupling) {
    if (const Follow* follow = coupling.as<Follow>()) return {follow->driver};
    std::vector<ChannelRef> taken;
    if (const Formula* formula = coupling.as<Formula>())
        for (const FormulaInput& input : formula->inputs)
            if (input.kind == InputKind::Channel) taken.push_back(input.channel);
    return taken;
}

/// Whether both do the same, each to a part of its own.
bool isSame(const Coupling& one, const Coupling& other) {
    if (one.driven().kind != other.driven().kind || one.is_off() != other.is_off()) return false;
    if (const Sway* sway = one.as<Sway>()) {
        const Sway* its = other.as<Sway>();
        return its && sway->goes == its->goes && sway->strength == its->strength &&
               sway->pace_hz == its->pace_hz && sway->with_clip == its->with_clip;
    }
    if (const Follow* follow = one.as<Follow>()) {
        const Follow* its = other.as<Follow>();
        return its && follow->driver == its->driver && follow->gain == its->gain &&
               follow->offset == its->offset && follow->delay_frames == its->delay_frames &&
               follow->curve == its->curve && follow->each_turn == its->each_turn;
    }
    const Formula *formula = one.as<Formula>(), *its = other.as<Formula>();
    return formula && its && formula->text == its->text && formula->inputs == its->inputs &&
           formula->unit_m == its->unit_m && formula->against == its->against;
}

}  // namespace

DrivenCard::DrivenCard(Session& session)
    : Card(tr("What follows")),
      session_(session),
      list_(makeFactList("drivenList", 6, true)),
      edit_(makeButton(tr("Edit formula"), "editFormula")),
      driver_(makeButton(tr("Pick its driver"), "pickDriver")),
      followers_(makeButton(tr("Pick its followers"), "pickFollowers")),
      hold_(makeButton(tr("Stop here"), "holdDriven")),
      drop_(makeButton(tr("Let go"), "dropDriven")),
      switch_(makeButton(tr("Switch off"), "switchDriven")),
      replace_(makeButton(tr("Replace its driver"), "replaceDriver")),
      keep_(makeButton(tr("Keep the old one"), "keepDriver")) {
    facts_ = addReadout("drivenFacts");
    addWidget(list_);
    addButtons({driver_, followers_});
    addButtons({switch_, hold_, drop_});
    addButtons({edit_, replace_, keep_});
    replace_->setToolTip(tr("All that takes this driver, here and elsewhere, takes another one"));
    connect(switch_, &QPushButton::clicked, this, &DrivenCard::switchRow);
    connect(replace_, &QPushButton::clicked, this, &DrivenCard::replace);
    connect(keep_, &QPushButton::clicked, this, [this] {
        replacing_.reset();
        refresh();
    });
    hold_->setToolTip(tr("It follows no more, and stays as it is at this frame"));
    drop_->setToolTip(tr("It follows no more, and goes back to where hands or keys have it"));
    followers_->setToolTip(tr("What follows the same driver"));
    connect(list_, &QListWidget::currentRowChanged, this, &DrivenCard::enable);
    connect(edit_, &QPushButton::clicked, this, [this] {
        if (const Coupling* coupling = current()) emit formulaAsked(coupling->id);
    });
    connect(driver_, &QPushButton::clicked, this, &DrivenCard::pickDriver);
    connect(followers_, &QPushButton::clicked, this, &DrivenCard::pickFollowers);
    connect(hold_, &QPushButton::clicked, this, [this] { letGo(true); });
    connect(drop_, &QPushButton::clicked, this, [this] { letGo(false); });
}

bool DrivenCard::isShown(const Coupling& coupling) const {
    if (!is_driver(coupling)) return false;
    if (replacing_) {
        const auto taken = takenBy(coupling);
        return std::ranges::count(taken, *replacing_) > 0;
    }
    if (session_.selection().empty() || session_.isSelected(coupling.driven().part())) return true;
    const auto taken = takenBy(coupling);
    return std::any_of(taken.begin(), taken.end(),
                       [&](const ChannelRef& channel) { return session_.isSelected(channel.part()); });
}

QString DrivenCard::wordsOf(const std::vector<CouplingId>& row) const {
    const Document& document = session_.shownDocument();
    const Coupling& coupling = *document.couplings.find(row.front());
    const ChannelRef driven = coupling.driven();
    const QString now = toldValue(session_.document(), driven.kind, session_.valueOf(driven));
    QString name = QString::fromStdString(channel_name(document, driven));
    if (row.size() > 1) name = tr("%1 and %n more", nullptr, static_cast<int>(row.size()) - 1).arg(name);
    const QString off = coupling.is_off() ? tr(" (off)") : QString();
    if (const Formula* formula = coupling.as<Formula>())
        return tr("%1 = %2%3\nnow %4")
            .arg(name, QString::fromStdString(formula->text).simplified(), off, now);
    if (const Sway* sway = coupling.as<Sway>())
        return (row.size() > 1 ? tr("%1 sway%2\n%3, %4 a second, now %5")
                               : tr("%1 sways%2\n%3, %4 a second, now %5"))
            .arg(name, off, toldValue(session_.document(), driven.kind, sway->strength))
            .arg(sway->pace_hz, 0, 'g', 4)
            .arg(now);
    const Follow& follow = *coupling.as<Follow>();
    QString by = QString::fromStdString(rule_words(follow));
    if (follow.delay_frames > 0) by += tr(", %1 frames later").arg(follow.delay_frames);
    return (row.size() > 1 ? tr("%1 follow %2%3\n%4, now %5") : tr("%1 follows %2%3\n%4, now %5"))
        .arg(name, QString::fromStdString(channel_name(document, follow.driver)), off, by, now);
}

const Coupling* DrivenCard::current() const {
    const auto row = static_cast<std::size_t>(list_->currentRow());
    if (list_->currentRow() < 0 || row >= rows_.size()) return nullptr;
    return session_.shownDocument().couplings.find(rows_[row].front());
}

void DrivenCard::refresh() {
    if (replacing_ && !find_channel(session_.document(), *replacing_)) replacing_.reset();
    const int row = list_->currentRow();
    listing_ = true;
    rows_.clear();
    list_->clear();
    const auto& couplings = session_.shownDocument().couplings;
    for (const Coupling& coupling : couplings) {
        if (!isShown(coupling)) continue;
        const auto like = std::find_if(rows_.begin(), rows_.end(), [&](const auto& one) {
            return isSame(*couplings.find(one.front()), coupling);
        });
        if (like == rows_.end())
            rows_.push_back({coupling.id});
        else
            like->push_back(coupling.id);
    }
    for (const auto& one : rows_) list_->addItem(wordsOf(one));
    if (!rows_.empty()) list_->setCurrentRow(std::clamp(row, 0, static_cast<int>(rows_.size()) - 1));
    listing_ = false;
    list_->setVisible(!rows_.empty());
    facts_->setVisible(rows_.empty());
    facts_->setText(session_.selection().empty() ? tr("Nothing follows anything yet.")
                                                 : tr("The picked parts neither follow nor lead."));
    enable();
}

void DrivenCard::refreshMotion() {
    const auto& couplings = session_.shownDocument().couplings;
    const bool there = std::all_of(rows_.begin(), rows_.end(),
                                   [&](const auto& row) { return couplings.contains(row.front()); });
    if (!there || list_->count() != static_cast<int>(rows_.size())) return;
    for (int i = 0; i < list_->count(); ++i)
        list_->item(i)->setText(wordsOf(rows_[static_cast<std::size_t>(i)]));
}

void DrivenCard::enable() {
    if (listing_) return;
    const Coupling* coupling = current();
    const bool led = coupling && !takenBy(*coupling).empty(), can = coupling && !session_.previewed();
    edit_->setVisible(coupling && coupling->as<Formula>() && !replacing_);
    edit_->setEnabled(can);
    for (QPushButton* button : {driver_, followers_}) button->setEnabled(led && !replacing_);
    for (QPushButton* button : {hold_, drop_, switch_}) button->setEnabled(can && !replacing_);
    const bool off = coupling && coupling->is_off();
    switch_->setText(off ? tr("Switch on") : tr("Switch off"));
    switch_->setToolTip(off ? tr("It drives again")
                            : tr("It stays here and drives nothing: what it drove stands still, or is moved "
                                 "by hand"));
    showReplacing();
    if (current())
        emit rowShown(rows_[static_cast<std::size_t>(list_->currentRow())]);
    else
        emit rowShown({});
}

json DrivenCard::stepOnRow(const char* operation) const {
    const Coupling* coupling = current();
    std::vector<PartId> parts;
    for (const CouplingId id : rows_[static_cast<std::size_t>(list_->currentRow())])
        if (const Coupling* one = session_.document().couplings.find(id))
            parts.push_back(one->driven().part());
    return {{"op", operation}, {"parts", part_ids(parts)}, {"channel", word(coupling->driven().kind)}};
}

void DrivenCard::letGo(bool hold) {
    if (!current()) return;
    json step = stepOnRow("driver.remove");
    step.update({{"hold", hold}, {"frame", session_.frame()}, {"clip", session_.clip().name}});
    session_.run(step);
}

void DrivenCard::switchRow() {
    const Coupling* coupling = current();
    if (!coupling) return;
    if (coupling->is_off()) {
        session_.run(stepOnRow("driver.on"));
        return;
    }
    json step = stepOnRow("driver.off");
    step.update({{"frame", session_.frame()}, {"clip", session_.clip().name}});
    session_.run(step);
}

void DrivenCard::showReplacing() {
    const Coupling* coupling = current();
    const auto taken = coupling ? takenBy(*coupling) : std::vector<ChannelRef>();
    keep_->setVisible(replacing_.has_value());
    if (!replacing_) {
        // Of several inputs it is not said which.
        replace_->setEnabled(taken.size() == 1 && !session_.previewed());
        replace_->setText(tr("Replace its driver"));
        return;
    }
    const auto other = channel_at(session_.document(), session_.primary(), word(replacing_->kind));
    const bool found = other && *other != *replacing_;
    replace_->setEnabled(found);
    replace_->setText(
        found ? tr("Take %1").arg(QString::fromStdString(channel_name(session_.document(), *other)))
              : tr("Take the picked one"));
    facts_->setVisible(true);
    facts_->setText(tr("Pick the part that takes the place of %1, here and wherever that is taken.")
                        .arg(QString::fromStdString(channel_name(session_.document(), *replacing_))));
}

void DrivenCard::replace() {
    if (!replacing_) {
        if (const Coupling* coupling = current()) replacing_ = takenBy(*coupling).front();
        return refresh();
    }
    const ChannelRef from = *replacing_;
    json step{{"op", "driver.replace"},
              {"driver_channel", word(from.kind)},
              {"with", session_.primary().value},
              {"with_channel", word(from.kind)}};
    if (session_.document().parts.contains(from.part()))
        step["driver"] = from.owner.value;
    else
        step["driver_element"] = {from.owner.value};
    if (session_.run(step)) replacing_.reset();
    refresh();
}

void DrivenCard::pickDriver() {
    const Coupling* coupling = current();
    if (!coupling) return;
    std::vector<PartId> parts;
    for (const ChannelRef& channel : takenBy(*coupling))
        if (session_.document().parts.contains(channel.part())) parts.push_back(channel.part());
    session_.select(parts);
}

void DrivenCard::pickFollowers() {
    const Coupling* coupling = current();
    if (!coupling) return;
    const auto leads = takenBy(*coupling);
    std::vector<PartId> parts;
    for (const Coupling& other : session_.document().couplings) {
        const auto taken = takenBy(other);
        if (std::any_of(taken.begin(), taken.end(),
                        [&](const ChannelRef& channel) { return std::ranges::count(leads, channel) > 0; }))
            parts.push_back(other.driven().part());
    }
    session_.select(parts);
}

}  // namespace pivrak
