// What shows only as clips run: of riders, wheels and trailers.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/checks/findings.h"
#include "core/elements/ride/ride_motion.h"
#include "core/motion/bake.h"
#include "core/motion/seam.h"
#include "core/rig/ride_frame.h"

namespace pivrak {
namespace {

constexpr double gap_tolerance_m = 0.002, hitch_tolerance_m = 0.002, coupler_tolerance_m = 0.001;
constexpr double seam_tolerance_rad = 0.5 * rad_per_deg;
constexpr int looks_a_frame = 4;

void add(std::vector<Finding>& findings, Stage stage, const char* code, PartId part, std::string message,
         nlohmann::json fix = {}, std::string title = "") {
    findings.push_back({stage, code, part, std::move(message), std::move(fix), std::move(title)});
}

/// The eye of a trailer against the hitch it hangs on, each seen on the part that carries it.
struct Hitched {
    const Vehicle* vehicle;
    std::size_t eye_slot, hitch_slot;
    Vec3 eye, hitch;
    double apart = 0, frame = 0;

    void look(const Pose& pose, double at) {
        const double now =
            (pose.world_from_part[eye_slot].point(eye) - pose.world_from_part[hitch_slot].point(hitch))
                .norm();
        if (now <= apart) return;
        apart = now;
        frame = at;
    }
};

std::vector<Hitched> hitched(const Document& document, const Evaluator& evaluator) {
    std::vector<Hitched> out;
    for (const Vehicle& vehicle : document.vehicles) {
        const Part* root = document.parts.find(vehicle.root);
        if (!root || !root->tow) continue;
        const Tow& tow = *root->tow;
        PartId carrier = vehicle.body;
        if (document.parts.contains(tow.turntable)) carrier = tow.turntable;
        if (document.parts.contains(tow.drawbar)) carrier = tow.drawbar;
        const auto eye = evaluator.part_slot(carrier), hitch = evaluator.part_slot(tow.hitch);
        if (!eye || !hitch) continue;
        const Vec3 place = world_from_rest(document, tow.hitch).point(tow.hitch_m);
        out.push_back(
            {&vehicle, *eye, *hitch, world_from_rest(document, carrier).inverse().point(place), tow.hitch_m});
    }
    return out;
}

/// Two coupled riders: how far their couplers are from where a straight one of its length would hold them.
struct Coupled {
    const Part* part;
    std::size_t slot, ahead_slot;
    Ride ahead;
    double off = 0, frame = 0;

    void look(const Pose& pose, double at) {
        const Ride& own = *part->ride;
        const Vec3 front = coupler_place(pose.world_from_part[slot], own, own.coupler_front_m),
                   rear = coupler_place(pose.world_from_part[ahead_slot], ahead, -ahead.coupler_rear_m);
        const double now = (front - rear).norm() - own.gap_m;
        if (std::abs(now) <= std::abs(off)) return;
        off = now;
        frame = at;
    }
};

std::vector<Coupled> coupled_riders(const Document& document, const Evaluator& evaluator) {
    std::vector<Coupled> out;
    for (const Part& part : document.parts) {
        const Part* ahead = part.ride ? document.parts.find(part.ride->ahead) : nullptr;
        if (!ahead || !ahead->ride || part.ride->along_path) continue;
        const auto slot = evaluator.part_slot(part.id), ahead_slot = evaluator.part_slot(ahead->id);
        if (slot && ahead_slot) out.push_back({&part, *slot, *ahead_slot, *ahead->ride});
    }
    return out;
}

/// Rolling wheels that stand otherwise where their loop closes than where it began.
void check_seams(const Document& document, const Clip& clip, const Evaluator& evaluator,
                 std::vector<Finding>& findings) {
    Pose start = evaluator.make_pose(), end = evaluator.make_pose();
    bool begun = false;
    for (const Coupling& c : document.couplings) {
        const Roll* roll = c.as<Roll>();
        if (!roll || roll->like || !clip.loop) continue;
        const auto seam = seam_frame(evaluator, clip, roll->driven.part);
        if (!seam) continue;
        if (!begun) evaluator.evaluate(clip.first_frame, start);
        begun = true;
        evaluator.evaluate(*seam, end);
        const std::size_t slot = *evaluator.part_slot(roll->driven.part);
        const double off =
            angle_between(start.world_from_part[slot].rotation, end.world_from_part[slot].rotation);
        if (off <= seam_tolerance_rad) continue;
        const Part& wheel = *document.parts.find(roll->driven.part);
        add(findings, Stage::Keys, "wheel.seam", wheel.id,
            fmt::format("'{}' stands {} off where '{}' begins again (allowed {})", wheel.name,
                        format_angle(off, 1), clip.name, format_angle(seam_tolerance_rad, 1)),
            {{"op", "coupling.whole_turns"}, {"parts", {wheel.id.value}}, {"clip", clip.name}},
            "Let it turn whole times a lap");
    }
}

/// Where riders leave an open path, where wheels leave the ground, and trailers their hitch, in each clip.
void check_clip(const Document& document, const Clip& clip, RigFacts& facts, const Progress& progress,
                std::vector<Finding>& findings) {
    const auto evaluator = Evaluator::compile(document, clip.id, &facts);
    if (!evaluator) return;
    check_seams(document, clip, *evaluator, findings);
    struct Wheel {
        PartId id;
        double gap = 0, deep = 0, gap_frame = 0, deep_frame = 0, bare_frame = 0;
        bool bare = false;
    };
    std::vector<Wheel> wheels;
    for (const PartId id : evaluator->wheels()) wheels.push_back({id});
    struct Rider {
        const Part* part;
        double length, off = 0, frame = 0;
    };
    std::vector<Rider> riders;
    for (const Part& part : document.parts)
        if (const DrapedPath* path = part.ride ? ridden_path(*evaluator, part.id) : nullptr;
            path && !path->curve.closed())
            riders.push_back({&part, path->curve.length()});
    std::vector<Hitched> trailers = hitched(document, *evaluator);
    std::vector<Coupled> couplers = coupled_riders(document, *evaluator);
    if (wheels.empty() && riders.empty() && trailers.empty() && couplers.empty()) return;
    Pose pose = evaluator->make_pose();
    for (const double frame : clip_frames(clip)) {
        if (!progress.go_on(0.9, "looking at wheels")) return;
        evaluator->evaluate(frame, pose);
        for (std::size_t i = 0; i < wheels.size(); ++i) {
            const WheelStand& stand = pose.wheels[i];
            Wheel& w = wheels[i];
            if (!stand.has_ground && !w.bare) {
                w.bare = true;
                w.bare_frame = frame;
            }
            if (stand.gap_m > w.gap) {
                w.gap = stand.gap_m;
                w.gap_frame = frame;
            }
            if (-stand.gap_m > w.deep) {
                w.deep = -stand.gap_m;
                w.deep_frame = frame;
            }
        }
        for (Rider& rider : riders) {
            const double along =
                pose.channels[*evaluator->channel_slot({rider.part->id, ChannelKind::Along})];
            const double off = std::max(-along, along - rider.length);
            if (off > rider.off) {
                rider.off = off;
                rider.frame = frame;
            }
        }
        for (int k = 0; k < looks_a_frame && !(trailers.empty() && couplers.empty()); ++k) {
            const double at = std::min(frame + static_cast<double>(k) / looks_a_frame, clip.last_frame);
            if (k > 0) evaluator->evaluate(at, pose);
            for (Hitched& trailer : trailers) trailer.look(pose, at);
            for (Coupled& coupler : couplers) coupler.look(pose, at);
        }
    }
    for (const Hitched& trailer : trailers)
        if (trailer.apart > hitch_tolerance_m)
            add(findings, Stage::Keys, "vehicle.hitch", trailer.vehicle->root,
                fmt::format("the drawbar of '{}' is {} off its hitch at frame {} of '{}' (allowed {})",
                            trailer.vehicle->name, format_length(trailer.apart), trailer.frame, clip.name,
                            format_length(hitch_tolerance_m)));
    const auto name = [&](PartId id) { return document.parts.find(id)->name; };
    for (const Coupled& coupler : couplers)
        if (std::abs(coupler.off) > coupler_tolerance_m)
            add(findings, Stage::Keys, "ride.coupler", coupler.part->id,
                fmt::format("the coupler of '{}' to '{}' is {} too {} at frame {} of '{}' (allowed {}): the "
                            "bend is too tight",
                            coupler.part->name, name(coupler.part->ride->ahead),
                            format_length(std::abs(coupler.off)), coupler.off > 0 ? "short" : "long",
                            coupler.frame, clip.name, format_length(coupler_tolerance_m)));
    const auto leans = [&](PartId id) {
        return std::any_of(document.couplings.begin(), document.couplings.end(),
                           [&](const Coupling& c) { return c.as<Lean>() && c.as<Lean>()->wheel == id; });
    };
    for (const Wheel& w : wheels) {
        if (w.bare)
            add(findings, Stage::Keys, "wheel.no_ground", w.id,
                fmt::format("no ground under '{}' from frame {} of '{}': it {}", name(w.id), w.bare_frame,
                            clip.name, leans(w.id) ? "stays at its height" : "hangs as low as it can"));
        if (w.gap > gap_tolerance_m)
            add(findings, Stage::Keys, "wheel.hangs", w.id,
                fmt::format(
                    "'{}' hangs {} above the ground at frame {} of '{}' (allowed {}): its travel ends",
                    name(w.id), format_length(w.gap), w.gap_frame, clip.name,
                    format_length(gap_tolerance_m)));
        if (w.deep > gap_tolerance_m)
            add(findings, Stage::Keys, "wheel.sinks", w.id,
                fmt::format(
                    "'{}' is pressed {} into the ground at frame {} of '{}' (allowed {}): its travel ends",
                    name(w.id), format_length(w.deep), w.deep_frame, clip.name,
                    format_length(gap_tolerance_m)));
    }
    for (const Rider& rider : riders)
        if (rider.off > 1e-6)
            add(findings, Stage::Keys, "ride.past_end", rider.part->id,
                fmt::format("'{}' is {} beyond the end of its path at frame {} of '{}'", rider.part->name,
                            format_length(rider.off), rider.frame, clip.name));
}

}  // namespace

void check_travel(const Document& document, const Progress& progress, MeshFacts& known,
                  std::vector<Finding>& findings) {
    if (document.paths.empty() && document.vehicles.empty() && document.couplings.empty()) return;
    for (const Clip& clip : document.clips) check_clip(document, clip, known.rig(), progress, findings);
}

}  // namespace pivrak
