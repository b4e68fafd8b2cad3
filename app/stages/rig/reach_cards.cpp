#include "app/stages/rig/reach_cards.h"

#include <QTimer>
#include <algorithm>

#include "app/stages/kit/fact_list.h"
#include "core/elements/reach/reach_motion.h"

namespace pivrak {

using nlohmann::json;

namespace {

/// What is picked, when each of it carries the next: the outermost and the innermost.
std::optional<std::pair<PartId, PartId>> pickedRow(const Session& session) {
    std::vector<PartId> row = session.selection();
    const Document& document = session.document();
    const auto depth = [&](PartId part) {
        int carriers = 0;
        for (const Part* p = document.parts.find(part); p && p->parent; p = document.parts.find(p->parent))
            ++carriers;
        return carriers;
    };
    std::stable_sort(row.begin(), row.end(), [&](PartId a, PartId b) { return depth(a) < depth(b); });
    for (std::size_t i = 1; i < row.size(); ++i)
        if (!is_below(document, row[i], row[i - 1])) return std::nullopt;
    return row.size() < 2 ? std::nullopt : std::optional(std::pair(row.front(), row.back()));
}

}  // namespace

// ---- a new one

ReachCard::ReachCard(Session& session)
    : FormCard(session, "reach", {"reach.add"},
               {tr("Reach from here to there"), tr("Reach"), "addReach", QString()}),
      click_(new PlaceButton(session, "reachClickPlace")) {
    add({.argument = "goal",
         .tip = tr("Pick what it reaches for and click here; left empty it gets a control of its own"),
         .object_name = "reachGoal"});
    add({.argument = "@with",
         .label = tr("With"),
         .choices = {{tr("the tip's pivot"), ""}, {tr("place clicked last"), "clicked"}},
         .object_name = "reachWith"});
    add({.argument = "@to",
         .label = tr("To the goal's"),
         .tip = tr("Of two clicked places the first is the tip's"),
         .choices = {{tr("pivot"), ""}, {tr("place clicked last"), "clicked"}},
         .object_name = "reachTo"});
    add({.argument = "side", .object_name = "reachSide"});
    add({.argument = "turn", .object_name = "reachTurn"});
    add({.argument = "keep", .object_name = "reachKeep"});
    finish(true, {click_});
}

void ReachCard::amend(json& step) const {
    const auto row = pickedRow(session_);
    if (!row) return;
    step["root"] = row->first.value;
    step["tip"] = row->second.value;
    step["clip"] = session_.clip().name;
    const bool to_clicked = valueOf("@to") == "clicked";
    if (valueOf("@with") == "clicked") step["at"] = click_->place(to_clicked ? 1 : 0);
    if (to_clicked) step["to"] = click_->place();
    // What is kept is what is seen.
    if (step.value("keep", false)) step["frame"] = session_.frame();
}

QString ReachCard::obstacle() const {
    if (!pickedRow(session_)) return tr("Pick the outermost part that moves, and the tip that it carries.");
    const bool to_clicked = valueOf("@to") == "clicked";
    if (valueOf("@with") == "clicked" && click_->place(to_clicked ? 1 : 0).is_null())
        return to_clicked ? tr("Click the place that reaches, then the one to reach.")
                          : tr("Click the place that reaches.");
    if (to_clicked && click_->place().is_null()) return tr("Click the place to reach.");
    return {};
}

void ReachCard::refresh() {
    click_->refresh();
    FormCard::refresh();
}

// ---- what there is

ReachesCard::ReachesCard(Session& session)
    : Card(tr("What reaches")),
      session_(session),
      list_(makeFactList("reachList", 4, true)),
      blend_(makeNumber("reachBlend")),
      weight_(makeNumber("reachWeight")),
      stretch_(makeNumber("reachStretch")),
      key_(makeButton(tr("Key its blend"), "keyReachBlend")),
      solved_(makeButton(tr("Pose to keys"), "reachToKeys")),
      goal_(makeButton(tr("Goal to keys"), "goalToKeys")),
      remove_(makeButton(tr("Remove"), "removeReach")) {
    facts_ = addReadout("reachFacts");
    addWidget(list_);
    list_->setToolTip(tr("Ticked: it reaches"));
    addRow(tr("Blend"), blend_);
    blend_->setToolTip(tr("0 leaves joints to keys and hands, 1 reaches wholly"));
    addRow(tr("Turn counts"), weight_);
    weight_->setToolTip(
        tr("Where place and turn cannot both be had: more than 1 keeps the turn, less the place"));
    addRow(tr("May stretch to"), stretch_);
    stretch_->setToolTip(tr("Times its length, where the goal is out of reach; 1 keeps it as it is"));
    solved_->setToolTip(tr("Over the clip, joints get keys as they stand while they reach"));
    goal_->setToolTip(tr("Over the clip, the goal gets keys where the tip is when joints are as keyed"));
    addButtons({solved_, goal_});
    addButtons({key_, remove_});
    connect(list_, &QListWidget::itemChanged, this, &ReachesCard::switchRow);
    connect(list_, &QListWidget::currentRowChanged, this, [this] { refreshMotion(); });
    connect(blend_, &QLineEdit::returnPressed, this, &ReachesCard::typeBlend);
    for (const auto& [field, argument] : {std::pair(weight_, "turn_weight"), {stretch_, "stretch"}})
        connect(field, &QLineEdit::returnPressed, this, [this, field = field, argument = argument] {
            if (!current() || !field->isModified()) return;
            const json step{{"op", "reach.set"},
                            {"reaches", {current()->id.value}},
                            {argument, field->text().toStdString()}};
            if (!session_.run(step)) refreshMotion();
        });
    connect(key_, &QPushButton::clicked, this, [this] {
        const Reach* reach = current();
        if (!reach) return;
        session_.run({{"op", "key.set"},
                      {"elements", {reach->id.value}},
                      {"channel", "blend"},
                      {"frame", session_.frame()},
                      {"clip", session_.clip().name}});
    });
    for (const auto& [button, operation] :
         {std::pair(solved_, "reach.key"), {goal_, "reach.goal"}, {remove_, "reach.remove"}})
        connect(button, &QPushButton::clicked, this, [this, operation = operation] {
            if (current()) session_.run(step(operation));
        });
}

const Reach* ReachesCard::current() const {
    const auto row = static_cast<std::size_t>(list_->currentRow());
    if (list_->currentRow() < 0 || row >= rows_.size()) return nullptr;
    return session_.shownDocument().reaches.find(rows_[row]);
}

json ReachesCard::step(const char* operation) const {
    json step{{"op", operation}, {"reaches", {current()->id.value}}};
    if (std::string_view(operation) != "reach.remove") step["clip"] = session_.clip().name;
    return step;
}

QString ReachesCard::wordsOf(const Reach& reach) const {
    const auto miss = reach_miss(session_.evaluator(), session_.pose(), reach);
    const QString by = miss ? QString::fromStdString(format_miss(miss->place_m, miss->turn_rad,
                                                                 session_.document().settings.length_unit))
                            : QString();
    const QString missed = !miss          ? tr("lets go")
                           : by.isEmpty() ? tr("at its goal")
                                          : tr("misses by %1").arg(by);
    const QString words = tr("%1\n%2, blend %3")
                              .arg(QString::fromStdString(reach.name), missed,
                                   QString::number(session_.valueOf({reach.id, ChannelKind::Blend}), 'g', 3));
    const double longer =
        reach.has(ChannelKind::Stretch) ? session_.valueOf({reach.id, ChannelKind::Stretch}) : 1;
    return longer > 1 ? tr("%1, %2 times as long").arg(words).arg(longer, 0, 'g', 4) : words;
}

void ReachesCard::refresh() {
    const Document& document = session_.shownDocument();
    const auto shown = [&](const Reach& reach) {
        if (session_.selection().empty() || session_.isSelected(reach.goal)) return true;
        const auto row = reach_row(document, reach);
        return session_.isSelected(reach.tip) ||
               (row && std::any_of(row->joints.begin(), row->joints.end(),
                                   [&](PartId joint) { return session_.isSelected(joint); }));
    };
    const int row = list_->currentRow();
    rows_.clear();
    listing_ = true;
    list_->clear();
    for (const Reach& reach : document.reaches) {
        if (!shown(reach)) continue;
        rows_.push_back(reach.id);
        auto* item = new QListWidgetItem(wordsOf(reach), list_);
        item->setFlags(Qt::ItemIsEnabled | Qt::ItemIsSelectable | Qt::ItemIsUserCheckable);
        item->setCheckState(reach.off ? Qt::Unchecked : Qt::Checked);
    }
    if (!rows_.empty()) list_->setCurrentRow(std::clamp(row, 0, static_cast<int>(rows_.size()) - 1));
    listing_ = false;
    list_->setVisible(!rows_.empty());
    facts_->setVisible(rows_.empty());
    facts_->setText(document.reaches.empty() ? tr("Nothing reaches for a goal yet.")
                                             : tr("None of the picked parts reaches."));
    refreshMotion();
}

void ReachesCard::refreshMotion() {
    const Document& document = session_.shownDocument();
    const bool there =
        std::all_of(rows_.begin(), rows_.end(), [&](ReachId id) { return document.reaches.contains(id); });
    if (listing_ || !there || list_->count() != static_cast<int>(rows_.size())) return;
    {
        const QSignalBlocker quiet(list_);
        for (int i = 0; i < list_->count(); ++i)
            list_->item(i)->setText(wordsOf(*document.reaches.find(rows_[static_cast<std::size_t>(i)])));
    }
    const Reach* reach = current();
    for (QWidget* widget : std::initializer_list<QWidget*>{blend_, key_, solved_, goal_, remove_})
        widget->setEnabled(reach && !session_.previewed());
    stretch_->setEnabled(reach && !reach->not_place && !session_.previewed());
    if (!stretch_->hasFocus())
        stretch_->setText(reach ? QString::number(reach->most_stretch, 'g', 4) : QString());
    weight_->setEnabled(reach && reach->turns && !reach->not_place && !session_.previewed());
    if (!weight_->hasFocus())
        weight_->setText(reach ? QString::number(reach->turn_weight, 'g', 4) : QString());
    if (reach && !blend_->hasFocus())
        blend_->setText(QString::number(session_.valueOf({reach->id, ChannelKind::Blend}), 'g', 4));
}

void ReachesCard::switchRow(QListWidgetItem* item) {
    const auto row = static_cast<std::size_t>(list_->row(item));
    if (listing_ || row >= rows_.size()) return;
    const json switched{
        {"op", "reach.set"}, {"reaches", {rows_[row].value}}, {"on", item->checkState() == Qt::Checked}};
    // Rows are made anew by it, and this one is not done with telling.
    QTimer::singleShot(0, this, [this, switched] { session_.run(switched); });
}

void ReachesCard::typeBlend() {
    const Reach* reach = current();
    if (reach && blend_->isModified())
        session_.setChannel({reach->id, ChannelKind::Blend}, blend_->text().toStdString());
}

}  // namespace pivrak
