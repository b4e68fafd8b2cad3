#pragma once

#include <QColor>
#include <memory>
#include <optional>
#include <vector>

#include "core/model/shape.h"

namespace pivrak {

/// What a mesh is painted with; shared by all that are painted alike.
struct Paint {
    std::vector<QColor> colors;  ///< one for each submesh, as a screen shows them; a single one for all
    std::vector<std::shared_ptr<const std::vector<unsigned char>>>
        pictures;  ///< of each submesh; may be empty
};

/// One placed shape to draw.
struct DrawItem {
    std::shared_ptr<const Mesh> mesh;
    Frame world_from_mesh;
    std::shared_ptr<const Paint> paint;
    bool selected = false;
    bool measure = false;  ///< stands beside the model to measure it: no lines, no shadow
    bool lifted = false;   ///< drawn over what it lies on
    std::optional<std::uint32_t> first_indices = {};  ///< only these, of one submesh
    std::uint8_t pale = 0;  ///< what it would be at another moment, in so many hundredths; 0 for as it is
};

}  // namespace pivrak
