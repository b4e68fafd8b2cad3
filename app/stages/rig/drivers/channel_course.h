#pragma once

#include "app/stages/rig/drivers/formula_plot.h"
#include "core/base/progress.h"
#include "core/model/document.h"

namespace pivrak {

/// A channel at every frame of a clip, or at 240 moments of a longer one; nothing when there is no such.
std::vector<FormulaPlot::Sample> channel_course(const Document& document, ClipId clip, ChannelRef channel,
                                                const Progress& progress);

}  // namespace pivrak
