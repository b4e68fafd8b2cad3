#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/checks/clip_check.h"
#include "core/checks/drive/drive_mapper.h"
#include "core/checks/element_check.h"
#include "core/checks/over_words.h"

namespace pivrak {
namespace {

constexpr double twin_tolerance_share = 0.005;  // of the larger radius
constexpr double hitch_tolerance_m = 0.002;

/// Wheels beside each other that differ: the vehicle would stand and steer askew.
void check_twins(const Vehicle& vehicle, ElementCheck& out) {
    struct Stand {
        PartId wheel;
        Vec3 hub;
        double radius_m;
    };
    std::vector<Stand> left, right;
    const Frame root = world_from_rest(out.document, vehicle.place).inverse();
    for (const VehicleWheel& wheel : vehicle.wheels) {
        const Stand stand{wheel.wheel, (root * world_from_rest(out.document, wheel.wheel)).translation,
                          out.facts.wheel(out.document, out.tree, wheel.wheel).radius_m};
        (stand.hub.y() > 0 ? left : right).push_back(stand);
    }
    for (const Stand& l : left) {
        const auto twin = std::min_element(right.begin(), right.end(), [&](const Stand& a, const Stand& b) {
            return std::abs(a.hub.x() - l.hub.x()) < std::abs(b.hub.x() - l.hub.x());
        });
        if (twin == right.end() || std::abs(twin->hub.x() - l.hub.x()) > 0.5 * l.radius_m) continue;
        const double off = std::abs(l.radius_m - twin->radius_m);
        if (off <= twin_tolerance_share * std::max(l.radius_m, twin->radius_m)) continue;
        const Stand &larger = l.radius_m > twin->radius_m ? l : *twin, &smaller = &larger == &l ? *twin : l;
        out.add(Stage::Rig, "vehicle.twins", smaller.wheel,
                fmt::format("'{}' of '{}' has a radius {} smaller than its twin '{}' (allowed {})",
                            name_of(out.document, smaller.wheel), vehicle.name,
                            length_over(off, twin_tolerance_share * larger.radius_m, out.document),
                            name_of(out.document, larger.wheel),
                            format_length(twin_tolerance_share * larger.radius_m, out.document)));
    }
}

/// The eye of a trailer against the hitch it hangs on, each seen on the part that carries it.
class HitchWatch final : public ClipWatch {
public:
    HitchWatch(const Vehicle& vehicle, std::size_t eye_slot, const Vec3& eye, std::size_t hitch_slot,
               const Vec3& hitch)
        : vehicle_(vehicle), eye_slot_(eye_slot), hitch_slot_(hitch_slot), eye_(eye), hitch_(hitch) {}

    bool looks_between() const override { return true; }
    void look(const Pose& pose, double at) override {
        const double now =
            (pose.world_from_part[eye_slot_].point(eye_) - pose.world_from_part[hitch_slot_].point(hitch_))
                .norm();
        if (now > apart_) apart_ = now, at_ = at;
    }
    void tell(ClipCheck& out) const override {
        if (apart_ <= hitch_tolerance_m) return;
        out.add("vehicle.hitch", vehicle_.place,
                fmt::format("the drawbar of '{}' is {} off its hitch {} (allowed {})", vehicle_.name,
                            length_over(apart_, hitch_tolerance_m, out.document), out.at(at_),
                            format_length(hitch_tolerance_m, out.document)),
                at_);
    }

private:
    const Vehicle& vehicle_;
    std::size_t eye_slot_, hitch_slot_;
    Vec3 eye_, hitch_;
    double apart_ = 0, at_ = 0;
};

}  // namespace

void check(const Vehicle& vehicle, ElementCheck& out) {
    check_twins(vehicle, out);
    if (vehicle.ground && !out.facts.ground(out.document, vehicle.ground))
        out.add(Stage::Rig, "vehicle.ground", vehicle.ground,
                fmt::format("the ground of '{}' has no shape: it stands on the floor", vehicle.name));
}

void watch(const Vehicle& vehicle, ClipCheck& out) {
    const Document& document = out.document;
    const Part* root = document.parts.find(vehicle.place);
    if (!root || !root->tow) return;
    const Tow& tow = *root->tow;
    PartId carrier = vehicle.body;
    if (document.parts.contains(tow.turntable)) carrier = tow.turntable;
    if (document.parts.contains(tow.drawbar)) carrier = tow.drawbar;
    const auto eye = out.evaluator.part_slot(carrier), hitch = out.evaluator.part_slot(tow.hitch);
    if (!eye || !hitch) return;
    const Vec3 place = world_from_rest(document, tow.hitch).point(tow.hitch_m);
    out.watch(std::make_unique<HitchWatch>(
        vehicle, *eye, world_from_rest(document, carrier).inverse().point(place), *hitch, tow.hitch_m));
}

/// The ground moves a vehicle, and no channel.
void map(const Vehicle&, DriveMapper&) {}

}  // namespace pivrak
