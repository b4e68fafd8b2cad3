#include "core/rig/chains/link_shape.h"

#include <Eigen/Eigenvalues>
#include <algorithm>
#include <cmath>

namespace pivrak {
namespace {

/// Corners of a branch's shapes as they lie to the chain's plane.
struct Corners {
    std::vector<Vec2> in_plane;
    double low = 1e300, high = -1e300;  ///< beside it

    /// A link that the plane does not cut at all is brought to it by its middle.
    double beside() const { return in_plane.empty() || low * high <= 0 ? 0 : 0.5 * (low + high); }
};

Corners corners_in(const Document& document, PartId top, const Frame& plane_from_world) {
    Corners corners;
    for (const PartId id : Tree(document).branch(top)) {
        const Part& part = *document.parts.find(id);
        const Shape* shape = document.shapes.find(part.shape);
        if (!shape) continue;
        const Frame frame = plane_from_world * world_from_rest(document, id) * part.part_from_shape;
        for (const Vec3f& p : shape->mesh->positions) {
            const Vec3 corner = frame.point(p.cast<double>());
            corners.in_plane.push_back(corner.head<2>());
            corners.low = std::min(corners.low, corner.z());
            corners.high = std::max(corners.high, corner.z());
        }
    }
    return corners;
}

/// The direction in which corners spread most, or least, next to `way`.
Vec2 side_along(const std::vector<Vec2>& corners, const Vec2& way) {
    Vec2 middle(0, 0);
    for (const Vec2& c : corners) middle += c / static_cast<double>(corners.size());
    Eigen::Matrix2d spread = Eigen::Matrix2d::Zero();
    for (const Vec2& c : corners) spread += (c - middle) * (c - middle).transpose();
    const Eigen::SelfAdjointEigenSolver<Eigen::Matrix2d> axes(spread);
    // As wide as long: no side tells.
    if (axes.eigenvalues()[1] < 1.05 * axes.eigenvalues()[0]) return way;
    Vec2 best = axes.eigenvectors().col(0);
    if (std::abs(best.dot(way)) < std::abs(axes.eigenvectors().col(1).dot(way)))
        best = axes.eigenvectors().col(1);
    return best.dot(way) < 0 ? -best : best;
}

}  // namespace

LinkPlace link_place(const Document& document, PartId link, const Chain& chain,
                     std::span<const Vec2> pins_of_chain, const LinkPins& pins) {
    const Frame plane = world_from_rest(document, chain.frame), plane_from_world = plane.inverse();
    const Corners lying = corners_in(document, link, plane_from_world);
    const std::vector<Vec2>& corners = lying.in_plane;
    Vec2 low(1e300, 1e300), high(-1e300, -1e300);
    for (const Vec2& c : corners) low = low.cwiseMin(c), high = high.cwiseMax(c);
    Vec2 middle = corners.empty()
                      ? Vec2(plane_from_world.point(world_from_rest(document, link).translation).head<2>())
                      : Vec2((low + high) / 2);
    LinkPlace out;
    double nearest = 1e300;
    const std::size_t n = pins_of_chain.size();
    // Behind the last pin of an open run there is no link.
    for (std::size_t i = 0; i + (chain.ends ? 1 : 0) < n; ++i) {
        const double off = ((pins_of_chain[i] + pins_of_chain[(i + 1) % n]) / 2 - middle).norm();
        if (off < nearest) nearest = off, out.nearest = i;
    }
    const Vec2 first = pins_of_chain[out.nearest],
               way = (pins_of_chain[(out.nearest + 1) % n] - first).normalized();
    if (pins.places) {
        const Vec2 a = plane_from_world.point((*pins.places)[0]).head<2>(),
                   b = plane_from_world.point((*pins.places)[1]).head<2>();
        const bool forward = (b - a).dot(way) >= 0;
        const Vec2 start = forward ? a : b, along = ((forward ? b : a) - start).normalized();
        out.world_from_link = plane * Frame{turn_about_axis(2, std::atan2(along.y(), along.x())),
                                            Vec3(start.x(), start.y(), lying.beside())};
        return out;
    }
    const Vec2 x = corners.empty() ? way : side_along(corners, way), y(-x.y(), x.x());
    double from = 1e300, to = -1e300, under = 1e300, over = -1e300;
    for (const Vec2& c : corners) {
        from = std::min(from, c.dot(x)), to = std::max(to, c.dot(x));
        under = std::min(under, c.dot(y)), over = std::max(over, c.dot(y));
    }
    if (!corners.empty()) middle = 0.5 * (from + to) * x + 0.5 * (under + over) * y;
    if (pins.inner_m) middle = 0.5 * (from + to) * x + (over - *pins.inner_m) * y;
    // A link that lies on the chain keeps its height against the line of pins.
    const double off = (middle - first).dot(Vec2(-way.y(), way.x()));
    out.on_chain = !pins.inner_m && x.dot(way) > 0.99 && std::abs(off) < 0.75 * chain.pitch_m &&
                   nearest < 2 * chain.pitch_m;
    if (out.on_chain) middle -= off * Vec2(-way.y(), way.x());
    const Vec2 start = middle - 0.5 * chain.pitch_m * x;
    out.world_from_link = plane * Frame{turn_about_axis(2, std::atan2(x.y(), x.x())),
                                        Vec3(start.x(), start.y(), lying.beside())};
    return out;
}

}  // namespace pivrak
