#pragma once

#include <map>
#include <vector>

#include "core/geometry/regions.h"
#include "core/model/document.h"

namespace pivrak {

/// What a click in the view picks.
enum class PickKind { Parts, Faces, Edges, Points };

/// How picking works at the moment.
struct PickSettings {
    PickKind kind = PickKind::Parts;
    bool through = false;  ///< what is hidden behind others is picked too
    bool lasso = false;    ///< a drag draws a free outline instead of a box
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

/// Faces, edges and vertices picked inside parts.
struct ElementPicks {
    std::map<PartId, FaceMask> faces;
    std::vector<PickedEdge> edges;    ///< in the order they were picked
    std::vector<PickedPoint> points;  ///< in the order they were picked

    bool empty() const { return faces.empty() && edges.empty() && points.empty(); }
    std::size_t face_count() const;
    bool operator==(const ElementPicks&) const = default;

    /// The faces as an operation's `faces`.
    nlohmann::json faces_argument() const;
};

/// How a picking of faces becomes a larger or smaller one.
enum class Growth { Piece, Angle, Material, Ring, Shrink, Invert, SameSize };

/// Pre: every picked part exists and has a shape. `angle_rad` is used by Angle.
ElementPicks grown(const Document& document, const ElementPicks& picks, Growth growth, double angle_rad);

/// Parts whose shapes measure the same as one of those given, to a hundredth.
std::vector<PartId> parts_of_same_size(const Document& document, const std::vector<PartId>& parts);

/// A picked vertex in the world, for the given frame of its part.
Vec3 picked_place(const Document& document, const PickedPoint& point, const Frame& world_from_part);

}  // namespace pivrak
