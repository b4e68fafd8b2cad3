#include "app/stages/pivots/pivot_check_cards.h"

#include <cmath>

#include "app/session/shown_value.h"
#include "app/session/words.h"
#include "app/stages/kit/button_tips.h"
#include "app/stages/kit/length_text.h"
#include "core/io/project/project_json.h"

namespace pivrak {

using nlohmann::json;

namespace {

constexpr int turn_ms = 33;
constexpr double turn_per_tick = 6 * rad_per_deg;

}  // namespace

// ---- spin

SpinCard::SpinCard(Session& session, PivotChecks& checks, QWidget* parent)
    : Card(tr("Spin check"), parent),
      session_(session),
      checks_(checks),
      list_(new QListWidget),
      centre_(makeButton(tr("Centre the pivot"), "centrePivot", true)),
      turn_(makeButton(tr("Spin it"), "letTurn")) {
    list_->setObjectName(QStringLiteral("spinList"));
    list_->setMinimumHeight(150);
    turn_->setCheckable(true);
    state_ = addReadout("spinState");
    addWidget(list_);
    addButtons({centre_, turn_});
    connect(&checks_, &PivotChecks::spinsChanged, this, &SpinCard::fill);
    connect(list_, &QListWidget::currentRowChanged, this, [this](int row) {
        if (filling_ || row < 0 || row >= static_cast<int>(checks_.spins().size())) return;
        session_.select({checks_.spins()[static_cast<std::size_t>(row)].part});
    });
    connect(centre_, &QPushButton::clicked, this, [this] {
        const Part* part = session_.document().parts.find(session_.primary());
        if (!part) return;
        session_.preview({{"op", "pivot.fit_cylinder"},
                          {"parts", session_.selectedIds()},
                          {"axis", std::string(axis_word(part->joint.axis))}});
    });
    connect(turn_, &QPushButton::clicked, this, &SpinCard::turn);
    turning_.setInterval(turn_ms);
    connect(&turning_, &QTimer::timeout, this, [this] {
        if (session_.primary() != turned_part_ || session_.previewed()) return turn(false);
        turned_ += turn_per_tick;
        session_.hold({turned_part_, ChannelKind::Turn}, turned_);
    });
}

void SpinCard::showEvent(QShowEvent* event) {
    Card::showEvent(event);
    checks_.measureSpins();
}

void SpinCard::hideEvent(QHideEvent* event) {
    turn(false);
    Card::hideEvent(event);
}

/// Held only while it turns: nothing of it stays.
void SpinCard::turn(bool on) {
    turn_->setChecked(on);
    if (on) {
        turned_part_ = session_.primary();
        turned_ = session_.turnOf(turned_part_);
        turning_.start();
    } else if (turning_.isActive()) {
        turning_.stop();
        session_.dropHeld();
    }
}

void SpinCard::fill() {
    filling_ = true;
    list_->clear();
    const Document& document = session_.shownDocument();
    std::size_t off = 0;
    for (const PivotChecks::Spin& spin : checks_.spins()) {
        const Part* part = document.parts.find(spin.part);
        if (!part) continue;
        auto* item = new QListWidgetItem(
            QStringLiteral("%1 %2\n     %3   %4")
                .arg(spin.check.is_true() ? tr("✓") : tr("✗"), QString::fromStdString(part->name),
                     length(spin.check.run_out_m, session_.document()),
                     QString::fromStdString(format_angle(spin.check.tilt_rad, 3))),
            list_);
        item->setSelected(session_.isSelected(spin.part));
        off += !spin.check.is_true();
    }
    list_->setVisible(list_->count() > 0);
    setRole(state_, off ? "bad" : "soft");
    state_->setText(list_->count() == 0 ? tr("No round part turns here yet: fit pivots and make hinges.")
                    : off               ? tr("%1 of %2 off: run-out and tilt are over %3 or %4")
                                .arg(off)
                                .arg(list_->count())
                                .arg(length(allowed_run_out_m, session_.document()),
                                     QString::fromStdString(format_angle(allowed_tilt_rad)))
                          : tr("All %1 run true").arg(list_->count()));
    filling_ = false;
}

void SpinCard::refresh() {
    const Part* part = session_.document().parts.find(session_.primary());
    const bool turns = part && part->joint.has(ChannelKind::Turn) && !session_.previewed();
    centre_->setEnabled(part && part->shape && !session_.previewed());
    turn_->setEnabled(turns && session_.mayMove({part->id, ChannelKind::Turn}).ok());
    if (isVisible()) checks_.measureSpins();
}

// ---- swing

SwingCard::SwingCard(Session& session, PivotChecks& checks, QWidget* parent)
    : Card(tr("Swing check"), parent),
      session_(session),
      checks_(checks),
      range_(session, "swingFrom", "swingTo"),
      against_(
          makeChoice("swingAgainst", {{tr("everything else"), "all"}, {tr("other picked parts"), "picked"}})),
      run_(makeButton(tr("Sweep"), "swingRun", true)),
      lower_(makeButton(tr("Take as lower limit"), "swingLower")),
      upper_(makeButton(tr("As upper limit"), "swingUpper")),
      show_(makeButton(tr("Show contact"), "swingShow")) {
    addRow(tr("From"), range_.from());
    addRow(tr("To"), range_.to());
    addRow(tr("Against"), against_);
    addButtons({run_});
    result_ = addReadout("swingResult");
    addButtons({show_});
    addButtons({lower_, upper_});
    connect(run_, &QPushButton::clicked, this, &SwingCard::run);
    connect(lower_, &QPushButton::clicked, this, [this] { takeLimit(false); });
    connect(upper_, &QPushButton::clicked, this, [this] { takeLimit(true); });
    connect(show_, &QPushButton::clicked, this, [this] {
        const auto& swing = *checks_.swing();
        const SwingContact& contact = swing.above ? *swing.above : *swing.below;
        session_.setChannel(swing.channel, wholeValue(swing.channel.kind, contact.value));
        session_.select({contact.neighbour, swing.channel.part()});
    });
    connect(&checks_, &PivotChecks::swingChanged, this, &SwingCard::refresh);
}

void SwingCard::run() {
    const Part* part = session_.document().parts.find(session_.primary());
    const auto range = part ? range_.read(*part) : std::nullopt;
    if (!range) return;
    SwingOptions options{.from = range->min, .to = range->max};
    if (!is_turn(swept_kind(*part))) options.tolerance = 1e-5;
    if (chosen(against_) == "picked")
        for (const PartId id : session_.selection())
            if (id != part->id) options.neighbours.push_back(id);
    checks_.sweep(part->id, options);
}

void SwingCard::takeLimit(bool upper) {
    const auto& swing = *checks_.swing();
    const Part& part = *session_.document().parts.find(swing.channel.part());
    const auto& limits = part.joint.channel(swing.channel.kind).limits;
    const auto& contact = upper ? swing.above : swing.below;
    json step{{"op", "joint.set"},
              {"parts", {part.id.value}},
              {"kind", std::string(word(part.joint.kind))},
              {"channel", std::string(word(swing.channel.kind))},
              {upper ? "max" : "min", contact->value}};
    // The other end stays what it was, or becomes the end of what was swept.
    if (!limits)
        step[upper ? "min" : "max"] = upper ? (swing.below ? swing.below->value : swing.curve.front().value)
                                            : (swing.above ? swing.above->value : swing.curve.back().value);
    session_.run(step);
}

QString SwingCard::contactWords(const QString& way, const std::optional<SwingContact>& contact) const {
    if (!contact) return tr("%1: no contact").arg(way);
    const Part* neighbour = session_.document().parts.find(contact->neighbour);
    const auto& resting = checks_.swing()->resting;
    const bool at_once =
        std::find(resting.begin(), resting.end(), contact->neighbour) != resting.end() && contact->value == 0;
    if (at_once)
        return tr("%1: into %2 at once").arg(way, QString::fromStdString(neighbour ? neighbour->name : ""));
    return tr("%1: free to %2, then touches %3")
        .arg(way, toldValue(session_.document(), checks_.swing()->channel.kind, contact->value),
             neighbour ? QString::fromStdString(neighbour->name) : tr("a part that is gone"));
}

void SwingCard::refresh() {
    const Part* part = session_.document().parts.find(session_.primary());
    const bool can = part && (part->joint.has(ChannelKind::Turn) || part->joint.has(ChannelKind::Shift));
    // Without limits as far as lids and doors usually go.
    if (can) range_.propose(*part, pi, 0.5);
    run_->setEnabled(can && !session_.previewed());
    tellWhy(run_, can ? QString() : tr("pick one part that is a hinge, a slide or a cylinder"));
    const auto& swing = checks_.swing();
    const bool mine = swing && session_.document().parts.contains(swing->channel.part());
    lower_->setEnabled(mine && swing->below && !session_.previewed());
    upper_->setEnabled(mine && swing->above && !session_.previewed());
    show_->setEnabled(mine && (swing->above || swing->below) && !session_.previewed());
    if (!mine)
        return result_->setText(can ? tr("Sweep it to see what it touches.")
                                    : tr("Pick a hinge or a slide."));
    QStringList lines{QString::fromStdString(session_.document().parts.find(swing->channel.part())->name)};
    lines << contactWords(tr("towards minus"), swing->below)
          << contactWords(tr("towards plus"), swing->above);
    if (!swing->resting.empty())
        lines << tr("lies on at rest: %1").arg(countWords(swing->resting.size(), "part"));
    if (!swing->touching.empty())
        lines << tr("touching at rest, left out: %1").arg(countWords(swing->touching.size(), "part"));
    if (checks_.swingIsStale()) lines << tr("out of date: sweep it again");
    result_->setText(lines.join(QLatin1Char('\n')));
}

}  // namespace pivrak
