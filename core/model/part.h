#pragma once

#include <nlohmann/json.hpp>
#include <string>

#include "core/geometry/frame.h"
#include "core/model/channel.h"

namespace pivrak {

/// Which channels of a part are free.
enum class JointKind : std::uint8_t { Fixed, Hinge };

struct Joint {
    JointKind kind = JointKind::Fixed;
    int axis = 0;  ///< of the part's own frame: 0 x, 1 y, 2 z
    Channel turn;  ///< used by a hinge [rad]
    bool operator==(const Joint&) const = default;
};

/// A node of the tree: a rigid frame (its pivot), a shape that may be missing, and a joint.
///
///     world_from_part = world_from_parent * parent_from_rest * joint(channels)
///
/// The shape hangs in the part's frame by `part_from_shape`, so a pivot moves by changing two frames and
/// never touches a vertex.
struct Part {
    PartId id;
    std::string name;
    PartId parent;  ///< none for a part that stands on its own
    Frame parent_from_rest;
    ShapeId shape;  ///< none for a datum
    Frame part_from_shape;
    Joint joint;
    bool shown = true;
    nlohmann::json unknown = nlohmann::json::object();  ///< fields of newer files, kept and written back

    bool is_datum() const { return !shape; }
    bool operator==(const Part&) const = default;
};

}  // namespace pivrak
