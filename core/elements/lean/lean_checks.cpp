#include "core/checks/drive_mapper.h"
#include "core/checks/element_check.h"

namespace pivrak {

/// What a leaning wheel lacks shows in a clip.
void check(const Lean&, ElementCheck&) {}

/// The ground moves it, and no channel.
void map(const Lean&, DriveMapper&) {}

}  // namespace pivrak
