#include "core/rig/springs/long_shape.h"

#include <Eigen/Eigenvalues>
#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <numeric>
#include <unordered_map>

#include "core/geometry/mesh/weld.h"
#include "core/model/channel.h"

namespace pivrak {
namespace {

constexpr int most_looks = 40;
constexpr double fewest_turns = 1.5, bin_rad = 10 * rad_per_deg;
/// Places on a wire, and what of it beside one tells it.
constexpr double step_rad = 5 * rad_per_deg, window_rad = 15 * rad_per_deg;
/// Between two ends of an edge a wire is wound by less.
constexpr double widest_edge_rad = 100 * rad_per_deg;

struct Line {
    Vec3 through, way;
};

/// Lines through the middle of the surface along its three main directions, longest first.
std::array<Line, 3> main_lines(const Mesh& mesh) {
    Vec3 middle(0, 0, 0);
    double area = 0;
    Mat3 spread = Mat3::Zero();
    for (std::size_t t = 0; t < mesh.triangle_count(); ++t) {
        const Vec3 a = mesh.corner(t, 0), b = mesh.corner(t, 1), c = mesh.corner(t, 2);
        const double size = 0.5 * (b - a).cross(c - a).norm();
        middle += size / 3 * (a + b + c);
        area += size;
    }
    if (area > 0) middle /= area;
    // Of each triangle exactly: corners and middle stand for its inside, by 1 : 9.
    for (std::size_t t = 0; t < mesh.triangle_count(); ++t) {
        std::array<Vec3, 3> corner;
        for (int k = 0; k < 3; ++k) corner[static_cast<std::size_t>(k)] = mesh.corner(t, k) - middle;
        const double size = (corner[1] - corner[0]).cross(corner[2] - corner[0]).norm() / 24;
        const Vec3 sum = corner[0] + corner[1] + corner[2];
        spread += size * sum * sum.transpose();
        for (const Vec3& one : corner) spread += size * one * one.transpose();
    }
    const Eigen::SelfAdjointEigenSolver<Mat3> solved(spread);
    std::array<Line, 3> lines;
    for (int k = 0; k < 3; ++k) {
        Vec3 way = solved.eigenvectors().col(2 - k);
        int largest = 0;
        way.cwiseAbs().maxCoeff(&largest);
        if (way[largest] < 0) way = -way;
        lines[static_cast<std::size_t>(k)] = {middle, way};
    }
    return lines;
}

/// How far round the axis each welded point is [rad], counted along edges; none when a way round comes back
/// to another number, or when the points are not all joined.
std::optional<std::vector<double>> wound(const Mesh& mesh, const WeldedPoints& points, const Line& line) {
    const Vec3 x = any_perpendicular(line.way), y = line.way.cross(x);
    const std::size_t count = points.count();
    std::vector<double> angle(count);
    for (std::size_t i = 0; i < count; ++i) {
        const Vec3 arm = mesh.positions[points.first_vertex[i]].cast<double>() - line.through;
        angle[i] = std::atan2(arm.dot(y), arm.dot(x));
    }
    std::vector<std::vector<std::uint32_t>> beside(count);
    for (std::size_t i = 0; i < mesh.indices.size(); i += 3)
        for (std::size_t k = 0; k < 3; ++k) {
            const std::uint32_t a = points.of_vertex[mesh.indices[i + k]],
                                b = points.of_vertex[mesh.indices[i + (k + 1) % 3]];
            if (a != b) beside[a].push_back(b), beside[b].push_back(a);
        }
    constexpr double unknown = std::numeric_limits<double>::infinity();
    std::vector<double> round(count, unknown);
    std::vector<std::uint32_t> pending{0};
    round[0] = angle[0];
    std::size_t reached = 1;
    while (!pending.empty()) {
        const std::uint32_t at = pending.back();
        pending.pop_back();
        for (const std::uint32_t next : beside[at]) {
            const double step = std::remainder(angle[next] - angle[at], 2 * pi);
            if (std::abs(step) > widest_edge_rad) return std::nullopt;
            if (round[next] == unknown) {
                round[next] = round[at] + step;
                pending.push_back(next);
                ++reached;
            } else if (std::abs(round[next] - round[at] - step) > 1e-6) {
                return std::nullopt;
            }
        }
    }
    return reached == count ? std::optional(std::move(round)) : std::nullopt;
}

/// A place on the middle of a wire.
struct WirePlace {
    double round, height, radius;
    Vec3 place;
};

/// The middle of the wire, by how far round it is: at each place the straight line through the corners beside
/// it, so that it is as good at the wire's ends, and however corners lie.
std::vector<WirePlace> wire_middle(const Mesh& mesh, const WeldedPoints& points, const Line& line,
                                   const std::vector<double>& round) {
    std::vector<std::uint32_t> order(round.size());
    std::iota(order.begin(), order.end(), 0u);
    std::sort(order.begin(), order.end(),
              [&](std::uint32_t a, std::uint32_t b) { return round[a] < round[b]; });
    const double least = round[order.front()], most = round[order.back()];
    const auto count = static_cast<std::size_t>(std::ceil((most - least) / step_rad)) + 1;
    std::vector<WirePlace> middle;
    std::size_t first = 0, last = 0;
    for (std::size_t i = 0; i < count; ++i) {
        const double at = least + (most - least) * static_cast<double>(i) / static_cast<double>(count - 1);
        while (round[order[first]] < at - window_rad) ++first;
        while (last < order.size() && round[order[last]] <= at + window_rad) ++last;
        double n = 0, sum = 0, squares = 0, radius = 0;
        Vec3 places(0, 0, 0), weighted(0, 0, 0);
        for (std::size_t k = first; k < last; ++k) {
            const double off = round[order[k]] - at;
            const Vec3 place = mesh.positions[points.first_vertex[order[k]]].cast<double>() - line.through;
            n += 1, sum += off, squares += off * off;
            places += place, weighted += off * place;
            radius += (place - place.dot(line.way) * line.way).norm();
        }
        if (n == 0) continue;
        const double spread = n * squares - sum * sum;
        const Vec3 here =
            spread > 1e-9 ? Vec3((squares * places - sum * weighted) / spread) : Vec3(places / n);
        middle.push_back({at, here.dot(line.way), radius / n, line.through + here});
    }
    return middle;
}

/// What is known of it at places, where it is so far round.
template <class Of>
auto along_wire(const std::vector<WirePlace>& middle, double round, Of of) {
    const auto after = std::lower_bound(middle.begin(), middle.end(), round,
                                        [](const WirePlace& place, double at) { return place.round < at; });
    using Value = std::decay_t<decltype(of(middle.front()))>;
    // Beyond the first and last places it goes on as between the two next to it.
    const auto upper = std::clamp(after, middle.begin() + 1, middle.end() - 1);
    const WirePlace &a = *(upper - 1), &b = *upper;
    return Value(of(a) + (round - a.round) / (b.round - a.round) * (of(b) - of(a)));
}

double height_at(const std::vector<WirePlace>& middle, double round) {
    return along_wire(middle, round, [](const WirePlace& place) { return place.height; });
}
Vec3 place_at(const std::vector<WirePlace>& middle, double round) {
    return along_wire(middle, round, [](const WirePlace& place) -> Vec3 { return place.place; });
}

double median(std::vector<double> values) {
    std::nth_element(values.begin(), values.begin() + static_cast<std::ptrdiff_t>(values.size() / 2),
                     values.end());
    return values[values.size() / 2];
}

/// How far the wire reaches above and below its middle, along the axis.
double wire_thickness(const Mesh& mesh, const WeldedPoints& points, const Line& line,
                      const std::vector<double>& round, const std::vector<WirePlace>& middle) {
    const double least = *std::min_element(round.begin(), round.end());
    std::unordered_map<std::size_t, Limits> off;
    for (std::size_t i = 0; i < round.size(); ++i) {
        const double height =
            (mesh.positions[points.first_vertex[i]].cast<double>() - line.through).dot(line.way) -
            height_at(middle, round[i]);
        const auto in = static_cast<std::size_t>((round[i] - least) / bin_rad);
        Limits& bin = off.try_emplace(in, Limits{height, height}).first->second;
        bin = {std::min(bin.min, height), std::max(bin.max, height)};
    }
    std::vector<double> thick;
    for (const auto& [bin, span] : off) thick.push_back(span.max - span.min);
    return median(std::move(thick));
}

/// A wire's middle taken over a whole turn stands on the axis: these places tell it exactly, however the
/// pitch goes.
Line axis_through(const std::vector<WirePlace>& middle, const Line& guess) {
    constexpr int samples = 72;
    const double first = middle.front().round, last = middle.back().round - 2 * pi;
    std::vector<Vec3> on_axis;
    for (int i = 0; i < samples; ++i) {
        const double from = first + (last - first) * i / (samples - 1);
        Vec3 sum(0, 0, 0);
        for (int k = 0; k < samples; ++k) sum += place_at(middle, from + 2 * pi * k / samples);
        on_axis.push_back(sum / samples);
    }
    Vec3 mean(0, 0, 0);
    for (const Vec3& place : on_axis) mean += place / samples;
    Mat3 spread = Mat3::Zero();
    for (const Vec3& place : on_axis) spread += (place - mean) * (place - mean).transpose();
    const Vec3 way = Eigen::SelfAdjointEigenSolver<Mat3>(spread).eigenvectors().col(2);
    return {mean, way.dot(guess.way) < 0 ? Vec3(-way) : way};
}

std::optional<LongShape> as_coil(const Mesh& mesh, const WeldedPoints& points, Line line) {
    // About the line that the surface guesses at first; then about the axis that the wire itself tells. What
    // is left of the tilt halves each time.
    double turned_by = 1;
    for (int look = 0; look < most_looks && turned_by > 1e-9; ++look) {
        const auto guess = wound(mesh, points, line);
        if (!guess) return std::nullopt;
        const std::vector<WirePlace> places = wire_middle(mesh, points, line, *guess);
        if (places.back().round - places.front().round < 2 * pi * fewest_turns) return std::nullopt;
        const Line better = axis_through(places, line);
        turned_by = (better.way - line.way).norm();
        line = better;
    }
    const auto round = wound(mesh, points, line);
    if (!round) return std::nullopt;
    const std::vector<WirePlace> middle = wire_middle(mesh, points, line, *round);
    const auto [least, most] = std::minmax_element(round->begin(), round->end());
    const double turned = *most - *least, begins = height_at(middle, *least), ends = height_at(middle, *most),
                 rise = ends - begins;
    if (turned < 2 * pi * fewest_turns || std::abs(rise) < 1e-9) return std::nullopt;
    Coil coil;
    coil.turns = turned / (2 * pi);
    coil.left_handed = rise < 0;
    std::vector<double> radii;
    for (const WirePlace& place : middle) radii.push_back(place.radius);
    coil.radius_m = median(std::move(radii));
    coil.wire_m = wire_thickness(mesh, points, line, *round, middle);
    const double low = std::min(begins, ends), high = low + std::abs(rise);
    LongShape shape{line.through + low * line.way, line.through + high * line.way, {}, coil};
    shape.share.reserve(mesh.positions.size());
    for (const std::uint32_t point : points.of_vertex)
        shape.share.push_back(static_cast<float>(
            std::clamp((height_at(middle, (*round)[point]) - low) / (high - low), 0.0, 1.0)));
    return shape;
}

std::optional<LongShape> even(const Mesh& mesh, const Line& line) {
    double low = 1e300, high = -1e300;
    for (const Vec3f& p : mesh.positions) {
        const double at = (p.cast<double>() - line.through).dot(line.way);
        low = std::min(low, at), high = std::max(high, at);
    }
    if (!(high - low > 1e-9)) return std::nullopt;
    LongShape shape{line.through + low * line.way, line.through + high * line.way, {}, std::nullopt};
    for (const Vec3f& p : mesh.positions)
        shape.share.push_back(
            static_cast<float>(((p.cast<double>() - line.through).dot(line.way) - low) / (high - low)));
    return shape;
}

}  // namespace

std::optional<LongShape> long_shape(const Mesh& mesh, bool evenly) {
    if (mesh.triangle_count() == 0) return std::nullopt;
    const std::array<Line, 3> lines = main_lines(mesh);
    if (!evenly) {
        const WeldedPoints points = weld_points(mesh.positions, 1e-6);
        for (const Line& line : lines)
            if (auto coil = as_coil(mesh, points, line)) return coil;
    }
    return even(mesh, lines.front());
}

LongShape turned_round(LongShape shape) {
    std::swap(shape.from, shape.to);
    for (float& share : shape.share) share = 1 - share;
    return shape;
}

Mesh drawn_out(const Mesh& mesh, const LongShape& shape, double by_m) {
    Mesh out = mesh;
    const Vec3f move = (by_m * shape.way()).cast<float>();
    for (std::size_t v = 0; v < out.positions.size(); ++v) out.positions[v] += shape.share[v] * move;
    if (shape.coil) return out;
    // Of what is drawn out evenly, slanting surfaces come to stand more along it.
    const Vec3f way = shape.way().cast<float>();
    const double length = shape.length_m();
    const auto squeeze = static_cast<float>(length / std::max(length + by_m, 1e-9));
    for (Vec3f& normal : out.normals) {
        normal += (squeeze - 1) * normal.dot(way) * way;
        if (normal.norm() > 1e-12f) normal.normalize();
    }
    return out;
}

}  // namespace pivrak
