#include <fmt/format.h>

#include "core/checks/clip_check.h"
#include "core/checks/drive/drive_mapper.h"
#include "core/checks/element_check.h"

namespace pivrak {

void check(const Sway&, ElementCheck&) {}

/// A limit in its way is told of every channel.
void watch(const Sway&, ClipCheck&) {}

/// Nothing but the time moves it.
void map(const Sway&, DriveMapper&) {}

}  // namespace pivrak
