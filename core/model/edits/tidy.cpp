#include "core/model/edits/tidy.h"

#include <fmt/format.h>

#include <algorithm>
#include <map>
#include <unordered_set>

#include "core/model/edits/branch_bounds.h"
#include "core/model/edits/branch_copy.h"
#include "core/model/edits/edits.h"
#include "core/model/names/names.h"
#include "core/model/rig_parts.h"

namespace pivrak {
namespace {

/// Parts that something else than the tree refers to, or that are of use as they are: cameras and controls.
std::unordered_set<PartId> referred_to(const Document& document) {
    std::unordered_set<PartId> referred;
    for (const Part& part : document.parts)
        if (part.joint.kind != JointKind::Fixed || part.lens || part.is_control()) referred.insert(part.id);
    referred.merge(parts_of_rig(document));
    for (const Clip& clip : document.clips)
        for (const Track& track : clip.tracks) referred.insert(track.channel.part());
    for (const PartSet& set : document.sets) referred.insert(set.parts.begin(), set.parts.end());
    return referred;
}

/// Datums below which no shape stands, that nothing refers to; children before parents.
std::vector<PartId> empty_nodes(const Document& document) {
    const auto referred = referred_to(document);
    const Tree tree(document);
    std::vector<PartId> order = tree.all(), empty;
    std::unordered_set<PartId> gone;
    std::reverse(order.begin(), order.end());
    for (const PartId id : order) {
        if (!document.parts.find(id)->is_datum() || referred.contains(id)) continue;
        const auto children = tree.children(id);
        if (!std::all_of(children.begin(), children.end(), [&](PartId c) { return gone.contains(c); }))
            continue;
        gone.insert(id);
        empty.push_back(id);
    }
    return empty;
}

std::vector<PartId> single_chains(const Document& document) {
    const auto referred = referred_to(document);
    const Tree tree(document);
    std::vector<PartId> chains;
    for (const PartId id : tree.all())
        if (document.parts.find(id)->is_datum() && !referred.contains(id) && tree.children(id).size() == 1)
            chains.push_back(id);
    return chains;
}

/// All parts of a name but the first.
std::vector<PartId> duplicates(const Document& document) {
    std::unordered_set<std::string> seen;
    std::vector<PartId> later;
    for (const PartId id : Tree(document).all())
        if (!seen.insert(document.parts.find(id)->name).second) later.push_back(id);
    return later;
}

bool was_stretched(const Part& part) {
    return part.origin.mirrored ||
           (part.origin.stretch - Vec3::Constant(part.origin.stretch.mean())).cwiseAbs().maxCoeff() >
               1e-4 * std::abs(part.origin.stretch.mean());
}

std::string stretch_words(const Part& part) {
    const Vec3& s = part.origin.stretch;
    return fmt::format("'{}' was scaled {:.3g} × {:.3g} × {:.3g}{}: now part of its shape", part.name, s.x(),
                       s.y(), s.z(), part.origin.mirrored ? ", mirrored" : "");
}

}  // namespace

std::string_view fault_word(TreeFaultKind kind) {
    switch (kind) {
        case TreeFaultKind::EmptyNode:
            return "empty";
        case TreeFaultKind::SingleChain:
            return "chains";
        case TreeFaultKind::DuplicateName:
            return "names";
        case TreeFaultKind::BakedScale:
            return "scale_notes";
    }
    return "";
}

std::vector<TreeFault> tree_faults(const Document& document) {
    std::map<PartId, std::vector<TreeFault>> by_part;
    const auto add = [&](TreeFaultKind kind, PartId part, std::string message) {
        by_part[part].push_back({kind, part, std::move(message)});
    };
    const auto name = [&](PartId part) { return document.parts.find(part)->name; };
    const Tree tree(document);
    std::unordered_set<PartId> empty;
    for (const PartId part : empty_nodes(document)) {
        empty.insert(part);
        add(TreeFaultKind::EmptyNode, part, fmt::format("'{}' has no shape and carries none", name(part)));
    }
    for (const PartId part : single_chains(document))
        if (!empty.contains(part))
            add(TreeFaultKind::SingleChain, part,
                fmt::format("'{}' only hands on '{}'", name(part), name(tree.children(part).front())));
    std::map<std::string, std::size_t> uses;
    for (const Part& part : document.parts) ++uses[part.name];
    for (const PartId part : duplicates(document))
        add(TreeFaultKind::DuplicateName, part,
            fmt::format("{} parts are called '{}'", uses[name(part)], name(part)));
    for (const Part& part : document.parts)
        if (was_stretched(part)) add(TreeFaultKind::BakedScale, part.id, stretch_words(part));
    std::vector<TreeFault> faults;
    for (const PartId part : tree.all())
        for (TreeFault& fault : by_part[part]) faults.push_back(std::move(fault));
    return faults;
}

void dissolve(Document& document, PartId id) {
    const Part part = *document.parts.find(id);
    const Tree tree(document);
    for (const PartId child : tree.children(id)) {
        Part moved = *document.parts.find(child);
        moved.parent_from_rest = (part.parent_from_rest * moved.parent_from_rest).normalized();
        moved.parent = part.parent;
        document.parts.set(moved);
    }
    remove_branch(document, id);
}

std::size_t mend_tree(Document& document, TreeFaultKind kind) {
    std::vector<PartId> parts;
    switch (kind) {
        case TreeFaultKind::EmptyNode:
            parts = empty_nodes(document);
            for (const PartId part : parts) remove_branch(document, part);
            break;
        case TreeFaultKind::SingleChain:
            parts = single_chains(document);
            for (const PartId part : parts) dissolve(document, part);
            break;
        case TreeFaultKind::DuplicateName: {
            parts = duplicates(document);
            FreeNames names(document);
            for (const PartId id : parts) {
                Part part = *document.parts.find(id);
                part.name = names.take(part.name);
                document.parts.set(part);
            }
            break;
        }
        case TreeFaultKind::BakedScale: {
            const SharedTable<Part> all = document.parts;
            for (const Part& found : all) {
                if (!was_stretched(found)) continue;
                Part part = found;
                part.origin.stretch = Vec3(1, 1, 1);
                part.origin.mirrored = false;
                document.parts.set(part);
                parts.push_back(part.id);
            }
            break;
        }
    }
    return parts.size();
}

std::size_t flatten(Document& document, PartId top) {
    const auto referred = referred_to(document);
    std::vector<PartId> branch = Tree(document).branch(top);
    branch.erase(branch.begin());
    // From the leaves up, so that what hangs below a node has left before it goes.
    std::reverse(branch.begin(), branch.end());
    std::size_t gone = 0;
    for (const PartId id : branch) {
        const Part& part = *document.parts.find(id);
        if (part.is_datum() && !referred.contains(id)) {
            dissolve(document, id);
            ++gone;
        }
    }
    for (const PartId id : Tree(document).branch(top)) {
        const Part& part = *document.parts.find(id);
        // What a moving part carries must go on moving with it.
        if (id != top && part.parent != top &&
            document.parts.find(part.parent)->joint.kind == JointKind::Fixed)
            (void)reparent(document, id, top);
    }
    return gone;
}

PartId group_parts(Document& document, const std::vector<PartId>& given, const std::string& name) {
    const std::vector<PartId> parts = tops_of(document, given);
    PartId common = document.parts.find(parts.front())->parent;
    for (const PartId part : parts)
        while (common && !is_below(document, part, common)) common = document.parts.find(common)->parent;
    const Bounds bounds = branch_bounds(document, parts);
    Part group;
    group.id = document.new_id<PartId>();
    group.name = FreeNames(document).take(name);
    group.parent = common;
    Frame world;
    if (!bounds.empty()) world.translation = Vec3(bounds.middle().x(), bounds.middle().y(), bounds.min.z());
    group.parent_from_rest =
        common ? (world_from_rest(document, common).inverse() * world).normalized() : world;
    document.parts.set(group);
    for (const PartId part : parts) (void)reparent(document, part, group.id);
    return group.id;
}

}  // namespace pivrak
