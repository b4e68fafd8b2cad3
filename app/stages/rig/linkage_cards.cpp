#include "app/stages/rig/linkage_cards.h"

#include <QTimer>
#include <algorithm>

#include "app/session/shown_value.h"
#include "app/session/words.h"
#include "app/stages/kit/fact_list.h"
#include "core/elements/linkage/linkage_motion.h"
#include "core/model/element_channels.h"
#include "core/operations/linkages/linkage_maker.h"
#include "core/rig/linkages/input_range.h"

namespace pivrak {

using nlohmann::json;

namespace {

/// The two parts picked last, in that order; none of two when fewer are picked.
std::optional<std::pair<PartId, PartId>> pickedPair(const Session& session) {
    if (session.selection().size() != 2) return std::nullopt;
    const json others = session.idsButLast();
    return std::pair(PartId{others.front().get<std::uint64_t>()}, session.primary());
}

}  // namespace

// ---- closing

CloseLoopCard::CloseLoopCard(Session& session)
    : FormCard(session, "close", {"linkage.close"},
               {tr("Close a loop"), tr("Hold together"), "closeLoop", QString()}),
      click_(new PlaceButton(session, "closeClickPlace")) {
    add({.argument = "closes",
         .label = tr("By a"),
         .tip = tr("A pin leaves one turn, a ball all three; a slider keeps a place on a line; equal turn "
                   "keeps both "
                   "turned alike"),
         .choices =
             {{tr("pin"), "pin"}, {tr("ball"), "ball"}, {tr("slider"), "slider"}, {tr("equal turn"), "turn"}},
         .object_name = "closeBy"},
        true);
    add({.argument = "@where",
         .label = tr("At"),
         .shown_for = {"pin", "ball", "slider"},
         .tip = tr("A shared pin is found on round surfaces of both"),
         .choices = {{tr("shared pin"), ""},
                     {tr("clicked place"), "clicked"},
                     {tr("last's pivot"), "b"},
                     {tr("first's pivot"), "a"}},
         .object_name = "closeAt"});
    add({.argument = "@axis",
         .label = tr("Along"),
         .shown_for = {"pin", "slider"},
         .tip = tr("Of a pin its axis, of a slider its line; own axes as the parts stand at rest"),
         .choices = {{tr("as measured"), ""},
                     {tr("last's X"), "own x"},
                     {tr("last's Y"), "own y"},
                     {tr("last's Z"), "own z"},
                     {tr("the world's X"), "x"},
                     {tr("the world's Y"), "y"},
                     {tr("the world's Z"), "z"}},
         .object_name = "closeAlong"});
    finish(true, {click_});
}

void CloseLoopCard::amend(json& step) const {
    const auto pair = pickedPair(session_);
    if (!pair) return;
    step["a"] = pair->first.value;
    step["b"] = pair->second.value;
    if (lead() == "pin" || lead() == "slider")
        if (const auto axis = axisChosen(pair->second)) step["axis"] = {axis->x(), axis->y(), axis->z()};
    const std::string where = lead() == "turn" ? "" : valueOf("@where");
    if (where == "clicked")
        step["at"] = click_->place();
    else if (!where.empty())
        step["at"] = {{"part", (where == "a" ? pair->first : pair->second).value}};
}

/// In the world; none where it is measured.
std::optional<Vec3> CloseLoopCard::axisChosen(PartId last) const {
    const std::string chosen = valueOf("@axis");
    if (chosen.empty()) return std::nullopt;
    const int axis = chosen.back() - 'x';
    return chosen.size() > 1 ? world_from_rest(session_.document(), last).axis(axis) : Vec3::Unit(axis);
}

QString CloseLoopCard::obstacle() const {
    if (!pickedPair(session_))
        return tr("Pick the two parts that meet where the loop closes; of a slider the line's last.");
    if (lead() != "turn" && valueOf("@where") == "clicked" && click_->place().is_null())
        return tr("Click the place where they meet.");
    return {};
}

void CloseLoopCard::refresh() {
    click_->refresh();
    FormCard::refresh();
}

// ---- rams

RamCard::RamCard(Session& session)
    : FormCard(session, "ram", {"ram.make"}, {tr("Rams"), tr("Make a ram"), "makeRam", QString()}) {
    add({.argument = "on", .object_name = "ramOn"});
    add({.argument = "to", .object_name = "ramTo"});
    finish(true);
}

void RamCard::amend(json& step) const {
    const auto pair = pickedPair(session_);
    if (!pair) return;
    step["barrel"] = pair->first.value;
    step["rod"] = pair->second.value;
}

QString RamCard::obstacle() const {
    return pickedPair(session_) ? QString()
                                : tr("Pick the barrel, and with Shift the rod that slides in it.");
}

// ---- what there is

LinkagesCard::LinkagesCard(Session& session)
    : Card(tr("Linkages")),
      session_(session),
      list_(makeFactList("linkageList", 5, true)),
      closure_(makeChoice("linkageClosure", {})),
      lead_(makeButton(tr("Lead by the picked"), "leadLinkage")),
      open_(makeButton(tr("Open"), "openLinkage")) {
    addWidget(list_);
    list_->setToolTip(tr("Ticked: it holds"));
    facts_ = addReadout("linkageFacts");
    facts_->setWordWrap(true);
    addRow(tr("To open"), closure_);
    addButtons({lead_, open_});
    lead_->setToolTip(tr("The picked joint is keyed from now on, and the others follow it"));
    open_->setToolTip(tr("Takes one closure out, or the whole linkage; parts and joints stay"));
    measured_ = new Trial<QString>(
        session_, [this](const QString& words) { facts_->setText(words); }, this);
    connect(list_, &QListWidget::itemChanged, this, &LinkagesCard::switchRow);
    connect(list_, &QListWidget::currentRowChanged, this, [this] { tellCurrent(); });
    connect(lead_, &QPushButton::clicked, this, &LinkagesCard::leadByPicked);
    connect(open_, &QPushButton::clicked, this, [this] {
        const Linkage* linkage = current();
        if (!linkage) return;
        json step{{"op", "linkage.remove"}, {"linkages", {linkage->id.value}}};
        if (const int closure = closure_->currentData().toInt()) step["closure"] = closure;
        session_.run(step);
    });
}

const Linkage* LinkagesCard::current() const {
    const auto row = static_cast<std::size_t>(list_->currentRow());
    if (list_->currentRow() < 0 || row >= rows_.size()) return nullptr;
    return session_.shownDocument().linkages.find(rows_[row]);
}

QString LinkagesCard::wordsOf(const Linkage& linkage) const {
    const QString name = QString::fromStdString(linkage.name);
    if (linkage.off) return tr("%1\nlets go").arg(name);
    const Evaluator& evaluator = session_.evaluator();
    if (const auto stop = input_stop(evaluator, session_.pose(), linkage))
        return tr("%1\nstops at %2 of %3 asked")
            .arg(name, toldValue(session_.document(), stop->channel.kind, stop->stands),
                 toldValue(session_.document(), stop->channel.kind, stop->asked));
    const ClosureMiss miss = linkage_miss(evaluator, session_.pose(), linkage);
    const QString open = QString::fromStdString(
        format_miss(miss.apart_m, miss.turn_rad, session_.document().settings.length_unit));
    return tr("%1\n%2, %3")
        .arg(name, countWords(linkage.closures.size(), "closure"),
             open.isEmpty() ? tr("closed") : tr("open by %1").arg(open));
}

void LinkagesCard::refresh() {
    const Document& document = session_.shownDocument();
    const auto shown = [&](const Linkage& linkage) {
        if (session_.selection().empty()) return true;
        const auto loops = linkage_loops(document, linkage.closures);
        return !loops || std::any_of(loops->joints.begin(), loops->joints.end(),
                                     [&](PartId joint) { return session_.isSelected(joint); });
    };
    const int row = list_->currentRow();
    rows_.clear();
    listing_ = true;
    list_->clear();
    for (const Linkage& linkage : document.linkages) {
        if (!shown(linkage)) continue;
        rows_.push_back(linkage.id);
        auto* item = new QListWidgetItem(wordsOf(linkage), list_);
        item->setFlags(Qt::ItemIsEnabled | Qt::ItemIsSelectable | Qt::ItemIsUserCheckable);
        item->setCheckState(linkage.off ? Qt::Unchecked : Qt::Checked);
    }
    if (!rows_.empty()) list_->setCurrentRow(std::clamp(row, 0, static_cast<int>(rows_.size()) - 1));
    listing_ = false;
    list_->setVisible(!rows_.empty());
    tellCurrent();
}

namespace {

/// How a linkage can move, and how far: measured on the mechanism, not on the clip.
QString mobilityOf(const Document& document, LinkageId id) {
    const Linkage* linkage = document.linkages.find(id);
    if (!linkage) return {};
    const auto words = mobility_words(document, *linkage);
    QStringList lines{QString::fromStdString(words ? *words : words.error().message)};
    const auto is_input = [&](ChannelRef channel) { return linkage->is_input(channel); };
    if (const auto built = build_linkage(document, linkage->closures, is_input))
        for (std::uint32_t c = 0; c < built->channels.size(); ++c)
            if (is_input(built->channels[c]))
                lines << QString::fromStdString(range_words(document, *built, c, input_range(*built, c)));
    return lines.join("\n");
}

}  // namespace

void LinkagesCard::listClosures(const Linkage& linkage) {
    const Document& document = session_.shownDocument();
    closure_->clear();
    closure_->addItem(tr("all of it"), 0);
    for (const Closure& closure : linkage.closures)
        closure_->addItem(tr("%1 of %2 and %3")
                              .arg(QString::fromUtf8(word_of(closes_words, closure.closes)),
                                   QString::fromStdString(name_of(document, closure.a)),
                                   QString::fromStdString(name_of(document, closure.b))),
                          closure_->count());
}

void LinkagesCard::tellCurrent() {
    if (listing_) return;
    const Linkage* linkage = current();
    const Document& document = session_.shownDocument();
    lead_->setEnabled(linkage && !session_.selection().empty() && !session_.previewed());
    open_->setEnabled(linkage && !session_.previewed());
    closure_->setEnabled(open_->isEnabled());
    closure_->clear();
    if (!linkage) {
        measured_->forget();
        facts_->setText(document.linkages.size() == 0 ? tr("No loop is closed yet.")
                                                      : tr("No linkage moves the picked parts."));
        return;
    }
    listClosures(*linkage);
    facts_->setText(tr("being measured"));
    measured_->ask(
        {{"linkage", linkage->id.value}},
        [id = linkage->id](const Document& asked, const Progress&) { return mobilityOf(asked, id); });
}

void LinkagesCard::refreshMotion() {
    const Document& document = session_.shownDocument();
    const bool there =
        std::all_of(rows_.begin(), rows_.end(), [&](LinkageId id) { return document.linkages.contains(id); });
    if (listing_ || !there || list_->count() != static_cast<int>(rows_.size())) return;
    const QSignalBlocker quiet(list_);
    for (int i = 0; i < list_->count(); ++i)
        list_->item(i)->setText(wordsOf(*document.linkages.find(rows_[static_cast<std::size_t>(i)])));
}

void LinkagesCard::switchRow(QListWidgetItem* item) {
    const auto row = static_cast<std::size_t>(list_->row(item));
    if (listing_ || row >= rows_.size()) return;
    const json switched{
        {"op", "linkage.set"}, {"linkages", {rows_[row].value}}, {"on", item->checkState() == Qt::Checked}};
    // Rows are made anew by it, and this one is not done with telling.
    QTimer::singleShot(0, this, [this, switched] { session_.run(switched); });
}

void LinkagesCard::leadByPicked() {
    if (const Linkage* linkage = current())
        session_.run(
            {{"op", "linkage.input"}, {"linkages", {linkage->id.value}}, {"parts", session_.selectedIds()}});
}

}  // namespace pivrak
