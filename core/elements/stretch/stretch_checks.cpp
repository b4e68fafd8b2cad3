#include <fmt/format.h>

#include <cmath>

#include "core/checks/clip_check.h"
#include "core/checks/drive/drive_mapper.h"
#include "core/checks/element_check.h"
#include "core/checks/over_words.h"
#include "core/elements/stretch/stretch_motion.h"

namespace pivrak {
namespace {

constexpr double least_askew_rad = 1 * rad_per_deg;

/// Tells where a spring is pressed until its coils meet.
class SolidWatch final : public ClipWatch {
public:
    SolidWatch(const Stretch& stretch, std::size_t slot, const Evaluator& evaluator)
        : stretch_(stretch), slot_(slot), evaluator_(evaluator) {}

    void look(const Pose& pose, double frame) override {
        const auto now = stretched_now(evaluator_, pose, slot_);
        if (!now || (shortest_ && now->length_m >= *shortest_)) return;
        shortest_ = now->length_m;
        frame_ = frame;
        const LongShape& shape = *now->step->shape;
        // So long is the middle of the wire when each coil lies on the next one.
        solid_m_ = now->step->rest_m - shape.length_m() + shape.coil->turns * shape.coil->wire_m;
    }
    void tell(ClipCheck& out) const override {
        if (!shortest_ || *shortest_ >= solid_m_) return;
        out.add("stretch.solid", stretch_.part,
                fmt::format("'{}' is pressed to {} {}: its coils meet at {}", stretch_.name,
                            format_length(*shortest_, out.document), out.at(frame_),
                            format_length(solid_m_, out.document)),
                frame_);
    }

private:
    Stretch stretch_;
    std::size_t slot_;
    const Evaluator& evaluator_;
    std::optional<double> shortest_;
    double solid_m_ = 0, frame_ = 0;
};

}  // namespace

void check(const Stretch& stretch, ElementCheck& out) {
    const Part* part = out.document.parts.find(stretch.part);
    if (!part || stretch.off) return;
    const nlohmann::json remove{{"op", "stretch.remove"}, {"stretches", {stretch.id.value}}};
    if (part->ride || part->tow)
        return out.add(Stage::Rig, "stretch.without_effect", part->id,
                       fmt::format("'{}' has no effect: '{}' hangs where its {} puts it", stretch.name,
                                   part->name, part->ride ? "path" : "hitch"),
                       remove, "Remove it");
    const Vec3 line = world_from_rest(out.document, stretch.to).point(stretch.to_place) -
                      world_from_rest(out.document, stretch.from).point(stretch.from_place);
    const auto shape = out.facts.long_shape(out.document, *part, stretch.evenly);
    if (!(line.norm() > 1e-9) || !shape)
        return out.add(Stage::Rig, "stretch.no_length", part->id,
                       fmt::format("'{}' has {}: there is nothing to draw out", stretch.name,
                                   shape ? "both seats at one place" : "no shape of any length"),
                       remove, "Remove it");
    const Vec3 axis =
        (world_from_rest(out.document, part->id) * part->part_from_shape).direction(shape->way());
    const double askew = std::atan2(axis.cross(line).norm(), std::abs(axis.dot(line)));
    if (askew > least_askew_rad)
        out.add(
            Stage::Rig, "stretch.askew", part->id,
            fmt::format("the axis of '{}' stands {} off the line from seat to seat (allowed {})", part->name,
                        angle_over(askew, least_askew_rad, 1), format_angle(least_askew_rad, 1)));
}

void watch(const Stretch& stretch, ClipCheck& out) {
    const auto slot = out.evaluator.part_slot(stretch.part);
    const auto now = slot ? stretched_now(out.evaluator, out.first_pose(), *slot) : std::nullopt;
    if (now && now->step->shape && now->step->shape->coil)
        out.watch(std::make_unique<SolidWatch>(stretch, *slot, out.evaluator));
}

/// It moves a part's frame and shape, and no channel.
void map(const Stretch&, DriveMapper&) {}

}  // namespace pivrak
