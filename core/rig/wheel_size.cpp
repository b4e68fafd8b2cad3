#include "core/rig/wheel_size.h"

#include <algorithm>
#include <cmath>

namespace pivrak {
namespace {

constexpr double tread_share = 0.995;

void add_shapes(const Document& document, const Tree& tree, PartId id, const Frame& hinge_from_part,
                WheelShapes& out) {
    const Part& part = *document.parts.find(id);
    if (const Shape* shape = document.shapes.find(part.shape))
        out.shapes.push_back({shape->mesh, hinge_from_part * part.part_from_shape});
    for (const PartId child : tree.children(id)) {
        const Part& below = *document.parts.find(child);
        if (below.joint.kind == JointKind::Fixed)
            add_shapes(document, tree, child, hinge_from_part * below.parent_from_rest, out);
    }
}

/// `take(radius, along)` for every vertex that turns with the wheel.
template <class Take>
void each_vertex(const WheelShapes& wheel, Take take) {
    const int axis = wheel.axis;
    for (const auto& [mesh, frame] : wheel.shapes) {
        const Mat3 turn = frame.rotation.toRotationMatrix();
        for (const Vec3f& p : mesh->positions) {
            const Vec3 at = turn * p.cast<double>() + frame.translation;
            take(std::hypot(at[(axis + 1) % 3], at[(axis + 2) % 3]), at[axis]);
        }
    }
}

}  // namespace

WheelShapes wheel_shapes(const Document& document, const Tree& tree, PartId hinge) {
    WheelShapes out;
    out.axis = document.parts.find(hinge)->joint.axis;
    add_shapes(document, tree, hinge, {}, out);
    return out;
}

WheelSize measure_wheel(const WheelShapes& wheel) {
    WheelSize size;
    each_vertex(wheel, [&](double radius, double) { size.radius_m = std::max(size.radius_m, radius); });
    double low = 1e300, high = -1e300;
    each_vertex(wheel, [&](double radius, double along) {
        if (radius < tread_share * size.radius_m) return;
        low = std::min(low, along);
        high = std::max(high, along);
    });
    if (high >= low) {
        size.half_width_m = 0.5 * (high - low);
        size.middle_m = 0.5 * (high + low);
    }
    return size;
}

}  // namespace pivrak
