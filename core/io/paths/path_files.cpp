#include "core/io/paths/path_files.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <sstream>

#include "core/geometry/mesh/mesh.h"
#include "core/io/atomic_file.h"
#include "core/rig/paths/path_edit.h"
#include "core/rig/rig_facts.h"

namespace pivrak {

Result<std::vector<Path>> paths_from_obj(const std::string& text, double unit) {
    std::istringstream lines(text);
    std::string line, object;
    std::vector<Vec3> vertices;
    std::vector<Path> paths;
    for (int number = 1; std::getline(lines, line); ++number) {
        std::istringstream words(line);
        std::string kind;
        words >> kind;
        const auto wrong = [&](const std::string& what) {
            return Error{"path.file", fmt::format("line {}: {}", number, what),
                         fmt::format("line {}", number)};
        };
        if (kind == "v") {
            double x = 0, y = 0, z = 0;
            if (!(words >> x >> y >> z)) return wrong("a vertex needs three numbers");
            vertices.emplace_back(unit * z, unit * x, unit * y);
        } else if (kind == "o" || kind == "g") {
            words >> object;
        } else if (kind == "l") {
            Path path;
            path.name = object.empty() ? "line" : object;
            path.form = PathForm::Polyline;
            std::vector<std::size_t> seen;
            std::string word;
            while (words >> word) {
                long index = 0;
                try {
                    index = std::stol(word);
                } catch (const std::exception&) {
                    return wrong(fmt::format("'{}' is no vertex number", word));
                }
                if (index < 0) index += static_cast<long>(vertices.size()) + 1;
                if (index < 1 || index > static_cast<long>(vertices.size()))
                    return wrong(fmt::format("vertex {} of {}", word, vertices.size()));
                seen.push_back(static_cast<std::size_t>(index - 1));
            }
            if (seen.size() < 2) return wrong("a line needs two vertices");
            path.closed = seen.size() > 3 && seen.front() == seen.back();
            if (path.closed) seen.pop_back();
            for (const std::size_t i : seen) path.points.push_back({vertices[i]});
            paths.push_back(path);
        }
    }
    if (paths.empty()) return Error{"path.none", "the file has no lines ('l' and vertex numbers)", ""};
    return paths;
}

Result<std::vector<Path>> read_paths(const std::filesystem::path& file, double metres_per_unit) {
    PIVRAK_TRY(bytes, read_file(file));
    std::string kind = file.extension().string();
    std::transform(kind.begin(), kind.end(), kind.begin(), [](unsigned char c) { return std::tolower(c); });
    const std::string name = file.filename().string();
    if (kind != ".svg" && kind != ".obj")
        return Error{"path.file", fmt::format("'{}' is no drawing: .svg and .obj can be read", name), name};
    auto paths =
        kind == ".svg" ? paths_from_svg(bytes, metres_per_unit) : paths_from_obj(bytes, metres_per_unit);
    if (!paths) return Error{paths.error().code, fmt::format("'{}': {}", name, paths.error().message), name};
    // A path that has no length is nothing to ride; one that is not finite is damaged.
    std::erase_if(*paths, [](const Path& p) {
        const auto curve = PathCurve::make(p);
        return !curve && curve.error().code == "path.length";
    });
    for (const Path& path : *paths)
        if (const auto curve = PathCurve::make(path); !curve)
            return Error{"path.file", fmt::format("'{}': {}", name, curve.error().message), name};
    if (paths->empty()) return Error{"path.none", fmt::format("'{}' has no path of any length", name), name};
    return paths;
}

std::string svg_of_path(const Path& path) {
    const Path curve = as_bezier(path);
    Bounds bounds;
    for (const PathPoint& p : curve.points)
        for (const Vec3& at : {p.place, Vec3(p.place + p.before), Vec3(p.place + p.after)}) bounds.add(at);
    const double edge = 0.02 * std::max(bounds.longest(), 1e-3);
    const auto text = [](const Vec3& p) { return fmt::format("{:.17g},{:.17g}", p.x(), -p.y()); };
    std::string d = "M" + text(curve.points.front().place);
    const std::size_t n = curve.points.size(), runs = curve.closed ? n : n - 1;
    for (std::size_t i = 0; i < runs; ++i) {
        const PathPoint &a = curve.points[i], &b = curve.points[(i + 1) % n];
        d += " C" + text(a.place + a.after) + " " + text(b.place + b.before) + " " + text(b.place);
    }
    if (curve.closed) d += " Z";
    return fmt::format(
        "<svg xmlns=\"http://www.w3.org/2000/svg\" viewBox=\"{:.6g} {:.6g} {:.6g} {:.6g}\">\n"
        "  <path d=\"{}\" fill=\"none\" stroke=\"black\" stroke-width=\"{:.6g}\"/>\n</svg>\n",
        bounds.min.x() - edge, -bounds.max.y() - edge, bounds.size().x() + 2 * edge,
        bounds.size().y() + 2 * edge, d, edge / 4);
}

std::string obj_of_curve(const PathCurve& curve, const Frame& world_from_path, int count) {
    std::string out, line = "l";
    const double step = curve.length() / (curve.closed() ? count : count - 1);
    for (int i = 0; i < count; ++i) {
        const Vec3 p = world_from_path.point(curve.place(step * i));
        out += fmt::format("v {:.17g} {:.17g} {:.17g}\n", p.y(), p.z(), p.x());
        line += fmt::format(" {}", i + 1);
    }
    if (curve.closed()) line += " 1";
    return out + line + "\n";
}

Result<void> write_path(const Document& document, const Path& path, const std::filesystem::path& file) {
    constexpr int line_places = 400;
    const Frame world = path.carrier ? world_from_rest(document, path.carrier) : Frame{};
    if (file.extension() == ".obj") {
        RigFacts facts;
        PIVRAK_TRY(laid, facts.path(document, path));
        return write_file_atomically(file, obj_of_curve(laid->curve, world, line_places));
    }
    if (file.extension() != ".svg")
        return Error{"path.file",
                     fmt::format("'{}': a path is written as .svg or .obj", file.filename().string()),
                     file.string()};
    Path placed = path;
    for (PathPoint& p : placed.points)
        p = {world.point(p.place), world.direction(p.before), world.direction(p.after)};
    return write_file_atomically(file, svg_of_path(placed));
}

}  // namespace pivrak
