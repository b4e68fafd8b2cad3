#pragma once

#include "tests/support/window.h"

namespace pivrak::test {

/// Where a place of the world is seen in the view.
inline QPoint pixelOf(Hands& hands, const Vec3& place) {
    const Vec3 seen = hands.window.view().camera().project(place);
    return {static_cast<int>(std::lround(seen.x())), static_cast<int>(std::lround(seen.y()))};
}

/// What is drawn once everything is at rest, overlays aside.
inline QImage fullPicture(Viewport& view) {
    view.paintFully();
    return view.picture();
}

}  // namespace pivrak::test
