#include "app/shell/recent_projects.h"

#include <QFileInfo>

#include "app/shell/recent_paths.h"

namespace pivrak {
namespace {

constexpr qsizetype most_recent = 8;
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
    note_recent_path(recent_key, path, most_recent);
}

void RecentProjects::fill() {
    clear();
    for (const QString& path : recent_paths(recent_key)) {
        QAction* action = addAction(QFileInfo(path).fileName());
        action->setToolTip(path);
        connect(action, &QAction::triggered, this, [this, path] { open_(path); });
    }
    if (isEmpty()) addAction(tr("None yet"))->setEnabled(false);
}

}  // namespace pivrak
