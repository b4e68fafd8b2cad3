#pragma once

#include <memory>

#include "core/geometry/mesh/mesh.h"

namespace pivrak {

/// A standing figure of 1.75 m, cut out of thin board: the measure beside a model. It stands on z = 0 and
/// faces along x.
std::shared_ptr<const Mesh> person_silhouette();

}  // namespace pivrak
