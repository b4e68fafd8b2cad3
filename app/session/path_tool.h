#pragma once

#include <algorithm>
#include <optional>
#include <string>
#include <vector>

#include "core/model/document.h"

namespace pivrak {

/// Which path is in a person's hands, and what they do with it.
struct PathTool {
    PathId path;                  ///< shown with its points and handles; none when no path is in hand
    std::vector<int> points;      ///< picked ones, by number
    bool drawing = false;         ///< clicks put points down
    std::string form = "smooth";  ///< of the path that is drawn
    /// Where points are put: on shapes, or on a work plane: the floor, square to x or y, along a face, or as
    /// the view looks when the first point is put.
    std::string on = "floor";
    Vec3 plane_point{0, 0, 0}, plane_normal{0, 0, 1};
    std::vector<Vec3> drawn;  ///< so far, in the world
    bool operator==(const PathTool&) const = default;
};

/// The path made last; none when there is none.
inline PathId newest_path(const Document& document) {
    PathId newest;
    for (const Path& path : document.paths) newest = std::max(newest, path.id);
    return newest;
}

}  // namespace pivrak
