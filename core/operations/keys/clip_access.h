#pragma once

#include "core/operations/arguments.h"

namespace pivrak {

/// The argument that names a clip.
ArgumentSpec clip_argument();
/// The clip named, or the first one. Errors: `clip.unknown`.
Result<const Clip*> clip_named(const Document& document, const Arguments& arguments);

/// What is kept when a frame rate changes.
ArgumentSpec keep_argument();

/// How long a clip may be, and where it may lie. Errors: `clip.range`.
Result<void> check_clip_range(const Clip& clip);

/// Where a key may stand. Errors: `key.frame`.
Result<void> check_key_frame(double frame);

/// Puts a key in its place, instead of one that stands on its frame.
void put_key(Track& track, const Key& key);

}  // namespace pivrak
