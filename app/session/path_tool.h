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
    bool on_surface = false;      ///< points are put on shapes, not on the work plane
    std::vector<Vec3> drawn;      ///< so far, in the world
    bool operator==(const PathTool&) const = default;
};

/// The path made last; none when there is none.
inline PathId newest_path(const Document& document) {
    PathId newest;
    for (const Path& path : document.paths) newest = std::max(newest, path.id);
    return newest;
}

}  // namespace pivrak
