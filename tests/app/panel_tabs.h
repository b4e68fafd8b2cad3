#pragma once

#include <QPushButton>

#include "tests/support/window.h"

namespace pivrak::test {

/// Names of the tabs of the panel that is seen, in no set order; none of a panel without.
inline QStringList shown_tabs(const Hands& hands) {
    QStringList tabs;
    for (const QPushButton* button : hands.window.findChildren<QPushButton*>())
        if (button->isVisible() && button->objectName().startsWith("tab")) tabs << button->objectName();
    return tabs;
}

}  // namespace pivrak::test
