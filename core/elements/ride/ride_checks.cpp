#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/checks/clip_check.h"
#include "core/checks/drive/drive_mapper.h"
#include "core/checks/element_check.h"
#include "core/checks/over_words.h"
#include "core/elements/ride/ride_motion.h"

namespace pivrak {

namespace {

constexpr double flip_rad = 60 * rad_per_deg;  // between neighbours a fiftieth of a turn apart
constexpr double coupler_tolerance_m = 0.001, end_tolerance_m = 1e-6;

/// Two coupled riders: how far their couplers are from where a straight one of its length would hold them.
class CouplerWatch final : public ClipWatch {
public:
    CouplerWatch(const Part& part, std::size_t slot, const Part& ahead, std::size_t ahead_slot)
        : part_(part), ahead_(ahead), slot_(slot), ahead_slot_(ahead_slot) {}

    bool looks_between() const override { return true; }
    void look(const Pose& pose, double at) override {
        const Ride &own = *part_.ride, &ahead = *ahead_.ride;
        const Vec3 front = coupler_place(pose.world_from_part[slot_], own, own.coupler_front_m),
                   rear = coupler_place(pose.world_from_part[ahead_slot_], ahead, -ahead.coupler_rear_m);
        const double now = (front - rear).norm() - pose.world_from_part[slot_].size * own.gap_m;
        if (std::abs(now) > std::abs(off_)) off_ = now, at_ = at;
    }
    void tell(ClipCheck& out) const override {
        if (std::abs(off_) <= coupler_tolerance_m) return;
        out.add("ride.coupler", part_.id,
                fmt::format("the coupler of '{}' to '{}' is {} too {} {} (allowed {}): the bend is too tight",
                            part_.name, ahead_.name,
                            length_over(std::abs(off_), coupler_tolerance_m, out.document),
                            off_ > 0 ? "short" : "long", out.at(at_),
                            format_length(coupler_tolerance_m, out.document)),
                at_);
    }

private:
    const Part &part_, &ahead_;
    std::size_t slot_, ahead_slot_;
    double off_ = 0, at_ = 0;
};

bool is_level(const Ride& ride) {
    return ride.upright == Upright::Plumb || ride.upright == Upright::Level;
}

/// A plumb rider looks where its path goes, seen from above: over the top of a loop that is back, at once.
class HeadingWatch final : public ClipWatch {
public:
    HeadingWatch(const Part& part, std::size_t slot) : part_(part), slot_(slot) {}

    bool looks_between() const override { return true; }
    void look(const Pose& pose, double at) override {
        const Vec3 way = pose.world_from_part[slot_].axis(part_.ride->axis);
        // Two looks on, so that a turn that falls on one look is seen as well.
        for (const Vec3& before : {last_, last_but_one_})
            if (before.dot(way) < std::cos(turned_rad) && before.norm() > 0.5 && !turns_) turns_ = at;
        last_but_one_ = last_;
        last_ = way;
    }
    void tell(ClipCheck& out) const override {
        if (!turns_) return;
        out.add("ride.turns_round", part_.id,
                fmt::format(
                    "'{}' turns round at once {}: its path goes over a loop, and it looks where that goes",
                    part_.name, out.at(*turns_)),
                turns_, {{"op", "ride.set"}, {"parts", {part_.id.value}}, {"upright", "level"}},
                "Face it by the path's side");
    }

private:
    static constexpr double turned_rad = 120 * rad_per_deg;
    const Part& part_;
    std::size_t slot_;
    Vec3 last_{0, 0, 0}, last_but_one_{0, 0, 0};
    std::optional<double> turns_;
};

/// How far a rider goes beyond the ends of an open path.
class EndWatch final : public ClipWatch {
public:
    EndWatch(const Part& part, std::size_t along, double length)
        : part_(part), along_(along), length_(length) {}

    void look(const Pose& pose, double frame) override {
        const double now = std::max(-pose.channels[along_], pose.channels[along_] - length_);
        if (now > off_) off_ = now, frame_ = frame;
    }
    void tell(ClipCheck& out) const override {
        if (off_ <= end_tolerance_m) return;
        out.add("ride.past_end", part_.id,
                fmt::format("'{}' is {} beyond the end of its path {}", part_.name,
                            format_length(off_, out.document), out.at(frame_)),
                frame_);
    }

private:
    const Part& part_;
    std::size_t along_;
    double length_, off_ = 0, frame_ = 0;
};

}  // namespace

/// Whether a rider that keeps the world's up is turned over where its path goes straight up.
void check(const Ride& ride, const Part& part, ElementCheck& out) {
    const Path* path = out.document.paths.find(ride.path);
    if (!path || ride.upright == Upright::Path || is_level(ride)) return;
    const auto measured = out.facts.path(out.document, *path);
    if (!measured) return;
    const PathCurve& curve = (*measured)->curve;
    const RiddenPath ridden{curve, path->rolls, world_from_rest(out.document, path->carrier)};
    constexpr int looks = 400;
    Vec3 last(0, 0, 0), last_way(0, 0, 0);
    for (int i = 0; i <= looks; ++i) {
        const double along = curve.length() * i / looks;
        const Frame frame = ride_frame(ridden, ride, along);
        const Vec3 up = frame.axis(ride.up_axis), way = frame.axis(ride.axis);
        const double bend = std::acos(std::clamp(way.dot(last_way), -1.0, 1.0));
        if (i > 0 && std::acos(std::clamp(up.dot(last), -1.0, 1.0)) > bend + flip_rad)
            return out.add(Stage::Rig, "ride.flips", part.id,
                           fmt::format("'{}' turns over {} along '{}', where the path goes straight up",
                                       part.name, format_length(along, out.document), path->name),
                           {{"op", "ride.set"}, {"parts", {part.id.value}}, {"upright", "path"}},
                           "Keep it upright by its path");
        last = up;
        last_way = way;
    }
}

void watch(const Ride& ride, const Part& part, ClipCheck& out) {
    const Evaluator& evaluator = out.evaluator;
    const Part* ahead = out.document.parts.find(ride.ahead);
    if (ahead && ahead->ride && !ride.along_path) {
        const auto slot = evaluator.part_slot(part.id), ahead_slot = evaluator.part_slot(ahead->id);
        if (slot && ahead_slot) out.watch(std::make_unique<CouplerWatch>(part, *slot, *ahead, *ahead_slot));
    }
    const DrapedPath* path = ridden_path(evaluator, part.id);
    if (const auto slot = evaluator.part_slot(part.id); path && slot && ride.upright == Upright::Plumb)
        out.watch(std::make_unique<HeadingWatch>(part, *slot));
    if (!path || path->curve.closed()) return;
    const std::size_t along = *evaluator.channel_slot({part.id, ChannelKind::Along});
    out.watch(std::make_unique<EndWatch>(part, along, path->curve.length()));
}

void map(const Ride& ride, const Part& part, DriveMapper& out) {
    if (ride.ahead) out.add({ride.ahead, ChannelKind::Along}, {part.id, ChannelKind::Along}, "coupled");
}

}  // namespace pivrak
