#include "core/operations/split/piece_maker.h"

#include "core/model/edits/edits.h"
#include "core/model/names/names.h"

namespace pivrak {

bool is_repeatable(const Division& division) {
    const std::string by = division.is_object() ? division.value("by", "") : "";
    return by == "pieces" || by == "material" || by == "crease" || by == "group";
}

TriangleLabels label_by(const Division& division, const Mesh& mesh) {
    const std::string by = division.at("by").get<std::string>();
    if (by == "material") return label_by_material(mesh);
    if (by == "group") return label_by_group(mesh);
    const double weld = division.value("weld", 1e-5);
    if (by == "crease") return label_by_crease(mesh, division.value("angle", 30 * rad_per_deg), weld);
    return label_loose_pieces(mesh, {.weld_m = weld});
}

std::size_t PieceMaker::break_apart(PartId id) {
    Part source = *out_.document.parts.find(id);
    const Shape* shape = out_.document.shapes.find(source.shape);
    if (!shape) return 0;
    const std::vector<Piece>& pieces = pieces_of(*shape, source.name);
    if (pieces.size() < 2) return pieces.size();
    for (const Piece& piece : pieces) add_piece(source, piece);
    source.shape = {};
    source.part_from_shape = {};
    out_.document.parts.set(source);
    return pieces.size();
}

void PieceMaker::hang(PartId id, std::vector<Mesh> meshes, const std::vector<std::string>& names) {
    Part source = *out_.document.parts.find(id);
    for (std::size_t i = 0; i < meshes.size(); ++i) {
        const ShapeId shape = out_.document.new_id<ShapeId>();
        out_.document.shapes.set(make_shape(shape, names[i], std::move(meshes[i])));
        add_piece(source, {shape, names[i], static_cast<std::uint32_t>(i)});
    }
    source.shape = {};
    source.part_from_shape = {};
    out_.document.parts.set(source);
}

const std::vector<PieceMaker::Piece>& PieceMaker::pieces_of(const Shape& shape,
                                                            const std::string& part_name) {
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
        std::string name = name_ ? name_(out_.document, pieces[i]) : std::string();
        name = name.empty() ? series_name(part_name, i + 1, pieces.size()) : part_name + " " + name;
        const ShapeId id = out_.document.new_id<ShapeId>();
        out_.document.shapes.set(make_shape(id, name, std::move(pieces[i])));
        known->second.push_back({id, name, static_cast<std::uint32_t>(i)});
    }
    return known->second;
}

/// The pivot goes to the middle of the piece, its axes stay those of the source.
void PieceMaker::add_piece(const Part& source, const Piece& made) {
    const Shape& shape = *out_.document.shapes.find(made.shape);
    Part piece;
    piece.id = out_.document.new_id<PartId>();
    piece.name = made.name;
    piece.parent = source.id;
    piece.shape = made.shape;
    piece.shown = source.shown;
    piece.parent_from_rest.translation = mesh_bounds(*shape.mesh, source.part_from_shape).middle();
    piece.part_from_shape = piece.parent_from_rest.inverse() * source.part_from_shape;
    if (source.origin.source) {
        piece.origin = source.origin;
        // What was joined from several places cannot be found again once it is divided.
        const Division division = source.origin.joined.empty() ? division_ : Division{{"by", "joined"}};
        piece.origin.joined.clear();
        Bounds box = mesh_bounds(*shape.mesh, source.origin.node_from_shape);
        box.min /= source.origin.scale;
        box.max /= source.origin.scale;
        piece.origin.cuts.push_back(cut_step(division, made.label, box));
    }
    out_.document.parts.set(piece);
    out_.created.push_back(piece.id);
}

}  // namespace pivrak
