#include "app/stages/rig/print_card.h"

#include "app/stages/kit/length_text.h"
#include "core/base/words.h"

namespace pivrak {

using nlohmann::json;

PrintCard::PrintCard(Session& session, const LaidPrints& prints)
    : FormCard(session, "print", {"print.add"},
               {tr("Printed tracks"), tr("Leave tracks"), "leavePrints", QString()}),
      prints_(prints),
      change_(makeButton(tr("Change"), "changePrints")),
      remove_(makeButton(tr("Remove"), "removePrints")) {
    add({.argument = "width", .placeholder = tr("as the tread"), .object_name = "printWidth"});
    add({.argument = "tile",
         .label = tr("One picture covers"),
         .placeholder = tr("as its width"),
         .tip = tr("One picture covers this much of the way"),
         .object_name = "printTile"});
    finish(false, {change_, remove_});
    connect(change_, &QPushButton::clicked, this, &PrintCard::change);
    connect(remove_, &QPushButton::clicked, this, &PrintCard::remove);
    connect(&prints_, &LaidPrints::changed, this, &PrintCard::refreshMotion);
}

void PrintCard::change() {
    for (const Print* print : inHand()) {
        json changed = step();
        changed["op"] = "print.set";
        changed["print"] = print->name;
        changed.erase("parts");
        if (!session_.run(changed)) return;
    }
}

void PrintCard::remove() {
    std::vector<std::string> names;
    for (const Print* print : inHand()) names.push_back(print->name);
    for (const std::string& name : names) session_.run({{"op", "print.remove"}, {"print", name}});
}

/// Those of the picked wheels.
std::vector<const Print*> PrintCard::inHand() const {
    std::vector<const Print*> prints;
    for (const Print& print : session_.document().prints)
        if (session_.isSelected(print.wheel)) prints.push_back(&print);
    return prints;
}

QString PrintCard::factsOf(const Print& print) const {
    const LaidPrints::Laid* laid = prints_.find(print.id);
    const Part* wheel = session_.document().parts.find(print.wheel);
    const QString name = wheel ? QString::fromStdString(wheel->name) : QString();
    if (!laid) return tr("%1: being laid").arg(name);
    const PrintStrip& strip = laid->strip;
    QString facts = tr("%1: %2 of %3")
                        .arg(name, length(strip.way_at(session_.frame()), session_.document()),
                             length(strip.length_m(), session_.document()));
    if (strip.burial_m > 0)
        facts += tr(" · ground cuts through by %1").arg(length(strip.burial_m, session_.document()));
    return facts;
}

void PrintCard::refreshMotion() {
    const auto prints = inHand();
    QStringList lines;
    for (const Print* print : prints) lines << factsOf(*print);
    if (lines.size() > 4) lines = lines.mid(0, 4) << tr("and %1 more").arg(prints.size() - 4);
    if (lines.isEmpty())
        lines << (session_.document().prints.empty()
                      ? tr("Pick wheels: they leave tracks where they roll, which grow as they go.")
                      : tr("%1 laid; pick wheels to see theirs.")
                            .arg(
                                QString::fromStdString(counted(session_.document().prints.size(), "track"))));
    facts_->setText(lines.join(QLatin1Char('\n')));
}

void PrintCard::refresh() {
    FormCard::refresh();
    const bool ready = !session_.selection().empty() && !session_.previewed();
    bool hinges = ready;
    for (const PartId id : session_.selection()) {
        const Part* part = session_.document().parts.find(id);
        hinges &= part && part->joint.has(ChannelKind::Turn);
    }
    const bool some = ready && !inHand().empty();
    do_->setEnabled(hinges && !some);
    change_->setEnabled(some);
    remove_->setEnabled(some);
    refreshMotion();
}

}  // namespace pivrak
