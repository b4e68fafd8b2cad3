#include "app/shell/recent_projects.h"

#include <QFileInfo>
#include <QSettings>

namespace pivrak {
namespace {

constexpr int most_recent = 8;
const QString recent_key = QStringLiteral("recentProjects");

}  // namespace

RecentProjects::RecentProjects(Session& session, std::function<void(const QString&)> open, QWidget* parent)
    : QMenu(tr("Recent projects"), parent), session_(session), open_(std::move(open)) {
    setObjectName(QStringLiteral("recentProjects"));
    setToolTipsVisible(true);
    connect(&session, &Session::projectChanged, this, &RecentProjects::note);
    connect(this, &QMenu::aboutToShow, this, &RecentProjects::fill);
}

void RecentProjects::note() {
    if (session_.projectPath().empty()) return;
    const QString path =
        QFileInfo(QString::fromStdString(session_.projectPath().string())).absoluteFilePath();
    QSettings settings;
    QStringList recent = settings.value(recent_key).toStringList();
    if (!recent.isEmpty() && recent.front() == path) return;
    recent.removeAll(path);
    recent.prepend(path);
    settings.setValue(recent_key, QStringList(recent.mid(0, most_recent)));
}

void RecentProjects::fill() {
    clear();
    for (const QString& path : QSettings().value(recent_key).toStringList()) {
        const QFileInfo file(path);
        if (!file.exists()) continue;
        QAction* action = addAction(file.fileName());
        action->setToolTip(path);
        connect(action, &QAction::triggered, this, [this, path] { open_(path); });
    }
    if (isEmpty()) addAction(tr("None yet"))->setEnabled(false);
}

}  // namespace pivrak
