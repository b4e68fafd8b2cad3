#include "app/stages/split/set_card.h"
#include "app/session/words.h"

#include <algorithm>

namespace pivrak {
namespace {

bool is_shown(const Part& part) {
    return part.shown;
}
bool is_open(const Part& part) {
    return !part.locked;
}

}  // namespace

SetCard::SetCard(Session& session, QWidget* parent)
    : Card(tr("Sets"), parent), session_(session), list_(new QListWidget), name_(new QLineEdit) {
    list_->setObjectName(QStringLiteral("setList"));
    list_->setMinimumHeight(110);
    name_->setObjectName(QStringLiteral("setName"));
    name_->setPlaceholderText(tr("covers, lifting gear …"));
    addWidget(list_);
    addRow(tr("Set name"), name_);
    make_ = makeButton(tr("Make it of the picked parts"), "makeSet", true);
    addButtons({make_});
    const auto run_on_members = [this](nlohmann::json step) {
        step["parts"] = members();
        session_.run(step);
    };
    auto* pick = button(tr("Pick"), "pickSet", [this] { session_.select(current()->parts); });
    hide_ = button(tr("Hide"), "hideSet", [this, run_on_members] {
        run_on_members({{"op", "part.show"}, {"shown", !anyMember(is_shown)}});
    });
    auto* only = button(tr("Only these"), "onlySet", [run_on_members] {
        run_on_members({{"op", "part.show_only"}});
    });
    lock_ = button(tr("Lock"), "lockSet", [this, run_on_members] {
        run_on_members({{"op", "part.lock"}, {"locked", anyMember(is_open)}});
    });
    auto* remove = button(tr("Remove set"), "removeSet", [this] {
        session_.run({{"op", "set.remove"}, {"set", current()->name}});
    });
    add_ = button(tr("Add picked"), "addToSet", [this] {
        session_.run({{"op", "set.change"}, {"set", current()->name}, {"add", session_.selectedIds()}});
    });
    take_ = button(tr("Take picked out"), "takeFromSet", [this] {
        session_.run({{"op", "set.change"}, {"set", current()->name}, {"take", session_.selectedIds()}});
    });
    addButtons({pick, hide_, only});
    rename_ = button(tr("Rename"), "renameSet", [this] {
        if (session_.run({{"op", "set.change"},
                          {"set", current()->name},
                          {"name", name_->text().trimmed().toStdString()}}))
            name_->clear();
    });
    addButtons({lock_, rename_, remove});
    addButtons({add_, take_});
    const auto make = [this] {
        if (session_.run({{"op", "set.make"},
                          {"name", name_->text().trimmed().toStdString()},
                          {"parts", session_.selectedIds()}}))
            name_->clear();
    };
    connect(make_, &QPushButton::clicked, this, make);
    connect(name_, &QLineEdit::returnPressed, this, make);
    connect(name_, &QLineEdit::textChanged, this, &SetCard::refresh);
    connect(list_, &QListWidget::itemSelectionChanged, this, &SetCard::refresh);
    connect(list_, &QListWidget::itemDoubleClicked, this, [this] {
        if (current()) session_.select(current()->parts);
    });
}

QPushButton* SetCard::button(const QString& text, const char* name, std::function<void()> act) {
    auto* made = makeButton(text, name);
    for_set_.push_back(made);
    connect(made, &QPushButton::clicked, this, [this, act = std::move(act)] {
        if (current()) act();
    });
    return made;
}

const PartSet* SetCard::current() const {
    const QListWidgetItem* item = list_->currentItem();
    return item ? session_.document().sets.find(SetId{item->data(Qt::UserRole).toULongLong()}) : nullptr;
}

bool SetCard::anyMember(bool (*is)(const Part&)) const {
    return std::any_of(current()->parts.begin(), current()->parts.end(),
                       [&](PartId part) { return is(*session_.document().parts.find(part)); });
}

nlohmann::json SetCard::members() const {
    nlohmann::json ids = nlohmann::json::array();
    for (const PartId part : current()->parts) ids.push_back(part.value);
    return ids;
}

void SetCard::refresh() {
    const Document& document = session_.document();
    const PartSet* before = current();
    const SetId kept = before ? before->id : SetId{};
    QSignalBlocker quiet(list_);
    list_->clear();
    for (const PartSet& set : document.sets) {
        auto* item = new QListWidgetItem(
            tr("%1   %2").arg(QString::fromStdString(set.name), countWords(set.parts.size(), "part")), list_);
        item->setData(Qt::UserRole, QVariant::fromValue<qulonglong>(set.id.value));
        if (set.id == kept) list_->setCurrentItem(item);
    }
    if (!list_->currentItem() && list_->count() > 0) list_->setCurrentRow(list_->count() - 1);
    const PartSet* set = current();
    const bool some = set && !set->parts.empty() && !session_.previewed();
    for (QPushButton* button : for_set_) button->setEnabled(some);
    add_->setEnabled(set && !session_.selection().empty());
    take_->setEnabled(some && !session_.selection().empty());
    rename_->setEnabled(set && !session_.previewed() && !name_->text().trimmed().isEmpty());
    make_->setEnabled(!session_.selection().empty() && !name_->text().trimmed().isEmpty());
    if (!set) return;
    hide_->setText(anyMember(is_shown) ? tr("Hide") : tr("Show"));
    lock_->setText(anyMember(is_open) ? tr("Lock") : tr("Unlock"));
}

}  // namespace pivrak
