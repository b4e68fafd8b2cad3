#include "core/checks/drive/mesh_interference.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <vector>

#include "core/geometry/mesh/extent.h"
#include "core/geometry/mesh/weld.h"
#include "core/geometry/near/surface_finder.h"
#include "core/geometry/near/surface_side.h"
#include "core/rig/gears/gear_pair.h"
#include "core/rig/joint_motion.h"

namespace pivrak {
namespace {

/// A surface in the frame of the member that carries it.
struct Body {
    Mesh mesh;
    Bounds bounds;
    std::vector<Vec3> samples;  ///< corners, and middles of edges
    std::unique_ptr<SurfaceFinder> finder;
    std::unique_ptr<SurfaceSide> side;
    // Of a member that turns: nothing of it lies nearer to its axis, or farther.
    Vec3 axis{0, 0, 0};  ///< zero for one that shifts
    double inner_m = 0, outer_m = 1e300;

    /// Whether a place could stand in it deeper than that.
    bool may_hold(const Vec3& place, double than) const {
        if ((place - bounds.min).minCoeff() < than || (bounds.max - place).minCoeff() < than) return false;
        const double along = axis.dot(place),
                     radius = std::sqrt(std::max(0.0, place.squaredNorm() - along * along));
        return radius > inner_m + than && radius < outer_m - than;
    }
};

/// Each place once, however many faces with corners of their own meet there.
std::vector<Vec3> samples_of(const Mesh& mesh) {
    const WeldedPoints welded = weld_points(mesh.positions);
    std::vector<Vec3> samples(welded.count());
    for (std::size_t v = 0; v < mesh.positions.size(); ++v)
        samples[welded.of_vertex[v]] = mesh.positions[v].cast<double>();
    std::vector<std::pair<std::uint32_t, std::uint32_t>> edges;
    for (std::size_t i = 0; i < mesh.indices.size(); ++i) {
        const std::uint32_t a = welded.of_vertex[mesh.indices[i]],
                            b = welded.of_vertex[mesh.indices[i % 3 == 2 ? i - 2 : i + 1]];
        edges.push_back(std::minmax(a, b));
    }
    std::sort(edges.begin(), edges.end());
    edges.erase(std::unique(edges.begin(), edges.end()), edges.end());
    for (const auto& [a, b] : edges) samples.push_back((samples[a] + samples[b]) / 2);
    return samples;
}

void measure_about(const Vec3& axis, Body& body) {
    body.axis = axis;
    body.inner_m = free_radius(body.mesh, Vec3(0, 0, 0), axis);
    body.outer_m = 0;
    for (const Vec3f& p : body.mesh.positions)
        body.outer_m = std::max(body.outer_m, axis.cross(p.cast<double>()).norm());
}

/// Everything with a shape that moves with a member, in the frame of its joint at rest.
std::vector<Body> bodies_of(const Document& document, PartId moving) {
    std::vector<Body> bodies;
    const Frame member_from_world = world_from_rest(document, moving).inverse();
    const Joint& joint = document.parts.find(moving)->joint;
    for (const PartId id : turning_parts(document, moving)) {
        const Part& part = *document.parts.find(id);
        const Shape* shape = document.shapes.find(part.shape);
        if (!shape || shape->mesh->triangle_count() == 0) continue;
        const Frame frame = member_from_world * world_from_rest(document, id) * part.part_from_shape;
        Body body{*shape->mesh, {}, {}, nullptr};
        for (Vec3f& p : body.mesh.positions) p = frame.point(p.cast<double>()).cast<float>();
        body.bounds = mesh_bounds(body.mesh);
        body.samples = samples_of(body.mesh);
        if (joint.has(ChannelKind::Turn)) measure_about(Vec3::Unit(joint.axis), body);
        bodies.push_back(std::move(body));
    }
    for (Body& body : bodies) {
        const Mesh* mesh = &body.mesh;
        body.finder = std::make_unique<SurfaceFinder>(std::span(&mesh, 1));
        body.side = std::make_unique<SurfaceSide>(body.mesh);
    }
    return bodies;
}

/// How deep a place stands in a body, if deeper than `than`; else `than`.
double deeper(const Body& body, const Vec3& place, double than) {
    if (!body.may_hold(place, than)) return than;
    const auto nearest = body.finder->nearest(place);
    if (!nearest || nearest->distance <= than) return than;
    if (!body.side->is_inside(place, nearest->triangle, nearest->place)) return than;
    return nearest->distance;
}

class Meshing {
public:
    Meshing(const Document& document, const GearPair& pair)
        : world_from_driver_(world_from_rest(document, pair.driver.part())),
          world_from_driven_(world_from_rest(document, pair.driven.part())),
          driver_joint_(document.parts.find(pair.driver.part())->joint),
          driven_joint_(document.parts.find(pair.driven.part())->joint),
          driver_(bodies_of(document, pair.driver.part())),
          driven_(bodies_of(document, pair.driven.part())),
          ratio_(measure_gear_pair(document, pair).ratio),
          phase_(pair.phase) {}

    bool has_shapes() const { return !driver_.empty() && !driven_.empty(); }

    void look(double driver_at, MeshInterference& out) const {
        const double driven_at = ratio_ * driver_at + phase_;
        const Frame world_from_a =
            world_from_driver_ * rest_from_part(driver_joint_.kind, driver_joint_.axis, &driver_at);
        const Frame world_from_b =
            world_from_driven_ * rest_from_part(driven_joint_.kind, driven_joint_.axis, &driven_at);
        compare(driver_, world_from_a, driven_, world_from_b, driver_at, out);
        compare(driven_, world_from_b, driver_, world_from_a, driver_at, out);
        ++out.looked;
    }

private:
    static void compare(const std::vector<Body>& points, const Frame& world_from_points,
                        const std::vector<Body>& solids, const Frame& world_from_solids, double driver_at,
                        MeshInterference& out) {
        const Frame solids_from_points = world_from_solids.inverse() * world_from_points;
        for (const Body& body : points)
            for (const Vec3& sample : body.samples) {
                const Vec3 place = solids_from_points.point(sample);
                for (const Body& solid : solids) {
                    const double depth = deeper(solid, place, out.deepest_m);
                    if (depth <= out.deepest_m) continue;
                    out.deepest_m = depth;
                    out.driver_at = driver_at;
                    out.place = world_from_points.point(sample);
                }
            }
    }

    Frame world_from_driver_, world_from_driven_;
    Joint driver_joint_, driven_joint_;
    std::vector<Body> driver_, driven_;
    double ratio_, phase_;
};

}  // namespace

Result<MeshInterference> mesh_interference(const Document& document, const GearPair& pair, int steps) {
    const Meshing meshing(document, pair);
    if (!meshing.has_shapes())
        return Error{
            "gear.no_shape",
            fmt::format("'{}' or '{}' has no shape to measure", name_of(document, pair.driver.part()),
                        name_of(document, pair.driven.part())),
            name_of(document, pair.driver.part())};
    const double round = is_turn(pair.driver.kind) ? 2 * pi : 2 * pi * std::max(pair.driven_radius_m, 1e-9);
    MeshInterference out;
    for (int i = 0; i < steps; ++i) meshing.look(round * i / steps, out);
    return out;
}

}  // namespace pivrak
