#pragma once

#include <QListWidget>

namespace pivrak {

/// A list of measured lines, so many rows high, that never scrolls sideways.
inline QListWidget* makeFactList(const char* object_name, int rows, bool wraps) {
    auto* list = new QListWidget;
    list->setObjectName(QLatin1String(object_name));
    list->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    list->setTextElideMode(Qt::ElideRight);
    list->setWordWrap(wraps);
    list->setFixedHeight(rows * 22 + 6);
    return list;
}

}  // namespace pivrak
