#pragma once

#include <QString>
#include <functional>
#include <nlohmann/json.hpp>
#include <optional>

#include "app/session/session.h"
#include "core/checks/drive/drive_map.h"

namespace pivrak {

/// A number on an arrow of the drive map that may be typed there.
struct ArrowNumber {
    QString now;   ///< as it is typed
    QString what;  ///< `degrees for each m`
    /// The step that makes it another one.
    std::function<nlohmann::json(double)> step;
};

/// None where something else decides; then `why` says what.
std::optional<ArrowNumber> arrowNumber(const Document& document, const DriveMap& map, const DriveEdge& edge,
                                       QString& why);

}  // namespace pivrak
