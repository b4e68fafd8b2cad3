#include "core/checks/clip_check.h"
#include "core/checks/drive/drive_mapper.h"
#include "core/checks/element_check.h"

namespace pivrak {

/// What a leaning wheel lacks shows in a clip.
void check(const Lean&, ElementCheck&) {}

/// Wheels on the ground are looked at all together.
void watch(const Lean&, ClipCheck&) {}

/// The ground moves it, and no channel.
void map(const Lean&, DriveMapper&) {}

}  // namespace pivrak
