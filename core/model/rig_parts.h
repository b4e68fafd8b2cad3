#pragma once

#include <functional>
#include <unordered_map>
#include <unordered_set>

#include "core/model/document.h"

namespace pivrak {

/// Parts that couplings, rides, tows, vehicles, paths or chains name.
std::unordered_set<PartId> parts_of_rig(const Document& document);

/// What the rig knows of a place on a part stays there when the part's pivot moves.
void keep_places(Document& document, PartId part, const Frame& new_from_old);

/// Wherever the rig names one part it names another one from then on.
void replace_in_rig(Document& document, PartId from, PartId to);

/// Takes parts out of the rig: couplings and vehicles that cannot be without them go, riders are coupled to
/// nobody, what they towed stands by itself, and their paths stay where they are at rest. Call it while the
/// parts still exist. Answers how many couplings went.
std::size_t drop_from_rig(Document& document, const std::unordered_set<PartId>& gone);

/// Makes what belongs to parts so many times as large: measures of couplings, vehicles, chains, prints and
/// riders, and paths that they carry. Answers the elements that were.
std::unordered_set<OwnerId> scale_rig(Document& document, const std::unordered_set<PartId>& parts,
                                      double factor);

/// How a copied channel counts against its original in a mirror image: 1 or -1.
using MirrorSign = std::function<double(ChannelRef)>;

/// What came of a copy.
struct RigCopies {
    std::size_t couplings = 0;
    std::unordered_map<OwnerId, OwnerId> elements;  ///< new element of each original
    std::unordered_set<ChannelRef> flipped;         ///< of new ones: channels that count the other way round
};

/// Copies what runs inside copied parts: couplings, rides, tows, carried paths, vehicles and chains.
/// `copy_of` maps originals to copies, which exist. With a `mirror_sign` they are mirror images.
RigCopies copy_rig(Document& document, const std::unordered_map<PartId, PartId>& copy_of,
                   const MirrorSign& mirror_sign = {});

}  // namespace pivrak
