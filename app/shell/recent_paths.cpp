#include "app/shell/recent_paths.h"

#include <QFileInfo>
#include <QSettings>

namespace pivrak {

QStringList recent_paths(const QString& key) {
    QStringList paths = QSettings().value(key).toStringList();
    paths.removeIf([](const QString& path) { return !QFileInfo::exists(path); });
    return paths;
}

void note_recent_path(const QString& key, const QString& path, qsizetype most) {
    QStringList paths = recent_paths(key);
    if (!paths.isEmpty() && paths.front() == path) return;
    paths.removeAll(path);
    paths.prepend(path);
    QSettings().setValue(key, paths.mid(0, most));
}

}  // namespace pivrak
