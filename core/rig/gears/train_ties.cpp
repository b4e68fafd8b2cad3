#include "core/rig/gears/train_ties.h"

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>

#include "core/geometry/direction.h"
#include "core/model/driven_index.h"
#include "core/rig/chains/chain_loop.h"

namespace pivrak {
namespace {

constexpr double same_axis_rad = 1e-3;

Vec3 joint_axis(const Document& document, PartId part) {
    return world_from_rest(document, part).axis(document.parts.find(part)->joint.axis);
}

/// A part and all that carries it, from the part upwards.
std::vector<PartId> carriers(const Document& document, PartId part) {
    std::vector<PartId> all;
    for (const Part* p = document.parts.find(part); p; p = document.parts.find(p->parent)) {
        all.push_back(p->id);
        if (all.size() > document.parts.size()) break;
    }
    return all;
}

bool coaxial(const PairMember& member, const Vec3& place, const Vec3& axis) {
    if (axis.cross(member.axis).norm() > same_axis_rad) return false;
    const Vec3 off = place - member.centre, across = off - off.dot(member.axis) * member.axis;
    return across.norm() < 1e-4 + 1e-3 * std::abs(member.size);
}

/// Motion of one member seen from a part: its own channel, and turns of what stands between the two about its
/// axis.
struct SeenFrom {
    std::vector<TieTerm> terms;
    std::vector<PartId> parting;  ///< joints between them that do not turn about its axis
};

/// Joints between a member's carrier and the part it is seen from: those above the member add, those above
/// that part take off.
SeenFrom seen_from(const Document& document, ChannelRef channel, const PairMember& member, PartId from) {
    SeenFrom seen{{{channel, 1.0, 1}}, {}};
    const auto above = carriers(document, document.parts.find(channel.part())->parent),
               below = carriers(document, from);
    const auto add = [&](const std::vector<PartId>& these, const std::vector<PartId>& others, long sign) {
        for (const PartId id : these) {
            if (std::find(others.begin(), others.end(), id) != others.end()) return;
            const Part& part = *document.parts.find(id);
            if (part.joint.kind == JointKind::Fixed && !part.ride && !part.tow) continue;
            const Vec3 axis = joint_axis(document, id);
            const bool turns = part.joint.kind == JointKind::Hinge &&
                               coaxial(member, world_from_rest(document, id).translation, axis);
            if (turns && !member.slides)
                seen.terms.push_back(
                    {{id, ChannelKind::Turn},
                     axis.dot(member.axis) < 0 ? -static_cast<double>(sign) : static_cast<double>(sign),
                     axis.dot(member.axis) < 0 ? -sign : sign});
            else
                seen.parting.push_back(id);
        }
    };
    add(above, below, 1);
    add(below, above, -1);
    return seen;
}

struct SeenPair {
    SeenFrom driver, driven;
};

/// Both members seen from the carrier of one of them, such that fewer joints part them.
SeenPair seen_pair(const Document& document, const GearPair& pair, const std::array<PairMember, 2>& members) {
    const auto from = [&](PartId carrier) {
        return SeenPair{seen_from(document, pair.driver, members[0], carrier),
                        seen_from(document, pair.driven, members[1], carrier)};
    };
    const PartId of_driver = document.parts.find(pair.driver.part())->parent,
                 of_driven = document.parts.find(pair.driven.part())->parent;
    SeenPair best = from(of_driven);
    if (of_driver == of_driven) return best;
    SeenPair other = from(of_driver);
    const auto parting = [](const SeenPair& s) { return s.driver.parting.size() + s.driven.parting.size(); };
    return parting(other) < parting(best) ? other : best;
}

/// Terms of one channel put together; those that cancel go.
std::vector<TieTerm> gathered(const std::vector<TieTerm>& terms) {
    std::vector<TieTerm> out;
    for (const TieTerm& term : terms) {
        const auto same =
            std::find_if(out.begin(), out.end(), [&](const TieTerm& o) { return o.channel == term.channel; });
        if (same == out.end()) {
            out.push_back(term);
        } else {
            same->share += term.share;
            same->whole = same->whole != 0 && term.whole != 0 ? same->whole + term.whole : 0;
        }
    }
    std::erase_if(out, [](const TieTerm& term) { return std::abs(term.share) < 1e-12; });
    return out;
}

double sign_of(double value) {
    return value < 0 ? -1 : 1;
}

/// Direction in which a pitch point at `arm` from an axis moves along `way` as it turns.
double sense(const PairMember& member, const Vec3& arm, const Vec3& way) {
    return sign_of(member.axis.cross(arm).dot(way));
}

/// Both pitch surfaces move alike where they touch, on the line between the axes.
std::array<double, 2> parallel_shares(const PairMember& a, const PairMember& b, bool same_side) {
    const double both = sign_of(a.axis.dot(b.axis));
    return {a.size, same_side ? -both * b.size : both * b.size};
}

std::array<double, 2> bevel_shares(const PairMember& a, const PairMember& b) {
    const auto touch = bevel_touch(a, b);
    if (!touch) return parallel_shares(a, b, false);
    return {a.size * sense(a, across_axis(touch->line, a.axis), touch->way),
            -b.size * sense(b, across_axis(touch->line, b.axis), touch->way)};
}

/// A thread that turns where it is goes by like a nut that is shifted against it.
std::array<double, 2> worm_shares(const GearPair& pair, const PairMember& worm, const PairMember& wheel) {
    const Vec3 arm = across_axis(worm.centre - wheel.centre, wheel.axis);
    const double hand = pair.left_hand ? -1 : 1;
    return {hand * worm.size, sense(wheel, arm, worm.axis) * wheel.size};
}

std::array<double, 2> rack_shares(const PairMember& pinion, const PairMember& rack, double radius_m) {
    const Vec3 arm = across_axis(rack.centre - pinion.centre, pinion.axis);
    return {sense(pinion, arm, rack.axis) * radius_m, -1};
}

std::array<double, 2> screw_shares(const GearPair& pair, const PairMember& screw, const PairMember& nut) {
    const double advance = pair.lead_m / (2 * pi) * (pair.left_hand ? -1 : 1);
    // One part that turns and shifts goes ahead into what stands; one that only turns draws the other to
    // itself.
    const double way = pair.driver.part() == pair.driven.part() ? 1 : -1;
    return {way * advance * sign_of(screw.axis.dot(nut.axis)), -1};
}

double rack_radius(const GearPair& pair, bool of_driver) {
    return of_driver ? pair.driver_radius_m : pair.driven_radius_m;
}

}  // namespace

std::optional<BevelTouch> bevel_touch(const PairMember& a, const PairMember& b) {
    // Where the axes meet, or come nearest.
    const double along = a.axis.dot(b.axis), flat = 1 - along * along;
    if (flat < 1e-9) return std::nullopt;
    const Vec3 between = b.centre - a.centre;
    const Vec3 apex = a.centre + (between.dot(a.axis) - along * between.dot(b.axis)) / flat * a.axis;
    const Vec3 to_a = sign_of((a.centre - apex).dot(a.axis)) * a.axis,
               to_b = sign_of((b.centre - apex).dot(b.axis)) * b.axis;
    const double cosine = to_a.dot(to_b), sine = std::sqrt(std::max(0.0, 1 - cosine * cosine));
    const double cone = std::atan2(sine, b.size / a.size + cosine);
    return BevelTouch{apex, std::cos(cone) * to_a + std::sin(cone) * across_axis(to_b, to_a).normalized(),
                      to_a.cross(to_b)};
}

std::array<double, 2> pair_shares(const GearPair& pair, const PairMember& driver, const PairMember& driven) {
    switch (pair.kind) {
        case PairKind::Outside:
        case PairKind::CrossedBelt:
            return parallel_shares(driver, driven, false);
        case PairKind::Inside:
        case PairKind::Belt:
            return parallel_shares(driver, driven, true);
        case PairKind::Bevel:
            return bevel_shares(driver, driven);
        case PairKind::Worm:
            return worm_shares(pair, driver, driven);
        case PairKind::Rack: {
            if (!driver.slides) return rack_shares(driver, driven, rack_radius(pair, true));
            const auto shares = rack_shares(driven, driver, rack_radius(pair, false));
            return {shares[1], shares[0]};
        }
        case PairKind::Screw: {
            if (!driver.slides) return screw_shares(pair, driver, driven);
            const auto shares = screw_shares(pair, driven, driver);
            return {shares[1], shares[0]};
        }
    }
    return {1, 1};
}

std::array<PairMember, 2> pair_members(const Document& document, const GearPair& pair) {
    const auto member = [&](ChannelRef channel, int teeth, double radius) {
        const Frame world = world_from_rest(document, channel.part());
        return PairMember{world.translation, world.axis(document.parts.find(channel.part())->joint.axis),
                          radius > 0 ? radius : static_cast<double>(teeth), !is_turn(channel.kind)};
    };
    // Radii count for both or for none of them.
    const bool by_radius = pair.driver_radius_m > 0 && pair.driven_radius_m > 0;
    return {member(pair.driver, pair.driver_teeth, by_radius ? pair.driver_radius_m : 0),
            member(pair.driven, pair.driven_teeth, by_radius ? pair.driven_radius_m : 0)};
}

Tie pair_tie(const Document& document, const Coupling& coupling) {
    const GearPair& pair = *coupling.as<GearPair>();
    const auto members = pair_members(document, pair);
    const auto shares = pair_shares(pair, members[0], members[1]);
    const SeenPair seen = seen_pair(document, pair, members);
    Tie tie;
    tie.pair = coupling.id;
    const bool toothed = pair.kind == PairKind::Outside || pair.kind == PairKind::Inside ||
                         pair.kind == PairKind::Bevel || pair.kind == PairKind::Worm;
    const bool by_radius = pair.driver_radius_m > 0 && pair.driven_radius_m > 0;
    const auto add = [&](const SeenFrom& side, double share, bool slides) {
        for (TieTerm term : side.terms) {
            term.share *= share;
            if (toothed && !by_radius)
                term.whole *= std::lround(share);
            else
                term.whole = pair.kind == PairKind::Rack && slides ? term.whole : 0;
            tie.terms.push_back(term);
        }
    };
    add(seen.driver, shares[0], members[0].slides);
    add(seen.driven, shares[1], members[1].slides);
    // A rack's teeth are whole too, in units of half a module.
    if (pair.kind == PairKind::Rack) {
        const int teeth = members[0].slides ? pair.driven_teeth : pair.driver_teeth;
        const double radius = rack_radius(pair, !members[0].slides);
        if (teeth > 1 && radius > 0)
            for (TieTerm& term : tie.terms)
                if (is_turn(term.channel.kind)) term.whole = std::lround(term.share / radius) * teeth;
    }
    tie.terms = gathered(tie.terms);
    tie.constant = shares[1] * pair.phase;
    if (toothed && !by_radius) tie.tooth = 2 * pi;
    return tie;
}

std::vector<PartId> parting_joints(const Document& document, const GearPair& pair) {
    const SeenPair seen = seen_pair(document, pair, pair_members(document, pair));
    std::vector<PartId> parting = seen.driver.parting;
    parting.insert(parting.end(), seen.driven.parting.begin(), seen.driven.parting.end());
    return parting;
}

std::vector<Tie> chain_ties(const Document& document, const DrivenIndex& driven, const Chain& chain) {
    std::vector<Tie> ties;
    const Part* frame = document.parts.find(chain.frame);
    if (!frame || frame->chain != chain.id) return ties;
    const Vec3 normal = world_from_rest(document, chain.frame).axis(2);
    for (const ChainWheel& wheel : chain.wheels) {
        // The others turn with what goes over them.
        if (chain.ends && &wheel != &chain.wheels.front()) break;
        const Part* part = document.parts.find(wheel.part);
        if (!part || !part->joint.has(ChannelKind::Turn)) continue;
        // A road wheel that rolls by its own does what its track does.
        const Coupling* own = driven.find({wheel.part, ChannelKind::Turn});
        if (wheel.teeth == 0 && own && own->as<Roll>()) continue;
        const Frame world = world_from_rest(document, wheel.part);
        const PairMember member{world.translation, world.axis(part->joint.axis), 0, false};
        const double way = sign_of(member.axis.dot(normal)) * (wheel.outside ? -1 : 1);
        // Pins go round by one step of the wheel for each pitch of travel.
        const double step =
            wheel.teeth > 0 ? 2 * pi / wheel.teeth : pin_step_rad(chain.pitch_m, wheel.radius_m);
        const double teeth = 2 * pi / step;
        Tie tie;
        tie.chain = chain.id;
        const SeenFrom seen = seen_from(document, {wheel.part, ChannelKind::Turn}, member, chain.frame);
        for (TieTerm term : seen.terms) {
            term.share *= way * teeth;
            term.whole = wheel.teeth > 0 ? term.whole * std::lround(way) * wheel.teeth : 0;
            tie.terms.push_back(term);
        }
        tie.terms.push_back({{chain.frame, ChannelKind::Travel}, -2 * pi / chain.pitch_m, -1});
        tie.terms = gathered(tie.terms);
        tie.constant = way * teeth * wheel.phase_rad;
        tie.tooth = wheel.teeth > 0 ? 2 * pi : 0;
        ties.push_back(std::move(tie));
    }
    return ties;
}

std::vector<Tie> ties_of(const Document& document) {
    std::vector<Tie> ties;
    for (const Coupling& coupling : document.couplings)
        if (const GearPair* pair = coupling.as<GearPair>())
            if (document.parts.contains(pair->driver.part()) && document.parts.contains(pair->driven.part()))
                ties.push_back(pair_tie(document, coupling));
    if (document.chains.empty()) return ties;
    const DrivenIndex driven(document.couplings);
    for (const Chain& chain : document.chains)
        for (Tie& tie : chain_ties(document, driven, chain)) ties.push_back(std::move(tie));
    return ties;
}

}  // namespace pivrak
