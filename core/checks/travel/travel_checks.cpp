// What shows only as clips run: of all elements, and of wheels on the ground.
#include <fmt/format.h>

#include <algorithm>

#include "core/checks/clip_check.h"
#include "core/model/each_element.h"
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
        const std::string clip = out.clip.name, allowed = format_length(gap_tolerance_m);
        for (const Wheel& w : wheels_) {
            const std::string& name = name_of(out.document, w.id);
            if (w.bare)
                out.add("wheel.no_ground", w.id,
                        fmt::format("no ground under '{}' from frame {} of '{}': it {}", name, w.bare_frame,
                                    clip, w.leans ? "stays at its height" : "hangs as low as it can"));
            if (w.gap > gap_tolerance_m)
                out.add("wheel.hangs", w.id,
                        fmt::format("'{}' hangs {} above the ground at frame {} of '{}' (allowed {}): its "
                                    "travel ends",
                                    name, format_length(w.gap), w.gap_frame, clip, allowed));
            if (w.deep > gap_tolerance_m)
                out.add("wheel.sinks", w.id,
                        fmt::format("'{}' is pressed {} into the ground at frame {} of '{}' (allowed {}): "
                                    "its travel ends",
                                    name, format_length(w.deep), w.deep_frame, clip, allowed));
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

}  // namespace

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
        each_element(document, [&](const auto&... element) { watch(element..., out); });
        if (!evaluator->wheels().empty()) out.watch(std::make_unique<WheelWatch>(*evaluator));
        out.run(progress);
    }
}

}  // namespace pivrak
