#include "core/rig/vehicles/wheel_axis.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/geometry/fits/round_body.h"
#include "core/rig/vehicles/wheel_size.h"

namespace pivrak {
namespace {
constexpr double along_its_hinge = 10 * rad_per_deg;
}

std::optional<RoundAcross> round_across(const Document& document, PartId hinge) {
    const WheelShapes turning = wheel_shapes(document, Tree(document), hinge);
    const WheelShapes::One* largest = nullptr;
    double reach = 0;
    for (const WheelShapes::One& one : turning.shapes)
        if (const double longest = mesh_bounds(*one.mesh).longest(); longest > reach) {
            reach = longest;
            largest = &one;
        }
    const auto axis = largest ? round_body(*largest->mesh) : std::nullopt;
    if (!axis) return std::nullopt;
    const Vec3 own = largest->hinge_from_mesh.direction(axis->axis.direction).cwiseAbs();
    RoundAcross found;
    own.maxCoeff(&found.own_axis);
    found.off_rad = std::acos(std::min(1.0, own[turning.axis]));
    if (found.off_rad <= along_its_hinge) return std::nullopt;
    return found;
}

std::string across_words(const Document& document, PartId hinge, const RoundAcross& found) {
    const Part& part = *document.parts.find(hinge);
    constexpr char axes[] = "xyz";
    if (found.own_axis == part.joint.axis)
        return fmt::format(
            "'{}' is round about an axis {:.1f}° off the one its hinge turns about: aim its pivot first",
            part.name, found.off_rad * deg_per_rad);
    return fmt::format(
        "'{}' is round about its {}, but its hinge turns it about its {}, across that axis: make it a hinge "
        "about {}",
        part.name, axes[found.own_axis], axes[part.joint.axis], axes[found.own_axis]);
}

}  // namespace pivrak
