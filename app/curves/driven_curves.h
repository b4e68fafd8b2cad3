#pragma once

#include <QString>
#include <vector>

#include "core/base/progress.h"
#include "core/model/document.h"

namespace pivrak {

/// A channel that something drives, over the clip: to be seen beside its driver's keys, not edited.
struct DrivenCurve {
    ChannelRef channel;
    std::string by;  ///< who drives it
    struct Sample {
        double frame, value;
    };
    std::vector<Sample> samples = {};
};

/// Fills in how they run over a clip: at every frame, or at 240 moments of a longer one.
std::vector<DrivenCurve> driven_courses(const Document& document, ClipId clip,
                                        std::vector<DrivenCurve> curves, const Progress& progress);

}  // namespace pivrak
