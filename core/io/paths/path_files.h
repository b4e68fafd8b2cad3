#pragma once

#include <filesystem>
#include <string>
#include <vector>

#include "core/base/result.h"
#include "core/geometry/frame.h"
#include "core/model/document.h"
#include "core/rig/paths/path_curve.h"

namespace pivrak {

/// Paths of a file, without ids: the lines of an OBJ file (its Y up and Z forward, as with models), or paths
/// and outlines of an SVG drawing, seen from above: right on the page is forward, up on the page is left.
/// What lies in several pieces becomes several paths. Errors: `file.*`, `path.file` (with the place and what
/// is wrong there), `path.none`.
Result<std::vector<Path>> read_paths(const std::filesystem::path& file, double metres_per_unit);

/// The paths of an SVG text. Source: W3C, Scalable Vector Graphics 1.1, chapters 7 to 9.
Result<std::vector<Path>> paths_from_svg(const std::string& text, double metres_per_unit);
Result<std::vector<Path>> paths_from_obj(const std::string& text, double metres_per_unit);

/// A path as cubic curves in an SVG drawing of metres, seen from above.
std::string svg_of_path(const Path& path);
/// Writes a path as it stands in the world at rest, by the name's end: its curves as seen from above (.svg),
/// or a line of 400 places, on the ground where it is laid on one (.obj). Errors: `path.file` for another
/// ending, those of `RigFacts::path`, `file.write`.
Result<void> write_path(const Document& document, const Path& path, const std::filesystem::path& file);

/// A curve as a line of `count` places at even distances in an OBJ file of metres.
std::string obj_of_curve(const PathCurve& curve, const Frame& world_from_path, int count);

}  // namespace pivrak
