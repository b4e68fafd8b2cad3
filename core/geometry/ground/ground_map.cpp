#include "core/geometry/ground/ground_map.h"

#include <algorithm>
#include <cmath>

#include "core/geometry/ground/leaning_stand.h"
#include "core/geometry/ground/upright_stand.h"

namespace pivrak {

GroundMap::GroundMap(const Mesh& mesh, const Frame& world_from_mesh) {
    std::vector<Vec3> places;
    places.reserve(mesh.positions.size());
    for (const Vec3f& p : mesh.positions) places.push_back(world_from_mesh.point(p.cast<double>()));
    triangles_.reserve(mesh.triangle_count());
    for (std::size_t i = 0; i + 2 < mesh.indices.size(); i += 3) {
        triangles_.push_back(
            {{places[mesh.indices[i]], places[mesh.indices[i + 1]], places[mesh.indices[i + 2]]}});
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
    const auto each_square = [&](const Member& t, auto take) {
        for (int r = t.row; r <= row(t.high.y()); ++r)
            for (int c = t.column; c <= column(t.high.x()); ++c)
                take(static_cast<std::size_t>(r) * static_cast<std::size_t>(columns_) +
                     static_cast<std::size_t>(c));
    };
    std::vector<Member> boxes;
    boxes.reserve(triangles_.size());
    first_.assign(static_cast<std::size_t>(columns_) * static_cast<std::size_t>(rows_) + 1, 0);
    for (const Corners& t : triangles_) {
        const Vec3 low = t.at[0].cwiseMin(t.at[1]).cwiseMin(t.at[2]),
                   high = t.at[0].cwiseMax(t.at[1]).cwiseMax(t.at[2]);
        const auto outward = [](const Vec3& p, float to) {
            return Vec3f(p.cast<float>().unaryExpr([to](float v) { return std::nextafter(v, to); }));
        };
        Member box{outward(low, -1e30f), outward(high, 1e30f), static_cast<std::uint32_t>(boxes.size()), 0,
                   0};
        box.column = static_cast<std::uint16_t>(column(box.low.x()));
        box.row = static_cast<std::uint16_t>(row(box.low.y()));
        boxes.push_back(box);
        each_square(box, [&](std::size_t square) { ++first_[square + 1]; });
    }
    for (std::size_t i = 1; i < first_.size(); ++i) first_[i] += first_[i - 1];
    members_.resize(first_.back());
    std::vector<std::uint32_t> next(first_.begin(), first_.end() - 1);
    for (const Member& box : boxes)
        each_square(box, [&](std::size_t square) { members_[next[square]++] = box; });
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
    const auto in_square = [&](int c, int r) {
        const std::size_t square =
            static_cast<std::size_t>(r) * static_cast<std::size_t>(columns_) + static_cast<std::size_t>(c);
        for (std::uint32_t i = first_[square]; i < first_[square + 1]; ++i) {
            const Member& t = members_[i];
            // One that lies in several squares is taken in the first of them.
            if (c == std::max<int>(t.column, c0) && r == std::max<int>(t.row, r0)) take(t);
        }
    };
    // From the middle outwards: what lies there settles most of what is about it.
    const int mc = (c0 + c1) / 2, mr = (r0 + r1) / 2;
    in_square(mc, mr);
    for (int r = r0; r <= r1; ++r)
        for (int c = c0; c <= c1; ++c)
            if (c != mc || r != mr) in_square(c, r);
}

std::optional<double> GroundMap::height(double x, double y) const {
    std::optional<double> highest;
    each_near(x, y, x, y, [&](const Member& member) {
        const Corners& t = triangles_[member.triangle];
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
    UprightStand stand(wheel, up);
    if (!stand.can_move()) return std::nullopt;
    const Vec2 low = wheel.hub.head<2>() - stand.reach(), high = wheel.hub.head<2>() + stand.reach();
    each_near(low.x(), low.y(), high.x(), high.y(), [&](const Member& t) {
        if (stand.may_meet(t.low, t.high)) stand.triangle(triangles_[t.triangle].at);
    });
    return stand.contact();
}

std::optional<GroundContact> GroundMap::stand_leaning(const GroundWheel& wheel) const {
    const Vec3 &hub = wheel.hub, &a = wheel.axle;
    const double reach_x = wheel.radius_m * std::sqrt(std::max(0.0, 1 - a.x() * a.x())) +
                           wheel.half_width_m * std::abs(a.x()),
                 reach_y = wheel.radius_m * std::sqrt(std::max(0.0, 1 - a.y() * a.y())) +
                           wheel.half_width_m * std::abs(a.y());
    LeaningStand stand(wheel);
    each_near(hub.x() - reach_x, hub.y() - reach_y, hub.x() + reach_x, hub.y() + reach_y,
              [&](const Member& t) { stand.triangle(triangles_[t.triangle].at); });
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
