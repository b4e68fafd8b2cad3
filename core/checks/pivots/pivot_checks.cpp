#include <fmt/format.h>

#include <cmath>

#include "core/checks/findings.h"
#include "core/checks/over_words.h"
#include "core/checks/pivots/spin_check.h"
#include "core/io/project/project_json.h"
#include "core/model/edits/branch_bounds.h"
#include "core/model/limit_ends.h"
#include "core/rig/driven_by.h"

namespace pivrak {
namespace {

using nlohmann::json;

constexpr double least_outside_m = 1e-3, allowed_outside_share = 0.02;
/// An axis this near to one of the world or of its carrier was meant to be parallel to it.
constexpr double parallel_rad = 0.05 * rad_per_deg, meant_parallel_rad = 2 * rad_per_deg;

bool turns_about_one_axis(const Part& part) {
    return part.joint.kind == JointKind::Hinge || part.joint.kind == JointKind::Cylinder;
}

/// How far a point lies outside a box.
double outside(const Bounds& bounds, const Vec3& p) {
    return (bounds.min - p).cwiseMax(p - bounds.max).cwiseMax(0.0).norm();
}

void check_place(const Drivers& drivers, const Tree& tree, const Part& part, std::vector<Finding>& findings) {
    const Document& document = drivers.document();
    // A kingpin, a turntable: a frame that is driven has its place from what drives it.
    if (part.is_datum() && drivers.name({part.id, ChannelKind::Turn})) return;
    const Bounds bounds =
        branch_bounds(document, tree, {part.id}, world_from_rest(document, part.id).inverse());
    if (bounds.empty()) return;
    // Where along its axis a pivot stands moves nothing: it is the axis that runs through the shape or beside
    // it.
    const double along = 0.5 * (bounds.min + bounds.max)[part.joint.axis];
    const double distance = outside(bounds, along * Vec3::Unit(part.joint.axis));
    // Hinges of lids and doors stand a little proud of them.
    const double allowed = std::max(least_outside_m, allowed_outside_share * bounds.longest());
    if (distance > allowed)
        findings.push_back(
            {Stage::Pivots,
             "pivot.outside",
             part.id,
             fmt::format("'{}' turns about an axis {} outside its shape (allowed {})", part.name,
                         length_over(distance, allowed, document), format_length(allowed, document)),
             {},
             ""});
}

void check_spin(const Document& document, const Part& part, MeshFacts& known,
                std::vector<Finding>& findings) {
    const Shape* shape = document.shapes.find(part.shape);
    if (!shape) return;
    const auto& axis = known.axis_of(shape->mesh);
    if (!axis) return;
    // A round bar that swings about a pin across it is no wheel.
    const Vec3 own = part.part_from_shape.direction(axis->direction);
    if (std::abs(own[part.joint.axis]) < std::cos(20 * rad_per_deg)) return;
    const SpinCheck spin = spin_check(document, part.id, *axis);
    // Nor is a crank on whose end something round sits.
    if (spin.is_true() || spin.offset_m > 0.25 * spin.radius_m) return;
    findings.push_back(
        {Stage::Pivots, "pivot.run_out", part.id,
         fmt::format("'{}' runs out {} and is tilted {} (allowed {} and {})", part.name,
                     format_length(spin.run_out_m, document), format_angle(spin.tilt_rad, 3),
                     format_length(allowed_run_out_m, document), format_angle(allowed_tilt_rad)),
         json{{"op", "pivot.fit_cylinder"},
              {"parts", {part.id.value}},
              {"axis", std::string(axis_word(part.joint.axis))}},
         "centre the pivot"});
}

/// The smallest angle between a line and the axes of a frame.
struct NearAxis {
    double angle = pi;
    Vec3 axis{0, 0, 0};
};
NearAxis nearest_axis(const Vec3& line, const Quat& axes) {
    NearAxis best;
    for (int k = 0; k < 3; ++k) {
        Vec3 axis = axes * Vec3::Unit(k);
        if (axis.dot(line) < 0) axis = -axis;
        const double angle = std::atan2(axis.cross(line).norm(), axis.dot(line));
        if (angle < best.angle) best = {angle, axis};
    }
    return best;
}

void check_nearly_parallel(const Document& document, const Part& part, std::vector<Finding>& findings) {
    const Vec3 line = world_from_rest(document, part.id).axis(part.joint.axis);
    const NearAxis world = nearest_axis(line, Quat(1, 0, 0, 0)),
                   carrier = part.parent ? nearest_axis(line, world_from_rest(document, part.parent).rotation)
                                         : NearAxis{};
    // Parallel to one of them is what was meant, however it lies to the other.
    if (world.angle <= parallel_rad || carrier.angle <= parallel_rad) return;
    const NearAxis& meant = carrier.angle < world.angle ? carrier : world;
    if (meant.angle > meant_parallel_rad) return;
    findings.push_back(
        {Stage::Pivots, "pivot.nearly_parallel", part.id,
         fmt::format("the axis of '{}' is {} off an axis of {} (parallel within {}, meant otherwise over {})",
                     part.name, format_angle(meant.angle, 3),
                     &meant == &carrier ? "what carries it" : "the world", format_angle(parallel_rad),
                     format_angle(meant_parallel_rad)),
         json{{"op", "pivot.aim"},
              {"parts", {part.id.value}},
              {"axis", std::string(axis_word(part.joint.axis))},
              {"direction", {meant.axis.x(), meant.axis.y(), meant.axis.z()}}},
         "make it parallel"});
}

/// Operations keep limits in order; a file of other hands may not.
void check_limits_in_order(const Document& document, const Part& part, std::vector<Finding>& findings) {
    for (const ChannelKind kind : channels_of(part.joint.kind)) {
        const auto& limits = part.joint.channel(kind).limits;
        if (!limits || limits->min <= limits->max) continue;
        const auto shown = [&](double v) { return format_channel(kind, v, document); };
        findings.push_back({Stage::Tree,
                            "limits.inverted",
                            part.id,
                            fmt::format("the lower limit of '{}', {}, is above the upper one, {}", part.name,
                                        shown(limits->min), shown(limits->max)),
                            {},
                            ""});
    }
}

/// What a joint meets before its limit stops it.
void check_contacts(const Document& document, const Part& part, const Progress& progress, LimitFacts& known,
                    std::vector<Finding>& findings) {
    const ChannelKind kind = part.joint.has(ChannelKind::Turn) ? ChannelKind::Turn : ChannelKind::Shift;
    if (!part.joint.has(kind) || !part.joint.channel(kind).limits) return;
    const LimitFacts::Contacts* contacts = known.of(document, part.id, progress);
    if (!contacts) return;
    const bool turns = is_turn(kind);
    const auto shown = [&](double value) {
        return turns ? format_angle(value) : format_length(value, document);
    };
    const Limits& limits = *part.joint.channel(kind).limits;
    for (const bool above : {false, true}) {
        const auto& contact = above ? contacts->above : contacts->below;
        if (!contact) continue;
        findings.push_back(
            {Stage::Pivots, "limits.contact", part.id,
             fmt::format("'{}' touches '{}' at {}, inside its limits {} to {}", part.name,
                         document.parts.find(contact->neighbour)->name, shown(contact->value),
                         format_end(kind, limits.min, document), format_end(kind, limits.max, document)),
             json{{"op", "joint.set"},
                  {"parts", {part.id.value}},
                  {"channel", std::string(word(kind))},
                  {above ? "max" : "min", contact->value}},
             "take it as limit"});
    }
}

}  // namespace

void check_pivots(const Document& document, const Progress& progress, MeshFacts& known,
                  std::vector<Finding>& findings) {
    const Drivers drivers(document);
    const Tree tree(document);
    for (const Part& part : document.parts) {
        check_limits_in_order(document, part, findings);
        check_contacts(document, part, progress, known.limits(), findings);
        if (!turns_about_one_axis(part)) continue;
        if (!progress.go_on(0.8, "looking at pivots")) return;
        if (part.joint.kind == JointKind::Hinge) check_place(drivers, tree, part, findings);
        check_spin(document, part, known, findings);
        check_nearly_parallel(document, part, findings);
    }
}

}  // namespace pivrak
