#pragma once

#include <cstdint>
#include <nlohmann/json.hpp>
#include <string>
#include <vector>

#include "core/geometry/frame.h"

namespace pivrak {

/// Where a part's shape came from, so that a newer version of the file can find it again.
struct Origin {
    std::uint32_t source = 0;  ///< number of the document's source, from 1; 0 for parts made here
    std::string node;          ///< path of names in the file, with `#2` and so on behind equal ones
    Frame world_from_node;     ///< as imported
    Vec3 stretch{1, 1, 1};     ///< of its node in the file, that went into the shape; to be told once
    bool mirrored = false;     ///< the node was mirrored
    double scale = 1;          ///< by which the shape has been made larger or smaller since
    Frame node_from_shape;     ///< where the shape stands in its node, at that scale: elsewhere for a shape
                               ///< taken over from an equal part, or joined with another
    nlohmann::json cuts = nlohmann::json::array();  ///< how it was split off, one step a split (`cut_step`)
    std::vector<Origin> joined;                     ///< of the shapes that have been joined into this one
    bool operator==(const Origin&) const = default;
};

/// The origin itself and those joined into it, each without joined ones.
std::vector<Origin> origins_of(const Origin& origin);

/// One origin for a shape joined from several; the first is the shape's own. Pre: not empty.
Origin joined_origin(std::vector<Origin> origins);

/// The shape is shown by other coordinates: `old_from_new`.
void rehang_origin(Origin& origin, const Frame& old_from_new);

/// The shape has been made larger or smaller about its origin.
void scale_origin(Origin& origin, double factor);

}  // namespace pivrak
