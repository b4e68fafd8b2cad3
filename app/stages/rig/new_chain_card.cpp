#include "app/stages/rig/new_chain_card.h"

#include "app/stages/kit/fact_list.h"
#include "app/stages/kit/length_text.h"
#include "core/geometry/fits/recognise.h"
#include "core/rig/gears/gear_pair.h"

namespace pivrak {

using nlohmann::json;

namespace {

QList<std::pair<QString, QString>> chainPitches() {
    QList<std::pair<QString, QString>> list{{NewChainCard::tr("by its sprockets"), QString()}};
    for (const ChainSize& size : roller_chains()) {
        const QString name = QString::fromUtf8(size.name.data(), static_cast<qsizetype>(size.name.size()));
        list.push_back({NewChainCard::tr("%1, %2").arg(name, millimetres(size.pitch_m)), name});
    }
    list.push_back({NewChainCard::tr("a pitch of its own"), QStringLiteral("own")});
    return list;
}

}  // namespace

NewChainCard::NewChainCard(Session& session)
    : FormCard(session, "chainNew", {"chain.add"},
               {tr("New chain or track"), tr("Lay chain"), "layChain", QString()}),
      take_(makeButton(tr("Take picked wheels"), "takeWheels")),
      wheels_(makeFactList("chainWheels", 4, true)) {
    addButtons({take_});
    addWidget(wheels_);
    wheels_->setToolTip(
        tr("In the order in which links reach them. Ticked: the chain runs by with its back"));
    add({.argument = "size",
         .label = tr("Chain size"),
         .choices = chainPitches(),
         .object_name = "chainSize"},
        true);
    add({.argument = "pitch", .shown_for = {"own"}, .object_name = "chainPitch"});
    add({.argument = "pin_height",
         .label = tr("Pin height"),
         .placeholder = tr("0 mm"),
         .tip = tr("From the tread of a wheel without teeth to the line of pins"),
         .object_name = "chainHeight"});
    add({.argument = "teeth",
         .placeholder = tr("counted"),
         .tip = tr("Of each wheel in its order, 0 for a roller: 19 38 0"),
         .object_name = "chainTeeth"});
    add({.argument = "links", .placeholder = tr("as needed"), .object_name = "chainLinks"});
    add({.argument = "pattern",
         .label = tr("Repeats every"),
         .placeholder = tr("1 link"),
         .tip = tr("2 where inner and outer links alternate"),
         .object_name = "chainPattern"});
    add({.argument = "name", .placeholder = tr("Chain"), .object_name = "chainName"});
    finish(true);
    connect(take_, &QPushButton::clicked, this, &NewChainCard::takeWheels);
    connect(wheels_, &QListWidget::itemChanged, this, &NewChainCard::changed);
}

/// The picked wheels in the order they were picked. Ticked ones stand outside the loop.
void NewChainCard::takeWheels() {
    taken_ = session_.selection();
    const QSignalBlocker quiet(wheels_);
    wheels_->clear();
    for (const PartId id : taken_) {
        const auto teeth = teeth_of(session_.document(), id);
        const QString size = teeth ? tr("%1 teeth").arg(*teeth) : tr("roller");
        auto* item = new QListWidgetItem(tr("%1   %2").arg(nameOf(session_.document(), id), size));
        item->setFlags(Qt::ItemIsEnabled | Qt::ItemIsUserCheckable | Qt::ItemIsSelectable);
        item->setCheckState(Qt::Unchecked);
        wheels_->addItem(item);
    }
    refresh();
}

void NewChainCard::amend(json& step) const {
    if (lead() == "own") step.erase("size");
    step["wheels"] = part_ids(taken_);
    json outside = json::array();
    for (std::size_t i = 0; i < taken_.size(); ++i)
        if (wheels_->item(static_cast<int>(i))->checkState() == Qt::Checked)
            outside.push_back(taken_[i].value);
    if (!outside.empty()) step["outside"] = outside;
}

QString NewChainCard::obstacle() const {
    if (taken_.size() < 2)
        return tr(
            "Pick sprockets and rollers one after the other, with Shift, in the order in which links reach "
            "them.");
    return lead() == "own" && valueOf("pitch").empty() ? tr("Type the pitch.") : QString();
}

void NewChainCard::refresh() {
    const auto there = [&](PartId part) { return session_.document().parts.contains(part); };
    if (!std::all_of(taken_.begin(), taken_.end(), there)) {
        taken_.clear();
        wheels_->clear();
    }
    take_->setEnabled(session_.selection().size() > 1);
    wheels_->setVisible(!taken_.empty());
    FormCard::refresh();
}

}  // namespace pivrak
