#pragma once

#include <optional>

#include "core/model/document.h"

namespace pivrak {

/// A shape that is round about another axis than the one its hinge turns it about.
struct RoundAcross {
    int own_axis = 0;    ///< the part's own axis nearest to the one it is round about: 0, 1 or 2
    double off_rad = 0;  ///< between that axis of the shape and the hinge's, 0 to pi/2
};
/// Looks at the largest shape that turns with a hinge. None when it shows no axis to be round about, or when
/// that is the hinge's own within ten degrees. Source of the axis: `round_axis`.
std::optional<RoundAcross> round_across(const Document& document, PartId hinge);

/// That as words for a refusal: what is wrong and what would do.
std::string across_words(const Document& document, PartId hinge, const RoundAcross& found);

}  // namespace pivrak
