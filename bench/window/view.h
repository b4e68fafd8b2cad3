#pragma once

#include <string>

#include "app/shell/theme.h"

namespace pivrak::bench {

/// B10 and B11: frames a second of the view while it orbits and while a clip plays, and how soon the full
/// picture stands when it comes to rest; keys in curves and lanes; memory of a part. One of these when it is
/// named.
void measure_view(Look& look, const std::string& only);

}  // namespace pivrak::bench
