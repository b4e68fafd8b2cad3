#include "core/model/edits/stand.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <unordered_map>
#include <unordered_set>

#include "core/geometry/mesh/mesh_edit.h"
#include "core/model/edits/branch_bounds.h"
#include "core/model/edits/branch_copy.h"
#include "core/model/rig_parts.h"

namespace pivrak {
namespace {

/// Whether any joint is free or any key stands among the parts.
bool anything_moves(const Document& document, const std::unordered_set<PartId>& parts) {
    for (const PartId id : parts)
        if (document.parts.find(id)->joint.kind != JointKind::Fixed) return true;
    for (const Clip& clip : document.clips)
        for (const Track& track : clip.tracks)
            if (parts.contains(track.channel.part())) return true;
    return false;
}

class Standing {
public:
    Standing(Document& document, const std::vector<PartId>& given)
        : document_(document), tops_(tops_of(document, given)) {
        const Tree tree(document);
        for (const PartId top : tops_)
            for (const PartId part : tree.branch(top)) branch_.insert(part);
    }

    void turn(const Quat& by) {
        if (anything_moves(document_, branch_)) return move_tops(Frame{by, Vec3(0, 0, 0)});
        // Own axes stay as they stand against the world; the shape takes the turn.
        const Frame motion{by, Vec3(0, 0, 0)}, back = motion.inverse();
        std::unordered_map<PartId, Frame> world;
        for (const PartId id : branch_) world[id] = motion * world_from_rest(document_, id) * back;
        for (const PartId id : branch_) {
            Part part = *document_.parts.find(id);
            const auto inside = world.find(part.parent);
            const Frame parent = inside != world.end() ? inside->second
                                 : part.parent         ? world_from_rest(document_, part.parent)
                                                       : Frame{};
            part.parent_from_rest = (parent.inverse() * world.at(id)).normalized();
            part.part_from_shape = (motion * part.part_from_shape).normalized();
            changed_.push_back(part);
        }
        for (Part& part : changed_) document_.parts.set(std::move(part));
        changed_.clear();
    }

    void scale(double factor) {
        scale_shapes(factor);
        std::unordered_set<PartId> tops(tops_.begin(), tops_.end());
        for (const PartId id : branch_) {
            Part part = *document_.parts.find(id);
            if (tops.contains(id) && part.parent) {
                // Under a carrier that keeps its size the whole branch is scaled about the world's origin.
                const Frame parent = world_from_rest(document_, part.parent);
                part.parent_from_rest.translation =
                    parent.inverse().point(factor * parent.point(part.parent_from_rest.translation));
            } else {
                part.parent_from_rest.translation *= factor;
            }
            part.part_from_shape.translation *= factor;
            scale_origin(part.origin, factor);
            scale_shifts(part.joint, factor);
            if (part.control) part.control->middle_m *= factor, part.control->half_m *= factor;
            document_.parts.set(part);
        }
        const std::unordered_set<OwnerId> scaled = scale_rig(document_, branch_, factor);
        scale_ways(scaled, factor);
        scale_keys(scaled, factor);
    }

    void shift(const Vec3& by) { move_tops(Frame{Quat(1, 0, 0, 0), by}); }

    /// Of the parts given, or of everything that is stood up.
    Bounds bounds(const std::vector<PartId>& of) const {
        return branch_bounds(document_, of.empty() ? tops_ : of);
    }

    void move_tops(const Frame& motion) {
        for (const PartId id : tops_) {
            Part part = *document_.parts.find(id);
            const Frame parent = part.parent ? world_from_rest(document_, part.parent) : Frame{};
            part.parent_from_rest = (parent.inverse() * motion * parent * part.parent_from_rest).normalized();
            document_.parts.set(part);
        }
    }

private:
    void scale_shapes(double factor) {
        std::unordered_set<ShapeId> outside;
        for (const Part& part : document_.parts)
            if (!branch_.contains(part.id)) outside.insert(part.shape);
        std::unordered_map<ShapeId, ShapeId> scaled_of;
        for (const PartId id : branch_) {
            Part part = *document_.parts.find(id);
            if (!part.shape) continue;
            const auto [known, added] = scaled_of.try_emplace(part.shape, part.shape);
            if (added) {
                const Shape& shape = *document_.shapes.find(part.shape);
                if (outside.contains(part.shape)) known->second = document_.new_id<ShapeId>();
                document_.shapes.set(make_shape(known->second, shape.name, scaled(*shape.mesh, factor)));
            }
            part.shape = known->second;
            document_.parts.set(part);
        }
    }

    static void scale_shifts(Joint& joint, double factor) {
        for (const ChannelKind kind :
             {ChannelKind::Shift, ChannelKind::ShiftX, ChannelKind::ShiftY, ChannelKind::ShiftZ}) {
            Channel channel = joint.channel(kind);
            scale_channel(channel, factor);
            joint.set_channel(kind, channel);
        }
    }

    static void scale_channel(Channel& channel, double factor) {
        channel.value *= factor;
        if (channel.limits)
            channel.limits = Limits{channel.limits->min * factor, channel.limits->max * factor};
    }

    /// How far riders and chains have gone, on paths and chains that are larger now.
    void scale_ways(const std::unordered_set<OwnerId>& scaled, double factor) {
        for (const PartId id : branch_) {
            Part part = *document_.parts.find(id);
            for (const ChannelKind kind : {ChannelKind::Along, ChannelKind::Travel}) {
                if (!is_larger({id, kind}, scaled)) continue;
                Channel channel = part.joint.channel(kind);
                scale_channel(channel, factor);
                part.joint.set_channel(kind, channel);
            }
            if (!(part == *document_.parts.find(id))) document_.parts.set(part);
        }
    }

    bool is_larger(ChannelRef channel, const std::unordered_set<OwnerId>& scaled) const {
        if (dimension_of(channel.kind) != Dimension::Length) return false;
        const Part* part = document_.parts.find(channel.part());
        if (!part) return scaled.contains(channel.owner);
        if (!branch_.contains(part->id)) return false;
        if (channel.kind == ChannelKind::Along) return part->ride && scaled.contains(part->ride->path);
        if (channel.kind == ChannelKind::Travel) return scaled.contains(part->chain);
        return true;
    }

    void scale_keys(const std::unordered_set<OwnerId>& scaled, double factor) {
        const SharedTable<Clip> clips = document_.clips;
        for (const Clip& clip : clips) {
            Clip changed = clip;
            for (Track& track : changed.tracks)
                if (is_larger(track.channel, scaled))
                    for (Key& key : track.keys) key.scale_value(factor);
            if (changed != clip) document_.clips.set(changed);
        }
    }

    Document& document_;
    std::vector<PartId> tops_;
    std::unordered_set<PartId> branch_;
    std::vector<Part> changed_;
};

constexpr std::array<std::string_view, 6> direction_words{"+x", "-x", "+y", "-y", "+z", "-z"};

Vec3 direction_vector(int direction) {
    return (direction % 2 ? -1.0 : 1.0) * Vec3::Unit(direction / 2);
}

}  // namespace

void move_branches(Document& document, const std::vector<PartId>& tops, const Frame& motion) {
    Standing(document, tops).move_tops(motion);
}

void stand_up(Document& document, const std::vector<PartId>& tops, const StandOptions& options) {
    Standing standing(document, tops);
    if (angle_between(options.turn, Quat(1, 0, 0, 0)) > 0) standing.turn(options.turn);
    if (options.scale != 1) standing.scale(options.scale);
    Vec3 shift(0, 0, 0);
    if (options.centred) {
        const Bounds bounds = standing.bounds({});
        if (!bounds.empty()) shift.head<2>() = -bounds.middle().head<2>();
    }
    if (options.to_ground) {
        const Bounds bounds = standing.bounds(options.touching);
        if (!bounds.empty()) shift.z() = -bounds.min.z();
    }
    if (!shift.isZero(0)) standing.shift(shift);
}

std::optional<Quat> upright_turn(int up, int front) {
    if (up / 2 == front / 2) return std::nullopt;
    const Vec3 z = direction_vector(up), x = direction_vector(front), y = z.cross(x);
    Mat3 core_from_present;
    core_from_present << x.transpose(), y.transpose(), z.transpose();
    return Quat(core_from_present).normalized();
}

std::optional<int> direction_from(std::string_view word) {
    const auto found = std::find(direction_words.begin(), direction_words.end(), word);
    if (found == direction_words.end()) return std::nullopt;
    return static_cast<int>(found - direction_words.begin());
}

std::string_view direction_word(int direction) {
    return direction_words[static_cast<std::size_t>(direction)];
}

std::optional<UnitGuess> guess_unit(double longest, LengthUnit unit) {
    // Common practice, no source: vehicles, machines and props measure from a centimetre to a hundred metres.
    if (longest <= 0 || (longest >= 0.01 && longest <= 100)) return std::nullopt;
    const auto guess = [&](double factor, std::string_view was, std::string_view read_as) {
        return UnitGuess{factor, fmt::format("longest side {}: {} read as {}?", format_length(longest, unit),
                                             was, read_as)};
    };
    if (longest > 1000) return guess(1e-3, "millimetres", "metres");
    if (longest > 100) return guess(1e-2, "centimetres", "metres");
    return longest * 1000 <= 100 ? guess(1000, "metres", "millimetres") : guess(100, "metres", "centimetres");
}

}  // namespace pivrak
