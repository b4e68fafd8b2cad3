#include "core/checks/clip_check.h"
#include "core/checks/drive/drive_mapper.h"
#include "core/checks/element_check.h"

namespace pivrak {

/// Any steering can be steered.
void check(const Steer&, ElementCheck&) {}

/// Steering is as it is at each frame.
void watch(const Steer&, ClipCheck&) {}

void map(const Steer& steer, DriveMapper& out) {
    out.add(steer.driver, steer.driven, "steers");
}

}  // namespace pivrak
