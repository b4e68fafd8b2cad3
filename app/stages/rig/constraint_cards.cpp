#include "app/stages/rig/constraint_cards.h"

#include <QTimer>
#include <algorithm>

#include "app/stages/kit/fact_list.h"
#include "core/elements/constraint/constraint_motion.h"
#include "core/model/element_channels.h"
#include "core/operations/channel_access.h"

namespace pivrak {

using nlohmann::json;

// ---- asking

AskCard::AskCard(Session& session)
    : FormCard(session, "ask", {"constraint.add"}, {tr("Ask a joint"), tr("Ask"), "askJoint", QString()}),
      match_(makeButton(tr("Match now"), "matchNow")),
      click_(new PlaceButton(session, "askClickPlace")) {
    const QStringList places{"place"}, follows{"place", "turn", "aim", "rest", "inside"},
        axes{"aim", "plumb"}, switched{"place", "turn"};
    add({.argument = "asks",
         .label = tr("Asked to"),
         .choices = {{tr("aim at"), "aim"},
                     {tr("go where that is"), "place"},
                     {tr("turn as that does"), "turn"},
                     {tr("rest on"), "rest"},
                     {tr("hang plumb"), "plumb"},
                     {tr("stay inside bounds"), "inside"}},
         .object_name = "askWhat"},
        true);
    add({.argument = "target",
         .label = tr("Target"),
         .shown_for = follows,
         .placeholder = tr("last picked"),
         .tip = tr("Pick the parts and with Shift what they follow; or pick that and click here to keep it. "
                   "Of one part alone: the world"),
         .object_name = "askTarget"});
    add({.argument = "@to",
         .label = tr("To its"),
         .shown_for = {"place", "aim"},
         .tip = tr("A path: the one in hand, under Paths"),
         .choices = {{tr("pivot"), ""},
                     {tr("place clicked last"), "clicked"},
                     {tr("place on a path"), "path"}},
         .object_name = "askTo"});
    add({.argument = "along", .shown_for = {"place", "aim"}, .object_name = "askAlong"});
    add({.argument = "axis",
         .shown_for = axes,
         .choices = {{tr("X"), "x"},
                     {tr("-X"), "-x"},
                     {tr("Y"), "y"},
                     {tr("-Y"), "-y"},
                     {tr("Z"), "z"},
                     {tr("-Z"), "-z"}},
         .object_name = "askAxis"});
    add({.argument = "second",
         .shown_for = axes,
         .choices = {{tr("as it comes"), ""},
                     {tr("X"), "x"},
                     {tr("Y"), "y"},
                     {tr("Z"), "z"},
                     {tr("-X"), "-x"},
                     {tr("-Y"), "-y"},
                     {tr("-Z"), "-z"}},
         .object_name = "askSecond"});
    add({.argument = "towards", .shown_for = axes, .object_name = "askTowards"});
    add({.argument = "swings", .shown_for = {"plumb"}, .object_name = "askSwings"});
    add({.argument = "length", .shown_for = {"plumb"}, .object_name = "askLength"});
    add({.argument = "damping", .shown_for = {"plumb"}, .object_name = "askDamping"});
    add({.argument = "keep", .shown_for = switched, .object_name = "askKeep"});
    for (const char* axis : {"x", "y", "z"}) {
        const std::string name = std::string("ask_") + axis;
        add({.argument = axis, .shown_for = switched, .object_name = name.c_str()});
    }
    add({.argument = "axes",
         .shown_for = {"place", "turn", "inside"},
         .choices = {{tr("the world"), "world"}, {tr("the target"), "target"}},
         .object_name = "askAxes"});
    add({.argument = "height", .shown_for = {"rest"}, .object_name = "askHeight"});
    add({.argument = "slope", .shown_for = {"rest"}, .object_name = "askSlope"});
    for (const char* bound : {"least_x", "most_x", "least_y", "most_y", "least_z", "most_z"}) {
        const std::string name = std::string("ask_") + bound;
        add({.argument = bound, .shown_for = {"inside"}, .object_name = name.c_str()});
    }
    finish(true, {match_, click_});
    match_->setToolTip(tr("Once, at this frame, without staying; keyed joints get a key"));
    connect(match_, &QPushButton::clicked, this, &AskCard::matchNow);
}

bool AskCard::lastIsTarget() const {
    return session_.selection().size() > 1 && lead() != "plumb" &&
           static_cast<PartField*>(widget("target"))->parts().empty();
}

void AskCard::amend(json& step) const {
    if (lastIsTarget()) {
        step["target"] = session_.primary().value;
        step["parts"] = session_.idsButLast();
    }
    if (toClicked()) step["to"] = click_->place();
    if (const Path* path = toPath() ? session_.pathInHand() : nullptr) {
        step.erase("target");
        step["parts"] = session_.selectedIds();
        step["path"] = path->name;
    }
    // What is kept is what is seen.
    if (step.value("keep", false)) {
        step["frame"] = session_.frame();
        step["clip"] = session_.clip().name;
    }
}

QString AskCard::obstacle() const {
    if (session_.selection().empty())
        return tr("Pick the parts whose joints answer, then with Shift what they follow.");
    if (toClicked() && click_->place().is_null()) return tr("Click the place on what they follow.");
    if (toPath() && !session_.pathInHand()) return tr("Make it the current path first, under Paths.");
    if (lead() == "inside") {
        for (const char* bound : {"least_x", "most_x", "least_y", "most_y", "least_z", "most_z"})
            if (!valueOf(bound).empty()) return {};
        return tr("Type at least one bound.");
    }
    return {};
}

void AskCard::matchNow() {
    json once = step();
    once["op"] = "constraint.match";
    once["frame"] = session_.frame();
    once["clip"] = session_.clip().name;
    session_.run(once);
}

bool AskCard::toClicked() const {
    return (lead() == "place" || lead() == "aim") && valueOf("@to") == "clicked";
}

bool AskCard::toPath() const {
    return (lead() == "place" || lead() == "aim") && valueOf("@to") == "path";
}

bool AskCard::isOfUse(const std::string& argument) const {
    return argument != "along" || toPath();
}

void AskCard::refresh() {
    click_->refresh();
    FormCard::refresh();
    match_->setEnabled(do_->isEnabled() && !session_.previewed());
    if (session_.previewed()) do_->setEnabled(false);
}

// ---- carriers

CarrierChangeCard::CarrierChangeCard(Session& session)
    : FormCard(session, "carry", {"carry.change", "carry.add"},
               {tr("Other carriers"), tr("Carry"), "carryByOther", QString()}) {
    add({.argument = "@when",
         .label = tr("From"),
         .choices = {{tr("this frame on"), "change"}, {tr("always, by its blend"), "add"}},
         .object_name = "carryWhen"},
        true);
    add({.argument = "carrier", .placeholder = tr("last picked"), .object_name = "carryBy"});
    finish(true);
}

std::string CarrierChangeCard::operation() const {
    return lead() == "add" ? "carry.add" : "carry.change";
}

bool CarrierChangeCard::lastCarries() const {
    return session_.selection().size() > 1 && static_cast<PartField*>(widget("carrier"))->parts().empty();
}

void CarrierChangeCard::amend(json& step) const {
    if (lastCarries()) {
        step["carrier"] = session_.primary().value;
        step["parts"] = session_.idsButLast();
    }
    step["frame"] = session_.frame();
    step["clip"] = session_.clip().name;
}

QString CarrierChangeCard::obstacle() const {
    return session_.selection().empty() ? tr("Pick what is carried, then with Shift what carries it.")
                                        : QString();
}

void CarrierChangeCard::refresh() {
    FormCard::refresh();
    if (session_.previewed()) do_->setEnabled(false);
}

// ---- what is asked

AskedCard::AskedCard(Session& session)
    : Card(tr("What is asked")),
      session_(session),
      list_(makeFactList("askedList", 6, true)),
      blend_(makeNumber("askedBlend")),
      key_(makeButton(tr("Key its blend"), "keyBlend")),
      earlier_(makeButton(tr("Earlier"), "askEarlier")),
      later_(makeButton(tr("Later"), "askLater")),
      remove_(makeButton(tr("Remove"), "removeAsked")) {
    facts_ = addReadout("askedFacts");
    addWidget(list_);
    list_->setDragDropMode(QAbstractItemView::InternalMove);
    list_->setToolTip(tr("Ticked: it asks. Drag: who asks last has the last word"));
    addRow(tr("Blend"), blend_);
    blend_->setToolTip(tr("0 leaves it to keys and hands, 1 answers wholly"));
    addButtons({earlier_, later_});
    addButtons({key_, remove_});
    connect(list_, &QListWidget::itemChanged, this, &AskedCard::switchRow);
    connect(list_, &QListWidget::currentRowChanged, this, [this] { refreshMotion(); });
    connect(list_->model(), &QAbstractItemModel::rowsMoved, this, &AskedCard::dropped, Qt::QueuedConnection);
    connect(blend_, &QLineEdit::returnPressed, this, &AskedCard::typeBlend);
    connect(key_, &QPushButton::clicked, this, &AskedCard::keyBlend);
    connect(earlier_, &QPushButton::clicked, this, [this] { moveBy(-1); });
    connect(later_, &QPushButton::clicked, this, [this] { moveBy(1); });
    connect(remove_, &QPushButton::clicked, this, [this] {
        if (const Row* row = current()) session_.run(step("remove", *row));
    });
}

const AskedCard::Row* AskedCard::current() const {
    const auto row = static_cast<std::size_t>(list_->currentRow());
    return list_->currentRow() >= 0 && row < rows_.size() ? &rows_[row] : nullptr;
}

json AskedCard::step(const char* what, const Row& row) const {
    return {{"op", std::string(row.carries ? "carry." : "constraint.") + what},
            {row.carries ? "carries" : "constraints", {row.owner.value}}};
}

bool AskedCard::isOff(const Row& row) const {
    const Document& document = session_.shownDocument();
    if (row.carries) return document.carries.find(CarryId{row.owner.value})->off;
    return document.constraints.find(ConstraintId{row.owner.value})->off;
}

QString AskedCard::wordsOf(const Row& row) const {
    const Document& document = session_.shownDocument();
    const QString share = QString::number(session_.valueOf({row.owner, ChannelKind::Blend}), 'g', 3);
    if (row.carries) {
        const Carry& carry = *document.carries.find(CarryId{row.owner.value});
        return tr("%1\ncarries, blend %2").arg(QString::fromStdString(carry.name), share);
    }
    const Constraint& constraint = *document.constraints.find(ConstraintId{row.owner.value});
    const auto miss = constraint_miss(session_.evaluator(), session_.pose(), constraint);
    const QString by =
        miss ? QString::fromStdString(miss_words(*miss, session_.document().settings.length_unit))
             : QString();
    const QString missed = !by.isEmpty()    ? tr("misses by %1").arg(by)
                           : miss           ? tr("met")
                           : constraint.off ? tr("off")
                                            : tr("without effect");
    return tr("%1\n%2, blend %3").arg(QString::fromStdString(constraint.name), missed, share);
}

/// In the order in which they ask.
void AskedCard::listRows() {
    const Document& document = session_.shownDocument();
    const auto shown = [&](PartId part) { return session_.selection().empty() || session_.isSelected(part); };
    rows_.clear();
    for (const Carry& carry : document.carries)
        if (shown(carry.part)) rows_.push_back({carry.id, true});
    std::vector<const Constraint*> asked;
    for (const Constraint& constraint : document.constraints)
        if (shown(constraint.part)) asked.push_back(&constraint);
    std::stable_sort(asked.begin(), asked.end(), [](const Constraint* a, const Constraint* b) {
        return std::pair(a->part, a->order) < std::pair(b->part, b->order);
    });
    for (const Constraint* constraint : asked) rows_.push_back({constraint->id, false});
}

void AskedCard::refresh() {
    const int row = list_->currentRow();
    listRows();
    listing_ = true;
    list_->clear();
    for (const Row& one : rows_) {
        auto* item = new QListWidgetItem(wordsOf(one), list_);
        item->setFlags(Qt::ItemIsEnabled | Qt::ItemIsSelectable | Qt::ItemIsUserCheckable |
                       Qt::ItemIsDragEnabled);
        item->setCheckState(isOff(one) ? Qt::Unchecked : Qt::Checked);
        item->setData(Qt::UserRole, QVariant::fromValue<qulonglong>(one.owner.value));
    }
    if (!rows_.empty()) list_->setCurrentRow(std::clamp(row, 0, static_cast<int>(rows_.size()) - 1));
    listing_ = false;
    list_->setVisible(!rows_.empty());
    facts_->setVisible(rows_.empty());
    facts_->setText(session_.selection().empty() ? tr("Nothing is asked of any joint yet.")
                                                 : tr("Nothing is asked of the picked parts."));
    refreshMotion();
}

void AskedCard::refreshMotion() {
    // What is listed may be gone already: then all of it is listed anew in a moment.
    const Document& document = session_.shownDocument();
    const bool there = std::all_of(rows_.begin(), rows_.end(),
                                   [&](const Row& row) { return has_owner(document, row.owner); });
    if (listing_ || !there || list_->count() != static_cast<int>(rows_.size())) return;
    {
        const QSignalBlocker quiet(list_);
        for (int i = 0; i < list_->count(); ++i)
            list_->item(i)->setText(wordsOf(rows_[static_cast<std::size_t>(i)]));
    }
    const Row* row = current();
    for (QWidget* widget : std::initializer_list<QWidget*>{blend_, key_, earlier_, later_, remove_})
        widget->setEnabled(row && !session_.previewed());
    for (QPushButton* button : {earlier_, later_}) button->setEnabled(button->isEnabled() && !row->carries);
    if (row && !blend_->hasFocus())
        blend_->setText(QString::number(session_.valueOf({row->owner, ChannelKind::Blend}), 'g', 4));
}

void AskedCard::switchRow(QListWidgetItem* item) {
    const auto row = static_cast<std::size_t>(list_->row(item));
    if (listing_ || row >= rows_.size()) return;
    json switched = step("set", rows_[row]);
    switched["on"] = item->checkState() == Qt::Checked;
    // Rows are made anew by it, and this one is not done with telling.
    QTimer::singleShot(0, this, [this, switched] { session_.run(switched); });
}

void AskedCard::putAt(OwnerId constraint, int place) {
    session_.run({{"op", "constraint.set"}, {"constraints", {constraint.value}}, {"order", place}});
}

namespace {

/// Which constraint among those of its part a row is, counted from 1; 0 for what is none.
int placeAmongItsPart(const Document& document, const std::vector<OwnerId>& rows, OwnerId wanted) {
    const Constraint* one = document.constraints.find(ConstraintId{wanted.value});
    int place = 0;
    for (const OwnerId row : rows) {
        const Constraint* other = document.constraints.find(ConstraintId{row.value});
        if (one && other && other->part == one->part) ++place;
        if (row == wanted) break;
    }
    return place;
}

}  // namespace

/// Among those of its part.
void AskedCard::moveBy(int steps) {
    const Row* row = current();
    const auto& constraints = session_.document().constraints;
    const Constraint* one = row ? constraints.find(ConstraintId{row->owner.value}) : nullptr;
    if (!one) return;
    std::vector<OwnerId> rows;
    for (const Row& other : rows_) rows.push_back(other.owner);
    const int place = placeAmongItsPart(session_.document(), rows, row->owner);
    const auto count = std::count_if(constraints.begin(), constraints.end(),
                                     [&](const Constraint& other) { return other.part == one->part; });
    if (place + steps < 1 || place + steps > count) return;
    const int at = list_->currentRow() + steps;
    putAt(row->owner, place + steps);
    list_->setCurrentRow(at);
}

/// After a row was dragged: the one whose place among those of its part changed most is put there.
void AskedCard::dropped() {
    if (listing_) return;
    std::vector<OwnerId> was, now;
    for (const Row& row : rows_) was.push_back(row.owner);
    for (int i = 0; i < list_->count(); ++i)
        now.push_back(OwnerId(ConstraintId{list_->item(i)->data(Qt::UserRole).toULongLong()}));
    const Document& document = session_.document();
    OwnerId moved;
    int most = 0;
    for (const OwnerId row : now) {
        const int by =
            std::abs(placeAmongItsPart(document, now, row) - placeAmongItsPart(document, was, row));
        if (by <= most) continue;
        most = by;
        moved = row;
    }
    if (most > 0) return putAt(moved, placeAmongItsPart(document, now, moved));
    refresh();
}

void AskedCard::typeBlend() {
    const Row* row = current();
    if (row && blend_->isModified())
        session_.setChannel({row->owner, ChannelKind::Blend}, blend_->text().toStdString());
}

void AskedCard::keyBlend() {
    const Row* row = current();
    if (!row) return;
    session_.run({{"op", "key.set"},
                  {"elements", {row->owner.value}},
                  {"channel", "blend"},
                  {"frame", session_.frame()},
                  {"clip", session_.clip().name}});
}

}  // namespace pivrak
