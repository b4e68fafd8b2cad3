#pragma once

#include <optional>
#include <unordered_map>

#include "core/geometry/mesh/cutting.h"
#include "core/model/document.h"

namespace pivrak {

/// Which of a part's own axes a channel of its joint goes along or about.
int axis_of(const Joint& joint, ChannelKind kind);

/// How copies are placed and what goes along.
struct CopyOptions {
    Frame world_motion;           ///< where the copy stands against the original, in the world
    std::optional<Plane> mirror;  ///< instead of a motion: the copy is its image in this plane
    bool shape_alone = false;     ///< only the parts themselves, as fixed parts, without what they carry
};

struct BranchCopy {
    std::vector<PartId> tops;                    ///< copies of the given parts, in their order
    std::vector<PartId> parts;                   ///< every new part
    std::unordered_map<PartId, PartId> copy_of;  ///< new part of each original
    std::size_t couplings = 0, tracks = 0;       ///< copied along
};

/// Parts of a list that do not hang below another one of it.
std::vector<PartId> tops_of(const Document& document, const std::vector<PartId>& parts);

/// Copies branches with their joints, limits, values, keys, and the couplings that run inside the branches.
/// Shapes are shared. Copies hang under what carries their originals.
///
/// In a mirror each shape is replaced by its image (made once for each shape and axis), frames stay rigid,
/// side words in names are exchanged, and turns and shifts change their sign where the mirror asks for it:
/// values, limits, keys and tooth phases. So the copy moves as the image of the original does.
BranchCopy copy_branches(Document& document, const std::vector<PartId>& parts, const CopyOptions& options);
/// One copy for each of these.
std::vector<BranchCopy> copies_of_branches(Document& document, const std::vector<PartId>& parts,
                                           const std::vector<CopyOptions>& ways);

}  // namespace pivrak
