#include "core/elements/stretch/stretch_motion.h"

#include "core/elements/plans.h"

namespace pivrak {

void StretchStep::run(RunContext& context, Memory& memory) const {
    const Frame& holds = context.frame(from);
    const Vec3 seat = holds.point(from_place), line = context.frame(to).point(to_place) - seat;
    const double length = line.norm();
    const Frame carried = holds * from_from_part;
    Quat turn(1, 0, 0, 0);
    if (length > 1e-12) turn = Quat::FromTwoVectors(holds.direction(way), line / length);
    memory.length_m = length / holds.size;
    context.frames[node] = Frame{(turn * carried.rotation).normalized(),
                                 seat + turn * (carried.translation - seat), carried.size} *
                           context.joint_of(context.nodes[node]);
}

namespace {

/// With its near end at the first seat.
std::shared_ptr<const LongShape> shape_along(const Stretch& stretch, const Part& part, const Vec3& line,
                                             const RigPlan& plan) {
    auto shape = plan.long_shape(part, stretch.evenly);
    const Frame world = world_from_rest(plan.document(), part.id) * part.part_from_shape;
    if (!shape || world.direction(shape->way()).dot(line) >= 0) return shape;
    return std::make_shared<const LongShape>(turned_round(*shape));
}

}  // namespace

PlanPhase phase_of(const Stretch*) {
    return PlanPhase::Riders;
}

void plan(const Stretch& stretch, RigPlan& plan) {
    const Document& document = plan.document();
    const Part* part = document.parts.find(stretch.part);
    if (!part || stretch.off || part->ride || part->tow) return;
    const auto node = static_cast<std::uint32_t>(plan.node(part->id));
    if (plan.is_placed(node)) return;
    const Frame from = world_from_rest(document, stretch.from), to = world_from_rest(document, stretch.to);
    const Vec3 line = to.point(stretch.to_place) - from.point(stretch.from_place);
    if (!(line.norm() > 1e-9)) return;  // a finding tells
    const StretchStep step{stretch.id,
                           node,
                           plan.node(stretch.from),
                           plan.node(stretch.to),
                           stretch.from_place,
                           stretch.to_place,
                           from.inverse() * world_from_rest(document, part->id),
                           from.inverse().direction(line.normalized()),
                           line.norm(),
                           shape_along(stretch, *part, line, plan)};
    StepLinks links(plan);
    links.needs_frame(step.from);
    links.needs_frame(step.to);
    links.needs_joint(node);
    links.gives_frame(node);
    plan.add(step, std::move(links), stretch.name);
}

std::optional<StretchedNow> stretched_now(const Evaluator& evaluator, const Pose& pose, std::size_t slot) {
    const auto* list = evaluator.program().list<StretchStep>();
    if (!list) return std::nullopt;
    const auto memories = evaluator.program().memories<StretchStep>(pose.memories);
    for (std::size_t i = 0; i < list->steps.size(); ++i)
        if (list->steps[i].node == slot)
            return StretchedNow{&list->steps[i], memories[i].length_m,
                                memories[i].length_m - list->steps[i].rest_m};
    return std::nullopt;
}

std::shared_ptr<const Mesh> mesh_now(const Document& document, const Evaluator& evaluator, const Pose& pose,
                                     PartId id) {
    const Part* part = document.parts.find(id);
    const Shape* shape = part ? document.shapes.find(part->shape) : nullptr;
    if (!shape) return nullptr;
    const auto slot = evaluator.part_slot(id);
    const auto now = slot ? stretched_now(evaluator, pose, *slot) : std::nullopt;
    if (!now || !now->step->shape || now->by_m == 0) return shape->mesh;
    return std::make_shared<const Mesh>(drawn_out(*shape->mesh, *now->step->shape, now->by_m));
}

}  // namespace pivrak
