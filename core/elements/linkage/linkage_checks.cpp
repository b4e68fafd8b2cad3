#include <fmt/format.h>

#include "core/base/words.h"
#include "core/checks/clip_check.h"
#include "core/checks/drive/drive_mapper.h"
#include "core/checks/element_check.h"
#include "core/elements/linkage/linkage_motion.h"
#include "core/model/element_channels.h"
#include "core/rig/linkages/mobility.h"

namespace pivrak {
namespace {

constexpr double least_open_m = 1e-6, least_open_rad = 1e-3 * rad_per_deg;

/// Tells where a linkage stops before what is asked, and where a closure opens.
class LinkageWatch final : public ClipWatch {
public:
    LinkageWatch(const Linkage& linkage, const Evaluator& evaluator)
        : linkage_(linkage), evaluator_(evaluator) {}

    bool looks_between() const override { return true; }

    void look(const Pose& pose, double frame) override {
        const auto stop = input_stop(evaluator_, pose, linkage_);
        if (stop &&
            (!stop_ || std::abs(stop->asked - stop->stands) > std::abs(stop_->asked - stop_->stands))) {
            stop_ = stop;
            stop_frame_ = frame;
        }
        const ClosureMiss miss = linkage_miss(evaluator_, pose, linkage_);
        if (miss.apart_m <= miss_.apart_m && miss.turn_rad <= miss_.turn_rad) return;
        miss_ = miss;
        miss_frame_ = frame;
    }

    void tell(ClipCheck& out) const override {
        if (stop_)
            out.add("linkage.stops", stop_->channel.part(),
                    fmt::format("'{}' stops {}: '{}' is asked {} and gets to {}", linkage_.name,
                                out.at(stop_frame_), channel_name(out.document, stop_->channel),
                                format_channel(stop_->channel.kind, stop_->asked, out.document),
                                format_channel(stop_->channel.kind, stop_->stands, out.document)),
                    stop_frame_);
        if (miss_.apart_m > least_open_m || miss_.turn_rad > least_open_rad)
            out.add("linkage.open", linkage_.home(),
                    fmt::format("'{}' is open by {} {}", linkage_.name,
                                format_miss(miss_.apart_m, miss_.turn_rad, out.document.settings.length_unit),
                                out.at(miss_frame_)),
                    miss_frame_);
    }

private:
    Linkage linkage_;
    const Evaluator& evaluator_;
    std::optional<InputStop> stop_;
    ClosureMiss miss_;
    double stop_frame_ = 0, miss_frame_ = 0;
};

}  // namespace

void check(const Linkage& linkage, ElementCheck& out) {
    if (linkage.off) return;
    const auto loops = linkage_loops(out.document, linkage.closures);
    if (!loops) {
        out.add(Stage::Rig, "linkage.without_effect", linkage.home(),
                fmt::format("'{}' has no effect: {}", linkage.name, loops.error().message));
        return;
    }
    const auto built = build_linkage(out.document, linkage.closures,
                                     [&](ChannelRef channel) { return linkage.is_input(channel); });
    if (!built) return;
    const LinkageModel& model = built->solver.model();
    if (built->apart_m > std::max(least_open_m, 1e-9 * model.size_m))
        out.add(Stage::Rig, "linkage.apart", linkage.home(),
                fmt::format("'{}' does not close at rest: places are {} apart", linkage.name,
                            format_length(built->apart_m, out.document)));
    const Mobility can = mobility(model, built->rest, locked_columns(out.document, built->channels));
    if (can.ways == 0)
        out.add(Stage::Rig, "linkage.stuck", linkage.home(),
                fmt::format("'{}' cannot move: its joints leave it no way", linkage.name));
    else if (model.loose)
        out.add(Stage::Rig, "linkage.loose", linkage.home(),
                fmt::format("'{}' can move {} and has {}: what nothing moves stays where it is", linkage.name,
                            counted(static_cast<std::size_t>(can.ways), "way"),
                            counted(linkage.inputs.size(), "input")));
}

void watch(const Linkage& linkage, ClipCheck& out) {
    if (!linkage.off) out.watch(std::make_unique<LinkageWatch>(linkage, out.evaluator));
}

void map(const Linkage& linkage, DriveMapper& out) {
    if (linkage.off) return;
    const auto loops = linkage_loops(out.document(), linkage.closures);
    if (!loops) return;
    for (const LinkageInput& input : linkage.inputs)
        for (const ChannelRef channel : loops->channels)
            if (!linkage.is_input(channel)) out.add(input.channel, channel, "links");
}

}  // namespace pivrak
