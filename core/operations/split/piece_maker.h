#pragma once

#include <functional>
#include <unordered_map>

#include "core/geometry/mesh/regions.h"
#include "core/operations/intake/redo_cuts.h"
#include "core/operations/registry.h"

namespace pivrak {

/// Labels of a mesh under a division by its own shape. Pre: `is_repeatable(division)`.
TriangleLabels label_by(const Division& division, const Mesh& mesh);
/// Whether a division needs nothing but the mesh: by pieces, material, crease or group.
bool is_repeatable(const Division& division);

/// Makes the pieces that parts break into; parts that share a shape share its pieces too.
class PieceMaker {
public:
    using Label = std::function<TriangleLabels(const Mesh&)>;
    /// What a piece is called; an empty answer gives it a number in a series.
    using Name = std::function<std::string(const Document&, const Mesh&)>;

    PieceMaker(Outcome& out, Division division, Label label, Name name = {})
        : out_(out), division_(std::move(division)), label_(std::move(label)), name_(std::move(name)) {}

    /// Hangs a part for each piece under the part, which keeps no shape. Answers the number of pieces; one or
    /// none leaves the part as it is.
    std::size_t break_apart(PartId part);

    /// Hangs parts for given meshes, which are in the frame of the part's shape, under a part. The part loses
    /// its own shape.
    void hang(PartId part, std::vector<Mesh> pieces, const std::vector<std::string>& names);

private:
    struct Piece {
        ShapeId shape;
        std::string name;
        std::uint32_t label;
    };
    const std::vector<Piece>& pieces_of(const Shape& shape, const std::string& part_name);
    void add_piece(const Part& source, const Piece& piece);

    Outcome& out_;
    Division division_;
    Label label_;
    Name name_;
    std::unordered_map<ShapeId, std::vector<Piece>> made_;
};

}  // namespace pivrak
