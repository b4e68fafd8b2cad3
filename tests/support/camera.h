#pragma once

#include "app/view/camera.h"

namespace pivrak::test {

/// A camera of 700 by 420 pixels that looks from a direction.
inline Camera view(double azimuth, double elevation) {
    Camera c;
    c.azimuth = azimuth;
    c.elevation = elevation;
    c.resize(700, 420);
    return c;
}

}  // namespace pivrak::test
