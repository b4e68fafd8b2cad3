#pragma once

#include <string>
#include <vector>

#include "core/rig/gears/train.h"

namespace pivrak {

/// A line of a train's report: a shaft, what becomes of it, and how it follows the train's first input.
struct TrainLine {
    ChannelRef channel;
    ShaftState state = ShaftState::Free;
    double ratio = 0;  ///< turns for one turn of `TrainPart::input`; 0 for the input itself, and what stands
    std::string
        fraction;       ///< exactly: `51/17 · 38/19` turns of the input for one of this shaft; may be empty
    std::string brief;  ///< the ratio for a narrow list; empty where words are short
    std::string words;  ///< `drives`, `follows 'Motor shaft' 51/17 : 1`, `held`, ...
};

/// All shafts that run with each other.
struct TrainPart {
    ChannelRef input;  ///< what drives it, or would; the first one of several
    std::size_t inputs = 0;
    std::vector<TrainLine> lines;  ///< the input first, then in the order of power
};

struct TrainReport {
    std::vector<TrainPart> trains;
    std::vector<std::string> clashes;  ///< sentences: two drivers at once, shafts that block each other
    std::vector<ChannelRef> against;   ///< the shafts of these, and those that can only stand
};

/// What becomes of every shaft. With a clip, its keys count as drivers; without, those of any clip.
TrainReport report_trains(const Document& document, const Clip* clip = nullptr);

/// `drives`, `free`, `held`, `follows`, `stuck`.
std::string_view state_word(ShaftState state);

}  // namespace pivrak
