#include "core/checks/clip_check.h"
#include "core/checks/drive/drive_mapper.h"
#include "core/checks/element_check.h"

namespace pivrak {

void check(const Lens&, const Part&, ElementCheck&) {}
void watch(const Lens&, const Part&, ClipCheck&) {}
void map(const Lens&, const Part&, DriveMapper&) {}

}  // namespace pivrak
