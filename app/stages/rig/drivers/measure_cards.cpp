#include "app/stages/rig/drivers/measure_cards.h"

#include <QSignalBlocker>
#include <algorithm>

#include "app/session/shown_value.h"
#include "app/stages/kit/fact_list.h"
#include "app/stages/kit/place_button.h"

namespace pivrak {

using nlohmann::json;

MeasureCard::MeasureCard(Session& session)
    : FormCard(session, "measure", {"measure.add"}, {tr("Measure"), tr("Measure"), "addMeasure", QString()}) {
    add({.argument = "what",
         .choices = {{tr("distance"), "distance"},
                     {tr("angle between axes"), "angle"},
                     {tr("angle at a corner"), "corner"},
                     {tr("relative twist"), "twist"},
                     {tr("length of a path"), "path length"},
                     {tr("place along a path"), "path place"},
                     {tr("bend of a path there"), "path bend"},
                     {tr("rolling radius"), "radius"},
                     {tr("teeth"), "teeth"},
                     {tr("pitch of a chain"), "pitch"},
                     {tr("speed of a place"), "speed"},
                     {tr("clearance"), "clearance"}},
         .object_name = "measureWhat"},
        true);
    add({.argument = "@ends",
         .label = tr("From and to"),
         .shown_for = {"distance", "corner", "speed", "path place", "path bend"},
         .choices = {{tr("picked pivots"), "pivots"}, {tr("clicked places"), "clicked"}},
         .object_name = "measureEnds"});
    add({.argument = "axis_a", .shown_for = {"angle", "twist"}, .object_name = "measureAxisA"});
    add({.argument = "axis_b", .shown_for = {"angle"}, .object_name = "measureAxisB"});
    add({.argument = "name",
         .label = tr("Name"),
         .placeholder = tr("after its part"),
         .object_name = "measureName"});
    auto* places = new PlaceButton(session, "measurePlaces");
    finish(true, {places});
}

bool MeasureCard::atClicked() const {
    const std::string what = lead();
    const bool asks = what == "distance" || what == "corner" || what == "speed" || what.starts_with("path ");
    return asks && what != "path length" && valueOf("@ends") == "clicked";
}

std::size_t MeasureCard::count() const {
    const std::string what = lead();
    if (what == "corner") return 3;
    if (what == "distance" || what == "angle" || what == "twist" || what == "clearance") return 2;
    return what == "path length" || what == "pitch" ? 0 : 1;
}

const Chain* MeasureCard::chain() const {
    const Document& document = session_.shownDocument();
    for (const Chain& chain : document.chains) {
        if (session_.isSelected(chain.frame)) return &chain;
        for (const ChainWheel& wheel : chain.wheels)
            if (session_.isSelected(wheel.part)) return &chain;
    }
    return document.chains.size() == 1 ? &*document.chains.begin() : nullptr;
}

void MeasureCard::amend(json& step) const {
    static constexpr const char* parts[] = {"a", "b", "c"};
    static constexpr const char* places[] = {"a_at", "b_at", "c_at"};
    const auto& picked = session_.selection();
    for (std::size_t i = 0; i < count(); ++i) {
        if (!atClicked()) {
            if (i < picked.size()) step[parts[i]] = picked[i].value;
            continue;
        }
        const auto& clicked = session_.picks().places;
        if (clicked.size() < count()) continue;
        const json place = clicked[clicked.size() - count() + i].argument();
        step[places[i]] = place;
        if (place.is_object() && place.contains("part")) step[parts[i]] = place["part"];
    }
    if (lead().starts_with("path"))
        if (const Path* path = session_.pathInHand()) step["path"] = {path->id.value};
    if (lead() == "pitch")
        if (const Chain* one = chain()) step["chain"] = {one->id.value};
}

QString MeasureCard::obstacle() const {
    if (lead().starts_with("path") && !session_.pathInHand()) return tr("Pick a path in the view first.");
    if (lead() == "pitch" && !chain()) return tr("Pick a wheel of the chain.");
    const auto needed = static_cast<int>(count());
    if (atClicked())
        return session_.picks().places.size() < count() ? tr("Click %n places on parts.", nullptr, needed)
                                                        : QString();
    if (session_.selection().size() == count() || count() == 0) return {};
    return needed == 1 ? tr("Pick one part.")
                       : tr("Pick %n parts, with Shift, in their order.", nullptr, needed);
}

// ---- what there is

MeasuresCard::MeasuresCard(Session& session, Look& look)
    : Card(tr("What is measured")),
      session_(session),
      list_(makeFactList("measureList", 6, true)),
      plot_(new FormulaPlot(look, "measurePlot")),
      remove_(makeButton(tr("Remove"), "removeMeasure")) {
    addWidget(list_);
    list_->setToolTip(tr("Ticked: it is drawn in the view"));
    addWidget(plot_);
    addButtons({remove_});
    trial_ = new Trial<Course>(
        session_,
        [this](const Course& course) {
            const Measure* measure = current();
            plot_->setCurve(course, measure ? measure->gives() : ChannelKind::Length,
                            session_.document().settings.length_unit);
        },
        this);
    connect(list_, &QListWidget::itemChanged, this, &MeasuresCard::switchRow);
    connect(list_, &QListWidget::currentRowChanged, this, &MeasuresCard::showCourse);
    connect(remove_, &QPushButton::clicked, this, [this] {
        if (const Measure* measure = current())
            session_.run({{"op", "measure.remove"}, {"measures", {measure->id.value}}});
    });
}

QString MeasuresCard::wordsOf(const Measure& measure) const {
    const ChannelRef reading{measure.id, measure.gives()};
    return tr("%1\n%2").arg(QString::fromStdString(measure.name),
                            toldValue(session_.document(), reading.kind, session_.valueOf(reading)));
}

const Measure* MeasuresCard::current() const {
    const auto row = static_cast<std::size_t>(list_->currentRow());
    if (list_->currentRow() < 0 || row >= rows_.size()) return nullptr;
    return session_.shownDocument().measures.find(rows_[row]);
}

void MeasuresCard::refresh() {
    const int row = list_->currentRow();
    listing_ = true;
    rows_.clear();
    list_->clear();
    for (const Measure& measure : session_.shownDocument().measures) {
        rows_.push_back(measure.id);
        auto* item = new QListWidgetItem(wordsOf(measure), list_);
        item->setFlags(Qt::ItemIsEnabled | Qt::ItemIsSelectable | Qt::ItemIsUserCheckable);
        item->setCheckState(measure.hidden ? Qt::Unchecked : Qt::Checked);
    }
    if (!rows_.empty()) list_->setCurrentRow(std::clamp(row, 0, static_cast<int>(rows_.size()) - 1));
    listing_ = false;
    setVisible(!rows_.empty());
    remove_->setEnabled(!session_.previewed());
    showCourse();
}

void MeasuresCard::refreshMotion() {
    const auto& measures = session_.shownDocument().measures;
    listing_ = true;
    for (int i = 0; i < list_->count() && i < static_cast<int>(rows_.size()); ++i)
        if (const Measure* measure = measures.find(rows_[static_cast<std::size_t>(i)]))
            list_->item(i)->setText(wordsOf(*measure));
    listing_ = false;
    plot_->setFrame(session_.frame());
}

void MeasuresCard::switchRow(QListWidgetItem* item) {
    const auto row = static_cast<std::size_t>(list_->row(item));
    if (listing_ || row >= rows_.size()) return;
    session_.run({{"op", "measure.set"},
                  {"measures", {rows_[row].value}},
                  {"shown", item->checkState() == Qt::Checked}});
}

/// The reading at each frame of the clip, worked out beside.
void MeasuresCard::showCourse() {
    const Measure* measure = current();
    if (listing_ || !measure) return;
    const ChannelRef reading{measure->id, measure->gives()};
    trial_->ask({{"measure", reading.owner.value}, {"clip", session_.clip().name}},
                [reading, clip = session_.clip().id](const Document& document, const Progress& progress) {
                    return channel_course(document, clip, reading, progress);
                });
    plot_->setFrame(session_.frame());
}

}  // namespace pivrak
