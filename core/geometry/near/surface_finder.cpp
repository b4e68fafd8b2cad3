#include "core/geometry/near/surface_finder.h"

#include <tuple>
#include <vector>

#include "core/geometry/near/embree_scene.h"

namespace pivrak {

Vec3 nearest_on_triangle(const Vec3& p, const Vec3& a, const Vec3& b, const Vec3& c) {
    const Vec3 ab = b - a, ac = c - a, ap = p - a;
    const double d1 = ab.dot(ap), d2 = ac.dot(ap);
    if (d1 <= 0 && d2 <= 0) return a;
    const Vec3 bp = p - b;
    const double d3 = ab.dot(bp), d4 = ac.dot(bp);
    if (d3 >= 0 && d4 <= d3) return b;
    const double vc = d1 * d4 - d3 * d2;
    if (vc <= 0 && d1 >= 0 && d3 <= 0 && d1 > d3) return a + d1 / (d1 - d3) * ab;
    const Vec3 cp = p - c;
    const double d5 = ab.dot(cp), d6 = ac.dot(cp);
    if (d6 >= 0 && d5 <= d6) return c;
    const double vb = d5 * d2 - d1 * d6;
    if (vb <= 0 && d2 >= 0 && d6 <= 0 && d2 > d6) return a + d2 / (d2 - d6) * ac;
    const double va = d3 * d6 - d5 * d4;
    if (va <= 0 && d4 - d3 >= 0 && d5 - d6 >= 0 && (d4 - d3) + (d5 - d6) > 0)
        return b + (d4 - d3) / ((d4 - d3) + (d5 - d6)) * (c - b);
    const double whole = va + vb + vc;
    if (!(whole > 0)) return a;
    return a + vb / whole * ab + vc / whole * ac;
}

struct SurfaceFinder::State {
    EmbreeDevice device{rtcNewDevice(nullptr)};
    EmbreeScene scene{rtcNewScene(device.handle)};
    std::vector<const Mesh*> meshes;
};

SurfaceFinder::SurfaceFinder(std::span<const Mesh* const> meshes) : state_(std::make_unique<State>()) {
    state_->meshes.assign(meshes.begin(), meshes.end());
    for (std::size_t i = 0; i < meshes.size(); ++i)
        if (meshes[i] && !meshes[i]->indices.empty())
            attach_mesh(state_->device.handle, state_->scene.handle, *meshes[i], static_cast<unsigned>(i));
    rtcCommitScene(state_->scene.handle);
}
SurfaceFinder::~SurfaceFinder() = default;
SurfaceFinder::SurfaceFinder(SurfaceFinder&&) noexcept = default;
SurfaceFinder& SurfaceFinder::operator=(SurfaceFinder&&) noexcept = default;

namespace {

struct Search {
    const std::vector<const Mesh*>& meshes;
    Vec3 place;
    std::optional<SurfacePoint> best;
    double reach;
};

bool look_at_triangle(RTCPointQueryFunctionArguments* a) {
    auto& search = *static_cast<Search*>(a->userPtr);
    const Mesh& mesh = *search.meshes[a->geomID];
    const Vec3 on = nearest_on_triangle(search.place, mesh.corner(a->primID, 0), mesh.corner(a->primID, 1),
                                        mesh.corner(a->primID, 2));
    const double distance = (on - search.place).norm();
    const auto first = [&] { return std::tuple(search.best->mesh, search.best->triangle); };
    const bool nearer = !search.best ? distance <= search.reach
                                     : distance < search.best->distance ||
                                           (distance == search.best->distance &&
                                            std::tuple(std::size_t{a->geomID}, a->primID) < first());
    if (!nearer) return false;
    search.best = {a->geomID, a->primID, on, distance};
    // A hair more than found, so that ties and rounding to single precision lose nothing.
    a->query->radius = static_cast<float>(distance * (1 + 1e-6)) + 1e-30f;
    return true;
}

}  // namespace

std::optional<SurfacePoint> SurfaceFinder::nearest(const Vec3& place, double reach_m) const {
    Search search{state_->meshes, place, {}, reach_m};
    RTCPointQuery query{};
    query.x = static_cast<float>(place.x());
    query.y = static_cast<float>(place.y());
    query.z = static_cast<float>(place.z());
    query.radius =
        reach_m < 1e30 ? static_cast<float>(reach_m * (1 + 1e-6)) : std::numeric_limits<float>::infinity();
    RTCPointQueryContext context;
    rtcInitPointQueryContext(&context);
    rtcPointQuery(state_->scene.handle, &query, &context, &look_at_triangle, &search);
    return search.best;
}

}  // namespace pivrak
