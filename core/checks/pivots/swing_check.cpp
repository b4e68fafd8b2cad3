#include "core/checks/pivots/swing_check.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <limits>
#include <unordered_set>

#include "core/checks/pivots/swing_frame.h"
#include "core/geometry/mesh/mesh_edit.h"
#include "core/geometry/near/clearance_curve.h"
#include "core/geometry/near/graded.h"

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
        const SweepBody body = swing_body(document_, motion_, moving_);
        moving_tree_ = std::make_shared<SweepTree>(body, motion_.kind);
        hair_ = hair_of(body);
        for (const PartId id : shaped_parts(document_, wanted)) {
            if (carried_.contains(id)) continue;
            const auto tree = std::make_shared<SweepTree>(swing_body(document_, motion_, {id}), motion_.kind);
            SweepClearance pair(moving_tree_, tree);
            if (pair.at(start()).distance_m > 0.5 * hair_) {
                neighbours_.push_back(id);
            } else if (auto lifted = lifted_off(pair, tree)) {
                out_.resting.push_back(id);
                resting_.push_back({id, std::move(*lifted)});
            } else {
                out_.touching.push_back(id);
            }
        }
    }

    /// Far below what anybody sees.
    static double hair_of(const SweepBody& body) {
        Bounds bounds;
        for (const SweepBody::Member& member : body.members)
            for (const Vec3f& p : member.mesh->positions)
                bounds.add(member.frame_from_mesh.point(p.cast<double>()));
        return std::clamp(1e-4 * bounds.longest(), 1e-6, 1e-4);
    }

    /// The moving body a hair away from what it lies on, at the start. None where faces that touch look
    /// several ways, or where it is not free then: it cuts into the neighbour.
    std::optional<SweepClearance> lifted_off(SweepClearance& pair,
                                             const std::shared_ptr<SweepTree>& standing) const {
        constexpr double one_way = 0.5;
        const Vec3 normal = pair.shared_faces(start(), 0.5 * hair_).normal;
        if (normal.norm() < one_way) return std::nullopt;
        const Frame at_start =
            motion_.kind == SweepKind::Turn ? Frame{turn_about_axis(2, start()), Vec3(0, 0, 0)} : Frame{};
        SweepBody body = swing_body(document_, motion_, moving_);
        const Vec3 lift = hair_ * (at_start.rotation.conjugate() * normal.normalized());
        for (SweepBody::Member& member : body.members) {
            // A hinge at the edge of both keeps them a hair apart all the way.
            if (motion_.kind == SweepKind::Turn)
                member = {std::make_shared<Mesh>(
                              graded_about_z(transformed(*member.mesh, member.frame_from_mesh), 10 * hair_)),
                          Frame{}};
            member.frame_from_mesh.translation += lift;
        }
        SweepClearance lifted(std::make_shared<SweepTree>(body, motion_.kind), standing);
        if (lifted.at(start()).distance_m <= 0) return std::nullopt;
        return lifted;
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
            const double end = up ? options_.to : options_.from;
            auto& first = up ? out_.above : out_.below;
            const auto value = pair.first_contact(start(), end, options_.tolerance, progress);
            if (!go_on) return false;
            if (value) {
                const Clearance nearest = pair.at(*value);
                first = contact_at(*value, nearest, neighbours_[nearest.standing]);
            }
            for (Resting& other : resting_) {
                const auto meets = other.lifted.first_contact(start(), end, options_.tolerance, progress);
                if (!go_on) return false;
                if (!meets) continue;
                const Clearance nearest = other.lifted.at(*meets);
                const double before = from_start(*meets, nearest);
                if (!first || std::abs(before - start()) < std::abs(first->value - start()))
                    first = contact_at(before, nearest, other.part);
            }
        }
        return true;
    }

    SwingContact contact_at(double value, const Clearance& nearest, PartId neighbour) const {
        return {value, moving_[nearest.moving], neighbour,
                motion_.world_from_motion.point(nearest.on_standing)};
    }

    /// What is met before the hair is used up was met at the start.
    double from_start(double value, const Clearance& nearest) const {
        const double speed = motion_.kind == SweepKind::Turn ? nearest.on_standing.head<2>().norm() : 1;
        return std::abs(value - start()) * speed < 3 * hair_ ? start() : value;
    }

    const Document& document_;
    const SwingOptions& options_;
    const Progress& progress_;
    SwingMotion motion_;
    std::unordered_set<PartId> carried_;
    std::vector<PartId> moving_;
    double hair_ = 0;  ///< how far what lies on a neighbour is lifted off it [m]
    std::shared_ptr<SweepTree> moving_tree_;
    std::vector<PartId> neighbours_;  ///< that it does not touch at the start
    struct Resting {
        PartId part;
        SweepClearance lifted;
    };
    std::vector<Resting> resting_;
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
