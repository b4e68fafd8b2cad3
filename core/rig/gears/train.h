#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/rig/gears/train_ties.h"

namespace pivrak {

/// How much a channel asks to be what drives its train, least first: one that some pair drives; one in
/// between; one that only drives; one with keys that some pair drives; one with keys; one that something
/// outside the train sets, or that is held.
enum class ShaftRole : std::uint8_t { Driven, Between, Driving, KeyedDriven, Keyed, Given };

/// What comes out for a channel of a train.
enum class ShaftState : std::uint8_t {
    Free,    ///< nothing turns it: a hand may
    Input,   ///< turns its train: by its keys, or from outside it
    Held,    ///< locked, or all that would turn it is
    Driven,  ///< follows others
    Stuck,   ///< the train blocks itself: it can only stand
};

/// `value = constant + sum of share * channel` over inputs; none for a channel that is one itself.
struct TrainShaft {
    ChannelRef channel;
    ShaftRole role = ShaftRole::Between;
    ShaftState state = ShaftState::Free;
    double constant = 0;
    std::vector<TieTerm> inputs;
    std::size_t train = 0;  ///< shafts that any ties join have one number
};

/// More is asked of a train than it can do: a channel that should drive is driven by others.
struct TrainClash {
    ChannelRef channel;
    std::vector<ChannelRef> with;
};

struct TrainSolution {
    std::vector<TrainShaft> shafts;  ///< by channel
    std::vector<TrainClash> clashes;
    std::size_t trains = 0;

    const TrainShaft* find(ChannelRef channel) const;
};

/// The roles of all channels in `ties`. With a clip, its keys count; without, those of any clip.
std::vector<std::pair<ChannelRef, ShaftRole>> shaft_roles(const Document& document,
                                                          const std::vector<Tie>& ties,
                                                          const Clip* clip = nullptr);

/// Solves what ties say of all channels: as many inputs as are free remain, taken by their roles. Ties that
/// say nothing new are passed over, so closed loops of gears that fit turn, and those that do not are stuck.
/// Linear in the number of shafts for trains without planets; deterministic.
TrainSolution solve_trains(const std::vector<Tie>& ties,
                           const std::vector<std::pair<ChannelRef, ShaftRole>>& roles);
TrainSolution solve_trains(const Document& document, const Clip* clip = nullptr);

/// Shafts that an edit brings to a stand: stuck after it, and not before.
std::vector<ChannelRef> newly_stuck(const Document& before, const Document& after);

/// By how many teeth the flanks of a tie miss each other at rest, -0.5 to 0.5; 0 for ties without teeth.
double missed_teeth(const Tie& tie, const TrainSolution& solution);

/// How one channel follows another one, everything else that drives their train standing still.
struct TrainRatio {
    double value = 0;
    /// Turns of the first for one of the other, without sign: `51/17 · 38/19`, one fraction through planets;
    /// empty when it is not rational.
    std::string fraction;
};
/// None when one does not move the other. Exact: computed in fractions of any size.
std::optional<TrainRatio> train_ratio(const std::vector<Tie>& ties, const TrainSolution& solution,
                                      ChannelRef from, ChannelRef to);

}  // namespace pivrak
