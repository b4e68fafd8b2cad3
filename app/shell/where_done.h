#pragma once

#include <optional>
#include <string_view>

#include "core/checks/findings.h"

namespace pivrak {

/// Where a panel offers an operation.
struct WhereDone {
    Stage stage;
    const char* tab;  ///< as the panel names it; empty for a panel without tabs
};

/// None for an operation that no panel offers.
std::optional<WhereDone> where_done(std::string_view operation);

}  // namespace pivrak
