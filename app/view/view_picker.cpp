#include "app/view/view_picker.h"
#include "app/view/points.h"

#include <QtConcurrent>
#include <algorithm>
#include <cmath>
#include <set>

#include "core/geometry/fits/primitive_fits.h"
#include "core/operations/places.h"

namespace pivrak {
namespace {

constexpr double reach_px = 14, corner_px = 9, rim_corner_px = 3;
/// Corners and edges are as often clicked from outside: so far beside its outline a shape is found still.
constexpr double beside_px = 6;
/// Outlines are looked at in about this many places; more would not be seen.
constexpr double most_rays = 250000;

double distance_to_segment(const Vec2& p, const Vec2& a, const Vec2& b) {
    const Vec2 along = b - a;
    const double length = along.squaredNorm();
    const double share = length > 0 ? std::clamp((p - a).dot(along) / length, 0.0, 1.0) : 0;
    return (p - a - share * along).norm();
}

bool inside(const QPolygonF& outline, const Vec3& seen) {
    return seen.z() > 0 && outline.containsPoint(QPointF(seen.x(), seen.y()), Qt::OddEvenFill);
}

}  // namespace

ViewPicker::ViewPicker(Session& session) : session_(session) {}

ViewPicker::~ViewPicker() {
    building_.waitForFinished();
}

bool ViewPicker::pickable(const Part& part) const {
    return session_.isPickable(part);
}

std::vector<RayScene::Instance> ViewPicker::instances() {
    const Document& document = session_.shownDocument();
    const auto& parts = session_.evaluator().parts();
    std::vector<RayScene::Instance> list;
    ray_parts_.clear();
    for (std::size_t i = 0; i < parts.size(); ++i) {
        const Part* part = document.parts.find(parts[i]);
        const Shape* shape = part ? document.shapes.find(part->shape) : nullptr;
        if (!shape || !pickable(*part)) continue;
        const auto mesh = session_.shownMeshOf(part->id);
        if (!mesh || mesh->indices.empty()) continue;
        list.push_back({mesh, session_.pose().world_from_part[i] * part->part_from_shape});
        ray_parts_.push_back(part->id);
    }
    return list;
}

void ViewPicker::invalidate(bool shapes_changed) {
    stale_ = true;
    if (shapes_changed) startBuilding();
}

void ViewPicker::startBuilding() {
    building_.waitForFinished();
    stale_ = false;
    building_ = QtConcurrent::run([rays = rays_, list = instances()] { rays->set_instances(list); });
}

void ViewPicker::ready() {
    if (stale_) startBuilding();
    building_.waitForFinished();
}

void ViewPicker::settle() {
    ready();
}

std::optional<ViewPicker::Hit> ViewPicker::hit(const Camera& camera, const QPointF& pixel) {
    ready();
    const Ray ray = camera.ray(vec(pixel));
    const auto found = rays_->nearest(ray);
    if (!found) return std::nullopt;
    const PartId part = ray_parts_[found->instance];
    return Hit{part, triangle_of(part, found->triangle), ray.origin + found->distance * ray.direction};
}

std::optional<ViewPicker::Hit> ViewPicker::hit_near(const Camera& camera, const QPointF& pixel) {
    const auto found = hit(camera, pixel);
    return found ? found : hit_beside(camera, pixel);
}

std::optional<ViewPicker::Hit> ViewPicker::hit_beside(const Camera& camera, const QPointF& pixel) {
    for (const double away : {0.35 * beside_px, 0.7 * beside_px, beside_px})
        for (int i = 0; i < 8; ++i)
            if (const auto found =
                    hit(camera, pixel + away * QPointF(std::cos(i * pi / 4), std::sin(i * pi / 4))))
                return found;
    return std::nullopt;
}

/// Its number on the part's shape, where some faces are hidden.
std::uint32_t ViewPicker::triangle_of(PartId part, std::uint32_t seen) const {
    const HiddenFaces::Rest* rest = session_.restOf(part);
    return rest && seen < rest->triangles.size() ? rest->triangles[seen] : seen;
}

namespace {

/// A triangle of a part as the view shows it.
struct SeenTriangle {
    const Mesh* mesh;
    std::array<std::uint32_t, 3> vertices;
    std::array<Vec3, 3> corners;  ///< pixels and depth
};

std::optional<SeenTriangle> seen_triangle(const Session& session, const Camera& camera, PartId id,
                                          std::uint32_t triangle) {
    const Part* part = session.shownDocument().parts.find(id);
    const Shape* shape = part ? session.shownDocument().shapes.find(part->shape) : nullptr;
    if (!shape || triangle >= shape->mesh->triangle_count()) return std::nullopt;
    const Frame world = session.worldFromPart(id) * part->part_from_shape;
    SeenTriangle seen{shape->mesh.get(), {}, {}};
    for (std::size_t k = 0; k < 3; ++k) {
        seen.vertices[k] = shape->mesh->indices[3 * std::size_t{triangle} + k];
        seen.corners[k] =
            camera.project(world.point(shape->mesh->positions[seen.vertices[k]].cast<double>()));
    }
    return seen;
}

}  // namespace

std::optional<PickedPoint> ViewPicker::point(const Camera& camera, const QPointF& pixel) {
    const auto found = hit_near(camera, pixel);
    const auto seen = found ? seen_triangle(session_, camera, found->part, found->triangle) : std::nullopt;
    if (!seen) return std::nullopt;
    std::optional<PickedPoint> best;
    double nearest = reach_px;
    for (std::size_t k = 0; k < 3; ++k) {
        const double distance = (seen->corners[k].head<2>() - vec(pixel)).norm();
        if (distance >= nearest) continue;
        nearest = distance;
        best = PickedPoint{found->part, seen->vertices[k]};
    }
    return best;
}

std::optional<PickedEdge> ViewPicker::edge(const Camera& camera, const QPointF& pixel) {
    const auto found = hit_near(camera, pixel);
    const auto seen = found ? seen_triangle(session_, camera, found->part, found->triangle) : std::nullopt;
    if (!seen) return std::nullopt;
    std::optional<PickedEdge> best;
    double nearest = reach_px;
    for (std::size_t k = 0; k < 3; ++k) {
        const std::size_t next = (k + 1) % 3;
        const double distance =
            distance_to_segment(vec(pixel), seen->corners[k].head<2>(), seen->corners[next].head<2>());
        if (distance >= nearest) continue;
        nearest = distance;
        best = PickedEdge{found->part, std::min(seen->vertices[k], seen->vertices[next]),
                          std::max(seen->vertices[k], seen->vertices[next])};
    }
    return best;
}

namespace {

/// Sides of a triangle within reach of a pixel, the nearest first.
std::vector<std::size_t> sides_near(const SeenTriangle& seen, const QPointF& pixel) {
    std::vector<std::pair<double, std::size_t>> near;
    for (std::size_t k = 0; k < 3; ++k) {
        const double distance =
            distance_to_segment(vec(pixel), seen.corners[k].head<2>(), seen.corners[(k + 1) % 3].head<2>());
        if (distance < reach_px) near.emplace_back(distance, k);
    }
    std::sort(near.begin(), near.end());
    std::vector<std::size_t> sides;
    for (const auto& [distance, side] : near) sides.push_back(side);
    return sides;
}

}  // namespace

std::optional<PickedPlace> ViewPicker::place(const Camera& camera, const QPointF& pixel) {
    const auto under = hit(camera, pixel), found = under ? under : hit_beside(camera, pixel);
    const auto seen = found ? seen_triangle(session_, camera, found->part, found->triangle) : std::nullopt;
    if (!seen) return std::nullopt;
    const auto placed = [&](PickedPlace::Kind kind, std::uint32_t a, std::uint32_t b) {
        PickedPlace place{found->part, kind, a, b, {0, 0, 0}};
        const auto in_shape = place_in_shape(*seen->mesh, place.argument());
        return in_shape ? (place.in_shape = *in_shape, std::optional(place)) : std::nullopt;
    };
    const auto corner = [&](double within) -> std::optional<PickedPlace> {
        for (std::size_t k = 0; k < 3; ++k)
            if ((seen->corners[k].head<2>() - vec(pixel)).norm() < within)
                return placed(PickedPlace::Kind::Vertex, seen->vertices[k], 0);
        return std::nullopt;
    };
    std::optional<PickedPlace> rim, middle;
    double corner_reach = corner_px;
    const MeshTopology topology = mesh_topology(*seen->mesh);
    for (const std::size_t side : sides_near(*seen, pixel)) {
        const std::uint32_t a = seen->vertices[side], b = seen->vertices[(side + 1) % 3];
        // The diagonals of a flat area are no edges to anyone who looks at it.
        if (!is_sharp_edge(*seen->mesh, topology, a, b)) continue;
        if (!rim && (rim = placed(PickedPlace::Kind::RimCentre, a, b))) {
            // The edges of a rim are short: its corners must be aimed at.
            const Vec2 edge = (seen->corners[side] - seen->corners[(side + 1) % 3]).head<2>();
            corner_reach = std::min(rim_corner_px, 0.2 * edge.norm());
        }
        const Vec2 between = 0.5 * (seen->corners[side] + seen->corners[(side + 1) % 3]).head<2>();
        if (!middle && (between - vec(pixel)).norm() < reach_px)
            middle = placed(PickedPlace::Kind::EdgeMiddle, a, b);
    }
    if (const auto at_corner = corner(corner_reach)) return at_corner;
    if (rim) return rim;
    if (middle) return middle;
    return under ? placed(PickedPlace::Kind::FaceCentre, found->triangle, 0) : std::nullopt;
}

std::vector<ViewPicker::Seen> ViewPicker::seen_inside(const Camera& camera, const QPolygonF& outline) {
    ready();
    const QRectF box = outline.boundingRect().intersected(QRectF(0, 0, camera.width(), camera.height()));
    const double step = std::max(1.0, std::sqrt(box.width() * box.height() / most_rays));
    std::set<Seen> seen;
    for (double y = box.top() + 0.5 * step; y < box.bottom(); y += step)
        for (double x = box.left() + 0.5 * step; x < box.right(); x += step) {
            if (!outline.containsPoint(QPointF(x, y), Qt::OddEvenFill)) continue;
            if (const auto found = rays_->nearest(camera.ray(Vec2(x, y))))
                seen.insert(
                    {ray_parts_[found->instance], triangle_of(ray_parts_[found->instance], found->triangle)});
        }
    return {seen.begin(), seen.end()};
}

std::vector<PartId> ViewPicker::parts_inside(const Camera& camera, const QPolygonF& outline, bool through) {
    std::set<PartId> visible;
    if (!through)
        for (const Seen& s : seen_inside(camera, outline)) visible.insert(s.part);
    std::vector<PartId> found;
    const Document& document = session_.shownDocument();
    for (const PartId id : session_.evaluator().parts()) {
        const Part& part = *document.parts.find(id);
        const Shape* shape = document.shapes.find(part.shape);
        if (!shape || !pickable(part) || (!through && !visible.contains(id))) continue;
        const Frame world = session_.worldFromPart(id) * part.part_from_shape;
        bool all = true;
        for (int corner = 0; corner < 8 && all; ++corner)
            all = inside(outline, camera.project(world.point(
                                      Vec3(corner & 1 ? shape->bounds.max.x() : shape->bounds.min.x(),
                                           corner & 2 ? shape->bounds.max.y() : shape->bounds.min.y(),
                                           corner & 4 ? shape->bounds.max.z() : shape->bounds.min.z()))));
        if (all) found.push_back(id);
    }
    return found;
}

/// `take(part, shape, triangle, inside)` for every triangle of which a corner lies inside.
template <class Take>
void ViewPicker::each_triangle_inside(const Camera& camera, const QPolygonF& outline, Take take) {
    const Document& document = session_.shownDocument();
    for (const PartId id : session_.evaluator().parts()) {
        const Part& part = *document.parts.find(id);
        const Shape* shape = document.shapes.find(part.shape);
        if (!shape || !pickable(part)) continue;
        const Frame world = session_.worldFromPart(id) * part.part_from_shape;
        const Mesh& mesh = *shape->mesh;
        std::vector<bool> in(mesh.positions.size());
        bool any = false;
        for (std::size_t v = 0; v < in.size(); ++v) {
            in[v] = inside(outline, camera.project(world.point(mesh.positions[v].cast<double>())));
            any |= in[v];
        }
        if (!any) continue;
        if (const HiddenFaces::Rest* rest = session_.restOf(id))
            for (const std::uint32_t t : rest->triangles) take(id, mesh, t, in);
        else
            for (std::uint32_t t = 0; t < mesh.triangle_count(); ++t) take(id, mesh, t, in);
    }
}

ElementPicks ViewPicker::elements_inside(const Camera& camera, const QPolygonF& outline,
                                         const PickSettings& settings) {
    std::set<Seen> seen;
    if (!settings.through)
        for (const Seen& s : seen_inside(camera, outline)) seen.insert(s);
    ElementPicks picks;
    std::set<PickedPoint> points;
    std::set<PickedEdge> edges;
    each_triangle_inside(camera, outline,
                         [&](PartId id, const Mesh& mesh, std::uint32_t t, const std::vector<bool>& in) {
                             if (!settings.through && !seen.contains({id, t})) return;
                             const std::array<std::uint32_t, 3> v{
                                 mesh.indices[3 * t], mesh.indices[3 * t + 1], mesh.indices[3 * t + 2]};
                             if (settings.kind == PickKind::Faces &&
                                 (!settings.through || (in[v[0]] && in[v[1]] && in[v[2]]))) {
                                 FaceMask& mask = picks.faces[id];
                                 mask.resize(mesh.triangle_count());
                                 mask[t] = true;
                             }
                             for (std::size_t k = 0; k < 3; ++k) {
                                 const std::uint32_t a = v[k], b = v[(k + 1) % 3];
                                 if (settings.kind == PickKind::Points && in[a]) points.insert({id, a});
                                 if (settings.kind == PickKind::Edges && in[a] && in[b])
                                     edges.insert({id, std::min(a, b), std::max(a, b)});
                             }
                         });
    // A face may be seen though none of its corners is in the outline.
    if (settings.kind == PickKind::Faces && !settings.through)
        for (const Seen& s : seen) {
            const Part& part = *session_.shownDocument().parts.find(s.part);
            FaceMask& mask = picks.faces[s.part];
            mask.resize(session_.shownDocument().shapes.find(part.shape)->mesh->triangle_count());
            mask[s.triangle] = true;
        }
    picks.points.assign(points.begin(), points.end());
    picks.edges.assign(edges.begin(), edges.end());
    return picks;
}

}  // namespace pivrak
