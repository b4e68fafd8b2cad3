#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/geometry/fits/recognise.h"

namespace pivrak::test {

/// A shape, and what somebody who knows machines calls it; none for what is no machine element.
struct LabelledShape {
    std::string name;
    Mesh mesh;
    std::optional<MachineElement> label;
};

/// Sixty shapes: some by the builders of stand-ins, the others made here, corner by corner, as strangers'
/// models come: few sides, open tubes, corners of their own for each face, noise, lugs and bolts laid on,
/// straight flanks. The labels are ours.
std::vector<LabelledShape> labelled_shapes();

}  // namespace pivrak::test
