#pragma once

#include <QString>
#include <QStringList>

namespace pivrak {

/// Paths that were used last, the latest first, as the settings keep them under a key; those that are no
/// longer there are left out.
QStringList recent_paths(const QString& key);
/// Puts one at the front and keeps `most` of them.
void note_recent_path(const QString& key, const QString& path, qsizetype most);

}  // namespace pivrak
