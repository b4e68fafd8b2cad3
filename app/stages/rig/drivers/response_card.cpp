#include "app/stages/rig/drivers/response_card.h"

#include <QHBoxLayout>

#include "app/session/shown_value.h"
#include "app/stages/kit/part_field.h"
#include "core/elements/follow/follow_words.h"
#include "core/io/project/project_json.h"
#include "core/model/element_channels.h"

namespace pivrak {

ResponseCard::ResponseCard(Session& session, Look& look)
    : Card(tr("Response")),
      session_(session),
      plot_(new ResponsePlot(look)),
      driver_(new QLineEdit),
      answer_(new QLineEdit),
      slope_(new QLineEdit),
      row_(new QWidget),
      slopeRow_(new QWidget),
      bend_(makeButton(tr("Make it a curve"), "bendFollow")) {
    facts_ = addReadout("responseFacts");
    addWidget(plot_);
    auto* row = new QHBoxLayout(row_);
    row->setContentsMargins(0, 0, 0, 0);
    row->addWidget(new QLabel(tr("Driver")));
    row->addWidget(driver_, 1);
    row->addWidget(new QLabel(tr("gives")));
    row->addWidget(answer_, 1);
    driver_->setObjectName(QStringLiteral("responseDriver"));
    answer_->setObjectName(QStringLiteral("responseAnswer"));
    addWidget(row_);
    auto* slopes = new QHBoxLayout(slopeRow_);
    slopes->setContentsMargins(0, 0, 0, 0);
    slopes->addWidget(new QLabel(tr("Slope there")));
    slopes->addWidget(slope_, 1);
    slope_->setObjectName(QStringLiteral("responseSlope"));
    slope_->setToolTip(tr("In degrees and metres; left empty the curve runs smoothly by itself"));
    addWidget(slopeRow_);
    addButtons({bend_});
    bend_->setToolTip(tr("Two points at the ends of the driver's range, to be bent between them"));
    connect(bend_, &QPushButton::clicked, this, &ResponseCard::bend);
    connect(plot_, &ResponsePlot::shown, this, &ResponseCard::showPoint);
    connect(plot_, &ResponsePlot::edited, this, [this] { put(plot_->follow()); });
    for (QLineEdit* field : {driver_, answer_, slope_})
        connect(field, &QLineEdit::returnPressed, this, &ResponseCard::typed);
    setVisible(false);
}

const Follow* ResponseCard::current() const {
    const Coupling* coupling =
        followers_.empty() ? nullptr : session_.shownDocument().couplings.find(followers_.front());
    return coupling ? coupling->as<Follow>() : nullptr;
}

void ResponseCard::setFollowers(std::vector<CouplingId> followers) {
    followers_ = std::move(followers);
    refresh();
}

void ResponseCard::refresh() {
    const Follow* follow = current();
    setVisible(follow);
    if (!follow) return;
    const bool curved = !follow->curve.empty();
    plot_->setVisible(curved);
    row_->setVisible(curved);
    slopeRow_->setVisible(curved && !follow->straight);
    bend_->setVisible(!curved);
    setEnabled(!session_.previewed());
    facts_->setText(
        curved ? tr("What %1 gives for %2.")
                     .arg(QString::fromStdString(channel_name(session_.shownDocument(), follow->driven)),
                          QString::fromStdString(channel_name(session_.shownDocument(), follow->driver)))
               : tr("It goes %1.").arg(QString::fromStdString(rule_words(*follow))));
    if (curved) {
        plot_->setFollow(*follow, session_.document().settings.length_unit);
        plot_->setDriver(session_.valueOf(follow->driver));
    }
    showPoint();
}

void ResponseCard::refreshMotion() {
    if (const Follow* follow = current(); follow && !follow->curve.empty())
        plot_->setDriver(session_.valueOf(follow->driver));
}

void ResponseCard::showPoint() {
    const Follow& follow = plot_->follow();
    const auto picked = plot_->picked();
    for (QLineEdit* field : {driver_, answer_, slope_}) {
        field->setEnabled(picked.has_value());
        field->setPlaceholderText(tr("pick a point"));
        if (!picked) field->clear();
    }
    if (!picked) return;
    const ResponsePoint& point = follow.curve[*picked];
    driver_->setText(shownValue(session_.document(), follow.driver.kind, point.driver));
    answer_->setText(shownValue(session_.document(), follow.driven.kind, point.answer));
    slope_->setPlaceholderText(
        tr("by itself: %1").arg(typed_slope(follow, plot_->slopeAt(*picked)), 0, 'g', 5));
    slope_->setText(point.slope ? QString::number(typed_slope(follow, *point.slope), 'g', 6) : QString());
}

/// A point by its numbers, with their units.
void ResponseCard::typed() {
    const auto picked = plot_->picked();
    if (!picked) return;
    Follow follow = plot_->follow();
    const LengthUnit unit = session_.document().settings.length_unit;
    const auto driver = parse_quantity(driver_->text().toStdString(), dimension_of(follow.driver.kind), unit);
    const auto answer = parse_quantity(answer_->text().toStdString(), dimension_of(follow.driven.kind), unit);
    for (const auto* value : {&driver, &answer})
        if (!*value) {
            emit session_.told(QString::fromStdString(value->error().message), true);
            return;
        }
    // What was not typed keeps all its digits.
    if (driver_->isModified()) follow.curve[*picked].driver = *driver;
    if (answer_->isModified()) follow.curve[*picked].answer = *answer;
    if (slope_->isModified()) {
        const std::string words = slope_->text().trimmed().toStdString();
        const auto slope = parse_quantity(words, Dimension::None, unit);
        if (!words.empty() && !slope) {
            emit session_.told(QString::fromStdString(slope.error().message), true);
            return;
        }
        follow.curve[*picked].slope =
            words.empty() ? std::nullopt : std::optional(slope_from_typed(follow, *slope));
    }
    put(follow);
}

/// The straight rule between the ends of the driver's limits, or of a usual range where it has none.
void ResponseCard::bend() {
    const Follow* now = current();
    if (!now) return;
    const auto channel = find_channel(session_.document(), now->driver);
    Limits range =
        channel && channel->limits ? *channel->limits : Limits{0, is_turn(now->driver.kind) ? pi / 2 : 1};
    if (!(range.max - range.min < 1e6)) range = {0, 1};
    Follow follow = *now;
    for (const double driver : {range.min, range.max})
        follow.curve.push_back({driver, now->offset + now->gain * driver});
    put(follow);
}

void ResponseCard::put(const Follow& follow) {
    std::vector<PartId> parts;
    for (const CouplingId id : followers_)
        if (const Coupling* one = session_.document().couplings.find(id))
            parts.push_back(one->driven().part());
    session_.run({{"op", "follow.set"},
                  {"parts", part_ids(parts)},
                  {"channel", word(follow.driven.kind)},
                  {"curve", curve_words(follow)}});
    refresh();
}

}  // namespace pivrak
