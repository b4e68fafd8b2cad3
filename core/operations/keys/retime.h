#pragma once

#include "core/model/document.h"

namespace pivrak {

/// What of a frame rate is kept when it changes: which frame a key stands on, or at which second.
inline constexpr ChoiceWords<2> kept_words{"frames", "seconds"};

/// All that stands on frames of a clip, so many times as far from frame 0.
void scale_frames(Clip& clip, double factor);

/// As above, of all clips without a rate of their own, and of what follows or sways later by frames.
void scale_frames(Document& document, double factor);

}  // namespace pivrak
