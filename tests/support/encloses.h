#pragma once

#include "core/geometry/mesh/mesh.h"

namespace pivrak {

/// Whether a place lies inside a closed surface. The solid angle of the surface seen from there is then a
/// full sphere; holes and doubled faces make the answer a guess. Source: Van Oosterom and Strackee, The solid
/// angle of a plane triangle (1983).
bool encloses(const Mesh& mesh, const Vec3& place);

}  // namespace pivrak
