#pragma once

#include <span>
#include <string>
#include <vector>

#include "core/base/progress.h"
#include "core/motion/evaluator.h"

namespace pivrak {

/// Moments of a clip in order, first and last included, with the world frame of every part.
struct Bake {
    std::vector<PartId> parts;  ///< in evaluation order
    std::vector<double> frames;
    std::vector<Frame> world_from_part;  ///< `frames.size() * parts.size()`, frame by frame

    const Frame& at(std::size_t frame, std::size_t part) const {
        return world_from_part[frame * parts.size() + part];
    }
};

/// The frames of all parts in a pose, in the order of the evaluator's `parts`: behind them a pose has frames
/// that are no part's.
inline std::span<const Frame> frames_of_parts(const Evaluator& evaluator, const Pose& pose) {
    return std::span(pose.world_from_part).first(evaluator.parts().size());
}

/// The frames of a clip: first, first + 1, ... and the last one even when it is not whole steps away; with
/// `per_frame` even steps within each.
std::vector<double> clip_frames(const Clip& clip, int per_frame = 1);

/// Errors: those of `Evaluator::compile`, `bake.cancelled`.
Result<Bake> bake_clip(const Document& document, ClipId clip, const Progress& progress = {},
                       int per_frame = 1);

/// A table with a header: frame, part, then the 4x4 world matrix row by row (m00 ... m33), in metres, axes of
/// the project (X forward, Y left, Z up), 17 significant digits. Fields are quoted as RFC 4180 asks.
std::string bake_csv(const Document& document, const Bake& bake);

}  // namespace pivrak
