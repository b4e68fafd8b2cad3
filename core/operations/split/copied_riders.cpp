#include "core/operations/split/copied_riders.h"

#include "core/model/edits/branch_bounds.h"
#include "core/motion/evaluator.h"
#include "core/rig/paths/path_curve.h"

namespace pivrak {
namespace {

/// How long a rider with all it carries is along its leading axis [m].
double length_along(const Document& document, PartId id) {
    const Bounds bounds = branch_bounds(document, {id}, world_from_rest(document, id).inverse());
    return bounds.empty() ? 1 : bounds.size()[document.parts.find(id)->ride->axis];
}

/// The channel's value and all its keys, so much farther on.
void move_on(Document& document, Part& part, double by) {
    part.joint.along.value += by;
    const SharedTable<Clip> clips = document.clips;
    for (const Clip& clip : clips) {
        Clip changed = clip;
        for (Track& track : changed.tracks)
            if (track.channel == ChannelRef{part.id, ChannelKind::Along})
                for (Key& key : track.keys) key.value += by;
        if (changed != clip) document.clips.set(changed);
    }
}

/// Its keys go with its ride.
void leave_path(Document& document, Part& part) {
    part.ride.reset();
    part.joint.along = {};
    const SharedTable<Clip> clips = document.clips;
    for (const Clip& clip : clips) {
        Clip changed = clip;
        std::erase_if(changed.tracks, [&](const Track& t) {
            return t.channel == ChannelRef{part.id, ChannelKind::Along};
        });
        if (changed != clip) document.clips.set(changed);
    }
}

/// The image of a place; turns stay what they are, since what stands there is mirrored itself.
Frame copied_frame(const Frame& world, const CopyOptions& options, const Frame& image) {
    if (!options.mirror) return options.world_motion * world;
    Frame out = image;
    out.translation =
        world.translation - 2 * options.mirror->height(world.translation) * options.mirror->normal;
    return out;
}

}  // namespace

ArgumentSpec riders_argument(CopiedRiders usual) {
    return {"riders",
            ArgumentKind::Choice,
            "what rides a path: copies get places of their own along it, or leave it",
            false,
            usual == CopiedRiders::Apart ? "apart" : "off",
            {"apart", "off"}};
}

CopiedRiders copied_riders(const Arguments& arguments) {
    return arguments.text("riders") == "off" ? CopiedRiders::Off : CopiedRiders::Apart;
}

Result<std::size_t> place_copied_riders(const Document& before, Document& document, const BranchCopy& copy,
                                        const CopyOptions& options, CopiedRiders how, std::size_t ordinal,
                                        std::unordered_map<PartId, PartId>& last) {
    std::optional<Evaluator> evaluator;
    std::optional<Pose> pose;
    std::size_t count = 0;
    for (const auto& [original, copied] : copy.copy_of) {
        Part part = *document.parts.find(copied);
        const Part& source = *before.parts.find(original);
        if (!part.ride || part.ride->path != source.ride->path) continue;
        // Where its path is gone it stands where it rests.
        const Path* path = before.paths.find(part.ride->path);
        if (!path) continue;
        // One that is coupled to a copied one goes behind that.
        if (const auto ahead = copy.copy_of.find(source.ride->ahead); ahead != copy.copy_of.end()) {
            part.ride->ahead = ahead->second;
            document.parts.set(part);
            continue;
        }
        ++count;
        if (how == CopiedRiders::Off) {
            if (!evaluator) {
                PIVRAK_TRY(compiled, Evaluator::compile(before));
                evaluator = std::move(compiled);
                pose = evaluator->make_pose();
                evaluator->evaluate(0, *pose);
            }
            const Frame world = pose->world_from_part[*evaluator->part_slot(original)],
                        image = world_from_rest(document, copied);
            leave_path(document, part);
            const Frame parent = part.parent ? world_from_rest(document, part.parent) : Frame{};
            part.parent_from_rest = (parent.inverse() * copied_frame(world, options, image)).normalized();
        } else if (part.ride->ahead) {
            const auto [behind, first] = last.try_emplace(original, original);
            part.ride->ahead = behind->second;
            behind->second = copied;
        } else {
            const auto curve = PathCurve::make(*path);
            const double step = static_cast<double>(ordinal) * length_along(before, original);
            const bool room = !curve || curve->closed() || part.joint.along.value >= step;
            move_on(document, part, room ? -step : step);
        }
        document.parts.set(part);
    }
    return count;
}

}  // namespace pivrak
