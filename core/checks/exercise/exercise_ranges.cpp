#include "core/checks/exercise/exercise_ranges.h"

#include <algorithm>

#include "core/model/edits/branch_bounds.h"
#include "core/model/element_channels.h"
#include "core/model/limit_ends.h"
#include "core/rig/driven_by.h"

namespace pivrak {
namespace {

constexpr double shortest_m = 0.1;

class Ranges {
public:
    Ranges(const Document& document, RigFacts& facts)
        : document_(document), tree_(document), facts_(facts), drivers_(document) {}

    std::vector<ExerciseRange> take() {
        for (const PartId id : tree_.all()) {
            const Part& part = *document_.parts.find(id);
            for (const ChannelKind kind : part.channels()) look({id, kind}, part.joint.channel(kind));
        }
        each_own_channel(document_, [&](ChannelRef channel, const Channel& own) { look(channel, own); });
        return std::move(ranges_);
    }

private:
    void look(ChannelRef channel, const Channel& own) {
        // A shaft of a train is exercised by what turns the train.
        if (own.locked || drivers_.name(channel) || drivers_.handle(channel)) return;
        if (own.limits && is_closed(*own.limits)) {
            if (own.limits->max > own.limits->min) ranges_.push_back({channel, *own.limits, false});
            return;
        }
        auto range = usual_range(channel);
        if (!range) return;
        // As far as usual from an end that there is.
        if (own.limits) range = closed(*own.limits, 0.5 * (range->max - range->min));
        ranges_.push_back({channel, *range, true});
    }

    std::optional<Limits> usual_range(ChannelRef channel) {
        if (is_turn(channel.kind) && is_of_part(channel.kind)) return Limits{-pi, pi};
        switch (channel.kind) {
            case ChannelKind::Blend:
                return Limits{0, 1};
            case ChannelKind::Size:
            case ChannelKind::Slack:
            case ChannelKind::Stretch:
            case ChannelKind::Length:
            case ChannelKind::Angle:
            case ChannelKind::Count:
            case ChannelKind::Bend:
            case ChannelKind::Speed:
                return std::nullopt;
            case ChannelKind::Along:
                return along(channel.part());
            case ChannelKind::Travel:
                return once_round(channel.part());
            default:
                return as_long_as_it_carries(channel.part());
        }
    }

    std::optional<Limits> along(PartId rider) {
        const Part& part = *document_.parts.find(rider);
        const Path* path = document_.paths.find(part.ride->path);
        const auto laid = path ? facts_.path(document_, *path) : Error{};
        return laid ? std::optional(Limits{0, (*laid)->curve.length()}) : std::nullopt;
    }

    std::optional<Limits> once_round(PartId datum) const {
        const Chain* chain = document_.chains.find(document_.parts.find(datum)->chain);
        if (!chain || chain->link_count <= 0) return std::nullopt;
        return Limits{0, chain->link_count * chain->pitch_m};
    }

    Limits as_long_as_it_carries(PartId part) const {
        const Bounds bounds = branch_bounds(document_, tree_, {part});
        const double far = bounds.empty() ? shortest_m : std::max(shortest_m, bounds.size().maxCoeff());
        return {-far, far};
    }

    const Document& document_;
    const Tree tree_;
    RigFacts& facts_;
    const Drivers drivers_;
    std::vector<ExerciseRange> ranges_;
};

}  // namespace

std::vector<ExerciseRange> exercise_ranges(const Document& document, RigFacts& facts) {
    return Ranges(document, facts).take();
}

}  // namespace pivrak
