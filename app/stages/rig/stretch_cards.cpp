#include "app/stages/rig/stretch_cards.h"

#include <QSignalBlocker>
#include <QTimer>
#include <algorithm>

#include "app/stages/kit/fact_list.h"
#include "core/elements/stretch/stretch_motion.h"

namespace pivrak {

using nlohmann::json;

StretchCard::StretchCard(Session& session)
    : FormCard(session, "stretch", {"stretch.add"},
               {tr("Springs and cables"), tr("Stretch between two seats"), "addStretch", QString()}) {
    add({.argument = "from", .object_name = "stretchFrom"});
    add({.argument = "to", .object_name = "stretchTo"});
    add({.argument = "evenly", .object_name = "stretchEvenly"});
    finish(true);
}

void StretchCard::amend(json& step) const {
    step["parts"] = session_.selectedIds();
}

QString StretchCard::obstacle() const {
    const bool shaped = std::any_of(session_.selection().begin(), session_.selection().end(), [&](PartId id) {
        const Part* part = session_.document().parts.find(id);
        return part && part->shape;
    });
    return shaped ? QString() : tr("Pick the spring or cable, as it rests.");
}

// ---- what there is

StretchesCard::StretchesCard(Session& session)
    : Card(tr("Springs and cables there are")),
      session_(session),
      list_(makeFactList("stretchList", 4, true)),
      remove_(makeButton(tr("Remove"), "removeStretch")) {
    addWidget(list_);
    list_->setToolTip(tr("Ticked: it is drawn out"));
    addButtons({remove_});
    connect(list_, &QListWidget::itemChanged, this, &StretchesCard::switchRow);
    connect(remove_, &QPushButton::clicked, this, [this] {
        const auto row = static_cast<std::size_t>(list_->currentRow());
        if (list_->currentRow() >= 0 && row < rows_.size())
            session_.run({{"op", "stretch.remove"}, {"stretches", {rows_[row].value}}});
    });
}

QString StretchesCard::wordsOf(const Stretch& stretch) const {
    const QString name = QString::fromStdString(stretch.name);
    const auto slot = session_.evaluator().part_slot(stretch.part);
    const auto now = slot ? stretched_now(session_.evaluator(), session_.pose(), *slot) : std::nullopt;
    if (!now) return tr("%1\nlets go").arg(name);
    const LengthUnit unit = session_.document().settings.length_unit;
    const QString length = QString::fromStdString(format_length(now->length_m, unit, 3));
    const double share = now->length_m / now->step->rest_m;
    const LongShape* shape = now->step->shape.get();
    return shape && shape->coil
               ? tr("%1\n%2 long, %3 × its rest; %4 coils of %5 wire")
                     .arg(name, length, QString::number(share, 'f', 3),
                          QString::number(shape->coil->turns, 'f', 1),
                          QString::fromStdString(
                              format_length(shape->coil->wire_m, LengthUnit::Millimetre, 1)))
               : tr("%1\n%2 long, %3 × its rest").arg(name, length, QString::number(share, 'f', 3));
}

void StretchesCard::refresh() {
    const int row = list_->currentRow();
    rows_.clear();
    listing_ = true;
    list_->clear();
    for (const Stretch& stretch : session_.shownDocument().stretches) {
        rows_.push_back(stretch.id);
        auto* item = new QListWidgetItem(wordsOf(stretch), list_);
        item->setFlags(Qt::ItemIsEnabled | Qt::ItemIsSelectable | Qt::ItemIsUserCheckable);
        item->setCheckState(stretch.off ? Qt::Unchecked : Qt::Checked);
    }
    if (!rows_.empty()) list_->setCurrentRow(std::clamp(row, 0, static_cast<int>(rows_.size()) - 1));
    listing_ = false;
    setVisible(!rows_.empty());
    remove_->setEnabled(!rows_.empty() && !session_.previewed());
}

void StretchesCard::refreshMotion() {
    const Document& document = session_.shownDocument();
    const bool there = std::all_of(rows_.begin(), rows_.end(),
                                   [&](StretchId id) { return document.stretches.contains(id); });
    if (listing_ || !there || list_->count() != static_cast<int>(rows_.size())) return;
    const QSignalBlocker quiet(list_);
    for (int i = 0; i < list_->count(); ++i)
        list_->item(i)->setText(wordsOf(*document.stretches.find(rows_[static_cast<std::size_t>(i)])));
}

void StretchesCard::switchRow(QListWidgetItem* item) {
    const auto row = static_cast<std::size_t>(list_->row(item));
    if (listing_ || row >= rows_.size()) return;
    const json switched{
        {"op", "stretch.set"}, {"stretches", {rows_[row].value}}, {"on", item->checkState() == Qt::Checked}};
    // Rows are made anew by it, and this one is not done with telling.
    QTimer::singleShot(0, this, [this, switched] { session_.run(switched); });
}

}  // namespace pivrak
