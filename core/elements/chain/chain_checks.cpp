#include <fmt/format.h>

#include <algorithm>

#include "core/checks/clip_check.h"
#include "core/checks/drive/drive_mapper.h"
#include "core/checks/element_check.h"

namespace pivrak {
namespace {

ChannelRef turn(const ChainWheel& wheel) {
    return {wheel.part, ChannelKind::Turn};
}

std::string radius_words(const ChainWheel& wheel) {
    return fmt::format("r {}", short_length(wheel.radius_m));
}

/// From the wheel that power comes by to the chain, and on to every other wheel.
void map_loop(const Chain& chain, DriveMapper& out) {
    const ChannelRef travel{chain.frame, ChannelKind::Travel};
    const auto first = std::min_element(
        chain.wheels.begin(), chain.wheels.end(),
        [&](const ChainWheel& a, const ChainWheel& b) { return out.place(turn(a)) < out.place(turn(b)); });
    const bool from_travel = out.place(travel) < out.place(turn(*first));
    for (auto wheel = chain.wheels.begin(); wheel != chain.wheels.end(); ++wheel) {
        // A road wheel that rolls by its own is not turned by its track.
        const Coupling* own = out.coupling(turn(*wheel));
        if (wheel->teeth == 0 && own && own->as<Roll>()) continue;
        const std::string words = wheel->teeth > 0 ? fmt::format("{} T", wheel->teeth) : radius_words(*wheel);
        if (wheel == first && !from_travel)
            out.add(turn(*wheel), travel, words);
        else
            out.add(travel, turn(*wheel), words);
    }
    if (chain.take_up) out.add(travel, out.joint_channel(chain.take_up), "tightens");
}

/// The nearest joint that moves a tied end, if it is not what the run sets itself.
std::optional<ChannelRef> mover_of(PartId part, const Chain& chain, const DriveMapper& out) {
    const auto& parts = out.document().parts;
    for (const Part* p = parts.find(part); p; p = parts.find(p->parent)) {
        if (p->id == chain.take_up) return std::nullopt;
        if (p->ride) return ChannelRef{p->id, ChannelKind::Along};
        if (p->joint.kind == JointKind::Hinge || p->joint.kind == JointKind::Slide)
            return out.joint_channel(p->id);
        if (p->joint.kind == JointKind::Cylinder) return ChannelRef{p->id, ChannelKind::Shift};
        if (p->joint.kind == JointKind::Free) return out.moving_channel(*p);
    }
    return std::nullopt;
}

std::string wheel_words(const Chain& chain, PartId part) {
    for (const ChainWheel& wheel : chain.wheels)
        if (wheel.part == part) return radius_words(wheel);
    return "";
}

/// What moves its ends or pays it out moves what it pulls, and the wheels it goes over.
void map_run(const Chain& chain, DriveMapper& out) {
    const ChannelRef travel{chain.frame, ChannelKind::Travel};
    std::vector<ChannelRef> moved;
    for (std::size_t i = 0; i < chain.wheels.size(); ++i)
        if (chain.turns(i)) moved.push_back(turn(chain.wheels[i]));
    const bool drum_pulled = chain.travels() && chain.take_up == chain.wheels.front().part;
    if (chain.take_up && !drum_pulled) moved.insert(moved.begin(), out.joint_channel(chain.take_up));
    std::vector<ChannelRef> movers;
    if (chain.travels()) {
        const ChannelRef drum = turn(chain.wheels.front());
        const bool from_travel = drum_pulled || out.place(travel) < out.place(drum);
        out.add(from_travel ? travel : drum, from_travel ? drum : travel, "pays out");
        movers.push_back(travel);
    }
    if (!chain.travels() || drum_pulled)
        for (const ChainTie& tie : {chain.ends->from, chain.ends->to})
            if (const auto mover = mover_of(tie.part, chain, out)) movers.push_back(*mover);
    if (drum_pulled) {
        // Then the end moves all of it.
        for (const ChannelRef mover : movers)
            if (mover != travel) out.add(mover, travel, "draws");
        movers = {travel};
    }
    for (const ChannelRef mover : movers)
        for (const ChannelRef to : moved)
            out.add(mover, to, to.part() == chain.take_up ? "pulls" : wheel_words(chain, to.part()));
}

}  // namespace

/// Whether it fits its wheels is looked at all over a clip.
void check(const Chain&, ElementCheck&) {}

/// `chain_course` looks at chains.
void watch(const Chain&, ClipCheck&) {}

void map(const Chain& chain, DriveMapper& out) {
    chain.ends ? map_run(chain, out) : map_loop(chain, out);
}

}  // namespace pivrak
