#pragma once

#include "core/checks/exercise/exercise.h"

namespace pivrak {

/// A table for a spreadsheet: a line for each row, channels and values of its pose last. RFC 4180.
std::string exercise_csv(const Document& document, const ExerciseReport& report);

/// A page that stands by itself: what was exercised and how far, and what went wrong, with its numbers.
std::string exercise_html(const Document& document, const ExerciseReport& report);

/// What came of it, in one line.
std::string exercise_summary(const ExerciseReport& report);

/// Writes it as `.html` or `.csv`, by the ending. Errors: `exercise.ending`; those of writing.
Result<std::string> exercise_file(const Document& document, const ExerciseReport& report,
                                  const std::string& ending);

}  // namespace pivrak
