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
