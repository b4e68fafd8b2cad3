#pragma once

#include "app/shell/theme.h"

namespace pivrak::test {

/// The one look of the test program's application.
Look& look();

}  // namespace pivrak::test
