#include "core/geometry/teeth/tooth_count.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <complex>
#include <unsupported/Eigen/FFT>
#include <vector>

namespace pivrak {
namespace {

constexpr int directions = 8192;
constexpr int least_teeth = 5, most_teeth = 300;

/// Radius of the outline in evenly spaced directions, or nothing in a direction that no edge passes.
using Profile = std::vector<double>;

/// Faces that do not lie square to the axis: their sides hold the outline, while those of the flat ends run
/// right across. Of a mere sheet all faces count.
std::vector<bool> faces_beside(const Mesh& mesh, const Frame& axis_from_mesh) {
    const Vec3 axis = axis_from_mesh.rotation.conjugate() * Vec3::UnitZ();
    std::vector<bool> beside(mesh.triangle_count());
    bool any = false;
    for (std::size_t t = 0; t < beside.size(); ++t) {
        const Vec3 a = mesh.corner(t, 0), cross = (mesh.corner(t, 1) - a).cross(mesh.corner(t, 2) - a);
        beside[t] = std::abs(cross.dot(axis)) < 0.98 * cross.norm();
        any = any || beside[t];
    }
    if (!any) beside.assign(beside.size(), true);
    return beside;
}

/// Farthest (or nearest) crossing of each direction by the edges of the mesh, seen along z.
Profile outline(const Mesh& mesh, const Frame& axis_from_mesh, bool outside) {
    Profile profile(directions, outside ? -1.0 : 1e300);
    std::vector<Vec2> flat;
    flat.reserve(mesh.positions.size());
    for (const Vec3f& p : mesh.positions) flat.emplace_back(axis_from_mesh.point(p.cast<double>()).head<2>());
    const double per_direction = 2 * pi / directions;
    const std::vector<bool> beside = faces_beside(mesh, axis_from_mesh);
    for (std::size_t side = 0; side < mesh.indices.size(); ++side) {
        if (!beside[side / 3]) continue;
        const Vec2 &a = flat[mesh.indices[side]],
                   &b = flat[mesh.indices[side % 3 == 2 ? side - 2 : side + 1]];
        const double from = std::atan2(a.y(), a.x());
        const double turn = std::remainder(std::atan2(b.y(), b.x()) - from, 2 * pi);
        if (std::abs(turn) > 0.9 * pi) continue;
        const double low = std::min(from, from + turn) / per_direction,
                     high = std::max(from, from + turn) / per_direction;
        for (auto i = static_cast<int>(std::ceil(low)); i <= static_cast<int>(std::floor(high)); ++i) {
            const double angle = i * per_direction;
            const Vec2 way(std::cos(angle), std::sin(angle)), along = b - a;
            const double across = way.x() * along.y() - way.y() * along.x();
            // A side that points at the axis crosses nowhere in particular: the answer stays within the side.
            const double moment = a.x() * along.y() - a.y() * along.x(),
                         farthest = std::max(a.norm(), b.norm());
            const double nearest = std::min(std::abs(moment) / std::max(along.norm(), 1e-300), farthest);
            const double radius =
                std::abs(across) > 0 ? std::clamp(moment / across, nearest, farthest) : farthest;
            const auto slot = static_cast<std::size_t>(((i % directions) + directions) % directions);
            profile[slot] = outside ? std::max(profile[slot], radius) : std::min(profile[slot], radius);
        }
    }
    return profile;
}

double at_share(std::vector<double> values, double share) {
    const auto nth =
        values.begin() + static_cast<std::ptrdiff_t>(share * static_cast<double>(values.size() - 1));
    std::nth_element(values.begin(), nth, values.end());
    return *nth;
}

/// Where vertices are a little off, a direction here and there passes between two sides of a steep flank and
/// sees the bore: what stands apart from its neighbours is none of the outline. Teeth are far wider.
Profile without_spikes(const Profile& profile) {
    constexpr int beside = 3;
    Profile smooth(profile.size());
    std::array<double, 2 * beside + 1> near{};
    for (int i = 0; i < directions; ++i) {
        for (int k = -beside; k <= beside; ++k)
            near[static_cast<std::size_t>(k + beside)] =
                profile[static_cast<std::size_t>((i + k + directions) % directions)];
        std::nth_element(near.begin(), near.begin() + beside, near.end());
        smooth[static_cast<std::size_t>(i)] = near[beside];
    }
    return smooth;
}

/// Power of each whole number of waves round the outline.
std::vector<double> powers(const Profile& profile) {
    double mean = 0;
    for (const double r : profile) mean += r / directions;
    std::vector<double> centred;
    for (const double r : profile) centred.push_back(r - mean);
    Eigen::FFT<double> fft;
    std::vector<std::complex<double>> spectrum;
    fft.fwd(spectrum, centred);
    std::vector<double> power(directions / 2);
    for (std::size_t k = 1; k < power.size(); ++k) power[k] = std::norm(spectrum[k]);
    return power;
}

/// One tooth, from the middle of all of them: radii over the way from tooth to tooth.
std::vector<double> one_tooth(const Profile& profile, int teeth) {
    constexpr int places = 64;
    std::vector<double> sum(places, 0), count(places, 0);
    for (int i = 0; i < directions; ++i) {
        const double turned = static_cast<double>(i) * teeth / directions;
        const auto at = static_cast<std::size_t>((turned - std::floor(turned)) * places);
        sum[at] += profile[static_cast<std::size_t>(i)];
        ++count[at];
    }
    for (std::size_t k = 0; k < sum.size(); ++k)
        sum[k] = count[k] > 0 ? sum[k] / count[k] : sum[k > 0 ? k - 1 : 0];
    return sum;
}

/// How a tooth is made: what of it stands above half its height, and how like its own mirror image it is.
void add_form(const Profile& profile, ToothCount& found) {
    const std::vector<double> tooth = one_tooth(profile, found.teeth);
    const auto n = static_cast<int>(tooth.size());
    const auto [low, high] = std::minmax_element(tooth.begin(), tooth.end());
    const double middle = 0.5 * (*low + *high);
    double mean = 0, spread = 0;
    for (const double r : tooth) {
        found.width_share += (r > middle) / static_cast<double>(n);
        mean += r / n;
    }
    for (const double r : tooth) spread += (r - mean) * (r - mean);
    for (int about = 0; about < n; ++about) {
        double alike = 0;
        for (int k = 0; k < n; ++k)
            alike += (tooth[static_cast<std::size_t>(k)] - mean) *
                     (tooth[static_cast<std::size_t>((about - k + n) % n)] - mean);
        if (spread > 0) found.evenness = std::max(found.evenness, alike / spread);
    }
}

std::optional<ToothCount> counted(Profile profile, double least_depth_share) {
    std::size_t empty = 0;
    for (std::size_t i = 0; i < profile.size(); ++i)
        if (profile[i] < 0 || profile[i] > 1e200) {
            ++empty;
            profile[i] = profile[(i + directions - 1) % directions];
        }
    if (empty > directions / 50 || profile.front() < 0 || profile.front() > 1e200) return std::nullopt;
    profile = without_spikes(profile);
    const std::vector<double> power = powers(profile);
    double all = 0;
    for (const double p : power) all += p;
    if (all <= 0) return std::nullopt;
    std::vector<double> share(most_teeth + 1, 0);
    double best = 0;
    for (int teeth = least_teeth; teeth <= most_teeth; ++teeth) {
        for (int wave = teeth; wave < directions / 2; wave += teeth)
            share[static_cast<std::size_t>(teeth)] += power[static_cast<std::size_t>(wave)] / all;
        best = std::max(best, share[static_cast<std::size_t>(teeth)]);
    }
    if (best < 0.5) return std::nullopt;
    // A count's divisors gather all its waves too; the largest count that does is meant.
    for (int teeth = most_teeth; teeth >= least_teeth; --teeth) {
        if (share[static_cast<std::size_t>(teeth)] < 0.85 * best) continue;
        ToothCount found{teeth, at_share(profile, 0.98), at_share(profile, 0.02), best, 0, 0};
        const double tip = std::max(found.tip_radius_m, found.root_radius_m);
        const double depth = std::abs(found.tip_radius_m - found.root_radius_m);
        // Standard teeth are 2.25 modules deep; a polygon's corners or a knurl are far shallower.
        const double standard = 2.25 * 2 * tip / (teeth + 2);
        if (depth < least_depth_share * standard || depth > 1.8 * standard) return std::nullopt;
        add_form(profile, found);
        return found;
    }
    return std::nullopt;
}

}  // namespace

double ToothCount::depth_modules() const {
    const bool inside = tip_radius_m < root_radius_m;
    const double module = 2 * tip_radius_m / (inside ? teeth - 2 : teeth + 2);
    return std::abs(tip_radius_m - root_radius_m) / module;
}

std::optional<ToothCount> count_outside_teeth(const Mesh& mesh, const Frame& axis_from_mesh) {
    if (mesh.indices.empty()) return std::nullopt;
    return counted(outline(mesh, axis_from_mesh, true), 0.3);
}

std::optional<ToothCount> count_lugs(const Mesh& mesh, const Frame& axis_from_mesh) {
    if (mesh.indices.empty()) return std::nullopt;
    auto found = counted(outline(mesh, axis_from_mesh, true), 0.12);
    // Of a polygon's corners less than a third of the way stands above their middle.
    if (found && found->width_share < 0.31) return std::nullopt;
    return found;
}

double outline_roundness(const Mesh& mesh, const Frame& axis_from_mesh, double share_of_radius) {
    if (mesh.indices.empty()) return 0;
    const Profile profile = outline(mesh, axis_from_mesh, true);
    const double farthest = *std::max_element(profile.begin(), profile.end());
    const auto reached = std::count_if(profile.begin(), profile.end(),
                                       [&](double r) { return r >= share_of_radius * farthest; });
    return static_cast<double>(reached) / directions;
}

std::optional<ToothCount> count_inside_teeth(const Mesh& mesh, const Frame& axis_from_mesh) {
    if (mesh.indices.empty()) return std::nullopt;
    auto found = counted(outline(mesh, axis_from_mesh, false), 0.3);
    if (found) std::swap(found->tip_radius_m, found->root_radius_m);
    return found;
}

}  // namespace pivrak
