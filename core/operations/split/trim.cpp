#include "core/operations/split/trim.h"

#include <fmt/format.h>

#include <algorithm>
#include <map>
#include <optional>

#include "core/geometry/near/clearance.h"
#include "core/model/edits/join.h"
#include "core/operations/all_operations.h"

namespace pivrak {
namespace {

/// A part with a shape, where it stands.
struct Body {
    PartId part;
    Frame world_from_shape;
    Bounds bounds;
    std::shared_ptr<const Mesh> mesh;
    std::optional<ClearanceBody> surface;

    const ClearanceBody& clearance() {
        if (!surface) surface.emplace(*mesh);
        return *surface;
    }
};

bool boxes_touch(const Bounds& a, const Bounds& b, double gap) {
    return ((a.min.array() - gap) <= b.max.array()).all() && ((b.min.array() - gap) <= a.max.array()).all();
}

class Trimmer {
public:
    Trimmer(const Document& document, const std::vector<PartId>& parts, double share, double gap)
        : share_(share), gap_(gap) {
        for (const PartId id : parts) {
            const Part& part = *document.parts.find(id);
            const Shape* shape = document.shapes.find(part.shape);
            if (!shape || part.joint.kind != JointKind::Fixed) continue;
            const Frame world = world_from_rest(document, id) * part.part_from_shape;
            bodies_.push_back({id, world, mesh_bounds(*shape->mesh, world), shape->mesh, std::nullopt});
        }
        // The largest first: a small part then goes into the largest it touches.
        std::stable_sort(bodies_.begin(), bodies_.end(), [](const Body& a, const Body& b) {
            return a.bounds.size().norm() > b.bounds.size().norm();
        });
    }

    /// For each small part the one it goes into; none when cancelled.
    std::optional<std::map<PartId, PartId>> run(const Progress& progress) {
        std::map<PartId, PartId> into;
        for (std::size_t i = 1; i < bodies_.size(); ++i) {
            if (!progress.go_on(static_cast<double>(i) / static_cast<double>(bodies_.size()),
                                "looking for neighbours"))
                return std::nullopt;
            for (std::size_t j = 0; j < i; ++j) {
                if (bodies_[i].bounds.longest() > share_ * bodies_[j].bounds.longest()) continue;
                if (!touch(bodies_[i], bodies_[j])) continue;
                // What goes into a part that goes elsewhere itself ends there too.
                const auto onward = into.find(bodies_[j].part);
                into[bodies_[i].part] = onward == into.end() ? bodies_[j].part : onward->second;
                break;
            }
        }
        return into;
    }

private:
    bool touch(Body& small, Body& large) const {
        if (!boxes_touch(small.bounds, large.bounds, gap_)) return false;
        return small.clearance().distance(small.world_from_shape, large.clearance(),
                                          large.world_from_shape) <= gap_;
    }

    double share_, gap_;
    std::vector<Body> bodies_;
};

}  // namespace

Result<Outcome> trim_small_parts(const Document& document, const Arguments& a,
                                 const OperationContext& context) {
    const double share = a.number("share"), gap = a.number("gap");
    if (!(share > 0) || share >= 1)
        return Error{"trim.share", fmt::format("a share of {} is out of range: above 0, below 1", share),
                     "share"};
    if (gap < 0)
        return Error{"trim.gap", fmt::format("a gap of {} is below zero", format_length(gap, document)),
                     "gap"};
    const auto into = Trimmer(document, parts_or_all(document, a), share, gap).run(context.progress);
    if (!into) return Error{"trim.cancelled", "cancelled; the project is as it was", ""};
    if (into->empty())
        return nothing_to_do(
            document, fmt::format("no part below {:.0f} % of a neighbour touches it within {}", 100 * share,
                                  format_length(gap, document)));
    Outcome out{document};
    std::map<PartId, std::vector<PartId>> joined;
    for (const auto& [small, large] : *into) joined[large].push_back(small);
    for (const auto& [large, small] : joined) {
        const std::string name = document.parts.find(large)->name;
        PIVRAK_TRY(removal, join_parts(out.document, small, large));
        out.messages.push_back(fmt::format("{} into '{}'", small.size(), name));
        (void)removal;
        out.created.push_back(large);
    }
    out.messages.insert(out.messages.begin(), fmt::format("{} small parts joined", into->size()));
    out.readings = {{"joined", into->size()}, {"into", joined.size()}};
    return out;
}

}  // namespace pivrak
