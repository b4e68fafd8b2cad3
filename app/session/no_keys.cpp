#include "app/session/no_keys.h"

#include <QObject>
#include <QStringList>

#include "app/session/session.h"

namespace pivrak {

QString noKeysWords(const Session& session) {
    const Clip& clip = session.clip();
    QStringList played;
    for (const ClipLayer& layer : clip.layers)
        if (const Clip* added = session.document().clips.find(layer.clip))
            played << QString::fromStdString(added->name);
    if (clip.tracks.empty() && !played.empty())
        return QObject::tr("No keys of its own: it plays %1").arg(played.join(QStringLiteral(", ")));
    return session.selection().empty()
               ? QObject::tr("No keys yet: pose a part and press K")
               : QObject::tr("What is picked has no keys in this clip: press K to set one");
}

}  // namespace pivrak
