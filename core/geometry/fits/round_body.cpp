#include "core/geometry/fits/round_body.h"

#include <algorithm>

#include "core/geometry/fits/revolution_fit.h"
#include "core/geometry/mesh/extent.h"

namespace pivrak {
namespace {

constexpr double rim_from = 0.8;  ///< of the radius: what lies beyond is the rim
constexpr double least_rim = 0.6, least_outline = 0.95;
constexpr int fewest_sides = 6;

}  // namespace

std::optional<RoundBody> round_body(const Mesh& mesh) {
    const auto axis = round_axis(mesh);
    return axis ? round_body(mesh, *axis) : std::nullopt;
}

std::optional<RoundBody> round_body(const Mesh& mesh, const RoundAxis& axis) {
    RoundBody body;
    body.axis = axis;
    const Extent extent = extent_along(mesh, axis.point, axis.direction);
    body.middle = axis.point + extent.middle() * axis.direction;
    body.width_m = extent.length();
    for (const Vec3f& p : mesh.positions) {
        const Vec3 from = p.cast<double>() - axis.point;
        body.radius_m = std::max(body.radius_m, (from - from.dot(axis.direction) * axis.direction).norm());
    }
    if (!(body.radius_m > 0)) return std::nullopt;
    const Frame frame = axis_from_mesh(axis);
    body.support = std::max(axis.support, revolved_share(mesh, axis.point, axis.direction));
    body.rim = revolved_share(mesh, axis.point, axis.direction, rim_from * body.radius_m);
    body.teeth = count_outside_teeth(mesh, frame);
    if (!body.teeth) body.teeth = count_lugs(mesh, frame);
    if (body.teeth) return body;
    body.sides = outline_sides(mesh, axis.point, axis.direction);
    const bool sided = body.sides.regular && body.sides.alone && body.sides.count >= fewest_sides;
    if (body.rim < least_rim || (!sided && outline_roundness(mesh, frame) < least_outline))
        return std::nullopt;
    return body;
}

}  // namespace pivrak
