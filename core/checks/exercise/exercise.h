#pragma once

#include <cstdint>
#include <string>
#include <vector>

#include "core/base/progress.h"
#include "core/base/result.h"
#include "core/checks/exercise/exercise_ranges.h"

namespace pivrak {

struct ExerciseOptions {
    std::size_t pairs = 24;     ///< motions of two channels at once, drawn by chance
    std::uint32_t seed = 1;     ///< the same seed draws the same motions on every machine
    bool contacts = true;       ///< whether parts that come to touch are looked for
    std::vector<PartId> parts;  ///< only channels of these; all when empty
};

/// One channel in a pose to look at.
struct ExercisedValue {
    ChannelRef channel;
    double value = 0;  ///< [rad], [m], or a share
    bool operator==(const ExercisedValue&) const = default;
};

/// Something that goes wrong, and the pose in which it does: contacts where they begin, all others where they
/// are worst.
struct ExerciseRow {
    std::string code;     ///< of a finding, or `contact`, `wheel.slips`
    PartId part, other;   ///< whose; `other` of a contact
    std::string message;  ///< with its numbers and units
    std::vector<ExercisedValue> pose;
    bool operator==(const ExerciseRow&) const = default;
};

struct ExerciseReport {
    std::vector<ExerciseRange> ranges;
    std::size_t motions = 0, poses = 0;  ///< looked at
    std::vector<ExerciseRow> rows;       ///< those of single channels first; nothing is told twice
};

/// Runs every channel that a hand can move through its range, alone, and in pairs drawn by chance through
/// corners and insides of both ranges; keys of clips are left aside, all else stands as set by hand. Tells
/// contacts, limits that stop what is driven, missed goals, dead points, slip above a millimetre, wheels off
/// their ground, chains that are too short. Contacts are looked for in 97 poses of each motion, all else at
/// quarters between them: what happens in between is not seen. Errors: those of `Evaluator::compile`,
/// `exercise.nothing` (no channel can be moved), `exercise.cancelled`.
Result<ExerciseReport> exercise(const Document& document, const ExerciseOptions& options = {},
                                const Progress& progress = {});

/// A channel and its value in words.
std::string exercised_words(const Document& document, const std::vector<ExercisedValue>& pose);

}  // namespace pivrak
