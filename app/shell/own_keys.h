#pragma once

#include <QKeyEvent>
#include <algorithm>
#include <initializer_list>

namespace pivrak {

/// Whether an event asks if a widget takes a key itself that would otherwise be a shortcut of the window, and
/// it does. To be asked first in the widget's `event`.
inline bool keepsKey(QEvent* event, std::initializer_list<int> keys) {
    if (event->type() != QEvent::ShortcutOverride) return false;
    const auto* pressed = static_cast<QKeyEvent*>(event);
    if (pressed->modifiers() & ~Qt::KeypadModifier) return false;
    if (std::find(keys.begin(), keys.end(), pressed->key()) == keys.end()) return false;
    event->accept();
    return true;
}

}  // namespace pivrak
