#include "core/geometry/ground/ground_map.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "core/geometry/ground/leaning_stand.h"

namespace pivrak {
namespace {

/// A wheel's own directions: forward, along the axle, and up at right angles to both.
struct WheelAxes {
    Vec3 forward, axle, up;
    double share;  ///< of a movement along the way asked for that goes along `up`

    WheelAxes(const Vec3& wheel_axle, const Vec3& way) : axle(wheel_axle) {
        const Vec3 across = way - way.dot(axle) * axle;
        share = across.norm();
        up = share > 1e-9 ? Vec3(across / share) : any_perpendicular(axle);
        forward = axle.cross(up);
    }
    /// Forward, along the axle, up.
    Vec3 own(const Vec3& v) const { return {forward.dot(v), axle.dot(v), up.dot(v)}; }
};

/// The highest a cylinder of a radius must stand for a polygon below it, of points (forward, across, up).
class HighestStand {
public:
    explicit HighestStand(double radius) : radius_(radius) {}

    double lift = -1e300;
    Vec3 touch{0, 0, 0};

    void edge(const Vec3& a, const Vec3& b) {
        double from = 0, to = 1;
        const double run = b.x() - a.x();
        if (!clip(a.x(), run, from, to)) return;
        point(a + from * (b - a));
        point(a + to * (b - a));
        if (run == 0) return;
        // On a slope m the round touches where it is as steep: at r m / sqrt(1 + m^2).
        const double slope = (b.z() - a.z()) / run, u = radius_ * slope / std::sqrt(1 + slope * slope),
                     t = (u - a.x()) / run;
        if (t > from && t < to) point(a + t * (b - a));
    }

private:
    /// Keeps the stretch of an edge that lies below the wheel.
    bool clip(double start, double run, double& from, double& to) const {
        if (run == 0) return std::abs(start) <= radius_;
        double t0 = (-radius_ - start) / run, t1 = (radius_ - start) / run;
        if (t0 > t1) std::swap(t0, t1);
        from = std::max(from, t0);
        to = std::min(to, t1);
        return from <= to;
    }
    void point(const Vec3& p) {
        const double needed = p.z() + std::sqrt(std::max(0.0, radius_ * radius_ - p.x() * p.x()));
        if (needed <= lift) return;
        lift = needed;
        touch = p;
    }
    double radius_;
};

/// A triangle cut to a strip of the width of the tread: at most five corners.
struct Strip {
    std::array<Vec3, 8> points;
    std::size_t count = 0;

    void add(const Vec3& p) { points[count++] = p; }
    /// Keeps what lies at `side * y <= limit`.
    Strip cut(double side, double limit) const {
        Strip out;
        for (std::size_t i = 0; i < count; ++i) {
            const Vec3 &a = points[i], &b = points[(i + 1) % count];
            const double da = side * a.y() - limit, db = side * b.y() - limit;
            if (da <= 0) out.add(a);
            if ((da < 0 && db > 0) || (da > 0 && db < 0)) out.add(a + (da / (da - db)) * (b - a));
        }
        return out;
    }
};

}  // namespace

GroundMap::GroundMap(const Mesh& mesh, const Frame& world_from_mesh) {
    std::vector<Vec3> places;
    places.reserve(mesh.positions.size());
    for (const Vec3f& p : mesh.positions) places.push_back(world_from_mesh.point(p.cast<double>()));
    triangles_.reserve(mesh.triangle_count());
    for (std::size_t i = 0; i + 2 < mesh.indices.size(); i += 3) {
        triangles_.push_back(
            {{places[mesh.indices[i]], places[mesh.indices[i + 1]], places[mesh.indices[i + 2]]}, 0, 0});
        for (const Vec3& corner : triangles_.back().at) bounds_.add(corner);
    }
    if (triangles_.empty()) return;
    const Vec3 size = bounds_.size();
    // About as many squares as triangles.
    const double area = std::max(size.x() * size.y(), 1e-12);
    square_m_ = std::max(
        {std::sqrt(area / static_cast<double>(triangles_.size())), size.x() / 4000, size.y() / 4000, 1e-6});
    columns_ = static_cast<int>(size.x() / square_m_) + 1;
    rows_ = static_cast<int>(size.y() / square_m_) + 1;
    const auto column = [&](double x) {
        return std::clamp(static_cast<int>((x - bounds_.min.x()) / square_m_), 0, columns_ - 1);
    };
    const auto row = [&](double y) {
        return std::clamp(static_cast<int>((y - bounds_.min.y()) / square_m_), 0, rows_ - 1);
    };
    const auto each_square = [&](const Corners& t, auto take) {
        const Vec3 low = t.at[0].cwiseMin(t.at[1]).cwiseMin(t.at[2]),
                   high = t.at[0].cwiseMax(t.at[1]).cwiseMax(t.at[2]);
        for (int r = row(low.y()); r <= row(high.y()); ++r)
            for (int c = column(low.x()); c <= column(high.x()); ++c)
                take(static_cast<std::size_t>(r) * static_cast<std::size_t>(columns_) +
                     static_cast<std::size_t>(c));
    };
    first_.assign(static_cast<std::size_t>(columns_) * static_cast<std::size_t>(rows_) + 1, 0);
    for (Corners& t : triangles_) {
        t.column = column(std::min({t.at[0].x(), t.at[1].x(), t.at[2].x()}));
        t.row = row(std::min({t.at[0].y(), t.at[1].y(), t.at[2].y()}));
        each_square(t, [&](std::size_t square) { ++first_[square + 1]; });
    }
    for (std::size_t i = 1; i < first_.size(); ++i) first_[i] += first_[i - 1];
    members_.resize(first_.back());
    std::vector<std::uint32_t> next(first_.begin(), first_.end() - 1);
    for (std::uint32_t t = 0; t < triangles_.size(); ++t)
        each_square(triangles_[t], [&](std::size_t square) { members_[next[square]++] = t; });
}

template <class Take>
void GroundMap::each_near(double x0, double y0, double x1, double y1, Take take) const {
    // What is not finite lies nowhere.
    if (!(x0 <= x1 && y0 <= y1)) return;
    if (triangles_.empty() || x1 < bounds_.min.x() || y1 < bounds_.min.y() || x0 > bounds_.max.x() ||
        y0 > bounds_.max.y())
        return;
    const auto place = [&](double from, int count) {
        return std::clamp(static_cast<int>(std::floor(std::clamp(from / square_m_, -1.0, 1e6))), 0,
                          count - 1);
    };
    const int c0 = place(x0 - bounds_.min.x(), columns_), c1 = place(x1 - bounds_.min.x(), columns_),
              r0 = place(y0 - bounds_.min.y(), rows_), r1 = place(y1 - bounds_.min.y(), rows_);
    for (int r = r0; r <= r1; ++r)
        for (int c = c0; c <= c1; ++c) {
            const std::size_t square = static_cast<std::size_t>(r) * static_cast<std::size_t>(columns_) +
                                       static_cast<std::size_t>(c);
            for (std::uint32_t i = first_[square]; i < first_[square + 1]; ++i) {
                const Corners& t = triangles_[members_[i]];
                // One that lies in several squares is taken in the first of them.
                if (c == std::max(t.column, c0) && r == std::max(t.row, r0)) take(t);
            }
        }
}

std::optional<double> GroundMap::height(double x, double y) const {
    std::optional<double> highest;
    each_near(x, y, x, y, [&](const Corners& t) {
        const Vec2 p(x, y), a = t.at[0].head<2>(), b = t.at[1].head<2>(), c = t.at[2].head<2>();
        const auto cross = [](const Vec2& u, const Vec2& v) { return u.x() * v.y() - u.y() * v.x(); };
        const double whole = cross(b - a, c - a);
        if (whole == 0) return;
        const double wb = cross(p - a, c - a) / whole, wc = cross(b - a, p - a) / whole;
        constexpr double slack = -1e-12;
        if (wb < slack || wc < slack || 1 - wb - wc < slack) return;
        const double z = t.at[0].z() + wb * (t.at[1].z() - t.at[0].z()) + wc * (t.at[2].z() - t.at[0].z());
        if (!highest || z > *highest) highest = z;
    });
    return highest;
}

std::optional<GroundContact> GroundMap::stand(const GroundWheel& wheel, const Vec3& up) const {
    const WheelAxes axes(wheel.axle, up);
    if (axes.share < 1e-6) return std::nullopt;
    const double r = wheel.radius_m, w = wheel.half_width_m;
    // As far as it reaches sideways, and as far as it shifts sideways when it is moved up or down a slope.
    const double shift_x = 3 * r * std::abs(axes.up.x()), shift_y = 3 * r * std::abs(axes.up.y());
    const double reach_x = r * std::abs(axes.forward.x()) + w * std::abs(axes.axle.x()) + shift_x,
                 reach_y = r * std::abs(axes.forward.y()) + w * std::abs(axes.axle.y()) + shift_y;
    HighestStand highest(r);
    each_near(wheel.hub.x() - reach_x, wheel.hub.y() - reach_y, wheel.hub.x() + reach_x,
              wheel.hub.y() + reach_y, [&](const Corners& t) {
                  Strip strip;
                  for (const Vec3& corner : t.at) strip.add(axes.own(corner - wheel.hub));
                  const auto& p = strip.points;
                  if (std::min({p[0].x(), p[1].x(), p[2].x()}) > r ||
                      std::max({p[0].x(), p[1].x(), p[2].x()}) < -r ||
                      std::min({p[0].y(), p[1].y(), p[2].y()}) > w ||
                      std::max({p[0].y(), p[1].y(), p[2].y()}) < -w ||
                      std::max({p[0].z(), p[1].z(), p[2].z()}) + r <= highest.lift)
                      return;
                  const Strip cut = strip.cut(1, w).cut(-1, w);
                  for (std::size_t i = 0; i < cut.count; ++i)
                      highest.edge(cut.points[i], cut.points[(i + 1) % cut.count]);
              });
    if (highest.lift < -1e299) return std::nullopt;
    const Vec3& touch = highest.touch;
    GroundContact out;
    out.lift_m = highest.lift / axes.share;
    out.place = wheel.hub + touch.x() * axes.forward + touch.y() * axes.axle + touch.z() * axes.up;
    out.normal =
        (-touch.x() * axes.forward + std::sqrt(std::max(0.0, r * r - touch.x() * touch.x())) * axes.up) / r;
    return out;
}

std::optional<GroundContact> GroundMap::stand_leaning(const GroundWheel& wheel) const {
    const Vec3 &hub = wheel.hub, &a = wheel.axle;
    const double reach_x = wheel.radius_m * std::sqrt(std::max(0.0, 1 - a.x() * a.x())) +
                           wheel.half_width_m * std::abs(a.x()),
                 reach_y = wheel.radius_m * std::sqrt(std::max(0.0, 1 - a.y() * a.y())) +
                           wheel.half_width_m * std::abs(a.y());
    LeaningStand stand(wheel);
    each_near(hub.x() - reach_x, hub.y() - reach_y, hub.x() + reach_x, hub.y() + reach_y,
              [&](const Corners& t) { stand.triangle(t.at); });
    return stand.contact();
}

GroundContact stand_on_floor(const GroundWheel& wheel, const Vec3& up, double floor_z) {
    // The lowest place of a cylinder: straight down, at right angles to the axle, at the lower end of the
    // axle.
    const Vec3 down = Vec3(0, 0, -1) + wheel.axle.z() * wheel.axle;
    const double steep = down.norm();
    const Vec3 out_of_axle = steep > 1e-12 ? Vec3(down / steep) : any_perpendicular(wheel.axle);
    Vec3 lowest = wheel.hub + wheel.radius_m * out_of_axle;
    if (std::abs(wheel.axle.z()) > 1e-12)
        lowest -= std::copysign(wheel.half_width_m, wheel.axle.z()) * wheel.axle;
    GroundContact out;
    out.lift_m = up.z() > 1e-6 ? (floor_z - lowest.z()) / up.z() : 0;
    out.place = lowest + out.lift_m * up;
    out.normal = -out_of_axle;
    return out;
}

}  // namespace pivrak
