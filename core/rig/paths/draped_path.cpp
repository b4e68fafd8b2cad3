// Sources: C. de Boor, A Practical Guide to Splines (interpolation by B-splines); periodic systems by the
// Sherman-Morrison formula.
#include "core/rig/paths/draped_path.h"

#include <algorithm>
#include <cmath>

namespace pivrak {
namespace {

/// Solves a system with `a` beside a diagonal of `d`, for several right sides (Thomas' algorithm).
std::vector<Vec3> solve_tridiagonal(std::vector<double> diagonal, double beside, std::vector<Vec3> right) {
    const std::size_t n = right.size();
    for (std::size_t i = 1; i < n; ++i) {
        const double factor = beside / diagonal[i - 1];
        diagonal[i] -= factor * beside;
        right[i] -= factor * right[i - 1];
    }
    right[n - 1] /= diagonal[n - 1];
    for (std::size_t i = n - 1; i-- > 0;) right[i] = (right[i] - beside * right[i + 1]) / diagonal[i];
    return right;
}

/// Weights of a bell whose width is `ease`: two thirds of it lie within a third of that.
std::vector<double> bell(double ease, double step) {
    const double sigma = ease / 3;
    const auto reach = static_cast<std::size_t>(std::ceil(ease / step));
    std::vector<double> weights(reach + 1);
    for (std::size_t i = 0; i <= reach; ++i) {
        const double x = step * static_cast<double>(i) / sigma;
        weights[i] = std::exp(-0.5 * x * x);
    }
    return weights;
}

std::vector<double> eased(const std::vector<double>& heights, double ease, double step, bool closed) {
    if (!(ease > step)) return heights;
    const std::vector<double> weights = bell(ease, step);
    const auto n = static_cast<std::ptrdiff_t>(heights.size());
    const std::ptrdiff_t reach = std::min(static_cast<std::ptrdiff_t>(weights.size()) - 1, n - 1);
    std::vector<double> out(heights.size());
    for (std::ptrdiff_t i = 0; i < n; ++i) {
        double sum = 0, total = 0;
        for (std::ptrdiff_t k = -reach; k <= reach; ++k) {
            std::ptrdiff_t at = i + k;
            if (closed)
                at = (at % n + n) % n;
            else if (at < 0 || at >= n)
                continue;
            const double w = weights[static_cast<std::size_t>(std::abs(k))];
            sum += w * heights[static_cast<std::size_t>(at)];
            total += w;
        }
        out[static_cast<std::size_t>(i)] = sum / total;
    }
    return out;
}

}  // namespace

std::vector<Vec3> controls_through(const std::vector<Vec3>& places, bool closed) {
    const std::size_t n = places.size();
    if (closed) {
        // (P before + 4 P + P after) / 6 = place, round and round.
        const double gamma = -4;
        std::vector<double> diagonal(n, 4.0);
        diagonal.front() = 4 - gamma;
        diagonal.back() = 4 - 1 / gamma;
        std::vector<Vec3> right, corner(n, Vec3(0, 0, 0));
        for (const Vec3& p : places) right.push_back(6 * p);
        corner.front() = Vec3::Constant(gamma);
        corner.back() = Vec3::Constant(1);
        std::vector<Vec3> x = solve_tridiagonal(diagonal, 1, right);
        const std::vector<Vec3> z = solve_tridiagonal(diagonal, 1, corner);
        const Vec3 factor =
            (x.front() + x.back() / gamma).cwiseQuotient(Vec3::Constant(1) + z.front() + z.back() / gamma);
        for (std::size_t i = 0; i < n; ++i) x[i] -= factor.cwiseProduct(z[i]);
        return x;
    }
    // An open path begins and ends at its outer points.
    std::vector<Vec3> controls = places;
    if (n < 3) return controls;
    std::vector<Vec3> right;
    for (std::size_t i = 1; i + 1 < n; ++i) right.push_back(6 * places[i]);
    right.front() -= places.front();
    right.back() -= places.back();
    const std::vector<Vec3> inner = solve_tridiagonal(std::vector<double>(n - 2, 4.0), 1, right);
    std::copy(inner.begin(), inner.end(), controls.begin() + 1);
    return controls;
}

Result<DrapedPath> drape(const Path& path, const Frame& world_from_path, const GroundMap& ground) {
    PIVRAK_TRY(flat, PathCurve::make(path));
    const Drape& wanted = *path.drape;
    constexpr double finest_m = 0.02, most_places = 20000, least_places = 16;
    const double wish = wanted.ease_m > 0 ? wanted.ease_m / 6 : 0.1;
    const auto count = static_cast<std::size_t>(
        std::clamp(std::ceil(flat.length() / std::max(wish, finest_m)), least_places, most_places));
    const double step = flat.length() / static_cast<double>(count);
    DrapedPath out{flat};
    std::vector<Vec3> places;
    std::vector<double> heights;
    for (std::size_t i = 0; i < count + (flat.closed() ? 0 : 1); ++i) {
        places.push_back(world_from_path.point(flat.place(step * static_cast<double>(i))));
        const auto found = ground.height(places.back().x(), places.back().y());
        if (!found) out.missing_m += step;
        heights.push_back(found ? *found + wanted.height_m : places.back().z());
    }
    const std::vector<double> smooth = eased(heights, wanted.ease_m, step, flat.closed());
    const Frame path_from_world = world_from_path.inverse();
    for (std::size_t i = 0; i < places.size(); ++i)
        places[i] = path_from_world.point({places[i].x(), places[i].y(), smooth[i]});
    Path laid = path;
    laid.form = PathForm::Smooth;
    laid.closed = flat.closed();
    laid.points.clear();
    for (const Vec3& p : controls_through(places, flat.closed())) laid.points.push_back({p});
    PIVRAK_TRY(curve, PathCurve::make(laid));
    out.curve = std::move(curve);
    // Looked at in between too, where a bump may stand up.
    const std::size_t looks = 4 * count;
    for (std::size_t i = 0; i <= looks; ++i) {
        const double along = out.curve.length() * static_cast<double>(i) / static_cast<double>(looks);
        const Vec3 at = world_from_path.point(out.curve.place(along));
        const auto found = ground.height(at.x(), at.y());
        if (!found) continue;
        const double above = at.z() - wanted.height_m - *found;
        out.float_m = std::max(out.float_m, above);
        out.burial_m = std::max(out.burial_m, -above);
    }
    return out;
}

}  // namespace pivrak
