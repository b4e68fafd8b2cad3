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
/// Only those of `part`, which is fixed to the hinge, and of what is fixed below it.
WheelShapes wheel_shapes(const Document& document, const Tree& tree, PartId hinge, PartId part);

WheelSize measure_wheel(const WheelShapes& wheel);

/// The outline of a wheel that a plane can touch: the convex hull of its shape turned about the axle, as
/// circles from one side to the other. Hollows between them never touch level ground.
struct WheelProfile {
    struct Circle {
        double along_m, radius_m;  ///< from the pivot, along the axis of the hinge
    };
    std::vector<Circle> circles;
    std::vector<double> sideways_m;  ///< of each, along the outline from the middle of the tread

    /// The circle that touches a level ground when the axle rises by `rise` (the sine of its slope, -1 to 1).
    /// Pre: not empty.
    std::size_t lowest(double rise) const;
};

/// Circles that change the outline by less than 0.2 mm are left out. Empty without a shape.
WheelProfile measure_profile(const WheelShapes& wheel);

}  // namespace pivrak
