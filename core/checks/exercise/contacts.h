#pragma once

#include <map>
#include <set>
#include <unordered_map>
#include <vector>

#include "core/geometry/near/clearance.h"
#include "core/motion/evaluator.h"

namespace pivrak {

/// Parts that come to touch each other as a machine moves. Left out are parts that touch at rest, those that
/// are fixed to each other, those that run in each other (a chain and its wheels, meshed gears, what a loop
/// closes), grounds, which wheels and feet stand on, and springs and cables, which give way.
class Contacts {
public:
    using Pair = std::pair<PartId, PartId>;  ///< the smaller id first

    Contacts(const Document& document, const Evaluator& evaluator);

    /// Pairs that touch in a pose; those of `known` are not asked. Surfaces are compared triangle by
    /// triangle.
    std::vector<Pair> touching(const Pose& pose, const std::set<Pair>& known) const;
    /// The same pairs are looked for from now on with the slots of another evaluator of this document.
    void use(const Evaluator& evaluator);

private:
    struct Body {
        PartId part, group;
        ShapeId shape;
        Frame part_from_shape;
        Bounds bounds;  ///< of the shape
        std::size_t slot = 0;
    };
    struct Placed;
    std::set<Pair> running_pairs() const;
    const ClearanceBody& body_of(ShapeId shape, double size) const;
    bool touch(const Body& a, const Body& b, const Pose& pose) const;

    const Document& document_;
    std::vector<Body> bodies_;
    std::set<Pair> left_out_;
    mutable std::map<std::pair<ShapeId, double>, ClearanceBody> made_;  ///< made when first asked for
};

}  // namespace pivrak
