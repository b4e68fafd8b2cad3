#pragma once

#include "app/stages/rig/drivers/formula_plot.h"
#include "core/base/progress.h"
#include "core/model/document.h"

namespace pivrak {

using Course = std::vector<FormulaPlot::Sample>;

/// Channels at every frame of a clip, or at 240 moments of a longer one; nothing for one that there is not.
std::vector<Course> channel_courses(const Document& document, ClipId clip,
                                    const std::vector<ChannelRef>& channels, const Progress& progress);

/// Of one channel.
Course channel_course(const Document& document, ClipId clip, ChannelRef channel, const Progress& progress);

}  // namespace pivrak
