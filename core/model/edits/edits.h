#pragma once

#include <span>
#include <string>
#include <vector>

#include "core/model/document.h"

namespace pivrak {

/// Puts a part's pivot somewhere else. Neither its shape nor what it carries moves: with every channel at
/// rest each vertex stays within rounding (1e-12 of its distance). Pre: the part exists.
void move_pivot(Document& document, PartId part, const Frame& world_from_new_pivot);

/// Puts a part under another (or none), its branch with it; the world frames at rest stay.
/// Errors: `tree.loop` when `parent` is the part or hangs below it.
Result<void> reparent(Document& document, PartId part, PartId parent);

/// Puts a new datum at a part's pivot between it and what carries it. With `takes_joint` the datum has the
/// part's joint from then on, with its limits, keys and couplings, and the part is fixed in it: the part can
/// be exchanged and its motion stays. Nothing moves. Pre: the part exists.
PartId put_frame_above(Document& document, PartId part, const std::string& name, bool takes_joint);

/// Which of a frame's place and axes are taken over.
enum class AlignWhat { Place, Axes, Both };
/// Moves a part, with its shape and all it carries, so that its frame stands as `world_from_goal` says.
void align(Document& document, PartId part, const Frame& world_from_goal, AlignWhat what);

/// What went with a part that was removed.
struct Removal {
    std::size_t parts = 0, couplings = 0, tracks = 0;
};
/// Removes a part and all below it, with the couplings and keys that name them and the shapes nobody shows
/// any more. Pre: the part exists.
Removal remove_branch(Document& document, PartId part);

/// Drops shapes that no part shows.
void drop_unused_shapes(Document& document);

}  // namespace pivrak
