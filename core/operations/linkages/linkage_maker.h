#pragma once

#include "core/base/result.h"
#include "core/model/document.h"

namespace pivrak {

/// How two parts are closed: in the world, at rest.
struct ClosingPlace {
    Closes closes = Closes::Pin;
    Vec3 place{0, 0, 0};
    Vec3 axis{0, 0, 1};  ///< unit
};
Closure closure_at(const Document& document, PartId a, PartId b, const ClosingPlace& at);

/// Closes a loop. Linkages that share a joint with it become one. Inputs are what has keys, then what was one
/// before, then the outermost joints, as many as it takes. Errors: those of `linkage_loops`,
/// `linkage.driven` (nothing in the loop is left to follow).
Result<LinkageId> add_closure(Document& document, const Closure& closure, const std::string& name);

/// Whether what is preferred comes before what has keys.
enum class Prefer : std::uint8_t { BeforeKeys, AfterKeys };

/// As many of the preferred channels, then of those that were inputs, as the linkage has ways to move.
/// Errors: as above.
Result<void> choose_inputs(const Document& document, Linkage& linkage,
                           const std::vector<ChannelRef>& preferred, Prefer when = Prefer::BeforeKeys);

/// `moves one way, led by 'crank turn'`.
Result<std::string> mobility_words(const Document& document, const Linkage& linkage);

}  // namespace pivrak
