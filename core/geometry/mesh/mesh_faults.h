#pragma once

#include "core/geometry/mesh/mesh.h"

namespace pivrak {

/// What is wrong with a surface, counted.
struct MeshFaults {
    std::size_t open_edges = 0;       ///< edges with one face
    std::size_t crowded_edges = 0;    ///< edges with three or more faces
    std::size_t doubled_faces = 0;    ///< faces on the same three points as another
    std::size_t zero_area_faces = 0;  ///< faces whose corners lie on one line, or at one point
    std::size_t turned_faces = 0;     ///< faces that run against those round them, the fewer ones
    bool inside_out = false;          ///< a closed surface that looks inwards as a whole
    double open_length_m = 0;         ///< of all open edges together

    bool clean() const {
        return open_edges == 0 && crowded_edges == 0 && doubled_faces == 0 && zero_area_faces == 0 &&
               turned_faces == 0 && !inside_out;
    }
    bool operator==(const MeshFaults&) const = default;
};

/// Looks at a mesh with vertices at one place joined.
MeshFaults mesh_faults(const Mesh& mesh);

/// The mesh with faces of no area and doubled faces taken out, and with faces turned so that they agree with
/// their neighbours and closed surfaces look outwards. A turned face gets vertices of its own, whose normals
/// are turned as well. Vertices do not move.
Mesh repaired(const Mesh& mesh);

}  // namespace pivrak
