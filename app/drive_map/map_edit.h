#pragma once

#include <QString>
#include <functional>
#include <nlohmann/json.hpp>
#include <optional>

#include "app/session/session.h"
#include "core/checks/drive/drive_map.h"

namespace pivrak {

/// What stands on an arrow of the drive map and may be typed there.
struct ArrowNumber {
    QString now;   ///< as it is typed: `15`, `20 : 60`
    QString what;  ///< `degrees for each m`
    /// The step that makes it what was typed.
    std::function<Result<nlohmann::json>(const std::string& typed)> step;
};

/// None where something else decides; then `why` says what.
std::optional<ArrowNumber> arrowNumber(const Document& document, const DriveMap& map, const DriveEdge& edge,
                                       QString& why);

}  // namespace pivrak
