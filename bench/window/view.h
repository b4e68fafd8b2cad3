#pragma once

#include "app/shell/theme.h"

namespace pivrak::bench {

/// B10 and B11: frames a second of the view while it orbits and while a clip plays, and how soon the full
/// picture stands when it comes to rest.
void measure_view(Look& look);

}  // namespace pivrak::bench
