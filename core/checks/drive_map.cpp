#include "core/checks/drive_map.h"

#include <fmt/format.h>

#include <algorithm>
#include <limits>
#include <map>
#include <set>

#include "core/checks/train_report.h"

namespace pivrak {
namespace {

std::string length_words(double metres) {
    return format_length(metres, metres < 1 ? LengthUnit::Millimetre : LengthUnit::Metre, metres < 1 ? 1 : 3);
}

/// What stands on the line from the first member to the second: teeth, radii, or a lead.
std::string pair_words(const GearPair& pair, bool turned_round) {
    if (pair.kind == PairKind::Screw) return fmt::format("lead {}", length_words(pair.lead_m));
    if (pair.kind == PairKind::Rack) {
        const double radius = std::max(pair.driver_radius_m, pair.driven_radius_m);
        return fmt::format("r {}", length_words(radius));
    }
    const auto two = [&](std::string a, std::string b) {
        if (turned_round) std::swap(a, b);
        return fmt::format("{} : {}", a, b);
    };
    if (pair.driver_radius_m > 0 && pair.driven_radius_m > 0)
        return two(length_words(pair.driver_radius_m), length_words(pair.driven_radius_m));
    return two(std::to_string(pair.driver_teeth), std::to_string(pair.driven_teeth));
}

class Mapping {
public:
    Mapping(const Document& document, const Clip& clip) : document_(document) {
        const TrainReport report = report_trains(document, &clip);
        for (const TrainPart& train : report.trains) {
            int place = 0;
            for (const TrainLine& line : train.lines) {
                // Every one that drives stands before those that follow.
                const bool drives = line.state == ShaftState::Input || line.state == ShaftState::Held;
                place_[line.channel] = drives ? 0 : ++place;
            }
        }
    }

    DriveMap map() {
        for (const Coupling& coupling : document_.couplings) add_coupling(coupling);
        for (const Chain& chain : document_.chains) chain.ends ? add_run(chain) : add_loop(chain);
        for (const Part& part : document_.parts)
            if (part.ride && part.ride->ahead)
                add({part.ride->ahead, ChannelKind::Along}, {part.id, ChannelKind::Along}, "coupled");
        DriveMap map;
        std::set<ChannelRef> channels;
        for (DriveEdge& edge : edges_) {
            channels.insert(edge.from);
            channels.insert(edge.to);
            map.edges.push_back(std::move(edge));
        }
        map.channels.assign(channels.begin(), channels.end());
        return map;
    }

private:
    bool there(ChannelRef channel) const {
        const Part* part = document_.parts.find(channel.part);
        return part && part->has(channel.kind);
    }

    void add(ChannelRef from, ChannelRef to, std::string label) {
        if (there(from) && there(to) && from != to) edges_.push_back({from, to, std::move(label)});
    }

    /// How far along its train; last of all what is in none.
    int place(ChannelRef channel) const {
        const auto found = place_.find(channel);
        return found == place_.end() ? std::numeric_limits<int>::max() : found->second;
    }

    void add_coupling(const Coupling& coupling) {
        if (const GearPair* pair = coupling.gear()) {
            const bool turned_round = place(pair->driver) > place(pair->driven);
            add(turned_round ? pair->driven : pair->driver, turned_round ? pair->driver : pair->driven,
                pair_words(*pair, turned_round));
            if (there(pair->driver) && there(pair->driven)) add_carriers(coupling, *pair);
        } else if (const Roll* roll = coupling.roll()) {
            const auto driver = coupling.driver();
            if (driver) add(*driver, roll->driven, roll->like ? "one track" : roll_words(*roll));
        } else if (const Steer* steer = coupling.steer()) {
            add(steer->driver, steer->driven, "steers");
        }
    }

    /// A planet's carrier turns with it, or takes it along.
    void add_carriers(const Coupling& coupling, const GearPair& pair) {
        for (const TieTerm& term : pair_tie(document_, coupling).terms) {
            if (term.channel == pair.driver || term.channel == pair.driven) continue;
            const ChannelRef planet =
                is_below(document_, pair.driver.part, term.channel.part) ? pair.driver : pair.driven;
            const bool takes = place(term.channel) < place(planet);
            const ChannelRef from = takes ? term.channel : planet, to = takes ? planet : term.channel;
            if (std::none_of(edges_.begin(), edges_.end(),
                             [&](const DriveEdge& e) { return e.from == from && e.to == to; }))
                add(from, to, takes ? "carries" : "carried");
        }
    }

    static std::string roll_words(const Roll& roll) {
        return roll.radius_m > 0 ? fmt::format("r {}", length_words(roll.radius_m)) : "rolls";
    }

    /// From the wheel that power comes by to the chain, and on to every other wheel.
    void add_loop(const Chain& chain) {
        const ChannelRef travel{chain.frame, ChannelKind::Travel};
        const auto turn = [](const ChainWheel& wheel) { return ChannelRef{wheel.part, ChannelKind::Turn}; };
        const auto first = std::min_element(
            chain.wheels.begin(), chain.wheels.end(),
            [&](const ChainWheel& a, const ChainWheel& b) { return place(turn(a)) < place(turn(b)); });
        const bool from_travel = place(travel) < place(turn(*first));
        for (auto wheel = chain.wheels.begin(); wheel != chain.wheels.end(); ++wheel) {
            // A road wheel that rolls by its own is not turned by its track.
            const Coupling* own = coupling_driving(document_, turn(*wheel));
            if (wheel->teeth == 0 && own && own->roll()) continue;
            const std::string words = wheel->teeth > 0 ? fmt::format("{} T", wheel->teeth)
                                                       : fmt::format("r {}", length_words(wheel->radius_m));
            if (wheel == first && !from_travel)
                add(turn(*wheel), travel, words);
            else
                add(travel, turn(*wheel), words);
        }
        if (chain.take_up) add(travel, joint_channel(chain.take_up), "tightens");
    }

    ChannelRef joint_channel(PartId part) const {
        const Part* found = document_.parts.find(part);
        const bool slides = found && found->joint.kind == JointKind::Slide;
        return {part, slides ? ChannelKind::Shift : ChannelKind::Turn};
    }

    /// What moves its ends or pays it out moves what it pulls, and the wheels it goes over.
    void add_run(const Chain& chain) {
        const ChannelRef travel{chain.frame, ChannelKind::Travel};
        std::vector<ChannelRef> moved;
        for (std::size_t i = 0; i < chain.wheels.size(); ++i)
            if (chain.turns(i)) moved.push_back({chain.wheels[i].part, ChannelKind::Turn});
        const bool drum_pulled = chain.travels() && chain.take_up == chain.wheels.front().part;
        if (chain.take_up && !drum_pulled) moved.insert(moved.begin(), joint_channel(chain.take_up));
        std::vector<ChannelRef> movers;
        if (chain.travels()) {
            const ChannelRef drum{chain.wheels.front().part, ChannelKind::Turn};
            const bool from_travel = drum_pulled || place(travel) < place(drum);
            add(from_travel ? travel : drum, from_travel ? drum : travel, "pays out");
            movers.push_back(travel);
        }
        if (!chain.travels() || drum_pulled)
            for (const ChainTie& tie : {chain.ends->from, chain.ends->to})
                if (const auto mover = mover_of(tie.part, chain)) movers.push_back(*mover);
        if (drum_pulled) {
            // Then the end moves all of it.
            for (const ChannelRef mover : movers)
                if (mover != travel) add(mover, travel, "draws");
            movers = {travel};
        }
        for (const ChannelRef mover : movers)
            for (const ChannelRef to : moved)
                add(mover, to, to.part == chain.take_up ? "pulls" : wheel_words(chain, to.part));
    }

    static std::string wheel_words(const Chain& chain, PartId part) {
        for (const ChainWheel& wheel : chain.wheels)
            if (wheel.part == part) return fmt::format("r {}", length_words(wheel.radius_m));
        return "";
    }

    /// Of a free part the channel that has keys, or else its first one.
    ChannelRef moving_channel(const Part& part) const {
        for (const ChannelKind kind : part.channels())
            for (const Clip& clip : document_.clips)
                if (const Track* track = clip.track({part.id, kind}); track && !track->keys.empty())
                    return {part.id, kind};
        return {part.id, part.channels().front()};
    }

    /// The nearest joint that moves a tied end, if it is not what the run sets itself.
    std::optional<ChannelRef> mover_of(PartId part, const Chain& chain) const {
        for (const Part* p = document_.parts.find(part); p; p = document_.parts.find(p->parent)) {
            if (p->id == chain.take_up) return std::nullopt;
            if (p->ride) return ChannelRef{p->id, ChannelKind::Along};
            if (p->joint.kind == JointKind::Hinge || p->joint.kind == JointKind::Slide)
                return joint_channel(p->id);
            if (p->joint.kind == JointKind::Cylinder) return ChannelRef{p->id, ChannelKind::Shift};
            if (p->joint.kind == JointKind::Free) return moving_channel(*p);
        }
        return std::nullopt;
    }

    const Document& document_;
    std::map<ChannelRef, int> place_;
    std::vector<DriveEdge> edges_;
};

}  // namespace

DriveMap drive_map(const Document& document, const Clip& clip) {
    return Mapping(document, clip).map();
}

DriveMap around(const DriveMap& map, const std::vector<PartId>& of) {
    std::set<ChannelRef> near;
    const auto spread = [&](bool forwards) {
        std::set<ChannelRef> found;
        for (const ChannelRef channel : map.channels)
            if (std::find(of.begin(), of.end(), channel.part) != of.end()) found.insert(channel);
        for (bool grew = true; grew;) {
            grew = false;
            for (const DriveEdge& edge : map.edges)
                if (found.contains(forwards ? edge.from : edge.to))
                    grew |= found.insert(forwards ? edge.to : edge.from).second;
        }
        near.insert(found.begin(), found.end());
    };
    spread(true);
    spread(false);
    DriveMap part;
    part.channels.assign(near.begin(), near.end());
    for (const DriveEdge& edge : map.edges)
        if (near.contains(edge.from) && near.contains(edge.to)) part.edges.push_back(edge);
    return part;
}

}  // namespace pivrak
