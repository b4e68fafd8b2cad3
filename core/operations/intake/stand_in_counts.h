#pragma once

#include <nlohmann/json.hpp>
#include <vector>

#include "core/model/document.h"

namespace pivrak {

/// What others take from a stand-in: its teeth, or threads, the radius it rolls on, and the pitch of the
/// chain that it belongs to; 0 for none.
struct Counted {
    int teeth = 0;
    double radius_m = 0, pitch_m = 0;

    explicit Counted(const nlohmann::json& made_of);
};

/// A shape that changed, with what was and is counted on it.
struct Changed {
    ShapeId shape;
    Counted was, is;
};

/// The change of what a hinge turns, itself or by what is fixed on it; null where nothing of it changed.
const Changed* turned_by(const Document& document, PartId hinge, const std::vector<Changed>& changes);

/// Puts the new numbers in place of those that were counted. False where they were others.
bool take_over(int& teeth, double& radius_m, const Changed* changed);

}  // namespace pivrak
