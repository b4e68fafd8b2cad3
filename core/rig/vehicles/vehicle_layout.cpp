#include "core/rig/vehicles/vehicle_layout.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <unordered_set>

#include "core/base/words.h"
#include "core/geometry/fits/round_body.h"

namespace pivrak {
namespace {

constexpr double sideways = 0.95;       // least share of the axis across the vehicle
constexpr double floor_share = 0.2;     // of the radius: how near to the floor a wheel reaches
constexpr double coaxial_share = 0.04;  // of the radius
constexpr double axle_share = 0.34;     // of the radius: wheels of one axle
constexpr std::size_t least_crawler_axles = 3;
constexpr double stub_share = 0.35;   // radius of a stub axle against its wheel's
constexpr double longest_stub = 2.5;  // of the wheel's width
constexpr double thick_share = 2.2;   // width against radius: rollers are no wheels

/// A part that is round about an axis across the vehicle.
struct Round {
    PartId part;
    Vec3 middle, direction;
    double radius_m, width_m;
    double lowest() const { return middle.z() - radius_m; }
};

/// What is known of meshes: their bodies, none where they are not round.
using Bodies = std::map<const Mesh*, std::optional<RoundBody>>;

const std::optional<RoundBody>& body_of_mesh(const Mesh& mesh, Bodies& known) {
    auto [at, fresh] = known.try_emplace(&mesh);
    if (fresh) at->second = round_body(mesh);
    return at->second;
}

/// How a part reaches about an axis of the world.
Round about_axis(const Document& document, PartId id, const Vec3& point, Vec3 direction) {
    const Part& part = *document.parts.find(id);
    const Frame world = world_from_rest(document, id) * part.part_from_shape;
    if (direction.y() < 0) direction = -direction;
    double low = 1e300, high = -1e300, radius = 0;
    for (const Vec3f& p : document.shapes.find(part.shape)->mesh->positions) {
        const Vec3 off = world.point(p.cast<double>()) - point;
        const double along = off.dot(direction);
        low = std::min(low, along);
        high = std::max(high, along);
        radius = std::max(radius, (off - along * direction).norm());
    }
    return Round{id, point + 0.5 * (low + high) * direction, direction, radius, high - low};
}

std::optional<Round> round_part(const Document& document, PartId id, Bodies& known) {
    const Part& part = *document.parts.find(id);
    const Shape* shape = document.shapes.find(part.shape);
    if (!shape) return std::nullopt;
    const auto& body = body_of_mesh(*shape->mesh, known);
    if (!body) return std::nullopt;
    const Frame world = world_from_rest(document, id) * part.part_from_shape;
    return about_axis(document, id, world.point(body->middle), world.direction(body->axis.direction));
}

/// A part that somebody calls a wheel is one: about its axis where its surface shows one, else straight
/// across the vehicle through the middle of its bounds.
std::optional<Round> named_wheel(const Document& document, PartId id, Bodies& known) {
    if (const auto found = round_part(document, id, known); found && found->direction.y() > sideways)
        return found;
    const Part& part = *document.parts.find(id);
    const Shape* shape = document.shapes.find(part.shape);
    if (!shape || shape->mesh->positions.empty()) return std::nullopt;
    const Frame world = world_from_rest(document, id) * part.part_from_shape;
    if (const auto axis = round_axis(*shape->mesh)) {
        const Vec3 direction = world.direction(axis->direction);
        if (std::abs(direction.y()) > sideways)
            return about_axis(document, id, world.point(axis->point), direction);
    }
    return about_axis(document, id, mesh_bounds(*shape->mesh, world).middle(), Vec3::UnitY());
}

/// How far a point lies from another one's axis, and along it.
Vec2 against(const Round& wheel, const Round& other) {
    const Vec3 off = other.middle - wheel.middle;
    const double along = off.dot(wheel.direction);
    return {(off - along * wheel.direction).norm(), std::abs(along)};
}

bool turns_inside(const Round& wheel, const Round& other) {
    const Vec2 off = against(wheel, other);
    return off.x() < coaxial_share * wheel.radius_m &&
           std::abs(other.direction.dot(wheel.direction)) > 0.999 &&
           off.y() + 0.5 * other.width_m < 0.75 * wheel.width_m + 0.02 * wheel.radius_m;
}

/// A pin through one wheel and out of it; what reaches over to the other side is an axle of the body.
bool is_stub_axle(const Round& wheel, const Round& other) {
    const Vec2 off = against(wheel, other);
    return off.x() < coaxial_share * wheel.radius_m && other.radius_m < stub_share * wheel.radius_m &&
           std::abs(other.direction.dot(wheel.direction)) > 0.999 &&
           off.y() < 0.5 * (wheel.width_m + other.width_m) && other.width_m < longest_stub * wheel.width_m;
}

/// A rim in its tyre.
bool inside_any(const Round& r, const std::vector<Round>& others) {
    return std::any_of(others.begin(), others.end(), [&](const Round& o) {
        return o.part != r.part && o.width_m < thick_share * o.radius_m &&
               (o.radius_m > r.radius_m || (o.radius_m == r.radius_m && o.part < r.part)) &&
               turns_inside(o, r);
    });
}

/// Another one just like it on the same axis, beside it.
bool has_twin(const Round& r, const std::vector<Round>& others) {
    return std::any_of(others.begin(), others.end(), [&](const Round& o) {
        const Vec2 off = against(r, o);
        return o.part != r.part && std::abs(o.radius_m / r.radius_m - 1) < 0.02 &&
               off.x() < 0.1 * r.radius_m && off.y() > r.width_m &&
               std::abs(o.direction.dot(r.direction)) > 0.99;
    });
}

class Finder {
public:
    Finder(const Document& document, const Progress& progress)
        : document_(document), progress_(progress), tree_(document) {}

    Result<VehicleLayout> run(const std::vector<PartId>& parts, const std::vector<PartId>& chosen) {
        for (const PartId part : parts)
            for (const PartId id : tree_.branch(part))
                if (all_set_.insert(id).second) all_.push_back(id);
        PIVRAK_CHECK(look());
        std::vector<Round> wheels;
        if (chosen.empty()) {
            wheels = likely_wheels();
        } else {
            PIVRAK_TRY(given, given_wheels(chosen));
            wheels = given;
        }
        if (chosen.empty()) PIVRAK_CHECK(stands_right(wheels));
        if (wheels.empty())
            return Error{"vehicle.no_wheels", "no round part stands across on the floor; pick the wheels",
                         ""};
        VehicleLayout out;
        for (const Round& wheel : wheels) out.wheels.push_back(grouped(wheel));
        sort_axles(out);
        add_runners(out);
        out.body = body_of(out);
        return out;
    }

private:
    Result<void> look() {
        std::size_t done = 0;
        for (const PartId id : all_) {
            if (!progress_.go_on(static_cast<double>(done++) / static_cast<double>(all_.size()),
                                 "looking for wheels"))
                return Error{"vehicle.cancelled", "cancelled; nothing was changed", ""};
            const auto found = round_part(document_, id, known_);
            if (!found) continue;
            (found->direction.y() > sideways ? rounds_ : askew_).push_back(*found);
        }
        return {};
    }

    /// Wheels come in pairs on one axis. Where far larger pairs turn about another axis than those that were
    /// found across the vehicle, it is the model that stands askew.
    Result<void> stands_right(const std::vector<Round>& wheels) const {
        constexpr double far_larger = 1.5;
        double radius = 0, best = 0;
        std::size_t of_pairs = 0;
        int about = 0;
        for (const Round& r : wheels) radius = std::max(radius, r.radius_m);
        for (const int axis : {0, 2}) {
            std::vector<const Round*> pairs;
            for (const Round& r : askew_)
                if (std::abs(r.direction[axis]) > sideways && r.width_m < thick_share * r.radius_m &&
                    has_twin(r, askew_) && !inside_any(r, askew_))
                    pairs.push_back(&r);
            for (const Round* r : pairs)
                if (r->radius_m > best) {
                    best = r->radius_m;
                    about = axis;
                    of_pairs = pairs.size();
                }
        }
        if (of_pairs < 2 || best < far_larger * radius) return {};
        const std::string wheels_of =
            fmt::format("{} wheels of ⌀ {}", of_pairs, format_length(2 * best, document_));
        if (about == 0)
            return Error{
                "vehicle.sideways",
                fmt::format(
                    "{} turn about X: the model stands with its side to the front; turn its front to X",
                    wheels_of),
                "+y"};
        return Error{"vehicle.lying",
                     fmt::format("{} turn about Z: the model lies on its side; stand it up", wheels_of),
                     "+y"};
    }

    /// Those that reach the floor and lie inside no larger one.
    std::vector<Round> likely_wheels() const {
        double floor = 1e300;
        for (const Round& r : rounds_)
            if (r.width_m < thick_share * r.radius_m) floor = std::min(floor, r.lowest());
        std::vector<Round> wheels;
        for (const Round& r : rounds_) {
            if (r.width_m >= thick_share * r.radius_m || r.lowest() > floor + floor_share * r.radius_m)
                continue;
            if (!inside_any(r, rounds_)) wheels.push_back(r);
        }
        return wheels;
    }

    Result<std::vector<Round>> given_wheels(const std::vector<PartId>& chosen) {
        std::vector<Round> wheels;
        for (const PartId id : chosen) {
            const auto found = named_wheel(document_, id, known_);
            const std::string& name = document_.parts.find(id)->name;
            if (!found)
                return Error{"vehicle.no_shape", fmt::format("'{}' has no shape to roll on", name), name};
            wheels.push_back(*found);
        }
        return wheels;
    }

    FoundWheel grouped(const Round& wheel) {
        FoundWheel out{{wheel.part}, {}, wheel.middle, wheel.direction, wheel.radius_m, wheel.width_m, 0};
        taken_.insert(wheel.part);
        for (const Round& r : rounds_)
            if (!taken_.contains(r.part) && turns_inside(wheel, r)) {
                out.parts.push_back(r.part);
                taken_.insert(r.part);
            }
        for (const Round& r : rounds_)
            if (!taken_.contains(r.part) && is_stub_axle(wheel, r)) {
                out.pins.push_back(r.part);
                taken_.insert(r.part);
            }
        return out;
    }

    static void sort_axles(VehicleLayout& layout) {
        auto& wheels = layout.wheels;
        std::sort(wheels.begin(), wheels.end(), [](const FoundWheel& a, const FoundWheel& b) {
            return std::pair(-a.hub.x(), -a.hub.y()) < std::pair(-b.hub.x(), -b.hub.y());
        });
        for (std::size_t i = 0; i < wheels.size(); ++i) {
            const bool same =
                i > 0 && wheels[i - 1].hub.x() - wheels[i].hub.x() < axle_share * wheels[i].radius_m;
            if (!same) layout.axles_x_m.push_back(wheels[i].hub.x());
            wheels[i].axle_index = static_cast<int>(layout.axles_x_m.size()) - 1;
        }
        std::sort(wheels.begin(), wheels.end(), [](const FoundWheel& a, const FoundWheel& b) {
            return std::pair(a.axle_index, -a.hub.y()) < std::pair(b.axle_index, -b.hub.y());
        });
        for (std::size_t k = 0; k < layout.axles_x_m.size(); ++k) {
            double sum = 0, count = 0;
            for (const FoundWheel& w : wheels)
                if (w.axle_index == static_cast<int>(k)) {
                    sum += w.hub.x();
                    ++count;
                }
            layout.axles_x_m[k] = sum / count;
        }
    }

    /// Sprockets and idlers: as far out as the wheels, but off the ground.
    void add_runners(VehicleLayout& layout) {
        if (layout.axles_x_m.size() < least_crawler_axles) return;
        std::vector<const Round*> found;
        for (const Round& r : rounds_) {
            if (taken_.contains(r.part) || r.width_m >= thick_share * r.radius_m) continue;
            const bool in_line =
                std::any_of(layout.wheels.begin(), layout.wheels.end(), [&](const FoundWheel& w) {
                    return std::abs(w.hub.y() - r.middle.y()) < 0.5 * w.width_m &&
                           r.radius_m > 0.5 * w.radius_m;
                });
            if (in_line) found.push_back(&r);
        }
        // A spare wheel hangs on one side; a track's sprocket has its twin on the other.
        if (layout.track_m() > 0)
            std::erase_if(found, [&](const Round* r) { return !has_twin(*r, rounds_); });
        std::sort(found.begin(), found.end(),
                  [](const Round* a, const Round* b) { return a->radius_m > b->radius_m; });
        for (const Round* r : found)
            if (!taken_.contains(r->part)) layout.runners.push_back(grouped(*r));
        if (layout.runners.empty()) return;
        double wheels = 1e300, lowest = 1e300;
        for (const FoundWheel& w : layout.wheels) wheels = std::min(wheels, w.hub.z() - w.radius_m);
        for (const PartId id : all_) {
            const Part& part = *document_.parts.find(id);
            if (const Shape* shape = document_.shapes.find(part.shape))
                lowest = std::min(
                    lowest,
                    mesh_bounds(*shape->mesh, world_from_rest(document_, id) * part.part_from_shape).min.z());
        }
        // A blade that hangs low is no track. Without shoes the wheels themselves are the lowest.
        if (wheels - lowest < 0.5 * layout.wheels.front().radius_m)
            layout.track_thickness_m = std::max(0.0, wheels - lowest);
    }

    static std::vector<PartId> with_pins(const FoundWheel& wheel) {
        std::vector<PartId> all = wheel.parts;
        all.insert(all.end(), wheel.pins.begin(), wheel.pins.end());
        return all;
    }

    /// The uppermost parts that carry no wheel and are none; what carries wheels stays as it is.
    std::vector<PartId> body_of(const VehicleLayout& layout) const {
        std::unordered_set<PartId> wheel_parts, above;
        auto turning = layout.wheels;
        turning.insert(turning.end(), layout.runners.begin(), layout.runners.end());
        for (const FoundWheel& w : turning)
            for (const PartId id : with_pins(w)) {
                for (const PartId below : tree_.branch(id)) wheel_parts.insert(below);
                for (const Part* p = document_.parts.find(id); p && p->parent;
                     p = document_.parts.find(p->parent))
                    above.insert(p->parent);
            }
        std::vector<PartId> body;
        for (const PartId id : all_) {
            if (wheel_parts.contains(id) || above.contains(id)) continue;
            const PartId parent = document_.parts.find(id)->parent;
            if (!all_set_.contains(parent) || above.contains(parent)) body.push_back(id);
        }
        // A part with a shape that carries wheels belongs to the body with all the rest of it.
        for (const PartId id : all_)
            if (above.contains(id) && document_.parts.find(id)->shape) body.push_back(id);
        return body;
    }

    const Document& document_;
    const Progress& progress_;
    Tree tree_;
    std::vector<PartId> all_;
    std::unordered_set<PartId> all_set_, taken_;
    Bodies known_;
    std::vector<Round> rounds_;
    std::vector<Round> askew_;  ///< about axes that do not point sideways
};

}  // namespace

double VehicleLayout::wheelbase_m() const {
    return axles_x_m.empty() ? 0 : axles_x_m.front() - axles_x_m.back();
}

double VehicleLayout::track_m() const {
    double track = 0;
    for (const FoundWheel& a : wheels)
        for (const FoundWheel& b : wheels) track = std::max(track, a.hub.y() - b.hub.y());
    return track;
}

Result<VehicleLayout> vehicle_layout(const Document& document, const std::vector<PartId>& parts,
                                     const std::vector<PartId>& chosen, const Progress& progress) {
    return Finder(document, progress).run(parts, chosen);
}

}  // namespace pivrak
