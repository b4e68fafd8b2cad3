#include "core/checks/clip_check.h"
#include "core/checks/drive/drive_mapper.h"
#include "core/checks/element_check.h"

namespace pivrak {

/// Whether a trailer stays on its hitch shows in a clip.
void check(const Tow&, const Part&, ElementCheck&) {}

/// Vehicles tell how far they are off their hitch.
void watch(const Tow&, const Part&, ClipCheck&) {}

/// A hitch draws a part, and no channel.
void map(const Tow&, const Part&, DriveMapper&) {}

}  // namespace pivrak
