#include "core/checks/pivots/limit_facts.h"

#include <algorithm>
#include <unordered_set>

#include "core/checks/pivots/swing_frame.h"
#include "core/model/limit_ends.h"

namespace pivrak {
namespace {

/// Radii and heights about the motion's axis that a thing lies within, by the ball round its box.
struct Zone {
    double r_min = 1e300, r_max = 0, z_min = 1e300, z_max = -1e300;

    void add(const Bounds& box, const Frame& motion_from_mesh) {
        const Vec3 middle = motion_from_mesh.point(box.middle());
        const double ball = 0.5 * box.size().norm(), r = middle.head<2>().norm();
        r_min = std::min(r_min, std::max(0.0, r - ball));
        r_max = std::max(r_max, r + ball);
        z_min = std::min(z_min, middle.z() - ball);
        z_max = std::max(z_max, middle.z() + ball);
    }
    bool meets(const Zone& o, double up) const {
        return r_min <= o.r_max && o.r_min <= r_max && z_min - up <= o.z_max && o.z_min <= z_max + up;
    }
};

/// Links of chains that go round what a part carries: they go where it goes.
std::unordered_set<PartId> links_round(const Document& document, PartId id) {
    std::unordered_set<PartId> links;
    for (const Chain& chain : document.chains) {
        const bool round =
            std::any_of(chain.wheels.begin(), chain.wheels.end(),
                        [&](const ChainWheel& wheel) { return is_below(document, wheel.part, id); });
        if (round) links.insert(chain.links.begin(), chain.links.end());
    }
    return links;
}

/// What gives a part its place instead of how it rests: the nearest of its carriers, or itself, that rides or
/// is towed; none for what stands where it rests.
PartId leader_of(const Document& document, const Part& part) {
    const Part* at = &part;
    while (at && !at->ride && !at->tow) at = document.parts.find(at->parent);
    return at ? at->id : PartId{};
}

}  // namespace

LimitFacts::Scene LimitFacts::scene_of(const Document& document, PartId id) {
    const SwingMotion motion = *swing_motion(document, id);
    const Frame motion_from_world = motion.world_from_motion.inverse();
    // Beyond an open end it is looked half a turn, or half a metre, around.
    Scene scene{{},
                {},
                closed(*document.parts.find(id)->joint.channel(motion.channel.kind).limits,
                       is_turn(motion.channel.kind) ? pi / 2 : 0.5)};
    const auto member = [&](const Part& part) {
        return Member{document.shapes.find(part.shape)->mesh,
                      motion_from_world * world_from_rest(document, part.id) * part.part_from_shape, part.id};
    };
    const std::vector<PartId> branch = shaped_parts(document, Tree(document).branch(id));
    const std::unordered_set<PartId> moving(branch.begin(), branch.end());
    const std::unordered_set<PartId> links = links_round(document, id);
    Zone swept;
    for (const PartId carried : branch) {
        const Part& part = *document.parts.find(carried);
        scene.moving.push_back(member(part));
        swept.add(document.shapes.find(part.shape)->bounds, scene.moving.back().motion_from_mesh);
    }
    // A shift takes everything along the axis, and turns nothing.
    const double up = motion.kind == SweepKind::Shift
                          ? std::max(std::abs(scene.limits.min), std::abs(scene.limits.max))
                          : 0;
    const PartId leader = leader_of(document, *document.parts.find(id));
    for (const Part& part : document.parts) {
        const Shape* shape = document.shapes.find(part.shape);
        if (!shape || shape->bounds.empty() || moving.contains(part.id) || links.contains(part.id)) continue;
        // Where two riders rest says nothing about how they stand to each other.
        if (leader_of(document, part) != leader) continue;
        const Member other = member(part);
        Zone zone;
        zone.add(shape->bounds, other.motion_from_mesh);
        if (swept.meets(zone, up)) scene.near.push_back(other);
    }
    return scene;
}

const LimitFacts::Contacts* LimitFacts::of(const Document& document, PartId id, const Progress& progress) {
    Scene scene = scene_of(document, id);
    if (const auto known = entries_.find(id); known != entries_.end() && known->second.scene == scene) {
        known->second.used = true;
        return &known->second.contacts;
    }
    Contacts contacts;
    if (!scene.moving.empty() && !scene.near.empty() && scene.limits.max > scene.limits.min) {
        SwingOptions options;
        options.from = scene.limits.min;
        options.to = scene.limits.max;
        options.steps = 0;
        if (!document.parts.find(id)->joint.has(ChannelKind::Turn)) options.tolerance = 1e-5;
        for (const Member& member : scene.near) options.neighbours.push_back(member.part);
        const auto check = swing_check(document, id, options, progress);
        if (!check) return nullptr;
        contacts = {check->below, check->above};
    }
    return &(entries_[id] = {std::move(scene), contacts, true}).contacts;
}

void LimitFacts::forget_unused() {
    std::erase_if(entries_, [](const auto& entry) { return !entry.second.used; });
    for (auto& [part, entry] : entries_) entry.used = false;
}

}  // namespace pivrak
