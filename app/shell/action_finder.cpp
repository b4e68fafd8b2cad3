#include "app/shell/action_finder.h"

#include <QHeaderView>
#include <QKeyEvent>
#include <QKeySequenceEdit>
#include <QLabel>
#include <QTableWidget>
#include <QVBoxLayout>
#include <algorithm>

namespace pivrak {

namespace {

constexpr int most_places = 80;

}  // namespace

ActionFinder::ActionFinder(Actions& actions, const Registry& registry, Places places, QWidget* parent)
    : QDialog(parent),
      actions_(actions),
      registry_(registry),
      places_asked_(std::move(places)),
      entry_(new QLineEdit),
      list_(new QListWidget) {
    setObjectName(QStringLiteral("actionFinder"));
    setWindowTitle(tr("Find"));
    setModal(true);
    resize(520, 380);
    entry_->setObjectName(QStringLiteral("finderEntry"));
    entry_->setPlaceholderText(tr("what do you want to do, or where is it?"));
    list_->setObjectName(QStringLiteral("finderList"));
    auto* layout = new QVBoxLayout(this);
    layout->addWidget(entry_);
    layout->addWidget(list_, 1);
    entry_->installEventFilter(this);
    connect(entry_, &QLineEdit::textChanged, this, &ActionFinder::fill);
    connect(entry_, &QLineEdit::returnPressed, this, &ActionFinder::choose);
    connect(list_, &QListWidget::itemActivated, this, &ActionFinder::choose);
}

void ActionFinder::open() {
    places_.clear();
    entry_->clear();
    fill();
    QDialog::open();
    entry_->setFocus();
}

void ActionFinder::fill() {
    list_->clear();
    for (const Actions::Entry& entry : actions_.all()) {
        if (!fits(entry.spec.menu + QLatin1Char(' ') + entry.spec.title)) continue;
        const QString why = entry.why_not();
        QString line = tr("%1  ·  %2").arg(entry.spec.title, entry.spec.menu);
        const QString shortcut = entry.action->shortcut().toString(QKeySequence::NativeText);
        if (!shortcut.isEmpty()) line += QStringLiteral("    ") + shortcut;
        if (!why.isEmpty()) line += tr("\n     not now: %1").arg(why);
        auto* item = new QListWidgetItem(line, list_);
        item->setData(Qt::UserRole, entry.spec.id);
        if (!why.isEmpty()) item->setForeground(palette().color(QPalette::PlaceholderText));
    }
    fillCards();
    fillPlaces();
    list_->setCurrentRow(0);
}

bool ActionFinder::fits(const QString& words) const {
    return finder_fits(entry_->text(), words);
}

/// What stands in the window, and what the project has, once something is asked for.
void ActionFinder::fillPlaces() {
    if (entry_->text().trimmed().size() < 2) return;
    if (places_.empty()) places_ = places_asked_();
    int shown = 0, more = 0;
    for (std::size_t i = 0; i < places_.size(); ++i) {
        if (!fits(places_[i].words)) continue;
        if (shown >= most_places) {
            ++more;
            continue;
        }
        ++shown;
        auto* item = new QListWidgetItem(places_[i].line, list_);
        item->setData(Qt::UserRole + 3, static_cast<int>(i));
    }
    if (more == 0) return;
    auto* item = new QListWidgetItem(tr("%n more: type on", nullptr, more), list_);
    item->setFlags(Qt::NoItemFlags);
}

/// What cards do, once something is asked for.
void ActionFinder::fillCards() {
    if (entry_->text().trimmed().isEmpty()) return;
    for (const Operation& operation : registry_.all()) {
        const auto where = where_done(operation.name);
        if (!where) continue;
        const QString title = QString::fromStdString(operation.title);
        QString words = title + QLatin1Char(' ') + QString::fromStdString(operation.summary);
        for (const ArgumentSpec& spec : operation.arguments)
            words += QLatin1Char(' ') + QString::fromStdString(label_of(spec));
        if (!fits(words)) continue;
        const QString stage = QString::fromUtf8(stage_name(where->stage).data()),
                      tab = QLatin1String(where->tab);
        auto* item = new QListWidgetItem(tab.isEmpty() ? tr("%1  ·  card in %2").arg(title, stage)
                                                       : tr("%1  ·  card in %2, %3").arg(title, stage, tab),
                                         list_);
        item->setData(Qt::UserRole + 1, static_cast<int>(where->stage));
        item->setData(Qt::UserRole + 2, tab);
    }
}

void ActionFinder::choose() {
    const QListWidgetItem* item = list_->currentItem();
    if (!item) return;
    if (const QVariant stage = item->data(Qt::UserRole + 1); stage.isValid()) {
        accept();
        emit cardAsked(static_cast<Stage>(stage.toInt()), item->data(Qt::UserRole + 2).toString());
        return;
    }
    if (const QVariant place = item->data(Qt::UserRole + 3); place.isValid()) {
        const auto go = places_[static_cast<std::size_t>(place.toInt())].go;
        accept();
        return go();
    }
    const Actions::Entry* entry = actions_.find(item->data(Qt::UserRole).toString());
    if (!entry || !entry->why_not().isEmpty()) return;
    accept();
    entry->action->trigger();
}

bool ActionFinder::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() == QEvent::KeyPress) {
        const int key = static_cast<QKeyEvent*>(event)->key();
        if (key == Qt::Key_Down)
            return list_->setCurrentRow(std::min(list_->currentRow() + 1, list_->count() - 1)), true;
        if (key == Qt::Key_Up) return list_->setCurrentRow(std::max(list_->currentRow() - 1, 0)), true;
    }
    return QDialog::eventFilter(watched, event);
}

ShortcutSheet::ShortcutSheet(Actions& actions, QWidget* parent) : QDialog(parent) {
    setObjectName(QStringLiteral("shortcutSheet"));
    setWindowTitle(tr("Shortcuts"));
    setAttribute(Qt::WA_DeleteOnClose);
    resize(620, 560);
    auto* table = new QTableWidget(static_cast<int>(actions.all().size()), 3);
    table->setHorizontalHeaderLabels({tr("menu"), tr("action"), tr("shortcut")});
    table->verticalHeader()->hide();
    table->setEditTriggers(QAbstractItemView::NoEditTriggers);
    table->setShowGrid(false);
    for (int row = 0; row < table->rowCount(); ++row) {
        const Actions::Entry& entry = actions.all()[static_cast<std::size_t>(row)];
        table->setItem(row, 0, new QTableWidgetItem(entry.spec.menu));
        table->setItem(row, 1, new QTableWidgetItem(entry.spec.title));
        auto* edit = new QKeySequenceEdit(entry.action->shortcut());
        edit->setObjectName(QStringLiteral("shortcut_") + entry.spec.id);
        connect(edit, &QKeySequenceEdit::editingFinished, this,
                [&actions, edit, id = entry.spec.id] { actions.setShortcut(id, edit->keySequence()); });
        table->setCellWidget(row, 2, edit);
    }
    table->horizontalHeader()->setSectionResizeMode(1, QHeaderView::Stretch);
    auto* mouse =
        new QLabel(tr("View: left click picks, Shift adds, Ctrl takes away, drag on empty ground draws a "
                      "box. Middle drag or Alt+left drag orbits, "
                      "Shift or Alt with middle drag pans, the wheel zooms. On a gauge, Shift steps by 5°, "
                      "Ctrl turns finely."));
    mouse->setWordWrap(true);
    mouse->setProperty("role", "soft");
    auto* layout = new QVBoxLayout(this);
    layout->addWidget(table, 1);
    layout->addWidget(mouse);
}

}  // namespace pivrak
