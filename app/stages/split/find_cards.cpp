#include "app/stages/split/find_cards.h"
#include "app/session/words.h"

#include <algorithm>

namespace pivrak {

RepeatsCard::RepeatsCard(Session& session)
    : FormCard(session, "repeat", {"part.find_repeats"},
               {tr("Repeats"), tr("Find repeats"), "findRepeats", QString()}) {
    add({.argument = "tolerance",
         .label = tr("Equal within"),
         .begins = QStringLiteral("0.1 mm"),
         .object_name = "repeatTolerance"});
    add({.argument = "rename", .label = tr("number each group in a series"), .object_name = "repeatRename"});
    finish(false);
    connect(static_cast<QLineEdit*>(widget("tolerance")), &QLineEdit::returnPressed, this,
            [this] { doStep(); });
}

/// One part alone says nothing of where to look.
void RepeatsCard::amend(nlohmann::json& step) const {
    step.erase("parts");
    if (session_.selection().size() < 2 || session_.previewed()) return;
    const Tree tree(session_.document());
    for (const PartId top : session_.selection())
        for (const PartId part : tree.branch(top)) step["parts"].push_back(part.value);
}

void RepeatsCard::refresh() {
    FormCard::refresh();
    do_->setEnabled(session_.document().parts.size() > 1);
    facts_->setText(session_.selection().size() > 1 ? tr("among the picked parts and what they carry")
                                                    : tr("among all parts; pick some to look there only"));
}

RecogniseCard::RecogniseCard(Session& session, QWidget* parent)
    : Card(tr("Recognise"), parent),
      session_(session),
      list_(new QListWidget),
      rename_(makeCheck(tr("use suggested names"), "recogniseRename", true)),
      pivot_(makeCheck(tr("put pivots on their axes"), "recognisePivot", true)),
      axis_(makeChoice(
          "recogniseAxis",
          {{tr("own X along it"), "x"}, {tr("own Y along it"), "y"}, {tr("own Z along it"), "z"}})),
      look_(makeButton(tr("Look for wheels, gears, shafts, plates"), "lookForParts", true)),
      take_(makeButton(tr("Accept those ticked"), "acceptRecognised")) {
    list_->setObjectName(QStringLiteral("recognisedList"));
    list_->setMinimumHeight(170);
    list_->setWordWrap(true);
    list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    addButtons({look_});
    state_ = addReadout("recogniseState");
    addWidget(list_);
    addRow(tr("Axis"), axis_);
    addWidget(rename_);
    addWidget(pivot_);
    addButtons({take_});
    connect(look_, &QPushButton::clicked, this, &RecogniseCard::look);
    connect(take_, &QPushButton::clicked, this, &RecogniseCard::take);
    connect(list_, &QListWidget::itemClicked, this, [this](QListWidgetItem* item) {
        session_.select({PartId{item->data(Qt::UserRole).toULongLong()}});
    });
    connect(list_, &QListWidget::itemChanged, this, [this] { refresh(); });
}

void RecogniseCard::look() {
    std::vector<PartId> parts = Tree(session_.document()).all();
    if (session_.selection().size() > 1) {
        parts.clear();
        const Tree tree(session_.document());
        for (const PartId top : session_.selection())
            for (const PartId part : tree.branch(top)) parts.push_back(part);
    }
    session_.measuring().start(
        tr("Recognising parts"),
        [document = session_.document(), parts](const Progress& progress) {
            return recognise_parts(document, parts, progress);
        },
        [this, document = session_.document()](std::vector<RecognisedPart> found) {
            found_ = std::move(found);
            // The large ones first: those matter most.
            std::stable_sort(found_.begin(), found_.end(),
                             [](const RecognisedPart& a, const RecognisedPart& b) {
                                 return a.shape.radius_m > b.shape.radius_m;
                             });
            looked_at_ = document;
            list_->clear();
            for (const RecognisedPart& r : found_) {
                const Part& part = *document.parts.find(r.part);
                auto* item = new QListWidgetItem(
                    tr("%1 → %2\n%3\n%4 % sure")
                        .arg(QString::fromStdString(part.name), QString::fromStdString(r.name),
                             QString::fromStdString(describe(r.shape, document.settings.length_unit)))
                        .arg(100 * r.shape.confidence, 0, 'f', 0));
                item->setFlags(item->flags() | Qt::ItemIsUserCheckable);
                item->setCheckState(r.shape.confidence >= 0.6 ? Qt::Checked : Qt::Unchecked);
                item->setData(Qt::UserRole, QVariant::fromValue<qulonglong>(r.part.value));
                list_->addItem(item);
            }
            refresh();
        });
}

void RecogniseCard::take() {
    nlohmann::json parts = nlohmann::json::array();
    for (int row = 0; row < list_->count(); ++row)
        if (list_->item(row)->checkState() == Qt::Checked)
            parts.push_back(list_->item(row)->data(Qt::UserRole).toULongLong());
    session_.run({{"op", "part.recognise"},
                  {"parts", parts},
                  {"rename", rename_->isChecked()},
                  {"pivot", pivot_->isChecked()},
                  {"axis", chosen(axis_)},
                  {"least_confidence", 0}});
}

void RecogniseCard::refresh() {
    look_->setEnabled(!session_.document().shapes.empty() && !session_.previewed());
    // Suggestions are about the document they were made of.
    if (!found_.empty() && !(looked_at_.parts == session_.document().parts)) {
        found_.clear();
        list_->clear();
    }
    int ticked = 0;
    for (int row = 0; row < list_->count(); ++row) ticked += list_->item(row)->checkState() == Qt::Checked;
    list_->setVisible(list_->count() > 0);
    take_->setEnabled(ticked > 0);
    take_->setText(ticked > 0 ? tr("Accept %1 ticked").arg(ticked) : tr("Accept those ticked"));
    state_->setText(list_->count() > 0 ? countWords(static_cast<std::size_t>(list_->count()), "suggestion")
                    : session_.selection().size() > 1 ? tr("among the picked parts")
                                                      : tr("among all parts; pick some to look there only"));
}

}  // namespace pivrak
