#pragma once

#include "core/model/document.h"

namespace pivrak {

/// A wheel's tread as measured about the axis of its hinge.
struct WheelSize {
    double radius_m = 0;      ///< of the points furthest from the axis; 0 without a shape
    double half_width_m = 0;  ///< of the tread: the points within half a hundredth of that radius
    double middle_m = 0;      ///< of the tread, along the axis from the pivot
    bool operator==(const WheelSize&) const = default;
};

/// The meshes that turn with a hinge: its own and those of all that is fixed below it.
struct WheelShapes {
    struct One {
        std::shared_ptr<const Mesh> mesh;
        Frame hinge_from_mesh;
        bool operator==(const One&) const = default;
    };
    std::vector<One> shapes;
    int axis = 1;
    bool operator==(const WheelShapes&) const = default;
};
WheelShapes wheel_shapes(const Document& document, const Tree& tree, PartId hinge);

WheelSize measure_wheel(const WheelShapes& wheel);

}  // namespace pivrak
