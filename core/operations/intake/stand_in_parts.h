#pragma once

#include "core/model/document.h"

namespace pivrak {

/// Grey that tells stand-ins from finished shapes; made when the document has none yet.
MaterialId stand_in_material(Document& document);

}  // namespace pivrak
