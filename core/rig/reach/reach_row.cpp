#include "core/rig/reach/reach_row.h"

#include <fmt/format.h>

#include <algorithm>

namespace pivrak {

Result<ReachRow> reach_row(const Document& document, const Reach& reach) {
    ReachRow row;
    bool found = false;
    for (const Part* p = document.parts.find(reach.tip); p && !found; p = document.parts.find(p->parent)) {
        found = p->id == reach.root;
        if (p->ride || p->tow)
            return Error{"reach.rider",
                         fmt::format("'{}' hangs where its {} puts it, so no row goes through it", p->name,
                                     p->ride ? "path" : "hitch"),
                         p->name};
        if (p->joint.kind != JointKind::Fixed) row.joints.push_back(p->id);
        if (row.joints.size() > 50)
            return Error{"reach.long", "a row of more than 50 joints is too long to reach", p->name};
    }
    const std::string tip = name_of(document, reach.tip);
    if (!found)
        return Error{"reach.not_below",
                     fmt::format("'{}' does not hang below '{}'", tip, name_of(document, reach.root)), tip};
    std::reverse(row.joints.begin(), row.joints.end());
    for (const PartId joint : row.joints)
        for (const ChannelKind kind : channels_of(document.parts.find(joint)->joint.kind))
            row.channels.push_back({joint, kind});
    if (row.channels.empty())
        return Error{"reach.nothing_moves",
                     fmt::format("nothing from '{}' to '{}' can move: give them joints first",
                                 name_of(document, reach.root), tip),
                     tip};
    return row;
}

Result<ReachSolver> build_reach(const Document& document, const Reach& reach, const ReachRow& row,
                                const std::vector<bool>& held) {
    std::vector<const Part*> parts;
    for (const Part* p = document.parts.find(reach.tip); p; p = document.parts.find(p->parent)) {
        parts.push_back(p);
        if (p->id == reach.root) break;
    }
    std::reverse(parts.begin(), parts.end());
    ReachModel model;
    MotionBody body;
    std::uint32_t column = 0;
    for (const Part* part : parts) {
        // The root's rest is in what the row hangs in.
        if (part != parts.front()) body.frame = body.frame * part->parent_from_rest;
        body = model.tree.add_joint(body, part->joint.kind, part->joint.axis, column);
        for (const ChannelKind kind : channels_of(part->joint.kind)) {
            const Channel& own = part->joint.channel(kind);
            model.limits.push_back(own.limits.value_or(range_of(kind)));
            ++column;
        }
    }
    model.tip_rest = body.frame.translation;
    body.frame.translation = body.frame.point(reach.place);
    model.tip = body;
    model.held = held;
    model.asks_place = !reach.not_place;
    model.asks_turn = reach.turns;
    model.turn_weight = reach.turn_weight;
    const std::vector<double> rest(row.channels.size(), 0.0);
    MotionFrames frames = model.tree.make_frames();
    model.tree.place(rest, frames);
    double length = 0;
    Vec3 last = frames.point.front();
    for (const Vec3& point : frames.point) length += (point - last).norm(), last = point;
    model.size_m = std::max(length + (frames.body(model.tip).translation - last).norm(), 1e-6);
    // The motion that stands farthest from the line from root to tip, or that in the middle.
    const Vec3 way = frames.body(model.tip).translation - frames.point.front();
    double farthest = 1e-3 * model.size_m;
    model.elbow = static_cast<std::uint32_t>(frames.point.size() / 2);
    for (std::size_t i = 0; i < frames.point.size() && way.norm() > 0; ++i) {
        const double off = (frames.point[i] - frames.point.front()).cross(way.normalized()).norm();
        if (off > farthest) farthest = off, model.elbow = static_cast<std::uint32_t>(i);
    }
    return ReachSolver(std::move(model));
}

}  // namespace pivrak
