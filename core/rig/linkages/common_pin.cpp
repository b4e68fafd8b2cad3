#include "core/rig/linkages/common_pin.h"

#include <algorithm>
#include <cmath>

namespace pivrak {
namespace {

constexpr double most_off_rad = 2 * rad_per_deg, most_off = 0.25;

void add_barrels(const Document& document, const Tree& tree, PartId id, std::vector<Barrel>& found) {
    const Part& part = *document.parts.find(id);
    if (const Shape* shape = document.shapes.find(part.shape)) {
        const Frame world = world_from_rest(document, id) * part.part_from_shape;
        for (Barrel barrel : barrels(*shape->mesh)) {
            barrel.middle = world.point(barrel.middle);
            barrel.direction = world.direction(barrel.direction);
            found.push_back(barrel);
        }
    }
    for (const PartId child : tree.children(id))
        if (document.parts.find(child)->joint.kind == JointKind::Fixed)
            add_barrels(document, tree, child, found);
}

/// What two surfaces have in common; none when they are no pin and bore.
std::optional<CommonPin> pin_of(const Barrel& a, const Barrel& b) {
    const double cosine = a.direction.dot(b.direction);
    const Vec3 way = cosine < 0 ? Vec3(-b.direction) : b.direction;
    const double angle = std::atan2(a.direction.cross(way).norm(), std::abs(cosine));
    if (angle > most_off_rad) return std::nullopt;
    const Vec3 along = (a.direction + way).normalized(), apart = b.middle - a.middle;
    const double shift = apart.dot(along), off = (apart - shift * along).norm();
    if (off > most_off * std::min(a.radius_m, b.radius_m)) return std::nullopt;
    const double low = std::max(-0.5 * a.length_m, shift - 0.5 * b.length_m),
                 high = std::min(0.5 * a.length_m, shift + 0.5 * b.length_m);
    // Two eyes side by side, with a bolt through both that nobody drew, are a pin as well.
    if (low - high > 0.5 * (a.length_m + b.length_m)) return std::nullopt;
    return CommonPin{a.middle + 0.5 * (low + high) * along, along, off, angle};
}

}  // namespace

std::vector<Barrel> barrels_of_part(const Document& document, PartId part) {
    std::vector<Barrel> found;
    add_barrels(document, Tree(document), part, found);
    return found;
}

std::optional<CommonPin> common_pin(const Document& document, PartId a, PartId b) {
    std::optional<CommonPin> best;
    double best_play = 0;
    const auto others = barrels_of_part(document, b);
    for (const Barrel& one : barrels_of_part(document, a))
        for (const Barrel& other : others) {
            const auto pin = pin_of(one, other);
            if (!pin) continue;
            const double play = pin->off_m + std::abs(one.radius_m - other.radius_m);
            if (best && play >= best_play) continue;
            best = pin;
            best_play = play;
        }
    return best;
}

}  // namespace pivrak
