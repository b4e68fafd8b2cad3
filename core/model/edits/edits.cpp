#include "core/model/edits/edits.h"

#include <fmt/format.h>

#include <algorithm>
#include <unordered_set>
#include <utility>

#include "core/model/rig_parts.h"

namespace pivrak {

void move_pivot(Document& document, PartId id, const Frame& world_from_new) {
    Part part = *document.parts.find(id);
    const Frame old_from_new = (world_from_rest(document, id).inverse() * world_from_new).normalized();
    const Frame new_from_old = old_from_new.inverse();
    part.parent_from_rest = (part.parent_from_rest * old_from_new).normalized();
    // A datum has no shape to keep where it is.
    if (part.shape) part.part_from_shape = (new_from_old * part.part_from_shape).normalized();
    if (part.control) part.control->middle_m = new_from_old.point(part.control->middle_m);
    document.parts.set(part);
    keep_places(document, id, new_from_old);
    const Tree tree(document);
    for (const PartId child_id : tree.children(id)) {
        Part child = *document.parts.find(child_id);
        child.parent_from_rest = (new_from_old * child.parent_from_rest).normalized();
        document.parts.set(child);
    }
}

Result<void> reparent(Document& document, PartId id, PartId parent) {
    Part part = *document.parts.find(id);
    if (parent && is_below(document, parent, id)) {
        const std::string& parent_name = document.parts.find(parent)->name;
        return Error{"tree.loop",
                     parent == id ? fmt::format("'{}' cannot carry itself", part.name)
                                  : fmt::format("'{}' cannot go under '{}', which it carries itself: {}",
                                                part.name, parent_name, part_path(document, parent)),
                     part.name};
    }
    const Frame world = world_from_rest(document, id);
    part.parent_from_rest =
        parent ? (world_from_rest(document, parent).inverse() * world).normalized() : world;
    part.parent = parent;
    document.parts.set(part);
    return {};
}

namespace {

/// Every channel of one part becomes the same channel of another.
void hand_channels_over(Document& document, PartId from, PartId to) {
    replace_in_rig(document, from, to);
    const SharedTable<Clip> clips = document.clips;
    for (Clip clip : clips) {
        for (Track& track : clip.tracks)
            if (track.channel.part() == from) track.channel.owner = to;
        std::sort(clip.tracks.begin(), clip.tracks.end(),
                  [](const Track& a, const Track& b) { return a.channel < b.channel; });
        document.clips.set(clip);
    }
}

}  // namespace

PartId put_frame_above(Document& document, PartId id, const std::string& name, bool takes_joint) {
    Part part = *document.parts.find(id);
    Part above;
    above.id = document.new_id<PartId>();
    above.name = name;
    above.parent = part.parent;
    above.parent_from_rest = part.parent_from_rest;
    if (takes_joint) {
        above.joint = std::exchange(part.joint, {});
        above.ride = std::exchange(part.ride, std::nullopt);
        above.tow = std::exchange(part.tow, std::nullopt);
        hand_channels_over(document, id, above.id);
    }
    part.parent = above.id;
    part.parent_from_rest = {};
    document.parts.set(above);
    document.parts.set(part);
    return above.id;
}

void align(Document& document, PartId id, const Frame& goal, AlignWhat what) {
    Part part = *document.parts.find(id);
    Frame world = world_from_rest(document, id);
    if (what != AlignWhat::Axes) world.translation = goal.translation;
    if (what != AlignWhat::Place) world.rotation = goal.rotation;
    const Frame parent = part.parent ? world_from_rest(document, part.parent) : Frame{};
    part.parent_from_rest = (parent.inverse() * world).normalized();
    document.parts.set(part);
}

namespace {

void drop_from_sets(Document& document, const std::unordered_set<PartId>& gone) {
    const SharedTable<PartSet> sets = document.sets;
    for (const PartSet& set : sets) {
        PartSet kept = set;
        if (std::erase_if(kept.parts, [&](PartId part) { return gone.contains(part); }))
            document.sets.set(kept);
    }
}

std::size_t drop_tracks(Document& document, const std::unordered_set<PartId>& gone) {
    std::size_t dropped = 0;
    const SharedTable<Clip> clips = document.clips;
    for (const Clip& clip : clips) {
        Clip kept = clip;
        const std::size_t count =
            std::erase_if(kept.tracks, [&](const Track& t) { return gone.contains(t.channel.part()); });
        if (count) document.clips.set(kept);
        dropped += count;
    }
    return dropped;
}

}  // namespace

Removal remove_branch(Document& document, PartId part) {
    const std::vector<PartId> branch = Tree(document).branch(part);
    const std::unordered_set<PartId> gone(branch.begin(), branch.end());
    drop_from_sets(document, gone);
    Removal removal{branch.size(), drop_from_rig(document, gone), drop_tracks(document, gone)};
    for (const PartId id : branch) document.parts.erase(id);
    drop_unused_shapes(document);
    return removal;
}

void drop_unused_shapes(Document& document) {
    std::unordered_set<ShapeId> used;
    for (const Part& part : document.parts) used.insert(part.shape);
    std::vector<ShapeId> unused;
    for (const Shape& shape : document.shapes)
        if (!used.contains(shape.id)) unused.push_back(shape.id);
    for (const ShapeId id : unused) document.shapes.erase(id);
}

}  // namespace pivrak
