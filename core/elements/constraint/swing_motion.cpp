#include "core/elements/constraint/swing_motion.h"

#include <algorithm>
#include <cmath>

#include "core/model/edits/branch_bounds.h"

namespace pivrak {
namespace {

constexpr double gravity_m_s2 = 9.80665;  ///< ISO 80000-3, standard acceleration of free fall

Vec3 in_plane(const Vec3& vector, const std::optional<Vec3>& normal) {
    return normal ? Vec3(vector - vector.dot(*normal) * *normal) : vector;
}

}  // namespace

Swing swing_on(Swing now, double length_m, double damping, const Vec3& acceleration,
               const std::optional<Vec3>& normal, double seconds) {
    const double natural = std::sqrt(gravity_m_s2 / length_m);
    const Vec3 pull = in_plane(Vec3(0, 0, -gravity_m_s2) - acceleration, normal) / length_m;
    const auto rate_of = [&](const Swing& s) {
        const Vec3 along = s.direction.normalized();
        return Swing{s.rate, pull - pull.dot(along) * along - s.rate.squaredNorm() * along -
                                 2 * damping * natural * s.rate};
    };
    const auto plus = [](const Swing& s, const Swing& rate, double t) {
        return Swing{s.direction + t * rate.direction, s.rate + t * rate.rate};
    };
    const double fastest = std::max({natural, std::sqrt(pull.norm()), now.rate.norm()});
    const int steps = std::clamp(static_cast<int>(std::ceil(32 * fastest * seconds)), 1, 2000);
    const double h = seconds / steps;
    for (int i = 0; i < steps; ++i) {
        const Swing a = rate_of(now), b = rate_of(plus(now, a, h / 2)), c = rate_of(plus(now, b, h / 2)),
                    d = rate_of(plus(now, c, h));
        now.direction += h / 6 * (a.direction + 2 * b.direction + 2 * c.direction + d.direction);
        now.rate += h / 6 * (a.rate + 2 * b.rate + 2 * c.rate + d.rate);
        now.direction.normalize();
        now.rate -= now.rate.dot(now.direction) * now.direction;
    }
    return now;
}

void SwingStep::run(RunContext& context, Memory& past) const {
    const Frame base = context.base_of(static_cast<std::int32_t>(node));
    const Vec3 pivot = base.translation;
    const double length = length_m * base.size * context.size_of(context.nodes[node]);
    double* s = &context.states[state];
    Eigen::Map<Vec3> direction(s), rate(s + 3), velocity(s + 6);
    std::optional<Vec3> normal;
    if (one_way) normal = base.axis(context.nodes[node].axis);
    if (context.mode == StateMode::Align) {
        const Vec3 down = in_plane(-Vec3::UnitZ(), normal);
        direction = down.norm() > 1e-9 ? Vec3(down.normalized()) : any_perpendicular(*normal);
        rate.setZero();
        velocity.setZero();
    }
    if (context.mode == StateMode::Move && context.step_s > 0) {
        const Vec3 gone = (pivot - past.pivot) / context.step_s;
        const Vec3 hangs = in_plane(direction, normal);
        Swing now{hangs.norm() > 1e-9 ? Vec3(hangs.normalized()) : Vec3(direction), in_plane(rate, normal)};
        now = swing_on(now, length, damping, (gone - velocity) / context.step_s, normal, context.step_s);
        direction = now.direction;
        rate = now.rate;
        velocity = gone;
    }
    if (context.mode != StateMode::Show) past.pivot = pivot;
    context.frames[bob] = {Quat(1, 0, 0, 0), pivot + length * direction};
}

std::int32_t plan_swing(const Constraint& constraint, const Part& part, RigPlan& plan) {
    const bool one_way = part.joint.kind == JointKind::Hinge || part.joint.kind == JointKind::Cylinder;
    if (!one_way && part.joint.kind != JointKind::Ball) return -1;
    double length = constraint.length_m;
    if (!(length > 0)) {
        const Document& document = plan.document();
        const Bounds bounds = branch_bounds(document, {part.id});
        if (!bounds.empty())
            length = (bounds.middle() - world_from_rest(document, part.id).translation).norm();
    }
    const auto node = static_cast<std::uint32_t>(plan.node(part.id));
    const SwingStep step{node,
                         plan.new_frame(part.id),
                         one_way,
                         std::max(length, 1e-3),
                         constraint.damping,
                         plan.new_states(SwingStep::states)};
    StepLinks links(plan);
    links.needs_frame(plan.parent_node(part.id));
    links.needs_size(node);
    links.gives_frame(step.bob);
    plan.add(step, std::move(links), constraint.name);
    return static_cast<std::int32_t>(step.bob);
}

}  // namespace pivrak
