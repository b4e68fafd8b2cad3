#include "core/operations/intake/redo_cuts.h"

#include <algorithm>
#include <map>
#include <numeric>

#include "core/geometry/mesh/cutting.h"
#include "core/geometry/near/surface_finder.h"
#include "core/operations/arguments.h"
#include "core/operations/split/piece_maker.h"

namespace pivrak {
namespace {

using nlohmann::json;

CutHalves cut_again(const Division& division, const Mesh& mesh) {
    CutOptions options;
    options.cap = division.value("cap", true);
    options.cap_material = MaterialId{division.value("material", 0u)};
    return cut_mesh(mesh, {triple(division.at("point")), triple(division.at("normal")).normalized()},
                    options);
}

class Redoer {
public:
    explicit Redoer(const std::vector<OldPiece>& old) : old_(old) { out_.pieces.resize(old.size()); }

    RedoneCuts run(const Mesh& lump) {
        std::vector<std::size_t> all(old_.size());
        std::iota(all.begin(), all.end(), std::size_t{0});
        redo(lump, all, json::array());
        return std::move(out_);
    }

private:
    using Members = std::vector<std::size_t>;

    const json& step(std::size_t member, std::size_t depth) const { return old_[member].cuts.at(depth); }

    /// The members all come out of `mesh`, by the steps behind those of `path`.
    void redo(const Mesh& mesh, const Members& members, const json& path) {
        std::map<std::string, Members> by_division;
        for (const std::size_t m : members)
            by_division[step(m, path.size()).at("division").dump()].push_back(m);
        for (const auto& [text, group] : by_division) redo_division(mesh, json::parse(text), group, path);
    }

    void redo_division(const Mesh& mesh, const Division& division, const Members& members, const json& path) {
        std::map<std::uint32_t, Members> by_label;
        for (const std::size_t m : members)
            by_label[step(m, path.size()).at("label").get<std::uint32_t>()].push_back(m);
        std::vector<Mesh> pieces = divided(mesh, division, by_label);
        const bool named = !is_repeatable(division);
        const auto piece_of = named ? by_number(by_label, pieces) : by_place(by_label, pieces, path.size());
        std::vector<bool> used(pieces.size(), false);
        for (const auto& [label, group] : by_label) {
            const auto found = piece_of.find(label);
            if (found == piece_of.end()) continue;
            used[found->second] = true;
            hand_on(pieces[found->second], group, with_step(path, division, label, pieces[found->second]));
        }
        std::uint32_t next = by_label.rbegin()->first;
        for (std::size_t i = 0; i < pieces.size(); ++i)
            if (!used[i] && !pieces[i].indices.empty()) {
                json cuts = with_step(path, division, ++next, pieces[i]);
                out_.unused.push_back({std::move(pieces[i]), std::move(cuts)});
            }
    }

    static json with_step(json path, const Division& division, std::uint32_t label, const Mesh& piece) {
        path.push_back(cut_step(division, label, mesh_bounds(piece)));
        return path;
    }

    void hand_on(const Mesh& piece, const Members& members, const json& path) {
        Members deeper;
        for (const std::size_t m : members)
            if (old_[m].cuts.size() == path.size())
                out_.pieces[m] = NewPiece{piece, path};
            else
                deeper.push_back(m);
        if (!deeper.empty()) redo(piece, deeper, path);
    }

    std::vector<Mesh> divided(const Mesh& mesh, const Division& division,
                              const std::map<std::uint32_t, Members>& by_label) const {
        if (is_repeatable(division)) {
            const TriangleLabels labels = label_by(division, mesh);
            return extract_labelled(mesh, labels.of_triangle, labels.count);
        }
        const std::string by = division.value("by", "");
        std::vector<Mesh> pieces;
        if (by == "plane" && division.contains("point")) {
            CutHalves halves = cut_again(division, mesh);
            pieces.push_back(std::move(halves.above));
            pieces.push_back(std::move(halves.below));
        }
        if (by == "faces") pieces = nearest_faces(mesh, by_label);
        return pieces;
    }

    /// Each face goes to the label whose old surface is nearest to its middle.
    std::vector<Mesh> nearest_faces(const Mesh& mesh,
                                    const std::map<std::uint32_t, Members>& by_label) const {
        std::vector<const Mesh*> surfaces;
        std::vector<std::uint32_t> label_of;
        for (const auto& [label, members] : by_label)
            for (const std::size_t m : members) {
                if (!old_[m].surface) return {};
                surfaces.push_back(old_[m].surface.get());
                label_of.push_back(label);
            }
        const SurfaceFinder finder(surfaces);
        std::vector<std::uint32_t> labels(mesh.triangle_count(), 0);
        for (std::size_t t = 0; t < labels.size(); ++t)
            if (const auto on =
                    finder.nearest((mesh.corner(t, 0) + mesh.corner(t, 1) + mesh.corner(t, 2)) / 3.0))
                labels[t] = label_of[on->mesh];
        return extract_labelled(mesh, labels, by_label.rbegin()->first + 1);
    }

    static std::map<std::uint32_t, std::size_t> by_number(const std::map<std::uint32_t, Members>& by_label,
                                                          const std::vector<Mesh>& pieces) {
        std::map<std::uint32_t, std::size_t> out;
        for (const auto& entry : by_label)
            if (entry.first < pieces.size() && !pieces[entry.first].indices.empty())
                out[entry.first] = entry.first;
        return out;
    }

    /// Pairs of old and new that fit best first.
    std::map<std::uint32_t, std::size_t> by_place(const std::map<std::uint32_t, Members>& by_label,
                                                  const std::vector<Mesh>& pieces, std::size_t depth) const {
        struct Pair {
            double off;
            std::uint32_t label;
            std::size_t piece;
        };
        std::vector<Bounds> bounds;
        for (const Mesh& piece : pieces) bounds.push_back(mesh_bounds(piece));
        std::vector<Pair> pairs;
        for (const auto& [label, members] : by_label) {
            const Bounds old = box_of(members, depth);
            if (old.empty()) continue;
            const double reach = 0.5 * old.size().norm();
            for (std::size_t i = 0; i < bounds.size(); ++i) {
                const double resized = (bounds[i].size() - old.size()).norm(),
                             off = (bounds[i].middle() - old.middle()).norm() + resized;
                if (resized <= reach && off < reach) pairs.push_back({off, label, i});
            }
        }
        std::stable_sort(pairs.begin(), pairs.end(),
                         [](const Pair& a, const Pair& b) { return a.off < b.off; });
        std::map<std::uint32_t, std::size_t> out;
        std::vector<bool> used(pieces.size(), false);
        for (const Pair& pair : pairs)
            if (!used[pair.piece] && out.try_emplace(pair.label, pair.piece).second) used[pair.piece] = true;
        return out;
    }

    /// As noted when it was made; projects of before that have the surfaces themselves.
    Bounds box_of(const Members& members, std::size_t depth) const {
        Bounds box;
        const json& noted = step(members.front(), depth);
        if (noted.contains("box")) {
            box.min = triple(noted["box"].at(0));
            box.max = triple(noted["box"].at(1));
            return box;
        }
        for (const std::size_t m : members)
            if (old_[m].surface) box.add(mesh_bounds(*old_[m].surface));
        return box;
    }

    const std::vector<OldPiece>& old_;
    RedoneCuts out_;
};

}  // namespace

json cut_step(const Division& division, std::uint32_t label, const Bounds& box) {
    return {{"division", division},
            {"label", label},
            {"box", {{box.min.x(), box.min.y(), box.min.z()}, {box.max.x(), box.max.y(), box.max.z()}}}};
}

RedoneCuts redo_cuts(const Mesh& lump, const std::vector<OldPiece>& pieces) {
    return Redoer(pieces).run(lump);
}

}  // namespace pivrak
