// A mirror F turns a rotation by a vector w into one by det(F) F w: the sign of a turn flips unless its axis
// is the mirrored one, while a shift flips only along the mirrored axis.
#include "core/model/edits/branch_copy.h"

#include <algorithm>
#include <map>
#include <unordered_set>

#include "core/geometry/mesh/mesh_edit.h"
#include "core/model/names/names.h"
#include "core/model/rig_parts.h"

namespace pivrak {

int axis_of(const Joint& joint, ChannelKind kind) {
    switch (kind) {
        case ChannelKind::ShiftX:
        case ChannelKind::TurnX:
            return 0;
        case ChannelKind::ShiftY:
        case ChannelKind::TurnY:
            return 1;
        case ChannelKind::ShiftZ:
        case ChannelKind::TurnZ:
            return 2;
        default:
            return joint.axis;
    }
}

namespace {

void change_sign(Channel& channel) {
    channel.value = -channel.value;
    if (channel.limits) channel.limits = Limits{-channel.limits->max, -channel.limits->min};
}

class Copier {
public:
    Copier(Document& document, FreeNames& names, const CopyOptions& options)
        : document_(document), options_(options), names_(names) {
        if (!options.mirror) return;
        const Vec3& n = options.mirror->normal;
        Eigen::Index largest = 0;
        n.cwiseAbs().maxCoeff(&largest);
        sides_ = largest == 0   ? SideAxis::FrontRear
                 : largest == 1 ? SideAxis::LeftRight
                                : SideAxis::UpperLower;
    }

    /// `tree` may be older than other copies made of the same parts: those hang beside them.
    BranchCopy run(const std::vector<PartId>& parts, const Tree& tree) {
        const std::vector<PartId> tops = options_.shape_alone ? parts : tops_of(document_, parts);
        std::vector<PartId> originals;
        for (const PartId top : tops) {
            if (options_.shape_alone) {
                originals.push_back(top);
                continue;
            }
            const auto branch = tree.branch(top);
            originals.insert(originals.end(), branch.begin(), branch.end());
        }
        for (const PartId id : originals) world_[id] = world_from_rest(document_, id);
        for (const PartId id : originals) copy_part(id);
        for (const PartId top : tops) out_.tops.push_back(out_.copy_of.at(top));
        if (!options_.shape_alone) {
            copy_couplings();
            copy_tracks();
        }
        return std::move(out_);
    }

private:
    void copy_part(PartId id) {
        Part part = *document_.parts.find(id);
        const PartId original_parent = part.parent;
        part.id = document_.new_id<PartId>();
        part.origin = {};
        const int flipped = options_.mirror ? flipped_axis(world_.at(id)) : -1;
        const Frame world =
            options_.mirror ? mirrored_frame(world_.at(id), flipped) : options_.world_motion * world_.at(id);
        const auto copied_parent = out_.copy_of.find(original_parent);
        if (copied_parent != out_.copy_of.end()) part.parent = copied_parent->second;
        const Frame parent_world = copied_parent != out_.copy_of.end()
                                       ? copies_world_.at(copied_parent->second)
                                   : original_parent ? world_from_rest(document_, original_parent)
                                                     : Frame{};
        part.parent_from_rest = (parent_world.inverse() * world).normalized();
        if (flipped >= 0) mirror_part(part, flipped);
        if (options_.shape_alone) {
            part.joint = {};
            part.ride.reset();
            part.tow.reset();
        }
        part.name = names_.take(options_.mirror ? mirrored_name(part.name) : part.name);
        document_.parts.set(part);
        copies_world_[part.id] = world;
        flipped_[part.id] = flipped;
        out_.copy_of[id] = part.id;
        out_.parts.push_back(part.id);
    }

    std::string mirrored_name(const std::string& name) const { return swap_sides(name, sides_); }

    /// The own axis nearest to the mirror's normal: flipping that one leaves the others as they look.
    int flipped_axis(const Frame& world) const {
        const Vec3 own = world.rotation.conjugate() * options_.mirror->normal;
        Eigen::Index largest = 0;
        own.cwiseAbs().maxCoeff(&largest);
        return static_cast<int>(largest);
    }

    Frame mirrored_frame(const Frame& world, int flipped) const {
        const Vec3& n = options_.mirror->normal;
        const Mat3 image = Mat3::Identity() - 2 * n * n.transpose();
        Mat3 flip = Mat3::Identity();
        flip(flipped, flipped) = -1;
        return {Quat(Mat3(image * world.rotation.toRotationMatrix() * flip)).normalized(),
                world.translation - 2 * options_.mirror->height(world.translation) * n};
    }

    void mirror_part(Part& part, int flipped) {
        const Joint original = part.joint;
        for (const ChannelKind kind :
             {ChannelKind::Turn, ChannelKind::Shift, ChannelKind::ShiftX, ChannelKind::ShiftY,
              ChannelKind::ShiftZ, ChannelKind::TurnX, ChannelKind::TurnY, ChannelKind::TurnZ}) {
            if (sign(original, kind, flipped) > 0) continue;
            Channel channel = part.joint.channel(kind);
            change_sign(channel);
            part.joint.set_channel(kind, channel);
        }
        if (!part.shape) return;
        // part <- shape becomes flip . (part <- shape) . flip', with flip' across the shape's own yz-plane.
        Mat3 flip = Mat3::Identity(), across = Mat3::Identity();
        flip(flipped, flipped) = -1;
        across(0, 0) = -1;
        part.part_from_shape = {
            Quat(Mat3(flip * part.part_from_shape.rotation.toRotationMatrix() * across)).normalized(),
            flip * part.part_from_shape.translation};
        part.shape = image_of(part.shape);
    }

    static double sign(const Joint& joint, ChannelKind kind, int flipped) {
        if (kind >= ChannelKind::Along && is_of_part(kind)) return 1;
        const bool along = axis_of(joint, kind) == flipped;
        return is_turn(kind) == along ? 1 : -1;
    }

    ShapeId image_of(ShapeId id) {
        const auto [known, added] = images_.try_emplace(id);
        if (!added) return known->second;
        const Shape& shape = *document_.shapes.find(id);
        known->second = document_.new_id<ShapeId>();
        document_.shapes.set(
            make_shape(known->second, swap_sides(shape.name, sides_), mirrored(*shape.mesh, Vec3::UnitX())));
        return known->second;
    }

    double sign_on_copy(const ChannelRef& copy) const {
        const auto found = flipped_.find(copy.part());
        if (found == flipped_.end()) return rig_.flipped.contains(copy) ? -1 : 1;
        const int flipped = found->second;
        return flipped < 0 ? 1 : sign(document_.parts.find(copy.part())->joint, copy.kind, flipped);
    }

    void copy_couplings() {
        MirrorSign sign;
        if (options_.mirror) sign = [&](ChannelRef copy) { return sign_on_copy(copy); };
        rig_ = copy_rig(document_, out_.copy_of, sign);
        out_.couplings = rig_.couplings;
    }

    /// None of what was not copied.
    OwnerId copy_of(OwnerId original) const {
        if (const auto part = out_.copy_of.find(PartId{original.value}); part != out_.copy_of.end())
            return part->second;
        const auto element = rig_.elements.find(original);
        return element == rig_.elements.end() ? OwnerId{} : element->second;
    }

    void copy_tracks() {
        const SharedTable<Clip> clips = document_.clips;
        for (const Clip& clip : clips) {
            Clip changed = clip;
            for (const Track& track : clip.tracks) {
                const OwnerId copy = copy_of(track.channel.owner);
                if (!copy) continue;
                const double factor = sign_on_copy({copy, track.channel.kind});
                Track& copied = changed.track_or_new({copy, track.channel.kind});
                copied = track;
                copied.channel = {copy, track.channel.kind};
                for (Key& key : copied.keys) key.scale_value(factor);
                ++out_.tracks;
            }
            if (changed != clip) document_.clips.set(changed);
        }
    }

    Document& document_;
    const CopyOptions& options_;
    FreeNames& names_;
    SideAxis sides_ = SideAxis::LeftRight;
    BranchCopy out_;
    std::unordered_map<PartId, Frame> world_, copies_world_;
    std::unordered_map<PartId, int> flipped_;
    RigCopies rig_;
    std::map<ShapeId, ShapeId> images_;
};

}  // namespace

std::vector<PartId> tops_of(const Document& document, const std::vector<PartId>& parts) {
    const std::unordered_set<PartId> given(parts.begin(), parts.end());
    std::vector<PartId> tops;
    for (const PartId part : parts) {
        PartId above = document.parts.find(part)->parent;
        while (above && !given.contains(above)) above = document.parts.find(above)->parent;
        if (!above) tops.push_back(part);
    }
    return tops;
}

BranchCopy copy_branches(Document& document, const std::vector<PartId>& parts, const CopyOptions& options) {
    return std::move(copies_of_branches(document, parts, {options}).front());
}

std::vector<BranchCopy> copies_of_branches(Document& document, const std::vector<PartId>& parts,
                                           const std::vector<CopyOptions>& ways) {
    const Tree tree(document);
    FreeNames names(document);
    std::vector<BranchCopy> copies;
    for (const CopyOptions& way : ways) copies.push_back(Copier(document, names, way).run(parts, tree));
    return copies;
}

}  // namespace pivrak
