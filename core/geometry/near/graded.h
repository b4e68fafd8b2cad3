#pragma once

#include "core/geometry/mesh/mesh.h"

namespace pivrak {

/// The same surface in pieces of which none reaches far nearer to z than it does away from it: cut along the
/// sides of squares about z, each four times as wide as the one before. What turns about z close to something
/// all the way is then known to be slow where it is close. \param finest_m half the width of the innermost
/// square
Mesh graded_about_z(const Mesh& mesh, double finest_m);

}  // namespace pivrak
