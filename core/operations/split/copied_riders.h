#pragma once

#include "core/base/result.h"
#include "core/model/edits/branch_copy.h"
#include "core/operations/arguments.h"

namespace pivrak {

/// What copies of riders become. On the same path, at the same length along it, they would stand in one
/// another.
enum class CopiedRiders : std::uint8_t {
    Apart,  ///< each one's own place along the path; coupled ones are coupled on
    Off,    ///< they leave the path and stay where the copy stands
};

ArgumentSpec riders_argument(CopiedRiders usual);
CopiedRiders copied_riders(const Arguments& arguments);

/// Gives copied riders their places. Those whose path was copied too ride that one and stay as they are.
/// \param copy of `before`, in `document` by now; riders coupled to one outside are coupled to `last` of them
/// (the original at first), which is led on \param ordinal 1 for the first copy: how many lengths it stands
/// behind; ahead where the path ends before \return how many there were
Result<std::size_t> place_copied_riders(const Document& before, Document& document, const BranchCopy& copy,
                                        const CopyOptions& options, CopiedRiders how, std::size_t ordinal,
                                        std::unordered_map<PartId, PartId>& last);

}  // namespace pivrak
