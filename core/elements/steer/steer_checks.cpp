#include "core/checks/drive_mapper.h"
#include "core/checks/element_check.h"

namespace pivrak {

/// Any steering can be steered.
void check(const Steer&, ElementCheck&) {}

void map(const Steer& steer, DriveMapper& out) {
    out.add(steer.driver, steer.driven, "steers");
}

}  // namespace pivrak
