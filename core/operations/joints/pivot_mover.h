#pragma once

#include "core/operations/registry.h"

namespace pivrak {

/// Puts pivots of one outcome elsewhere, and tells by how much and which keys are concerned.
class PivotMover {
public:
    explicit PivotMover(Outcome& out) : out_(out) { out_.readings["pivots"] = nlohmann::json::array(); }

    /// \param note what was measured, put before the distance in the message; \param readings in metres
    void move(PartId part, const Frame& world_from_new, const std::string& note = "",
              nlohmann::json readings = nlohmann::json::object());

private:
    Outcome& out_;
};

/// The sign of an axis found in a shape is a convention: mostly forward, left or up, so that parallel shafts
/// turn alike.
Vec3 positive_direction(const Vec3& direction);

}  // namespace pivrak
