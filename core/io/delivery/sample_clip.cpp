#include "core/io/delivery/sample_clip.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <optional>

namespace pivrak {
namespace {

constexpr int deepest_halving = 6;

/// The turn channels between a part and what it is delivered below.
std::vector<std::size_t> turns_up_to(const Document& document, const Evaluator& evaluator, PartId part,
                                     PartId carrier) {
    std::vector<std::size_t> slots;
    for (PartId at = part; at && at != carrier; at = document.parts.find(at)->parent)
        for (const ChannelKind kind :
             {ChannelKind::Turn, ChannelKind::TurnX, ChannelKind::TurnY, ChannelKind::TurnZ})
            if (const auto slot = evaluator.channel_slot({at, kind})) slots.push_back(*slot);
    return slots;
}

double turned(const std::vector<std::size_t>& slots, const std::vector<double>& from,
              const std::vector<double>& to) {
    double sum = 0;
    for (const std::size_t slot : slots) sum += std::abs(to[slot] - from[slot]);
    return sum;
}

}  // namespace

double shape_reach(const Document& document, const Part& part) {
    const Shape* shape = document.shapes.find(part.shape);
    if (!shape || shape->bounds.empty()) return 0;
    const Bounds& b = shape->bounds;
    double most = 0;
    for (int i = 0; i < 8; ++i)
        most = std::max(most, part.part_from_shape
                                  .point({i & 1 ? b.min.x() : b.max.x(), i & 2 ? b.min.y() : b.max.y(),
                                          i & 4 ? b.min.z() : b.max.z()})
                                  .norm());
    return most;
}

namespace {

class Sampler {
public:
    Sampler(const Document& document, const DeliveredTree& tree, const Evaluator& evaluator,
            const Sampling& sampling)
        : evaluator_(evaluator), sampling_(sampling), pose_(evaluator.make_pose()) {
        std::unordered_map<PartId, std::size_t> place;
        for (const DeliveredTree::Entry& entry : tree.entries()) {
            Watched watched{*evaluator.part_slot(entry.id), std::nullopt,
                            turns_up_to(document, evaluator, entry.id, entry.parent), 0};
            if (entry.parent) watched.carrier = *evaluator.part_slot(entry.parent);
            watched.reach_m = shape_reach(document, *document.parts.find(entry.id));
            place[entry.id] = watched_.size();
            watched_.push_back(std::move(watched));
        }
        // What hangs on a part is swept along by it.
        for (auto entry = tree.entries().rbegin(); entry != tree.entries().rend(); ++entry)
            if (entry->parent) {
                double& carrier = watched_[place.at(entry->parent)].reach_m;
                carrier = std::max(carrier, entry->parent_from_rest.translation.norm() +
                                                watched_[place.at(entry->id)].reach_m);
            }
    }

    struct Moment {
        double frame;
        std::vector<double> channels;
        std::vector<Frame> world;
    };

    Moment at(double frame) {
        evaluator_.evaluate(frame, pose_);
        const auto parts = frames_of_parts(evaluator_, pose_);
        return {frame, pose_.channels, {parts.begin(), parts.end()}};
    }

    /// Takes moments after `from` up to and with `to`.
    template <class Take>
    void between(const Moment& from, const Moment& to, int depth, Take& take) {
        const int pieces = depth == 0 ? pieces_for_turns(from, to) : 1;
        if (pieces > 1) {
            Moment last = from;
            for (int i = 1; i <= pieces; ++i) {
                Moment next = i == pieces ? to : at(from.frame + (to.frame - from.frame) * i / pieces);
                between(last, next, 1, take);
                last = std::move(next);
            }
            return;
        }
        if (sampling_.tolerance_m > 0 && depth < deepest_halving) {
            const Moment middle = at(0.5 * (from.frame + to.frame));
            // Where a motion swings from one side to the other, its middle alone says nothing.
            const auto quarter = [&](double share) {
                return at(from.frame + share * (to.frame - from.frame));
            };
            if (strays(from, middle, to, 0.5) || strays(from, quarter(0.25), to, 0.25) ||
                strays(from, quarter(0.75), to, 0.75)) {
                between(from, middle, depth + 1, take);
                between(middle, to, depth + 1, take);
                return;
            }
        }
        take(to);
    }

private:
    struct Watched {
        std::size_t slot;
        std::optional<std::size_t> carrier;
        std::vector<std::size_t> turns;
        double reach_m;  ///< of its shape, and of what hangs on it, from its pivot
    };

    Frame local(const Watched& w, const Moment& m) const {
        return w.carrier ? m.world[*w.carrier].inverse() * m.world[w.slot] : m.world[w.slot];
    }

    int pieces_for_turns(const Moment& from, const Moment& to) const {
        double most = 0;
        for (const Watched& w : watched_) most = std::max(most, turned(w.turns, from.channels, to.channels));
        return static_cast<int>(std::min(std::ceil(most / longest_sampled_turn_rad), 4096.0));
    }

    /// Whether a straight way between the ends leaves a moment at a share of it, seen at the pivot and as far
    /// out as the shape goes.
    bool strays(const Moment& from, const Moment& moment, const Moment& to, double share) const {
        return std::any_of(watched_.begin(), watched_.end(), [&](const Watched& w) {
            const Frame a = local(w, from), b = local(w, moment), c = local(w, to);
            const double off =
                             (a.translation + share * (c.translation - a.translation) - b.translation).norm(),
                         turn = angle_between(a.rotation.slerp(share, c.rotation), b.rotation),
                         larger = std::abs(a.size + share * (c.size - a.size) - b.size);
            return off + (turn + larger) * w.reach_m > sampling_.tolerance_m;
        });
    }

    const Evaluator& evaluator_;
    const Sampling& sampling_;
    Pose pose_;
    std::vector<Watched> watched_;
};

}  // namespace

Result<Bake> sample_clip(const Document& document, ClipId clip_id, const DeliveredTree& tree,
                         const Sampling& sampling, const Progress& progress) {
    if (sampling.per_frame < 1 || sampling.per_frame > 16)
        return Error{"sampling.steps",
                     fmt::format("{} samples a frame: 1 to 16 can be taken", sampling.per_frame), "samples"};
    PIVRAK_TRY(evaluator, Evaluator::compile(document, clip_id));
    const Clip& clip = clip_or_first(document, clip_id);
    const std::vector<double> frames = clip_frames(clip, sampling.per_frame);
    Bake bake{evaluator.parts(), {}, {}};
    bake.world_from_part.reserve(frames.size() * bake.parts.size());
    const auto take = [&](const Sampler::Moment& moment) {
        bake.frames.push_back(moment.frame);
        bake.world_from_part.insert(bake.world_from_part.end(), moment.world.begin(), moment.world.end());
    };
    Sampler sampler(document, tree, evaluator, sampling);
    Sampler::Moment last = sampler.at(frames.front());
    take(last);
    for (std::size_t i = 1; i < frames.size(); ++i) {
        if (!progress.go_on(static_cast<double>(i) / static_cast<double>(frames.size()), "evaluating frames"))
            return Error{"bake.cancelled", "cancelled; nothing was written", clip.name};
        Sampler::Moment next = sampler.at(frames[i]);
        sampler.between(last, next, 0, take);
        last = std::move(next);
    }
    return bake;
}

std::optional<FastTurn> fastest_turn(const Document& document, ClipId clip,
                                     const std::vector<double>& frames) {
    const auto evaluator = Evaluator::compile(document, clip);
    if (!evaluator || frames.empty()) return std::nullopt;
    Pose pose = evaluator->make_pose();
    std::optional<FastTurn> fastest;
    evaluator->evaluate(frames.front(), pose);
    std::vector<double> last = pose.channels;
    std::vector<std::pair<PartId, std::vector<std::size_t>>> turning;
    for (const Part& part : document.parts)
        if (auto slots = turns_up_to(document, *evaluator, part.id, part.parent); !slots.empty())
            turning.emplace_back(part.id, std::move(slots));
    for (std::size_t i = 1; i < frames.size(); ++i) {
        evaluator->evaluate(frames[i], pose);
        for (const auto& [part, slots] : turning) {
            const double turn = turned(slots, last, pose.channels);
            if (turn >= pi && (!fastest || turn > fastest->turn_rad))
                fastest = FastTurn{part, frames[i - 1], turn};
        }
        last = pose.channels;
    }
    return fastest;
}

}  // namespace pivrak
