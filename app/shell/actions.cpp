#include "app/shell/actions.h"

#include <QSettings>
#include <QWidget>
#include <algorithm>

namespace pivrak {
namespace {
QString settingsKey(const QString& id) {
    return QStringLiteral("shortcuts/") + id;
}
}  // namespace

Actions::Actions(QWidget& window) : QObject(&window), window_(window) {}

void Actions::add(ActionSpec spec) {
    auto* action = new QAction(spec.title, this);
    action->setObjectName(spec.id);
    action->setShortcut(
        QKeySequence(QSettings().value(settingsKey(spec.id), spec.shortcut.toString()).toString()));
    action->setShortcutContext(Qt::WindowShortcut);
    connect(action, &QAction::triggered, this, spec.run);
    window_.addAction(action);
    entries_.push_back({std::move(spec), action});
}

const Actions::Entry* Actions::find(const QString& id) const {
    const auto found =
        std::find_if(entries_.begin(), entries_.end(), [&](const Entry& e) { return e.spec.id == id; });
    return found == entries_.end() ? nullptr : &*found;
}

void Actions::update() {
    for (const Entry& entry : entries_) {
        const QString why = entry.why_not();
        entry.action->setEnabled(why.isEmpty());
        entry.action->setToolTip(why.isEmpty() ? entry.spec.title : why);
    }
}

void Actions::setShortcut(const QString& id, const QKeySequence& shortcut) {
    for (const Entry& entry : entries_) {
        const bool same = entry.spec.id == id;
        const bool taken = !shortcut.isEmpty() && entry.action->shortcut() == shortcut;
        if (!same && !taken) continue;
        entry.action->setShortcut(same ? shortcut : QKeySequence());
        QSettings().setValue(settingsKey(entry.spec.id), entry.action->shortcut().toString());
    }
}

}  // namespace pivrak
