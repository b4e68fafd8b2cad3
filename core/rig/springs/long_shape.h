#pragma once

#include <memory>
#include <optional>
#include <vector>

#include "core/geometry/mesh/mesh.h"

namespace pivrak {

/// A coil of wire, as it is measured on its mesh.
struct Coil {
    double turns = 0, radius_m = 0;  ///< of the middle of the wire about the axis
    double wire_m = 0;               ///< how thick the wire is along the axis
    bool left_handed = false;
};

/// A long shape that is pulled at both ends: a spring, a cable. In the frame of its mesh.
struct LongShape {
    Vec3 from, to;             ///< the ends of its axis, on the middle of what it ends with [m]
    std::vector<float> share;  ///< by vertex: how much of what the far end moves it moves, 0 to 1
    std::optional<Coil> coil;  ///< none for what is stretched evenly, as a cable
    double length_m() const { return (to - from).norm(); }
    Vec3 way() const { return (to - from).normalized(); }
};

/// Measures a shape along its longest axis, or, of a coil, along the one that it winds about. Each vertex of
/// a coil is followed along the wire, whose edges tell how far round it is, so pitch and ends may be uneven;
/// it then moves as the middle of the wire there does, and the wire keeps its thickness. What is no single
/// wire that winds at least one and a half times is stretched evenly, and so is a coil when `evenly` asks for
/// it. None for a mesh without triangles, or of no length.
std::optional<LongShape> long_shape(const Mesh& mesh, bool evenly = false);

/// The same with its ends exchanged.
LongShape turned_round(LongShape shape);

/// The mesh with its far end moved by a way along its axis [m], both in the mesh's frame.
Mesh drawn_out(const Mesh& mesh, const LongShape& shape, double by_m);

}  // namespace pivrak
