#include "app/view/mesh_levels.h"

#include <meshoptimizer.h>

#include <algorithm>
#include <limits>
#include <optional>

#include "core/geometry/mesh/pieces.h"
#include "core/geometry/near/surface_finder.h"

namespace pivrak {
namespace {

constexpr std::size_t fewest_triangles = 40;
constexpr std::size_t fewest_of_a_piece = 8;
constexpr float most_error = 0.05f, most_error_by_cells = 0.4f;  // of the piece's extent
constexpr std::size_t most_compared = 1500;  // indices of which all triangles are asked, one by one
constexpr std::size_t share = 4;             // a form aims at a quarter of the one before

using Indices = std::vector<std::uint32_t>;

/// One way to draw a piece, in the piece's vertices.
struct Form {
    Indices indices;
    double error_m = 0;
};

/// What hangs together within a submesh, with vertices of its own.
struct Piece {
    std::size_t run = 0;        ///< the submesh
    bool keeps_border = false;  ///< others go on there
    std::vector<Vec3f> positions;
    std::vector<std::uint32_t> vertices;  ///< which of the mesh's they are
    std::vector<Form> forms;              ///< the finest first
};

/// By what quadrics allow.
Indices by_quadrics(const Piece& piece, const Indices& from, std::size_t wanted, float& error) {
    Indices fewer(from.size());
    fewer.resize(meshopt_simplify(fewer.data(), from.data(), from.size(), piece.positions.front().data(),
                                  piece.positions.size(), sizeof(Vec3f), wanted, most_error,
                                  piece.keeps_border ? meshopt_SimplifyLockBorder : 0, &error));
    return fewer;
}

/// Where edges are all there is, as on plates and bolts: corners that lie near each other become one.
Indices by_cells(const Piece& piece, const Indices& from, std::size_t wanted) {
    Indices fewer(from.size());
    fewer.resize(meshopt_simplifySloppy(fewer.data(), from.data(), from.size(),
                                        piece.positions.front().data(), piece.positions.size(), sizeof(Vec3f),
                                        wanted, most_error_by_cells, nullptr));
    return fewer;
}

/// How far the farthest corner, or middle of a triangle, is from what is left [m].
double farthest(const Piece& piece, const Indices& from, const Indices& left) {
    const auto place = [&](std::uint32_t v) { return piece.positions[v].cast<double>(); };
    const auto by_all = [&](const Vec3& p) {
        double away = 1e300;
        for (std::size_t t = 0; t + 2 < left.size(); t += 3)
            away = std::min(
                away,
                (nearest_on_triangle(p, place(left[t]), place(left[t + 1]), place(left[t + 2])) - p).norm());
        return away;
    };
    Mesh mesh;
    std::optional<SurfaceFinder> finder;
    if (from.size() > most_compared) {
        mesh.positions = piece.positions;
        mesh.indices = left;
        const Mesh* const meshes[] = {&mesh};
        finder.emplace(meshes);
    }
    double most = 0;
    const auto ask = [&](const Vec3& p) {
        most = std::max(most, finder ? finder->nearest(p)->distance : by_all(p));
    };
    std::vector<bool> asked(piece.positions.size(), false);
    for (std::size_t t = 0; t + 2 < from.size(); t += 3) {
        for (std::size_t k = 0; k < 3; ++k)
            if (!asked[from[t + k]]) {
                asked[from[t + k]] = true;
                ask(place(from[t + k]));
            }
        ask((place(from[t]) + place(from[t + 1]) + place(from[t + 2])) / 3);
    }
    return most;
}

/// A coarser form; none where nothing is left to spare. Quadrics tell how far planes are missed, which for
/// thin things says little: where it takes little, it is measured.
Form coarser(const Piece& piece, const Form& than, double scale) {
    const Indices& from = than.indices;
    const std::size_t wanted = std::max<std::size_t>(from.size() / share / 3, 2) * 3;
    float reported = 0;
    Form form{by_quadrics(piece, from, wanted, reported)};
    const bool are_cells = 2 * form.indices.size() > from.size();
    if (are_cells) form.indices = by_cells(piece, from, wanted);
    if (form.indices.empty() || 2 * form.indices.size() > from.size()) return {};
    form.error_m =
        than.error_m +
        (are_cells || from.size() <= most_compared ? farthest(piece, from, form.indices) : reported * scale);
    // In an order in which who draws finds most corners again.
    meshopt_optimizeVertexCache(form.indices.data(), form.indices.data(), form.indices.size(),
                                piece.positions.size());
    return form;
}

void add_forms(Piece& piece) {
    const double scale =
        meshopt_simplifyScale(piece.positions.front().data(), piece.positions.size(), sizeof(Vec3f));
    while (piece.forms.back().indices.size() / 3 >= fewest_of_a_piece) {
        Form form = coarser(piece, piece.forms.back(), scale);
        if (form.indices.empty()) break;
        piece.forms.push_back(std::move(form));
    }
}

/// No larger than what is not seen, a piece is not seen at all.
void add_nothing(Piece& piece) {
    Bounds bounds;
    for (const Vec3f& p : piece.positions) bounds.add(p.cast<double>());
    piece.forms.push_back({{}, std::max(piece.forms.back().error_m, bounds.size().norm())});
}

/// Takes triangles of a mesh into pieces: vertices are numbered anew for each.
class Pieces {
public:
    explicit Pieces(const Mesh& mesh) : mesh_(mesh), own_(mesh.positions.size(), none) {}

    std::vector<Piece> of(const std::vector<Submesh>& runs) {
        const TriangleLabels labels = label_loose_pieces(mesh_, {.weld_m = 0});
        std::vector<Piece> pieces;
        for (std::size_t run = 0; run < runs.size(); ++run) {
            std::vector<std::vector<std::uint32_t>> triangles(labels.count);
            for (std::uint32_t i = 0; i + 2 < runs[run].index_count; i += 3) {
                const std::uint32_t t = (runs[run].first_index + i) / 3;
                triangles[labels.of_triangle[t]].push_back(t);
            }
            for (const auto& its : triangles)
                if (!its.empty()) pieces.push_back(piece(run, its, runs.size() > 1));
        }
        return pieces;
    }

private:
    static constexpr std::uint32_t none = std::numeric_limits<std::uint32_t>::max();

    Piece piece(std::size_t run, const std::vector<std::uint32_t>& triangles, bool keeps_border) {
        Piece out{run, keeps_border, {}, {}, {Form{}}};
        out.forms[0].indices.reserve(3 * triangles.size());
        for (const std::uint32_t t : triangles)
            for (std::uint32_t k = 0; k < 3; ++k) {
                const std::uint32_t v = mesh_.indices[3 * t + k];
                if (own_[v] == none) {
                    own_[v] = static_cast<std::uint32_t>(out.vertices.size());
                    out.vertices.push_back(v);
                    out.positions.push_back(mesh_.positions[v]);
                }
                out.forms[0].indices.push_back(own_[v]);
            }
        for (const std::uint32_t v : out.vertices) own_[v] = none;
        return out;
    }

    const Mesh& mesh_;
    std::vector<std::uint32_t> own_;
};

/// Each piece in the form that was chosen for it.
MeshLevel put_together(const std::vector<Submesh>& runs, const std::vector<Piece>& pieces,
                       const std::vector<std::size_t>& chosen, double error_m) {
    MeshLevel level{{}, runs, error_m};
    std::size_t piece = 0;  // they stand in the order of the runs
    for (std::size_t run = 0; run < runs.size(); ++run) {
        level.submeshes[run].first_index = static_cast<std::uint32_t>(level.indices.size());
        for (; piece < pieces.size() && pieces[piece].run == run; ++piece)
            for (const std::uint32_t v : pieces[piece].forms[chosen[piece]].indices)
                level.indices.push_back(pieces[piece].vertices[v]);
        level.submeshes[run].index_count =
            static_cast<std::uint32_t>(level.indices.size()) - level.submeshes[run].first_index;
    }
    return level;
}

}  // namespace

/// Pieces get coarser one by one, the one whose next form misses least first; whenever half of the triangles
/// are gone, that is a level.
std::vector<MeshLevel> mesh_levels(const Mesh& mesh) {
    std::vector<MeshLevel> levels;
    if (mesh.triangle_count() < fewest_triangles) return levels;
    std::vector<Submesh> runs = mesh.submeshes;
    if (runs.empty()) runs.push_back({MaterialId{}, 0, static_cast<std::uint32_t>(mesh.indices.size()), {}});
    std::vector<Piece> pieces = Pieces(mesh).of(runs);
    struct Change {
        double error_m;
        std::size_t piece, form;
    };
    std::vector<Change> changes;
    for (std::size_t i = 0; i < pieces.size(); ++i) {
        add_forms(pieces[i]);
        if (pieces.size() > 1) add_nothing(pieces[i]);
        for (std::size_t f = 1; f < pieces[i].forms.size(); ++f)
            changes.push_back({pieces[i].forms[f].error_m, i, f});
    }
    std::ranges::stable_sort(changes, {}, &Change::error_m);
    std::vector<std::size_t> chosen(pieces.size(), 0);
    std::size_t count = mesh.indices.size(), last = count;
    for (const Change& change : changes) {
        const auto& forms = pieces[change.piece].forms;
        count -= forms[chosen[change.piece]].indices.size() - forms[change.form].indices.size();
        chosen[change.piece] = change.form;
        if (2 * count > last || count == 0) continue;
        levels.push_back(put_together(runs, pieces, chosen, change.error_m));
        last = count;
    }
    return levels;
}

}  // namespace pivrak
