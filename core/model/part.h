#pragma once

#include <nlohmann/json.hpp>
#include <span>
#include <string>
#include <vector>

#include "core/elements/lens/lens.h"
#include "core/elements/ride/ride.h"
#include "core/elements/tow/tow.h"
#include "core/geometry/frame.h"
#include "core/model/channel.h"
#include "core/model/control.h"
#include "core/model/origin.h"

namespace pivrak {

/// Which channels of a part are free: none; a turn about or a shift along one own axis, or both; three turns;
/// three shifts and three turns.
enum class JointKind : std::uint8_t { Fixed, Hinge, Slide, Cylinder, Ball, Free };

/// The channels of a kind of joint, in the order of their enum.
std::span<const ChannelKind> channels_of(JointKind kind);

struct Joint {
    JointKind kind = JointKind::Fixed;
    int axis = 0;  ///< of the part's own frame: 0 x, 1 y, 2 z; for hinge, slide and cylinder
    Channel turn, shift, along, travel;
    std::optional<Channel> size;  ///< of parts that can grow and shrink
    std::vector<Channel> own;     ///< shifts x, y, z and turns x, y, z; empty while all are as made

    bool has(ChannelKind kind) const;
    const Channel& channel(ChannelKind kind) const;
    void set_channel(ChannelKind kind, const Channel& channel);
    bool operator==(const Joint&) const = default;
};

/// A node of the tree: a frame (its pivot), rigid at rest, a shape that may be missing, and a joint.
///
///     world_from_part = world_from_parent * parent_from_rest * joint(channels)
///
/// A rider's path, or what tows it, takes the place of `world_from_parent * parent_from_rest`; but its size
/// is that of its parent all the same.
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
    bool locked = false;                   ///< cannot be picked in the view
    std::optional<ControlSymbol> control;  ///< of a datum that is a control
    std::optional<Ride> ride;
    std::optional<Tow> tow;
    std::optional<Lens> lens;  ///< of a datum that is a camera
    ChainId chain;             ///< whose plane this datum is and whose links it carries; mostly none
    Origin origin;
    nlohmann::json unknown = nlohmann::json::object();  ///< fields of newer files, kept and written back

    bool is_datum() const { return !shape; }
    bool is_control() const { return control.has_value(); }
    /// Whether it has a channel: one of its joint, its size, its place along a path, or the travel of its
    /// chain.
    bool has(ChannelKind kind) const {
        if (kind == ChannelKind::Travel) return bool(chain);
        return kind == ChannelKind::Along ? ride.has_value() : joint.has(kind);
    }
    /// Its channels: those of its joint, then its size, its place along a path and the travel of its chain.
    std::vector<ChannelKind> channels() const;
    bool operator==(const Part&) const = default;
};

/// Named selection of parts, in the order of their ids.
struct PartSet {
    SetId id;
    std::string name;
    std::vector<PartId> parts;
    bool operator==(const PartSet&) const = default;
};

}  // namespace pivrak
