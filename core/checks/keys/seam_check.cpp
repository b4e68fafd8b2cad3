#include <fmt/format.h>

#include <cmath>

#include "core/checks/findings.h"
#include "core/motion/evaluator.h"

namespace pivrak {
namespace {

constexpr double closed_m = 1e-3, closed_rad = 0.1 * rad_per_deg;
constexpr double little = 0.01;                                 // of a frame, for speeds
constexpr double same_speed_share = 0.05;                       // of the greater one
constexpr double slow_m = 1e-4, slow_rad = 0.02 * rad_per_deg;  // a frame: nobody sees less

/// How one frame goes over into another: the way, and the turn about its axis.
struct Going {
    Vec3 shift, turn;
    static Going between(const Frame& a, const Frame& b) {
        const Eigen::AngleAxisd turn(a.rotation.conjugate() * b.rotation);
        double angle = turn.angle();
        if (angle > pi) angle -= 2 * pi;
        return {b.translation - a.translation, angle * turn.axis()};
    }
    /// Speeds from the ways of one little step and of two.
    static Going speed(const Going& one, const Going& two) {
        return {(4 * one.shift - two.shift) / (2 * little), (4 * one.turn - two.turn) / (2 * little)};
    }
    bool is_more(double metres, double radians) const {
        return shift.norm() > metres || turn.norm() > radians;
    }
    std::string words(const Document& document) const {
        return turn.norm() > closed_rad && shift.norm() <= closed_m ? format_angle(turn.norm())
               : turn.norm() <= closed_rad                          ? format_length(shift.norm(), document)
                                           : fmt::format("{} and {}", format_length(shift.norm(), document),
                                                         format_angle(turn.norm()));
    }
    /// The same as speeds, of going on in one second.
    std::string speed_words(double rate, const Document& document) const {
        return turn.norm() > 0.1 * slow_rad
                   ? fmt::format("{}/s", format_angle(turn.norm() * rate))
                   : fmt::format("{}/s", format_length(shift.norm() * rate, document));
    }
};

/// Looks at the seam of one clip, where its parts stand against what carries them.
class SeamCheck {
public:
    SeamCheck(const Document& document, const Clip& clip, const Evaluator& evaluator,
              std::vector<Finding>& findings)
        : document_(document), clip_(clip), evaluator_(evaluator), findings_(findings) {
        const double first = clip.first_frame, last = clip.last_frame;
        for (const double frame :
             {first, first + little, first + 2 * little, last - 2 * little, last - little, last, last + 1}) {
            poses_.push_back(evaluator.make_pose());
            evaluator.evaluate(frame, poses_.back());
        }
    }

    void look() {
        std::vector<PartId> seen;
        for (const Track& track : clip_.tracks) {
            const PartId part = track.channel.part();
            if (!is_of_part(track.channel.kind) || track.keys.size() < 2 || !evaluator_.part_slot(part))
                continue;
            if (std::ranges::find(seen, part) != seen.end()) continue;
            seen.push_back(part);
            look_at(part, track);
        }
    }

private:
    enum Look { First, Behind, FarBehind, FarBefore, Before, Last, After };

    Frame stands(PartId part, Look look) const {
        const auto world = [&](PartId of) {
            const auto slot = evaluator_.part_slot(of);
            return slot ? poses_[look].world_from_part[*slot] : Frame{};
        };
        const Part& known = *document_.parts.find(part);
        return known.ride ? world(part) : world(known.parent).inverse() * world(part);
    }

    void look_at(PartId part, const Track& track) {
        const Frame first = stands(part, First), last = stands(part, Last);
        const Going jump = Going::between(last, first);
        if (jump.is_more(closed_m, closed_rad)) return tell_jump(part, track, jump, first);
        const Going in = Going::speed(Going::between(stands(part, Before), last),
                                      Going::between(stands(part, FarBefore), last)),
                    out = Going::speed(Going::between(first, stands(part, Behind)),
                                       Going::between(first, stands(part, FarBehind)));
        const Going change{out.shift - in.shift, out.turn - in.turn};
        const double fastest_m = std::max(in.shift.norm(), out.shift.norm()),
                     fastest_rad = std::max(in.turn.norm(), out.turn.norm());
        if (change.is_more(std::max(slow_m, same_speed_share * fastest_m),
                           std::max(slow_rad, same_speed_share * fastest_rad)))
            return tell_speed(part, track, in, out);
        // Level slopes at both ends of what comes back are as it should be; of what goes on they are a stop.
        const bool goes_on = std::abs(track.keys.back().value - track.keys.front().value) > 1e-9;
        if (goes_on && !in.is_more(slow_m, slow_rad)) tell_stop(part, track);
    }

    void add(const char* code, PartId part, std::string message, nlohmann::json fix, std::string title) {
        findings_.push_back({Stage::Keys, code, part, std::move(message), std::move(fix), std::move(title),
                             clip_.last_frame});
    }
    nlohmann::json close(const Track& track, nlohmann::json more = nlohmann::json::object()) const {
        nlohmann::json fix{
            {"op", "cycle.close"}, {"parts", {track.channel.owner.value}}, {"clip", clip_.name}};
        fix.update(more);
        return fix;
    }

    void tell_jump(PartId part, const Track& track, const Going& jump, const Frame& first) {
        const std::string name = name_of(document_, part);
        if (!Going::between(stands(part, After), first).is_more(closed_m, closed_rad))
            return add(
                "keys.seam_late", part,
                fmt::format(
                    "'{}' closes at frame {:g}, one frame behind the end of '{}': the frame before it is "
                    "left out at each turn",
                    name, clip_.last_frame + 1, clip_.name),
                {{"op", "clip.set"}, {"clip", clip_.name}, {"last_frame", clip_.last_frame + 1}},
                fmt::format("Let it end at frame {:g}", clip_.last_frame + 1));
        add("keys.seam_jump", part,
            fmt::format("'{}' jumps by {} where '{}' begins again", name, jump.words(document_), clip_.name),
            close(track), "Make it close");
    }

    void tell_speed(PartId part, const Track& track, const Going& in, const Going& out) {
        const double rate = frame_rate_of(document_, clip_);
        // Only bent keys get one slope at the seam when they repeat.
        const bool bent = track.keys.front().interpolation == Interpolation::Smooth &&
                          !track.keys.front().out &&
                          track.keys.back().interpolation == Interpolation::Smooth && !track.keys.back().in &&
                          track.keys[track.keys.size() - 2].interpolation == Interpolation::Smooth;
        add("keys.seam_speed", part,
            fmt::format("'{}' comes to the end of '{}' at {} and goes on at {}", name_of(document_, part),
                        clip_.name, in.speed_words(rate, document_), out.speed_words(rate, document_)),
            bent ? close(track) : nlohmann::json(), bent ? "Make it close smoothly" : "");
    }

    void tell_stop(PartId part, const Track& track) {
        add("keys.seam_stops", part,
            fmt::format("'{}' goes on at the seam of '{}' but stops there each time",
                        name_of(document_, part), clip_.name),
            close(track, {{"add_up", true}, {"even", true}}), "Make it run evenly");
    }

    const Document& document_;
    const Clip& clip_;
    const Evaluator& evaluator_;
    std::vector<Finding>& findings_;
    std::vector<Pose> poses_;
};

}  // namespace

void check_seams(const Document& document, MeshFacts& known, std::vector<Finding>& findings) {
    for (const Clip& clip : document.clips) {
        if (!clip.loop || clip.tracks.empty()) continue;
        const auto evaluator = Evaluator::compile(document, clip.id, &known.rig());
        if (evaluator) SeamCheck(document, clip, *evaluator, findings).look();
    }
}

}  // namespace pivrak
