#include "core/geometry/mesh/solid.h"

#include <array>
#include <cmath>

#include "core/geometry/mesh/creases.h"

namespace pivrak {
namespace {

constexpr double same_place = 1e-7;

Vec3 lift(const Vec2& p, double z) {
    return {p.x(), p.y(), z};
}

/// The loop moved inwards at every corner, for chamfers.
Loop inset(const Loop& loop, double by) {
    Loop out;
    for (std::size_t i = 0; i < loop.size(); ++i) {
        const Vec2 before = (loop[i] - loop[(i + loop.size() - 1) % loop.size()]).normalized();
        const Vec2 after = (loop[(i + 1) % loop.size()] - loop[i]).normalized();
        const Vec2 n1(-before.y(), before.x()), n2(-after.y(), after.x());
        out.push_back(loop[i] + by * (n1 + n2) / std::max(0.3, 1 + n1.dot(n2)));
    }
    return out;
}

}  // namespace

std::uint32_t Solid::vertex(const Vec3& p) {
    if (buckets_.empty()) buckets_.resize(4096);
    const auto cell = [](double c) { return static_cast<std::int64_t>(std::floor(c / (4 * same_place))); };
    std::uint32_t found = static_cast<std::uint32_t>(vertices_.size());
    const auto bucket = [&](std::int64_t x, std::int64_t y, std::int64_t z) -> std::vector<std::uint32_t>& {
        return buckets_[static_cast<std::size_t>(x * 73856093 ^ y * 19349663 ^ z * 83492791) %
                        buckets_.size()];
    };
    const auto x = cell(p.x()), y = cell(p.y()), z = cell(p.z());
    for (int i = -1; i <= 1; ++i)
        for (int j = -1; j <= 1; ++j)
            for (int k = -1; k <= 1; ++k)
                for (const std::uint32_t v : bucket(x + i, y + j, z + k))
                    if ((vertices_[v] - p).norm() < same_place) return v;
    vertices_.push_back(p);
    bucket(x, y, z).push_back(found);
    return found;
}

void Solid::triangle(const Vec3& a, const Vec3& b, const Vec3& c) {
    const std::array<std::uint32_t, 3> t{vertex(a), vertex(b), vertex(c)};
    if (t[0] != t[1] && t[1] != t[2] && t[2] != t[0]) triangles_.push_back(t);
}

void Solid::cap(const Loop& outline, const std::vector<Loop>& holes, double z, bool up) {
    std::vector<Loop> loops{outline};
    loops.insert(loops.end(), holes.begin(), holes.end());
    std::vector<Vec2> points;
    for (const Loop& loop : loops) points.insert(points.end(), loop.begin(), loop.end());
    for (const auto& [a, b, c] : triangulate(loops))
        triangle(lift(points[a], z), lift(points[up ? b : c], z), lift(points[up ? c : b], z));
}

void Solid::wall(const Loop& loop, double z0, double z1, bool outward) {
    slope(loop, z0, loop, z1, outward);
}

void Solid::slope(const Loop& lower, double z0, const Loop& upper, double z1, bool outward) {
    for (std::size_t i = 0; i < lower.size(); ++i) {
        const std::size_t j = (i + 1) % lower.size();
        const Vec3 a = lift(lower[i], z0), b = lift(lower[j], z0), c = lift(upper[j], z1),
                   d = lift(upper[i], z1);
        if (outward) {
            triangle(a, b, c);
            triangle(a, c, d);
        } else {
            triangle(a, c, b);
            triangle(a, d, c);
        }
    }
}

Solid& Solid::move(const Vec3& by) {
    for (Vec3& v : vertices_) v += by;
    buckets_.clear();
    return *this;
}

Solid& Solid::turn(int axis, double angle_rad) {
    const Quat q = turn_about_axis(axis, angle_rad);
    for (Vec3& v : vertices_) v = q * v;
    buckets_.clear();
    return *this;
}

Solid& Solid::lay_along(int axis) {
    return axis == 1 ? turn(0, -pi / 2) : turn(1, pi / 2);
}

Loop circle(double radius, int points, Vec2 centre, double start_rad) {
    Loop loop;
    for (int i = 0; i < points; ++i) {
        const double a = start_rad + 2 * pi * i / points;
        loop.push_back(centre + radius * Vec2(std::cos(a), std::sin(a)));
    }
    return loop;
}

Loop rectangle(double width, double height, double c, Vec2 centre) {
    const double x = width / 2, y = height / 2;
    Loop loop;
    for (const Vec2& p : {Vec2(-x + c, -y), Vec2(x - c, -y), Vec2(x, -y + c), Vec2(x, y - c), Vec2(x - c, y),
                          Vec2(-x + c, y), Vec2(-x, y - c), Vec2(-x, -y + c)})
        if (loop.empty() || (loop.back() - centre - p).norm() > same_place) loop.push_back(centre + p);
    if ((loop.front() - loop.back()).norm() < same_place) loop.pop_back();
    return loop;
}

std::vector<Loop> hole_ring(int count, double ring_radius, double hole_radius, int points, double start_rad) {
    std::vector<Loop> holes;
    for (int i = 0; i < count; ++i) {
        const double a = start_rad + 2 * pi * i / count;
        holes.push_back(circle(hole_radius, points, ring_radius * Vec2(std::cos(a), std::sin(a)), a));
    }
    return holes;
}

namespace {

Loop counter_clockwise(const Loop& loop) {
    return doubled_area(loop) > 0 ? loop : Loop(loop.rbegin(), loop.rend());
}

}  // namespace

Solid extrude(const Loop& drawn, const std::vector<Loop>& drawn_holes, double z0, double z1, double chamfer) {
    Solid s;
    const Loop outline = counter_clockwise(drawn);
    std::vector<Loop> holes;
    for (const Loop& hole : drawn_holes) holes.push_back(counter_clockwise(hole));
    const Loop edge = chamfer > 0 ? inset(outline, chamfer) : outline;
    s.cap(edge, holes, z0, false);
    s.cap(edge, holes, z1, true);
    s.wall(outline, z0 + chamfer, z1 - chamfer, true);
    if (chamfer > 0) {
        s.slope(edge, z0, outline, z0 + chamfer, true);
        s.slope(outline, z1 - chamfer, edge, z1, true);
    }
    for (const Loop& hole : holes) s.wall(hole, z0, z1, false);
    return s;
}

Solid revolve(const std::vector<ProfilePoint>& profile, int segments, bool closed_ring) {
    Solid s;
    const std::size_t last = closed_ring ? profile.size() : profile.size() - 1;
    for (std::size_t i = 0; i < last; ++i) {
        const ProfilePoint &a = profile[i], &b = profile[(i + 1) % profile.size()];
        s.slope(circle(a.radius, segments), a.along, circle(b.radius, segments), b.along, true);
    }
    return s;
}

Solid shaft(double radius, double z0, double z1, double chamfer, int segments) {
    return revolve({{0, z0},
                    {radius - chamfer, z0},
                    {radius, z0 + chamfer},
                    {radius, z1 - chamfer},
                    {radius - chamfer, z1},
                    {0, z1}},
                   segments);
}

Solid block(Vec3 low, Vec3 high, double chamfer) {
    const Vec3 size = high - low, middle = 0.5 * (low + high);
    return extrude(rectangle(size.x(), size.y(), chamfer, middle.head<2>()), {}, low.z(), high.z(), chamfer);
}

Solid bolt(double size) {
    // Common practice: across flats 1.5 and head height 0.65 of the thread's size.
    const double across_corners = 1.5 * size / std::cos(pi / 6) / 2;
    Solid s;
    const Loop washer = circle(size, 12), hexagon = circle(across_corners, 6),
               top = circle(0.9 * across_corners, 6);
    s.cap(washer, {}, 0, false);
    s.wall(washer, 0, 0.15 * size, true);
    s.cap(washer, {hexagon}, 0.15 * size, true);
    s.wall(hexagon, 0.15 * size, 0.75 * size, true);
    s.slope(hexagon, 0.75 * size, top, 0.85 * size, true);
    s.cap(top, {}, 0.85 * size, true);
    return s;
}

Solid pipe(const std::vector<Vec3>& points, double radius, int segments) {
    Solid s;
    std::vector<std::vector<Vec3>> rings;
    Vec3 side = any_perpendicular((points[1] - points[0]).normalized());
    for (std::size_t i = 0; i < points.size(); ++i) {
        const Vec3 ahead =
            (points[std::min(i + 1, points.size() - 1)] - points[i == 0 ? 0 : i - 1]).normalized();
        side = (side - side.dot(ahead) * ahead).normalized();
        const Vec3 up = ahead.cross(side);
        std::vector<Vec3> ring;
        for (int k = 0; k < segments; ++k) {
            const double a = 2 * pi * k / segments;
            ring.push_back(points[i] + radius * (std::cos(a) * side + std::sin(a) * up));
        }
        rings.push_back(ring);
    }
    s.add_tube(rings);
    return s;
}

void Solid::add_side(const std::vector<std::vector<Vec3>>& rings) {
    const std::size_t n = rings.front().size();
    for (std::size_t i = 0; i + 1 < rings.size(); ++i)
        for (std::size_t k = 0; k < n; ++k) {
            triangle(rings[i][k], rings[i][(k + 1) % n], rings[i + 1][(k + 1) % n]);
            triangle(rings[i][k], rings[i + 1][(k + 1) % n], rings[i + 1][k]);
        }
}

void Solid::add_end(const std::vector<Vec3>& ring, bool up) {
    Loop seen;
    for (const Vec3& p : ring) seen.push_back(p.head<2>());
    for (const auto& [a, b, c] : triangulate({seen})) triangle(ring[a], ring[up ? b : c], ring[up ? c : b]);
}

void Solid::add_tube(const std::vector<std::vector<Vec3>>& rings) {
    add_side(rings);
    for (std::size_t k = 1; k + 1 < rings.front().size(); ++k) {
        triangle(rings.front()[0], rings.front()[k + 1], rings.front()[k]);
        triangle(rings.back()[0], rings.back()[k], rings.back()[k + 1]);
    }
}

Mesh solid_mesh(const Solid& solid, double metres_per_unit, MaterialId material) {
    Mesh mesh;
    for (const Vec3& v : solid.vertices()) mesh.positions.push_back((metres_per_unit * v).cast<float>());
    for (const auto& t : solid.triangles()) mesh.indices.insert(mesh.indices.end(), t.begin(), t.end());
    mesh.submeshes.push_back({material, 0, static_cast<std::uint32_t>(mesh.indices.size()), {}});
    return with_normals(mesh);
}

}  // namespace pivrak
