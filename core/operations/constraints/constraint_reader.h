#pragma once

#include "core/elements/constraint/constraint.h"
#include "core/operations/arguments.h"
#include "core/operations/constraints/posed.h"

namespace pivrak {

// What the arguments of constraints say.

/// All that is asked but for where things stand. Errors: `constraint.*`, `channel.range`.
Result<void> read_settings(const Document& document, const Arguments& arguments, Constraint& constraint);

/// Where and how it is asked to stand, measured on a pose where an offset is kept.
void read_places(const Arguments& arguments, const Posed& posed, Constraint& constraint);

/// Whether the joint of its part could answer at all. Errors: `constraint.*`.
Result<void> check_can_answer(const Document& document, const Constraint& constraint);

/// The arguments for all of that; switches are on when they are left out, or stay as they are.
std::vector<ArgumentSpec> settings_arguments(bool on_by_default);

}  // namespace pivrak
