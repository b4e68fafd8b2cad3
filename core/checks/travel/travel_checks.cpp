// What shows only as clips run: of all elements, and of wheels on the ground.
#include <fmt/format.h>

#include <algorithm>

#include "core/checks/clip_check.h"
#include "core/model/each_element.h"
#include "core/model/element_channels.h"
#include "core/motion/bake.h"

namespace pivrak {
namespace {

constexpr double gap_tolerance_m = 0.002;
constexpr int looks_a_frame = 4;

/// Wheels that hang, sink, or have no ground.
class WheelWatch final : public ClipWatch {
public:
    explicit WheelWatch(const Evaluator& evaluator) {
        for (const PartId id : evaluator.wheels()) wheels_.push_back({id});
    }

    void look(const Pose& pose, double frame) override {
        for (std::size_t i = 0; i < wheels_.size(); ++i) {
            const WheelStand& stand = pose.wheels[i];
            Wheel& w = wheels_[i];
            if (!stand.has_ground && !w.bare) {
                w.bare = true;
                w.bare_frame = frame;
                w.leans = stand.radius_m > 0;
            }
            if (stand.gap_m > w.gap) w.gap = stand.gap_m, w.gap_frame = frame;
            if (-stand.gap_m > w.deep) w.deep = -stand.gap_m, w.deep_frame = frame;
        }
    }

    void tell(ClipCheck& out) const override {
        const std::string allowed = format_length(gap_tolerance_m, out.document);
        for (const Wheel& w : wheels_) {
            const std::string& name = name_of(out.document, w.id);
            if (w.bare)
                out.add("wheel.no_ground", w.id,
                        fmt::format("no ground under '{}' {}: it {}", name, out.at(w.bare_frame),
                                    w.leans ? "stays at its height" : "hangs as low as it can"),
                        w.bare_frame);
            if (w.gap > gap_tolerance_m)
                out.add("wheel.hangs", w.id,
                        fmt::format("'{}' hangs {} above the ground {} (allowed {}): its travel ends", name,
                                    format_length(w.gap, out.document), out.at(w.gap_frame), allowed),
                        w.gap_frame);
            if (w.deep > gap_tolerance_m)
                out.add("wheel.sinks", w.id,
                        fmt::format("'{}' is pressed {} into the ground {} (allowed {}): its travel ends",
                                    name, format_length(w.deep, out.document), out.at(w.deep_frame), allowed),
                        w.deep_frame);
        }
    }

private:
    struct Wheel {
        PartId id;
        double gap = 0, deep = 0, gap_frame = 0, deep_frame = 0, bare_frame = 0;
        bool bare = false, leans = false;
    };
    std::vector<Wheel> wheels_;
};

/// Tells the first frame at which a driven channel stands at its limit: there its driver runs on without it.
/// What follows a range from one end to the other may stand at either; it is stopped where it would go
/// beyond, had it no limits.
class LimitWatch final : public ClipWatch {
public:
    LimitWatch(const Document& document, const Evaluator& evaluator, ClipId clip) {
        Document unlimited = document;
        for (const Coupling& coupling : document.couplings) {
            if (coupling.is_off()) continue;
            const ChannelRef driven = coupling.driven();
            const auto slot = evaluator.channel_slot(driven);
            auto channel = find_channel(document, driven);
            if (!slot || !channel || !channel->limits) continue;
            const bool may_touch = coupling.as<Follow>() || coupling.as<Formula>() || coupling.as<Sway>();
            limited_.push_back({driven, *channel->limits, *slot, may_touch});
            if (!may_touch) continue;
            channel->limits.reset();
            put_channel(unlimited, driven, *channel);
            free_ = true;
        }
        if (!free_) return;
        if (auto compiled = Evaluator::compile(unlimited, clip)) {
            unlimited_ = std::move(*compiled);
            unlimited_pose_ = unlimited_->make_pose();
        }
    }

    bool looks_for_any() const { return !limited_.empty(); }
    void look(const Pose& pose, double frame) override {
        for (Limited& one : limited_) {
            const double value = pose.channels[one.slot];
            if (one.stopped || (value > one.limits.min && value < one.limits.max)) continue;
            if (one.may_touch && !goes_beyond(one, frame)) continue;
            one.stopped = frame;
            one.value = value;
        }
    }

    void tell(ClipCheck& out) const override {
        for (const Limited& one : limited_)
            if (one.stopped)
                out.add("limit.stops_gear", home_of(out.document, one.channel.owner),
                        fmt::format(
                            "'{}' is stopped by its limit {} {}", owner_name(out.document, one.channel.owner),
                            format_channel(one.channel.kind, one.value, out.document), out.at(*one.stopped)),
                        one.stopped);
    }

private:
    struct Limited {
        ChannelRef channel;
        Limits limits;
        std::size_t slot;
        bool may_touch;
        std::optional<double> stopped = std::nullopt;
        double value = 0;
    };
    /// Looked at only where something stands at a limit.
    bool goes_beyond(const Limited& one, double frame) {
        constexpr double rounding = 1e-9;
        const auto slot = unlimited_ ? unlimited_->channel_slot(one.channel) : std::nullopt;
        if (!slot) return true;
        if (looked_at_ != frame) unlimited_->evaluate(frame, unlimited_pose_);
        looked_at_ = frame;
        const double wanted = unlimited_pose_.channels[*slot];
        return wanted < one.limits.min - rounding || wanted > one.limits.max + rounding;
    }
    std::vector<Limited> limited_;
    bool free_ = false;
    std::optional<Evaluator> unlimited_;
    Pose unlimited_pose_;
    std::optional<double> looked_at_;
};

}  // namespace

std::string ClipCheck::at(double frame) const {
    return say_ ? say_(frame) : frames_of(clip)(frame);
}

void ClipCheck::watch_elements() {
    each_element(document, [&](const auto&... element) { pivrak::watch(element..., *this); });
    if (!evaluator.wheels().empty()) watch(std::make_unique<WheelWatch>(evaluator));
    if (auto limits = std::make_unique<LimitWatch>(document, evaluator, clip.id); limits->looks_for_any())
        watch(std::move(limits));
}

const Pose& ClipCheck::first_pose() {
    if (!first_) {
        first_ = evaluator.make_pose();
        evaluator.evaluate(clip.first_frame, *first_);
    }
    return *first_;
}

void ClipCheck::run(const Progress& progress) {
    if (watches_.empty()) return;
    const bool between = std::any_of(watches_.begin(), watches_.end(),
                                     [](const auto& watch) { return watch->looks_between(); });
    Pose pose = evaluator.make_pose();
    for (const double frame : clip_frames(clip)) {
        if (!progress.go_on(0.9, "looking at wheels")) return;
        for (int k = 0; k < (between ? looks_a_frame : 1); ++k) {
            const double at = std::min(frame + static_cast<double>(k) / looks_a_frame, clip.last_frame);
            evaluator.evaluate(at, pose);
            for (const auto& watch : watches_)
                if (k == 0 || watch->looks_between()) watch->look(pose, at);
        }
    }
    for (const auto& watch : watches_) watch->tell(*this);
}

void check_travel(const Document& document, const Progress& progress, MeshFacts& known,
                  std::vector<Finding>& findings) {
    bool any = !document.couplings.empty();
#define PIVRAK_TABLE(Type, table) any = any || !document.table.empty();
#include "core/elements/kinds.def"
    if (!any) return;
    for (const Clip& clip : document.clips) {
        const auto evaluator = Evaluator::compile(document, clip.id, &known.rig());
        if (!evaluator) continue;
        ClipCheck out(document, clip, *evaluator, findings);
        out.watch_elements();
        out.run(progress);
    }
}

}  // namespace pivrak
