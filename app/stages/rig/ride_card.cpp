#include "app/stages/rig/ride_card.h"

#include "core/base/words.h"
#include "core/elements/ride/ride_motion.h"
#include "core/operations/channel_access.h"

namespace pivrak {

using nlohmann::json;

RideCard::RideCard(Session& session, QWidget* parent)
    : QWidget(parent),
      session_(session),
      ride_(new Card(tr("Ride the path in hand"))),
      string_(new Card(tr("String of carriages"))),
      lead_(makeChoice("rideLead",
                       {{tr("own X"), "x"}, {tr("own -X"), "-x"}, {tr("own Y"), "y"}, {tr("own -Y"), "-y"}})),
      upright_(makeChoice("rideUpright", {{tr("by the world's up"), "world"},
                                          {tr("by the path"), "path"},
                                          {tr("leaned into bends"), "bank"},
                                          {tr("plumb"), "plumb"}})),
      coupling_(makeChoice("stringCoupling", {{tr("straight couplers"), "straight"},
                                              {tr("shared points"), "shared"},
                                              {tr("along the path"), "path"}})),
      along_(makeNumber("rideAlong")),
      speed_(makeNumber("rideSpeed")),
      side_(makeNumber("rideSide")),
      height_(makeNumber("rideHeight")),
      front_(makeNumber("rideFront")),
      rear_(makeNumber("rideRear")),
      count_(makeNumber("stringCount")),
      gap_(makeNumber("stringGap")),
      set_(makeButton(tr("Ride"), "setRide", true)),
      leave_(makeButton(tr("Leave"), "leavePath")),
      couple_(makeButton(tr("Couple"), "coupleString", true)),
      bogies_(new PartField(session, "stringBogies", tr("none: take picked"), true)) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(9);
    path_ = ride_->addReadout("ridePath");
    ride_->addRow(tr("Leads"), lead_);
    ride_->addRow(tr("Kept upright"), upright_);
    ride_->addRow(tr("Speed for the lean"), speed_);
    ride_->addRow(tr("To the left"), side_);
    ride_->addRow(tr("Above the path"), height_);
    ride_->addRow(tr("Carried ahead at"), front_);
    ride_->addRow(tr("and behind at"), rear_);
    ride_->addButtons({set_, leave_});
    ride_->addRow(tr("Along"), along_);
    facts_ = ride_->addReadout("rideFacts");
    speed_->setPlaceholderText(tr("m/s"));
    along_->setToolTip(tr("A length, or a share of the path: 12.5 m, 25 %"));
    string_->addRow(tr("Coupled by"), coupling_);
    string_->addRow(tr("Carriages"), count_);
    string_->addRow(tr("Gap"), gap_);
    string_->addRow(tr("Bogies"), bogies_);
    string_->addButtons({couple_});
    bogies_->setToolTip(tr("Two parts under each carriage that turn as the path does, and carry it there"));
    string_facts_ = string_->addReadout("stringFacts");
    count_->setText(QStringLiteral("6"));
    gap_->setToolTip(tr("Left empty, carriages spaced along a closed path are spread evenly"));
    column->addWidget(ride_);
    column->addWidget(string_);
    connect(set_, &QPushButton::clicked, this, [this] { session_.run(rideStep("ride.set")); });
    connect(leave_, &QPushButton::clicked, this, [this] {
        session_.run({{"op", "ride.remove"}, {"parts", session_.selectedIds()}});
    });
    connect(along_, &QLineEdit::returnPressed, this, [this] {
        const Part* part = session_.document().parts.find(session_.primary());
        const DrapedPath* path = part ? ridden_path(session_.evaluator(), part->id) : nullptr;
        if (!path) return;
        QString typed = along_->text();
        if (typed.contains(QLatin1Char('%')))
            typed = QString::number(typed.remove(QLatin1Char('%')).toDouble() / 100 * path->curve.length(),
                                    'g', 12) +
                    QStringLiteral(" m");
        session_.setChannel({part->id, ChannelKind::Along}, typed.toStdString());
    });
    connect(couple_, &QPushButton::clicked, this, [this] {
        json step = rideStep("ride.string");
        step["coupling"] = chosen(coupling_);
        step["count"] = count_->text().toInt();
        if (!gap_->text().isEmpty()) step["gap"] = gap_->text().toStdString();
        if (!bogies_->parts().empty()) {
            step["bogies"] = part_ids(bogies_->parts());
            // It is carried where they are.
            step.erase("front");
            step.erase("rear");
        }
        session_.preview(step);
    });
}

json RideCard::rideStep(const char* op) const {
    json step{{"op", op},
              {"parts", session_.selectedIds()},
              {"lead", chosen(lead_)},
              {"upright", chosen(upright_)}};
    if (const Path* path = session_.pathInHand()) step["path"] = path->name;
    const auto put = [&](const char* key, const QLineEdit* field) {
        if (!field->text().trimmed().isEmpty()) step[key] = field->text().toStdString();
    };
    put("side", side_);
    put("height", height_);
    put("front", front_);
    put("rear", rear_);
    if (!speed_->text().isEmpty()) step["speed"] = speed_->text().toDouble();
    return step;
}

/// What a rider was given stands in the fields when it is picked.
void RideCard::showRide(const Part& part) {
    if (part.id == shown_for_ || !part.ride) return;
    shown_for_ = part.id;
    const Ride& ride = *part.ride;
    lead_->setCurrentIndex(lead_->findData(QString(ride.against ? QStringLiteral("-") : QString()) +
                                           QLatin1Char("xyz"[ride.axis])));
    upright_->setCurrentIndex(
        upright_->findData(QString::fromStdString(std::string(word_of(upright_words, ride.upright)))));
    const auto put = [&](QLineEdit* field, double value) {
        field->setText(value == 0 ? QString() : QString::fromStdString(format_length(value)));
    };
    put(side_, ride.side_m);
    put(height_, ride.height_m);
    put(front_, ride.front_m);
    put(rear_, ride.rear_m);
    speed_->setText(ride.bank_speed_m_s == 0 ? QString() : QString::number(ride.bank_speed_m_s));
}

QString RideCard::facts(const Part& part) const {
    const DrapedPath* path = ridden_path(session_.evaluator(), part.id);
    if (!path) return tr("Its path cannot be measured; see the findings.");
    const double along = session_.valueOf({part.id, ChannelKind::Along});
    const QString share = QString::number(100 * along / path->curve.length(), 'f', 1);
    const Part* ahead = session_.shownDocument().parts.find(part.ride->ahead);
    return ahead ? tr("%1 % of %2, behind %3")
                       .arg(share, QString::fromStdString(format_length(path->curve.length())),
                            QString::fromStdString(ahead->name))
                 : tr("%1 % of %2; K keys it")
                       .arg(share, QString::fromStdString(format_length(path->curve.length())));
}

void RideCard::refresh() {
    bogies_->refresh();
    const Path* path = session_.pathInHand();
    const Part* part = session_.shownDocument().parts.find(session_.primary());
    const bool ready = part && !session_.previewed();
    const Path* ridden = part && part->ride ? session_.shownDocument().paths.find(part->ride->path) : nullptr;
    if (part) showRide(*part);
    path_->setText(ridden  ? tr("Rides %1.").arg(QString::fromStdString(ridden->name))
                   : !path ? tr("Draw a path, or pick one in the view.")
                   : !part ? tr("Pick the parts that shall ride %1.").arg(QString::fromStdString(path->name))
                           : tr("The pivot will stand on %1.").arg(QString::fromStdString(path->name)));
    set_->setText(ridden ? tr("Change") : tr("Ride"));
    set_->setEnabled(ready && (path || ridden));
    leave_->setEnabled(ready && ridden);
    along_->setEnabled(ready && ridden && !part->ride->ahead);
    if (!along_->hasFocus())
        along_->setText(
            ridden ? QString::fromStdString(format_length(session_.valueOf({part->id, ChannelKind::Along})))
                   : QString());
    facts_->setVisible(ridden != nullptr);
    if (ridden) facts_->setText(facts(*part));
    const std::size_t picked = session_.selection().size();
    couple_->setEnabled(ready && path && picked > 0);
    count_->setEnabled(picked == 1);
    string_facts_->setText(picked > 1
                               ? tr("%1 in the order they were picked, the first leads.")
                                     .arg(QString::fromStdString(counted(picked, "part")))
                               : tr("One picked carriage is copied; several are coupled in their order."));
}

}  // namespace pivrak
