#include <fmt/format.h>

#include <unordered_map>

#include "core/geometry/pieces.h"
#include "core/model/edits.h"
#include "core/operations/all_operations.h"

namespace pivrak {
namespace {

/// Names in a series, `steel 01` to `steel 23`, as wide as the largest number.
std::string series_name(const std::string& base, std::size_t number, std::size_t count) {
    return fmt::format("{} {:0{}}", base, number, std::to_string(count).size());
}

std::string material_name(const Document& document, const Mesh& mesh) {
    const Material* material =
        mesh.submeshes.empty() ? nullptr : document.materials.find(mesh.submeshes.front().material);
    return material ? material->name : std::string();
}

/// Makes the shapes that a shape breaks into; parts that share it share them too.
class Breaker {
public:
    using Label = std::function<TriangleLabels(const Mesh&)>;
    Breaker(Outcome& out, Label label, bool name_by_material)
        : out_(out), label_(std::move(label)), name_by_material_(name_by_material) {}

    /// Answers the number of pieces; one or none leaves the part as it is.
    std::size_t break_apart(PartId id) {
        Part source = *out_.document.parts.find(id);
        const Shape* shape = out_.document.shapes.find(source.shape);
        if (!shape) return 0;
        const std::vector<ShapeId>& pieces = pieces_of(*shape, source.name);
        if (pieces.size() < 2) return pieces.size();
        for (std::size_t i = 0; i < pieces.size(); ++i) add_piece(source, pieces[i]);
        source.shape = {};
        source.part_from_shape = {};
        out_.document.parts.set(source);
        return pieces.size();
    }

private:
    const std::vector<ShapeId>& pieces_of(const Shape& shape, const std::string& part_name) {
        const auto [known, added] = made_.try_emplace(shape.id);
        if (!added) return known->second;
        const std::shared_ptr<const Mesh> mesh = shape.mesh;
        const TriangleLabels labels = label_(*mesh);
        if (labels.count < 2) {
            known->second.resize(labels.count);
            return known->second;
        }
        std::vector<Mesh> pieces = extract_labelled(*mesh, labels.of_triangle, labels.count);
        for (std::size_t i = 0; i < pieces.size(); ++i) {
            std::string name = name_by_material_ ? material_name(out_.document, pieces[i]) : std::string();
            name = name.empty() ? series_name(part_name, i + 1, pieces.size()) : part_name + " " + name;
            const ShapeId id = out_.document.new_id<ShapeId>();
            out_.document.shapes.set(make_shape(id, name, std::move(pieces[i])));
            known->second.push_back(id);
        }
        return known->second;
    }

    /// The pivot goes to the middle of the piece, its axes stay those of the source.
    void add_piece(const Part& source, ShapeId shape_id) {
        const Shape& shape = *out_.document.shapes.find(shape_id);
        Part piece;
        piece.id = out_.document.new_id<PartId>();
        piece.name = shape.name;
        piece.parent = source.id;
        piece.shape = shape_id;
        piece.parent_from_rest.translation = mesh_bounds(*shape.mesh, source.part_from_shape).middle();
        piece.part_from_shape = piece.parent_from_rest.inverse() * source.part_from_shape;
        out_.document.parts.set(piece);
        out_.created.push_back(piece.id);
    }

    Outcome& out_;
    Label label_;
    bool name_by_material_;
    std::unordered_map<ShapeId, std::vector<ShapeId>> made_;
};

Result<Outcome> split(const Document& document, const Arguments& a, const OperationContext& context,
                      const Breaker::Label& label, bool by_material) {
    Outcome out{document};
    Breaker breaker(out, label, by_material);
    const std::vector<PartId> parts = a.parts("parts");
    std::vector<std::string> whole;
    for (std::size_t i = 0; i < parts.size(); ++i) {
        if (!context.progress.go_on(static_cast<double>(i) / static_cast<double>(parts.size()),
                                    "breaking apart"))
            return Error{"split.cancelled", "cancelled; the project is as it was", ""};
        const std::size_t pieces = breaker.break_apart(parts[i]);
        if (pieces < 2)
            whole.push_back(fmt::format("'{}' {}", document.parts.find(parts[i])->name,
                                        pieces == 0   ? "has no shape"
                                        : by_material ? "has one material"
                                                      : "is one piece"));
    }
    if (out.created.empty())
        return Error{"split.nothing", fmt::format("nothing to break apart: {}", fmt::join(whole, ", ")), ""};
    drop_unused_shapes(out.document);
    out.messages.push_back(fmt::format("{} pieces", out.created.size()));
    if (!whole.empty()) out.messages.push_back(fmt::format("left as they are: {}", fmt::join(whole, ", ")));
    out.readings["pieces"] = out.created.size();
    return out;
}

}  // namespace

void add_split_operations(Registry& registry) {
    registry.add(
        {"split.pieces",
         "Break apart by loose pieces",
         "Makes a part of every connected run of faces; the source carries them.",
         {parts_argument("parts to break apart"),
          {"weld", ArgumentKind::Length, "vertices this near count as one", false, 1e-5, {}}},
         [](const Document& d, const Arguments& a, const OperationContext& c) -> Result<Outcome> {
             const double weld = a.number("weld");
             if (weld < 0)
                 return Error{"split.weld",
                              fmt::format("a weld distance of {} is below zero", format_length(weld)),
                              "weld"};
             return split(
                 d, a, c, [weld](const Mesh& mesh) { return label_loose_pieces(mesh, {.weld_m = weld}); },
                 false);
         }});
    registry.add({"split.material",
                  "Break apart by material",
                  "Makes a part of the faces of each material; the source carries them.",
                  {parts_argument("parts to break apart")},
                  [](const Document& d, const Arguments& a, const OperationContext& c) {
                      return split(d, a, c, label_by_material, true);
                  }});
}

}  // namespace pivrak
