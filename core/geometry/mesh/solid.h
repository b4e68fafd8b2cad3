#pragma once

#include <array>
#include <cstdint>
#include <string>
#include <vector>

#include "core/geometry/mesh/mesh.h"
#include "core/geometry/mesh/triangulate.h"

namespace pivrak {

/// A ring of an axial profile: radius and place along the axis.
struct ProfilePoint {
    double radius, along;
};

/// A closed surface under construction, z along the axis it was made about. Lengths are in whatever unit its
/// maker counts in; loops run counter-clockwise, outlines and holes alike. Corners at the same place (to a
/// ten-millionth of the unit) share a vertex, so each solid is one connected, watertight piece.
class Solid {
public:
    /// A flat region at height z, with holes, seen from above when `up`, from below otherwise.
    void cap(const Loop& outline, const std::vector<Loop>& holes, double z, bool up);
    /// The side of an extrusion; `outward` for outlines, false for holes.
    void wall(const Loop& loop, double z0, double z1, bool outward);
    /// Between two loops of the same length at different heights; `outward` as for walls.
    void slope(const Loop& lower, double z0, const Loop& upper, double z1, bool outward);

    /// A tube through rings of equal length, closed at both ends, which are convex.
    void add_tube(const std::vector<std::vector<Vec3>>& rings);
    /// The side of a tube alone; rings run counter-clockwise seen from their last one.
    void add_side(const std::vector<std::vector<Vec3>>& rings);
    /// An end of any outline, flat or not, that is simple seen along z; from above when `up`.
    void add_end(const std::vector<Vec3>& ring, bool up);

    Solid& move(const Vec3& by);
    Solid& turn(int axis, double angle_rad);
    /// z along the given axis of the world (0 x, 1 y); x stays or becomes z.
    Solid& lay_along(int axis);

    const std::vector<Vec3>& vertices() const { return vertices_; }
    const std::vector<std::array<std::uint32_t, 3>>& triangles() const { return triangles_; }

private:
    std::uint32_t vertex(const Vec3& p);
    void triangle(const Vec3& a, const Vec3& b, const Vec3& c);

    std::vector<Vec3> vertices_;
    std::vector<std::array<std::uint32_t, 3>> triangles_;
    std::vector<std::vector<std::uint32_t>> buckets_;
};

Loop circle(double radius, int points, Vec2 centre = {0, 0}, double start_rad = 0);
Loop rectangle(double width, double height, double chamfer, Vec2 centre = {0, 0});
/// Circles evenly round the origin.
std::vector<Loop> hole_ring(int count, double ring_radius, double hole_radius, int points,
                            double start_rad = 0);

/// Between two heights; loops may run either way.
Solid extrude(const Loop& outline, const std::vector<Loop>& holes, double z0, double z1, double chamfer = 0);
/// A solid of revolution about z; the profile runs from one end of the axis to the other with radius 0 at
/// both, or closes on itself for a ring.
Solid revolve(const std::vector<ProfilePoint>& profile, int segments, bool closed_ring = false);
/// A cylinder with chamfered edges from z0 to z1.
Solid shaft(double radius, double z0, double z1, double chamfer, int segments);
/// A box with chamfered upright edges and top.
Solid block(Vec3 low, Vec3 high, double chamfer);
/// A hexagon bolt head with washer, standing on z = 0.
Solid bolt(double size);
/// A pipe of round section along points.
Solid pipe(const std::vector<Vec3>& points, double radius, int segments);

/// The solid as a mesh in metres, of one material, with normals that keep edges of over 30° sharp.
Mesh solid_mesh(const Solid& solid, double metres_per_unit, MaterialId material = {});

}  // namespace pivrak
