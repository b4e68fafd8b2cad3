#include "core/rig/linkages/linkage_loops.h"

#include <fmt/format.h>

#include <algorithm>
#include <unordered_map>

#include "core/rig/linkages/mobility.h"

namespace pivrak {
namespace {

/// From a part up to the outermost that carries it.
std::vector<PartId> carriers_of(const Document& document, PartId part) {
    std::vector<PartId> row;
    for (const Part* p = document.parts.find(part); p && row.size() <= document.parts.size();
         p = document.parts.find(p->parent))
        row.push_back(p->id);
    std::reverse(row.begin(), row.end());
    return row;
}

std::size_t common_length(const std::vector<PartId>& a, const std::vector<PartId>& b) {
    return static_cast<std::size_t>(std::mismatch(a.begin(), a.end(), b.begin(), b.end()).first - a.begin());
}

/// Builds the motions of all that lies in loops, below what carries them.
class LoopBuilder {
public:
    LoopBuilder(const Document& document, const LinkageLoops& loops) : document_(document), loops_(loops) {
        std::uint32_t column = 0;
        for (const PartId joint : loops.joints) {
            first_column_[joint] = column;
            column += static_cast<std::uint32_t>(channels_of(document.parts.find(joint)->joint.kind).size());
        }
    }

    /// A part's frame, behind its own joint; what is in no loop stands as at rest.
    MotionBody body(PartId part) {
        if (part == loops_.top) return {};
        if (const auto known = bodies_.find(part); known != bodies_.end()) return known->second;
        const Part& own = *document_.parts.find(part);
        MotionBody at = body(own.parent);
        at.frame = at.frame * own.parent_from_rest;
        if (const auto column = first_column_.find(part); column != first_column_.end())
            at = tree.add_joint(at, own.joint.kind, own.joint.axis, column->second);
        return bodies_[part] = at;
    }

    MotionTree tree;

private:
    const Document& document_;
    const LinkageLoops& loops_;
    std::unordered_map<PartId, std::uint32_t> first_column_;
    std::unordered_map<PartId, MotionBody> bodies_;
};

/// How large a mechanism is: the farthest from its middle that a closure or a joint stands, twice.
double size_of(const std::vector<Vec3>& places) {
    Vec3 middle(0, 0, 0);
    for (const Vec3& place : places) middle += place / static_cast<double>(places.size());
    double radius = 0;
    for (const Vec3& place : places) radius = std::max(radius, (place - middle).norm());
    return std::max(2 * radius, 1e-6);
}

/// Turns that are all but parallel were meant to be: what they lack opens the loops as they move.
double skew_of(const MotionTree& tree, const MotionFrames& frames) {
    constexpr double meant_parallel = 0.02;
    double skew = 0;
    for (std::size_t i = 0; i < tree.axes().size(); ++i)
        for (std::size_t j = 0; j < i; ++j) {
            if (!tree.axes()[i].turns || !tree.axes()[j].turns) continue;
            const double sine = frames.direction[i].cross(frames.direction[j]).norm();
            if (sine < meant_parallel) skew = std::max(skew, sine);
        }
    return skew < 1e-9 ? 0 : skew;
}

}  // namespace

Result<LinkageLoops> linkage_loops(const Document& document, const std::vector<Closure>& closures) {
    LinkageLoops loops;
    std::vector<PartId> top;
    bool first = true;
    for (const Closure& closure : closures) {
        const auto a = carriers_of(document, closure.a), b = carriers_of(document, closure.b);
        if (a.empty() || b.empty())
            return Error{"rig.missing_part", "a closure names a part that does not exist", "closures"};
        if (closure.a == closure.b)
            return Error{"linkage.itself",
                         fmt::format("'{}' cannot be pinned to itself", name_of(document, closure.a)),
                         name_of(document, closure.a)};
        const std::size_t common = common_length(a, b);
        const std::vector<PartId> carrier(a.begin(), a.begin() + static_cast<std::ptrdiff_t>(common));
        if (first)
            top = carrier;
        else
            top.resize(common_length(top, carrier));
        first = false;
        for (const auto* row : {&a, &b})
            for (std::size_t i = common; i < row->size(); ++i) {
                const Part& part = *document.parts.find((*row)[i]);
                if (part.ride || part.tow)
                    return Error{"linkage.rider",
                                 fmt::format("'{}' hangs where its {} puts it, so no loop goes through it",
                                             part.name, part.ride ? "path" : "hitch"),
                                 part.name};
                if (part.joint.kind != JointKind::Fixed &&
                    std::find(loops.joints.begin(), loops.joints.end(), part.id) == loops.joints.end())
                    loops.joints.push_back(part.id);
            }
    }
    loops.top = top.empty() ? PartId{} : top.back();
    std::stable_sort(loops.joints.begin(), loops.joints.end(), [&](PartId a, PartId b) {
        return carriers_of(document, a).size() < carriers_of(document, b).size();
    });
    for (const PartId joint : loops.joints)
        for (const ChannelKind kind : channels_of(document.parts.find(joint)->joint.kind))
            loops.channels.push_back({joint, kind});
    if (loops.channels.empty() && !closures.empty())
        return Error{
            "linkage.nothing_moves",
            fmt::format("nothing between '{}' and '{}' can move: give them joints first",
                        name_of(document, closures.front().a), name_of(document, closures.front().b)),
            name_of(document, closures.front().a)};
    return loops;
}

std::vector<bool> locked_columns(const Document& document, const std::vector<ChannelRef>& channels) {
    std::vector<bool> locked;
    for (const ChannelRef channel : channels)
        locked.push_back(document.parts.find(channel.part())->joint.channel(channel.kind).locked);
    return locked;
}

Result<BuiltLinkage> build_linkage(const Document& document, const std::vector<Closure>& closures,
                                   const std::function<bool(ChannelRef)>& is_given) {
    PIVRAK_TRY(loops, linkage_loops(document, closures));
    LoopBuilder builder(document, loops);
    LinkageModel model;
    for (const PartId joint : loops.joints) builder.body(joint);
    for (const Closure& closure : closures)
        model.closures.push_back(
            closure_rows(closure, builder.tree, builder.body(closure.a), builder.body(closure.b)));
    model.tree = std::move(builder.tree);
    for (const ChannelRef channel : loops.channels) {
        const Channel& own = document.parts.find(channel.part())->joint.channel(channel.kind);
        model.given.push_back(own.locked || is_given(channel));
        model.limits.push_back(own.limits.value_or(range_of(channel.kind)));
    }
    std::vector<double> rest(loops.channels.size(), 0.0);
    MotionFrames frames = model.tree.make_frames();
    model.tree.place(rest, frames);
    std::vector<Vec3> places = frames.point;
    for (const ClosureRows& rows : model.closures) {
        places.push_back(frames.body(rows.a).translation);
        places.push_back(frames.body(rows.b).translation);
    }
    model.size_m = size_of(places);
    model.slop_m = model.size_m * (1e-9 + skew_of(model.tree, frames));
    model.loose = is_loose(model);
    LinkageSolver solver(model);
    LinkageRoom room = solver.make_room();
    const double apart = solver.settle(rest, room);
    if (apart > model.slop_m) {
        // What does not close at rest moves on as it is; how far it is apart is told.
        model.slop_m = 1.5 * apart;
        solver = LinkageSolver(model);
    }
    return BuiltLinkage{std::move(solver), loops.channels, std::move(rest), apart};
}

}  // namespace pivrak
