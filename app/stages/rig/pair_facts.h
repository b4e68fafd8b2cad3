#pragma once

#include <QString>

#include "core/rig/gears/gear_pair.h"

namespace pivrak {

/// How a pair runs, in words: ratio, centre distance against the module, and the phase.
QString pairFacts(const GearPairMeasure& measure, const GearPair& pair);

}  // namespace pivrak
