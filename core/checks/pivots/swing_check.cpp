#include "core/checks/pivots/swing_check.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <limits>
#include <unordered_set>

#include "core/checks/pivots/swing_frame.h"
#include "core/geometry/near/clearance_curve.h"

namespace pivrak {
namespace {

class Swing {
public:
    Swing(const Document& document, const SwingMotion& motion, const SwingOptions& options,
          const Progress& progress)
        : document_(document), options_(options), progress_(progress), motion_(motion) {
        out_.channel = motion.channel;
        const std::vector<PartId> branch = Tree(document).branch(motion.channel.part());
        carried_.insert(branch.begin(), branch.end());
        moving_ = shaped_parts(document, branch);
    }

    Result<SwingCheck> run() {
        if (moving_.empty()) {
            const std::string& name = document_.parts.find(out_.channel.part())->name;
            return Error{"swing.no_shape", fmt::format("neither '{}' nor what it carries has a shape", name),
                         name};
        }
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
        moving_tree_ = std::make_shared<SweepTree>(swing_body(document_, motion_, moving_), motion_.kind);
        for (const PartId id : shaped_parts(document_, wanted)) {
            if (carried_.contains(id)) continue;
            SweepClearance pair(moving_tree_, std::make_shared<SweepTree>(
                                                  swing_body(document_, motion_, {id}), motion_.kind));
            (pair.at(start()).distance_m <= 0 ? out_.touching : neighbours_).push_back(id);
        }
    }

    /// Contacts are looked for from rest, or from the end of the range that is nearest to it.
    double start() const { return std::clamp(0.0, options_.from, options_.to); }

    bool take_curve() {
        std::vector<double> values;
        for (int i = 0; options_.steps > 0 && i <= options_.steps; ++i)
            values.push_back(options_.from + (options_.to - options_.from) * i / options_.steps);
        const Progress half(
            [&](double done, std::string_view what) { return progress_.go_on(0.5 * done, what); });
        const auto curve =
            clearance_curve(swing_body(document_, motion_, moving_),
                            swing_body(document_, motion_, neighbours_), motion_.kind, values, half);
        if (!curve) return false;
        for (std::size_t i = 0; i < values.size(); ++i)
            out_.curve.push_back({values[i], (*curve)[i].distance_m,
                                  neighbours_.empty() ? PartId{} : neighbours_[(*curve)[i].standing]});
        return true;
    }

    bool find_contacts() {
        bool go_on = true;
        const Progress progress([&](double done, std::string_view what) {
            return go_on = progress_.go_on(0.5 + 0.5 * done, what);
        });
        SweepClearance pair(moving_tree_, std::make_shared<SweepTree>(
                                              swing_body(document_, motion_, neighbours_), motion_.kind));
        for (const bool up : {false, true}) {
            const auto value =
                pair.first_contact(start(), up ? options_.to : options_.from, options_.tolerance, progress);
            if (!go_on) return false;
            if (!value) continue;
            const Clearance nearest = pair.at(*value);
            (up ? out_.above : out_.below) =
                SwingContact{*value, moving_[nearest.moving], neighbours_[nearest.standing],
                             motion_.world_from_motion.point(nearest.on_standing)};
        }
        return true;
    }

    const Document& document_;
    const SwingOptions& options_;
    const Progress& progress_;
    SwingMotion motion_;
    std::unordered_set<PartId> carried_;
    std::vector<PartId> moving_;
    std::shared_ptr<SweepTree> moving_tree_;
    std::vector<PartId> neighbours_;  ///< that it does not touch at the start
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
