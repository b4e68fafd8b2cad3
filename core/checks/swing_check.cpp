#include "core/checks/swing_check.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <limits>
#include <unordered_set>

#include "core/checks/swing_frame.h"

namespace pivrak {
namespace {

class Swing {
public:
    Swing(const Document& document, const SwingMotion& motion, const SwingOptions& options,
          const Progress& progress)
        : document_(document), options_(options), progress_(progress), motion_(motion) {
        out_.channel = motion.channel;
        const std::vector<PartId> branch = Tree(document).branch(motion.channel.part);
        carried_.insert(branch.begin(), branch.end());
        moving_ = shaped_parts(document, branch);
    }

    Result<SwingCheck> run() {
        if (moving_.empty()) {
            const std::string& name = document_.parts.find(out_.channel.part)->name;
            return Error{"swing.no_shape", fmt::format("neither '{}' nor what it carries has a shape", name),
                         name};
        }
        tree_ = std::make_shared<SweepTree>(swing_body(document_, motion_, moving_), motion_.kind);
        gather_neighbours();
        if (!take_curve() || !find_contacts())
            return Error{"swing.cancelled", "cancelled; nothing was measured", ""};
        return std::move(out_);
    }

private:
    void gather_neighbours() {
        std::vector<PartId> wanted = options_.neighbours;
        if (wanted.empty())
            for (const Part& part : document_.parts) wanted.push_back(part.id);
        for (const PartId id : wanted) {
            const Part& part = *document_.parts.find(id);
            if (carried_.contains(id) || !document_.shapes.find(part.shape)) continue;
            SweepClearance pair(
                tree_, std::make_shared<SweepTree>(swing_body(document_, motion_, {id}), motion_.kind));
            if (pair.at(start()).distance_m <= 0)
                out_.touching.push_back(id);
            else
                neighbours_.push_back({id, std::move(pair)});
        }
    }

    /// Contacts are looked for from rest, or from the end of the range that is nearest to it.
    double start() const { return std::clamp(0.0, options_.from, options_.to); }

    bool take_curve() {
        for (int i = 0; options_.steps > 0 && i <= options_.steps; ++i) {
            if (!progress_.go_on(0.5 * i / options_.steps, "measuring clearance")) return false;
            const double value = options_.from + (options_.to - options_.from) * i / options_.steps;
            SwingCheck::Sample sample{value, std::numeric_limits<double>::infinity(), {}};
            for (auto& [id, pair] : neighbours_) {
                const double clearance = pair.at(value).distance_m;
                if (clearance < sample.clearance_m) sample = {value, clearance, id};
            }
            out_.curve.push_back(sample);
        }
        return true;
    }

    bool find_contacts() {
        bool go_on = true;
        const Progress progress([&](double done, std::string_view what) {
            return go_on = progress_.go_on(0.5 + 0.5 * done, what);
        });
        for (const bool up : {false, true}) {
            auto& contact = up ? out_.above : out_.below;
            double end = up ? options_.to : options_.from;
            for (auto& [id, pair] : neighbours_) {
                const auto value = pair.first_contact(start(), end, options_.tolerance, progress);
                if (!go_on) return false;
                if (!value) continue;
                end = *value;
                const Clearance nearest = pair.at(end);
                contact = SwingContact{end, moving_[nearest.moving], id,
                                       motion_.world_from_motion.point(nearest.on_standing)};
            }
        }
        return true;
    }

    const Document& document_;
    const SwingOptions& options_;
    const Progress& progress_;
    SwingMotion motion_;
    std::unordered_set<PartId> carried_;
    std::vector<PartId> moving_;
    std::shared_ptr<const SweepTree> tree_;
    std::vector<std::pair<PartId, SweepClearance>> neighbours_;
    SwingCheck out_;
};

}  // namespace

Result<SwingCheck> swing_check(const Document& document, PartId id, const SwingOptions& options,
                               const Progress& progress) {
    const Part& part = *document.parts.find(id);
    const auto motion = swing_motion(document, id);
    if (!motion)
        return Error{
            "swing.fixed",
            fmt::format("'{}' neither turns about nor shifts along one axis; make it a hinge or a slide",
                        part.name),
            part.name};
    if (!(options.to > options.from) || !std::isfinite(options.to - options.from) || options.steps < 0 ||
        !(options.tolerance > 0))
        return Error{"swing.range", "the range to sweep ends before it begins", part.name};
    return Swing(document, *motion, options, progress).run();
}

}  // namespace pivrak
