#pragma once

#include <string>
#include <vector>

#include "core/model/document.h"

namespace pivrak {

/// After an edit took elements away whose channels others take: inputs of formulas become numbers that know
/// what they were, and what followed one stays where it is, all as it was before the edit at the first clip's
/// first frame. Answers what became of each, for a person.
std::vector<std::string> let_go_of_lost(const Document& before, Document& after);

}  // namespace pivrak
