#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <vector>

#include "core/geometry/frame.h"
#include "core/model/field.h"

namespace pivrak {

/// Whether links can be so long: 0.01 mm to 10 m.
constexpr bool can_be_pitch(double pitch_m) {
    return pitch_m >= 1e-5 && pitch_m <= 10;
}
constexpr int most_links = 100000;

/// A wheel that a chain goes round.
struct ChainWheel {
    PartId part;           ///< a hinge about its axle
    int teeth = 0;         ///< of a sprocket: pins sit on its pitch circle; 0 for a roller
    double radius_m = 0;   ///< of a roller: the circle on which pins go round it
    bool outside = false;  ///< the loop leaves it out: the chain runs by with its back
    double phase_rad = 0;  ///< turn at which pins sit in its gaps, the chain's travel at zero
    bool operator==(const ChainWheel&) const = default;

    template <class Self, class Visitor>
    static void fields(Self& self, Visitor& v) {
        v.part("part", self.part, Role::Needed);
        v.count("teeth", self.teeth, 0);
        v.number("radius_m", self.radius_m, {.dimension = Dimension::Length, .usual = 0});
        v.flag("outside", self.outside);
        v.number("phase_rad", self.phase_rad, {.dimension = Dimension::Angle, .usual = 0});
    }
};

/// What an open run is tied to.
struct ChainTie {
    PartId part;
    Vec3 place{0, 0, 0};  ///< in the part's frame [m]
    bool operator==(const ChainTie&) const = default;

    template <class Self, class Visitor>
    static void fields(Self& self, Visitor& v) {
        v.part("part", self.part, Role::Needed);
        v.vector("place", self.place);
    }
};

/// How an open run begins: tied to a part; wound on its first wheel, a drum; or hanging loose from its first
/// wheel, which carries it along.
enum class RunStart : std::uint8_t { Tied, Wound, Loose };
inline constexpr ChoiceWords<3> run_start_words{"tied", "wound", "loose"};

/// The ends of a run that is no loop: a hoist, a cord over rollers, a cable chain that folds.
struct RunEnds {
    RunStart start = RunStart::Tied;
    ChainTie from;  ///< only of a run that is tied at its start
    ChainTie to;
    double leaving_rad = 0;  ///< place at rest where the run leaves a first wheel that winds or carries it
    bool operator==(const RunEnds&) const = default;

    template <class Self, class Visitor>
    static void fields(Self& self, Visitor& v) {
        v.choice("start", self.start, run_start_words);
        v.nested("to", self.to);
        if (self.start == RunStart::Tied)
            v.nested("from", self.from);
        else
            v.number("leaving_rad", self.leaving_rad, {.dimension = Dimension::Angle});
    }
};

/// A loop of links, all of one pitch, round sprockets and rollers, or an open run of them. It lies in the x-y
/// plane of a datum that carries the links and may be carried about itself; links go counterclockwise about
/// that plane's z round the wheels inside. How far they have gone, or been paid out by the first wheel, is
/// the datum's channel `Travel`. An open run without wheels folds: it leaves its start along x and comes back
/// to its end.
struct Chain {
    static constexpr bool one_measure = true;  ///< its parts grow together, or not at all

    ChainId id;
    std::string name;
    PartId frame;  ///< that datum
    double pitch_m = 0;
    int link_count = 0;
    int pattern = 1;                 ///< different links in a row: 2 where inner and outer ones alternate
    std::vector<ChainWheel> wheels;  ///< in the order in which links reach them
    std::size_t slack_after = 0;     ///< the run after this wheel hangs with what the loop has too much
    double start_rad = 0;            ///< place of a pin on the first sprocket, travel at zero; of an open
                                     ///< run: of its last pin as if all were wound, turns counted
    PartId take_up;  ///< a hinge or slide that carries wheels or an end and keeps the chain at its slack: a
                     ///< tensioner, or what a cord pulls; may be none
    Channel slack;   ///< what the tensioner leaves to hang [m]
    std::vector<PartId> links;    ///< one for each, or none while they are not built
    std::optional<RunEnds> ends;  ///< of an open run
    bool operator==(const Chain&) const = default;

    Damaged damaged() const;

    template <class Self, class Visitor>
    static void fields(Self& self, Visitor& v) {
        v.id("id", self.id);
        v.text("name", self.name);
        v.part("frame", self.frame, Role::Needed);
        v.number("pitch_m", self.pitch_m, {.dimension = Dimension::Length});
        v.count("link_count", self.link_count);
        v.count("pattern", self.pattern);
        v.list("wheels", self.wheels);
        v.count("slack_after", self.slack_after);
        v.number("start_rad", self.start_rad, {.dimension = Dimension::Angle});
        v.part_if("take_up", self.take_up, Role::Outside);
        v.own("spare_m", ChannelKind::Slack, self.slack, {.dimension = Dimension::Length, .usual = 0});
        v.parts("links", self.links, Role::Needed);
        v.group("ends", self.ends);
    }

    /// Of its own channels. A slack that nothing keeps is none.
    bool has(ChannelKind kind) const { return kind == ChannelKind::Slack && take_up; }
    PartId home() const { return frame; }
    bool pivot_moved(PartId part, const Frame& new_from_old) {
        if (!ends || (ends->from.part != part && ends->to.part != part)) return false;
        for (ChainTie* tie : {&ends->from, &ends->to})
            if (tie->part == part) tie->place = new_from_old.point(tie->place);
        return true;
    }
    /// What a chain of its form cannot be without.
    std::size_t fewest_wheels() const { return !ends ? 2 : travels() ? 1 : 0; }
    bool folds() const { return ends && wheels.empty(); }
    /// Whether how far it has gone is a motion of its own, shared with its wheels.
    bool travels() const { return !ends || ends->start != RunStart::Tied; }
    /// The wheel from which pins are counted: the first sprocket, or the first roller when there is none. Of
    /// an open run the first wheel.
    std::size_t reference() const {
        for (std::size_t i = 0; i < wheels.size() && !ends; ++i)
            if (wheels[i].teeth > 0) return i;
        return 0;
    }
    /// Whether an open run turns a wheel as it goes over it.
    bool turns(std::size_t wheel) const { return ends && (wheel > 0 || !travels()); }
    /// Whether it sets a channel itself: of its tensioner, or of what it pulls, and the turns of the wheels
    /// that an open run goes over. Whose first wheel is pulled is asked how far it pays out.
    bool sets(ChannelRef channel) const {
        const bool drum = travels() && ends && take_up && take_up == wheels.front().part;
        if (drum && channel == ChannelRef{frame, ChannelKind::Travel}) return true;
        if (!drum && take_up && channel.part() == take_up)
            return channel.kind == ChannelKind::Turn || channel.kind == ChannelKind::Shift;
        if (channel.kind != ChannelKind::Turn) return false;
        for (std::size_t i = 0; i < wheels.size(); ++i)
            if (wheels[i].part == channel.part() && turns(i)) return true;
        return false;
    }
};

}  // namespace pivrak
