#include "app/stages/rig/drivers/follow_card.h"

#include "app/session/shown_value.h"
#include "app/stages/rig/drivers/channel_choices.h"
#include "core/operations/drivers/driven_channel.h"

namespace pivrak {

using nlohmann::json;

namespace {

/// A value as it is typed, with its unit.
QString typed(ChannelKind kind, double value, LengthUnit unit) {
    if (is_turn(kind)) return FollowCard::tr("%1 deg").arg(value * deg_per_rad, 0, 'g', 8);
    if (dimension_of(kind) != Dimension::Length) return QString::number(value, 'g', 8);
    const auto word = symbol(unit);
    return QStringLiteral("%1 %2")
        .arg(value / metres_per(unit), 0, 'g', 8)
        .arg(QLatin1String(word.data(), static_cast<int>(word.size())));
}

}  // namespace

FollowCard::FollowCard(Session& session)
    : FormCard(session, "follow", {"follow.add"},
               {tr("This follows that"), tr("Follow"), "addFollow", QString()}),
      posing_(new QWidget),
      from_(makeButton(tr("From here"), "followFromHere")),
      to_(makeButton(tr("To here"), "followToHere")),
      point_(makeButton(tr("Add this pose"), "followAddPoint")),
      ends_(nullptr) {
    add({.argument = "@how",
         .label = tr("How"),
         .choices = {{tr("in proportion"), "gain"},
                     {tr("from pose to pose"), "poses"},
                     {tr("by a curve of poses"), "curve"}},
         .object_name = "followHow"},
        true);
    add({.argument = "driver",
         .tip =
             tr("Pick the parts that follow and with Shift what they follow; or pick that and click here to "
                "keep it"),
         .object_name = "followDriver"});
    add({.argument = "driver_channel",
         .label = tr("By its"),
         .choices = channelChoices(),
         .object_name = "followBy"});
    add({.argument = "channel",
         .label = tr("With their"),
         .choices = channelChoices(),
         .object_name = "followWith"});
    add({.argument = "gain",
         .shown_for = {"gain"},
         .tip = tr(
             "Degrees and metres of theirs for each of the driver's: with 15 they turn 30 degrees for 2 m"),
         .object_name = "followGain"});
    add({.argument = "offset", .shown_for = {"gain"}, .object_name = "followOffset"});
    add({.argument = "opposite", .shown_for = {"gain", "curve"}, .object_name = "followOpposite"});
    add({.argument = "curve",
         .shown_for = {"curve"},
         .placeholder = tr("0 m: 0 deg, 1.2 m: 80 deg"),
         .tip = tr("The driver's value, a colon, and theirs; with a comma the next one"),
         .object_name = "followCurve"});
    add({.argument = "straight", .shown_for = {"curve"}, .object_name = "followStraight"});
    add({.argument = "each_turn", .shown_for = {"curve"}, .object_name = "followEachTurn"});
    add({.argument = "delay", .object_name = "followDelay"});
    add({.argument = "step_gain", .object_name = "followStepGain"});
    add({.argument = "step_offset", .object_name = "followStepOffset"});
    add({.argument = "step_delay", .object_name = "followStepDelay"});
    auto* row = new QHBoxLayout(posing_);
    row->setContentsMargins(0, 0, 0, 0);
    row->addWidget(from_, 1);
    row->addWidget(to_, 1);
    addWidget(posing_);
    addWidget(point_);
    point_->setToolTip(tr("Put driver and driven where they belong together, then press"));
    connect(point_, &QPushButton::clicked, this, &FollowCard::addPoint);
    ends_ = addReadout("followEnds");
    ends_->setWordWrap(true);
    from_->setToolTip(tr("Put driver and driven at one end of their ranges, then press"));
    to_->setToolTip(tr("Put both at the other end, then press"));
    connect(from_, &QPushButton::clicked, this, [this] { take(from_end_); });
    connect(to_, &QPushButton::clicked, this, [this] { take(to_end_); });
    finish(true);
    connect(&session_, &Session::started, this, [this] {
        from_end_ = to_end_ = std::nullopt;
        setValue("curve", QString());
    });
    connect(static_cast<QComboBox*>(widget("@how")), &QComboBox::currentIndexChanged, this,
            &FollowCard::showEnds);
    showEnds();
}

bool FollowCard::lastLeads() const {
    return session_.selection().size() > 1 && static_cast<PartField*>(widget("driver"))->parts().empty();
}

std::vector<PartId> FollowCard::followers() const {
    std::vector<PartId> parts = session_.selection();
    if (lastLeads()) std::erase(parts, session_.primary());
    return parts;
}

std::optional<ChannelRef> FollowCard::channelAt(PartId part, const char* argument) const {
    if (!session_.document().parts.contains(part)) return std::nullopt;
    const std::string word = valueOf(argument);
    const auto found = channel_at(session_.document(), part, word.empty() ? json() : json(word));
    return found ? std::optional(*found) : std::nullopt;
}

std::optional<ChannelRef> FollowCard::driver() const {
    const auto kept = static_cast<PartField*>(widget("driver"))->parts();
    if (kept.empty() && !lastLeads()) return std::nullopt;
    return channelAt(kept.empty() ? session_.primary() : kept.front(), "driver_channel");
}

std::optional<ChannelRef> FollowCard::firstDriven() const {
    const auto parts = followers();
    return parts.empty() ? std::nullopt : channelAt(parts.front(), "channel");
}

void FollowCard::take(std::optional<End>& end) {
    const auto leads = driver(), follows = firstDriven();
    if (!leads || !follows) {
        emit session_.told(tr("pick what follows, then with Shift what it follows"), true);
        return;
    }
    end = End{*leads, *follows, session_.valueOf(*leads), session_.valueOf(*follows)};
    showEnds();
    changed();
}

/// Others may be picked to pose them, and the first ones again.
const FollowCard::End* FollowCard::present(const std::optional<End>& end) const {
    const auto leads = driver(), follows = firstDriven();
    return end && leads == end->leads && follows == end->follows ? &*end : nullptr;
}

/// Writes where both stand behind the points there are.
void FollowCard::addPoint() {
    const auto leads = driver(), follows = firstDriven();
    if (!leads || !follows) {
        emit session_.told(tr("pick what follows, then with Shift what it follows"), true);
        return;
    }
    const QString before = QString::fromStdString(valueOf("curve"));
    const LengthUnit unit = session_.document().settings.length_unit;
    const QString point = tr("%1: %2").arg(typed(leads->kind, session_.valueOf(*leads), unit),
                                           typed(follows->kind, session_.valueOf(*follows), unit));
    setValue("curve", before.isEmpty() ? point : before + ", " + point);
    changed();
}

void FollowCard::doStep() {
    if (!session_.run(step())) return;
    from_end_ = to_end_ = std::nullopt;
    showEnds();
}

void FollowCard::showEnds() {
    const bool posing = lead() == "poses";
    posing_->setVisible(posing);
    point_->setVisible(lead() == "curve");
    ends_->setVisible(posing);
    QStringList lines;
    for (const auto& [words, end] :
         {std::pair(tr("from %1 at %2"), present(from_end_)), {tr("to %1 at %2"), present(to_end_)}})
        if (end)
            lines << words.arg(toldValue(session_.document(), end->follows.kind, end->driven),
                               toldValue(session_.document(), end->leads.kind, end->driver));
    ends_->setText(lines.join("\n"));
}

void FollowCard::amend(json& step) const {
    if (lastLeads()) {
        step["driver"] = session_.primary().value;
        step["parts"] = session_.idsButLast();
    }
    const End *from = present(from_end_), *to = present(to_end_);
    if (lead() != "poses" || !from || !to) return;
    step["driver_from"] = from->driver;
    step["from"] = from->driven;
    step["driver_to"] = to->driver;
    step["to"] = to->driven;
}

QString FollowCard::obstacle() const {
    if (followers().empty() || !driver())
        return tr("Pick the parts that follow, then with Shift what they follow.");
    if (lead() == "poses" && !present(from_end_))
        return tr(
            "Put driver and driven at one end and press From here, then at the other and press To here.");
    if (lead() == "curve" && valueOf("curve").empty())
        return tr(
            "Put driver and driven where they belong together and press Add this pose; again elsewhere.");
    if (lead() == "poses" && !present(to_end_)) return tr("Now put both at the other end and press To here.");
    return {};
}

void FollowCard::refresh() {
    showEnds();
    FormCard::refresh();
    if (session_.previewed()) do_->setEnabled(false);
}

}  // namespace pivrak
