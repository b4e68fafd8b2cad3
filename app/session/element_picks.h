#pragma once

#include <map>
#include <optional>
#include <vector>

#include "core/geometry/mesh/cutting.h"
#include "core/geometry/mesh/regions.h"
#include "core/model/document.h"

namespace pivrak {

/// What a click in the view picks.
enum class PickKind { Parts, Faces, Edges, Points, Places };

/// How picking works at the moment.
struct PickSettings {
    PickKind kind = PickKind::Parts;
    bool through = false;                ///< what is hidden behind others is picked too
    bool lasso = false;                  ///< a drag draws a free outline instead of a box
    double bend_rad = 10 * rad_per_deg;  ///< faces that bend no further grow into one smooth surface
    bool operator==(const PickSettings&) const = default;
};

/// One side of a triangle of a part, from the lower vertex number to the higher.
struct PickedEdge {
    PartId part;
    std::uint32_t from = 0, to = 0;
    auto operator<=>(const PickedEdge&) const = default;
};

/// One vertex of a part.
struct PickedPoint {
    PartId part;
    std::uint32_t vertex = 0;
    auto operator<=>(const PickedPoint&) const = default;
};

/// A place measured on a part's shape, a part's pivot, or a crossing of the floor grid, as an operation's
/// place names it.
struct PickedPlace {
    enum class Kind { Vertex, EdgeMiddle, FaceCentre, RimCentre, Pivot, Grid };
    PartId part;  ///< none on the grid
    Kind kind = Kind::Vertex;
    std::uint32_t a = 0, b = 0;  ///< vertices of an edge or rim, a vertex, or a triangle
    Vec3 in_shape{0, 0, 0};      ///< [m]; in the world on the grid

    nlohmann::json argument() const;
    bool operator==(const PickedPlace& other) const {
        return part == other.part && kind == other.kind && a == other.a && b == other.b &&
               (kind != Kind::Grid || in_shape == other.in_shape);
    }
};

/// A picked place in the world as things stand; none when its part is gone.
std::optional<Vec3> place_in_world(const Document& document, const PickedPlace& place,
                                   const Frame& world_from_part);

/// Faces, edges, vertices and places picked inside parts.
struct ElementPicks {
    std::map<PartId, FaceMask> faces;
    std::vector<PickedEdge> edges;    ///< in the order they were picked
    std::vector<PickedPoint> points;  ///< in the order they were picked
    std::vector<PickedPlace> places;  ///< in the order they were picked

    bool empty() const { return faces.empty() && edges.empty() && points.empty() && places.empty(); }
    std::size_t face_count() const;
    bool operator==(const ElementPicks&) const = default;

    /// The faces as an operation's `faces`.
    nlohmann::json faces_argument() const;
};

/// The plane of the first picked face, where it stands at rest; none when no face is picked.
std::optional<Plane> picked_face_plane(const Document& document, const ElementPicks& picks);

/// How a picking of faces becomes a larger or smaller one.
enum class Growth { Piece, Angle, Material, Ring, Shrink, Invert, SameSize };

/// Pre: every picked part exists and has a shape. `angle_rad` is used by Angle.
ElementPicks grown(const Document& document, const ElementPicks& picks, Growth growth, double angle_rad);

/// Parts of the same material as some, of the same measures to a hundredth, or all others with a shape.
/// Pre: growth is Material, SameSize or Invert.
std::vector<PartId> grown_parts(const Document& document, const std::vector<PartId>& parts, Growth growth);

/// A picked vertex in the world, for the given frame of its part.
Vec3 picked_place(const Document& document, const PickedPoint& point, const Frame& world_from_part);

}  // namespace pivrak
