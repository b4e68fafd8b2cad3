#include "app/stages/rig/ride_card.h"

#include "app/stages/kit/length_text.h"
#include "core/base/words.h"
#include "core/elements/ride/ride_motion.h"
#include "core/operations/channel_access.h"

namespace pivrak {

using nlohmann::json;

// ---- one rider

RideCard::RideCard(Session& session)
    : FormCard(session, "ride", {"ride.set"},
               {tr("Ride the current path"), tr("Ride"), "setRide", QString()}),
      leave_(makeButton(tr("Take off path"), "leavePath")),
      along_(makeNumber("rideAlong")),
      path_(addReadout("ridePath")) {
    add({.argument = "lead",
         .label = tr("Leads"),
         .choices = {{tr("own X"), "x"}, {tr("own -X"), "-x"}, {tr("own Y"), "y"}, {tr("own -Y"), "-y"}},
         .object_name = "rideLead"});
    add({.argument = "upright",
         .label = tr("Kept upright"),
         .choices = {{tr("by the world's up"), "world"},
                     {tr("by the path"), "path"},
                     {tr("leaned into bends"), "bank"},
                     {tr("plumb"), "plumb"},
                     {tr("level, by its side"), "level"}},
         .object_name = "rideUpright"});
    add({.argument = "speed", .object_name = "rideSpeed"});
    add({.argument = "side", .object_name = "rideSide"});
    add({.argument = "height", .object_name = "rideHeight"});
    add({.argument = "front", .object_name = "rideFront"});
    add({.argument = "rear", .object_name = "rideRear"});
    finish(false, {leave_});
    addRow(tr("Along"), along_);
    along_facts_ = addReadout("rideAlongFacts");
    along_->setToolTip(tr("A length, or a share of the path: 12.5 m, 25 %"));
    connect(leave_, &QPushButton::clicked, this, [this] {
        session_.run({{"op", "ride.remove"}, {"parts", session_.selectedIds()}});
    });
    connect(along_, &QLineEdit::returnPressed, this, &RideCard::goAlong);
}

void RideCard::goAlong() {
    const Part* part = session_.document().parts.find(session_.primary());
    const DrapedPath* path = part ? ridden_path(session_.evaluator(), part->id) : nullptr;
    if (!path || !along_->isModified()) return;
    QString typed = along_->text();
    if (typed.contains(QLatin1Char('%')))
        typed =
            QString::number(typed.remove(QLatin1Char('%')).toDouble() / 100 * path->curve.length(), 'g', 12) +
            QStringLiteral(" m");
    session_.setChannel({part->id, ChannelKind::Along}, typed.toStdString());
}

void RideCard::amend(json& step) const {
    if (const Path* path = session_.pathInHand()) step["path"] = path->name;
}

json RideCard::way() const {
    json way = step();
    way.erase("op");
    return way;
}

/// What a rider was given stands in the fields when it is picked.
void RideCard::showRide(const Part& part) {
    if (part.id == shown_for_ || !part.ride) return;
    shown_for_ = part.id;
    const Ride& ride = *part.ride;
    setValue("lead", QString(ride.against ? QStringLiteral("-") : QString()) + QLatin1Char("xyz"[ride.axis]));
    setValue("upright", QString::fromStdString(std::string(word_of(upright_words, ride.upright))));
    const auto put = [&](const char* argument, double metres) {
        if (metres == 0) return setValue(argument, QString());
        setLength(argument, metres);
    };
    put("side", ride.side_m);
    put("height", ride.height_m);
    put("front", ride.front_m);
    put("rear", ride.rear_m);
    setValue("speed", ride.bank_speed_m_s == 0 ? QString() : QString::number(ride.bank_speed_m_s));
}

QString RideCard::placeWords(const Part& part) const {
    const DrapedPath* path = ridden_path(session_.evaluator(), part.id);
    if (!path) return tr("Its path cannot be measured; see the findings.");
    const double along = session_.valueOf({part.id, ChannelKind::Along});
    const QString share = QString::number(100 * along / path->curve.length(), 'f', 1);
    const Part* ahead = session_.shownDocument().parts.find(part.ride->ahead);
    return ahead ? tr("%1 % of %2, behind %3")
                       .arg(share, length(path->curve.length(), session_.document()),
                            QString::fromStdString(ahead->name))
                 : tr("%1 % of %2; K keys it").arg(share, length(path->curve.length(), session_.document()));
}

void RideCard::refresh() {
    const Path* path = session_.pathInHand();
    const Part* part = session_.shownDocument().parts.find(session_.primary());
    const bool ready = part && !session_.previewed();
    const Path* ridden = part && part->ride ? session_.shownDocument().paths.find(part->ride->path) : nullptr;
    if (part) showRide(*part);
    FormCard::refresh();
    facts_->hide();
    path_->setText(ridden  ? tr("Rides %1.").arg(QString::fromStdString(ridden->name))
                   : !path ? tr("Draw a path, or pick one in the view.")
                   : !part ? tr("Pick the parts to ride %1.").arg(QString::fromStdString(path->name))
                           : tr("The pivot will stand on %1.").arg(QString::fromStdString(path->name)));
    do_->setText(ridden ? tr("Change") : tr("Ride"));
    do_->setEnabled(ready && (path || ridden));
    leave_->setEnabled(ready && ridden);
    along_->setEnabled(ready && ridden && !part->ride->ahead);
    refreshMotion();
}

void RideCard::refreshMotion() {
    const Part* part = session_.shownDocument().parts.find(session_.primary());
    const bool rides = part && part->ride;
    if (!along_->hasFocus())
        along_->setText(rides ? length(session_.valueOf({part->id, ChannelKind::Along}), session_.document())
                              : QString());
    along_facts_->setVisible(rides);
    if (rides) along_facts_->setText(placeWords(*part));
}

// ---- several, coupled

StringCard::StringCard(Session& session, const RideCard& ride)
    : FormCard(session, "string", {"ride.string"},
               {tr("String of carriages"), tr("Couple"), "coupleString", QString()}),
      ride_(ride) {
    add({.argument = "coupling",
         .label = tr("Coupled by"),
         .choices = {{tr("straight couplers"), "straight"},
                     {tr("shared points"), "shared"},
                     {tr("along the path"), "path"}},
         .object_name = "stringCoupling"});
    add({.argument = "count",
         .label = tr("Carriages"),
         .begins = QStringLiteral("6"),
         .object_name = "stringCount"});
    add({.argument = "gap",
         .tip = tr("Left empty, carriages spaced along a closed path are spread evenly"),
         .object_name = "stringGap"});
    add({.argument = "bogies",
         .placeholder = tr("none: take picked"),
         .tip = tr("Two parts under each carriage that turn as the path does, and carry it there"),
         .object_name = "stringBogies"});
    finish(false);
}

void StringCard::amend(json& step) const {
    const bool on_bogies = step.contains("bogies");
    const json way = ride_.way();
    for (const auto& [argument, value] : way.items())
        // On bogies it is carried where they are.
        if (!on_bogies || (argument != "front" && argument != "rear")) step[argument] = value;
}

QString StringCard::obstacle() const {
    if (!session_.pathInHand()) return tr("Draw a path, or pick one in the view.");
    const std::size_t picked = session_.selection().size();
    return picked > 0 ? QString()
                      : tr("Pick a carriage, or several in their order; they ride as said above.");
}

void StringCard::refresh() {
    FormCard::refresh();
    const std::size_t picked = session_.selection().size();
    widget("count")->setEnabled(picked == 1);
    if (!do_->isEnabled()) return;
    facts_->setText(picked > 1 ? tr("%1 in the order they were picked, the first leads.")
                                     .arg(QString::fromStdString(counted(picked, "part")))
                               : tr("One picked carriage is copied."));
    if (session_.previewed()) do_->setEnabled(false);
}

}  // namespace pivrak
