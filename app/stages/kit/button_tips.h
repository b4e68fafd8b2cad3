#pragma once

#include <QAbstractButton>

namespace pivrak {

/// What a button does when it is pressed, by its object name; nothing for one that is not known here. The
/// buttons of forms say what their operation does instead.
QString buttonTip(const QString& object_name);

/// Says why a button cannot be pressed, or again what it does.
void tellWhy(QAbstractButton* button, const QString& why);

}  // namespace pivrak
