#include "core/elements/measure/measure_motion.h"

#include <algorithm>
#include <cmath>

#include "core/elements/plans.h"

namespace pivrak {
namespace {

double between(const Vec3& one, const Vec3& other) {
    return std::atan2(one.cross(other).norm(), one.dot(other));
}

/// Of a turn, the share about an axis: what is left when the axis itself is brought back [rad], -pi to pi.
double twist_about(const Quat& turn, const Vec3& axis) {
    const double sine = turn.vec().dot(axis);
    if (sine == 0 && turn.w() == 0) return 0;
    return std::remainder(2 * std::atan2(sine, turn.w()), 2 * pi);
}

}  // namespace

double MeasureStep::reading(const RunContext& context) const {
    const auto place = [&](std::int32_t node, const Vec3& at) { return context.frame(node).point(at); };
    switch (what) {
        case Measures::Distance:
            return (place(b, place_b) - place(a, place_a)).norm();
        case Measures::Angle:
            return between(context.frame(a).direction(axis_a), context.frame(b).direction(axis_b));
        case Measures::Corner: {
            const Vec3 corner = place(b, place_b);
            return between(place(a, place_a) - corner, place(c, place_c) - corner);
        }
        case Measures::Twist:
            return twist_about(
                context.frame(a).rotation.conjugate() * context.frame(b).rotation * a_from_b_rest.conjugate(),
                axis_a);
        case Measures::PathPlace:
        case Measures::PathBend: {
            const Frame& carrier = context.frame(c);
            const double along = path->curve.nearest(carrier.inverse().point(place(a, place_a)));
            if (what == Measures::PathPlace) return along * carrier.size;
            return path->curve.without_up(along).curvature.norm() / carrier.size;
        }
        case Measures::Teeth:
            return fixed;
        case Measures::Speed:  // by steps of their own
        case Measures::Clearance:
            return 0;
        case Measures::PathLength:
        case Measures::Radius:
        case Measures::Pitch:
            return fixed * context.frame(a).size;
    }
    return 0;
}

void SpeedStep::run(RunContext& context, Memory& past) const {
    const Vec3 now = context.frame(node).point(place);
    double& speed = context.states[state];
    if (context.mode == StateMode::Align) speed = 0;
    if (context.mode == StateMode::Move)
        speed = context.step_s != 0 ? (now - past.place).norm() / std::abs(context.step_s) : 0;
    if (context.mode != StateMode::Show) past.place = now;
    context.set(channel, speed);
}

/// In the measure of the first part, in which both frames are rigid.
SurfaceGap ClearanceStep::gap(const Frame& world_from_a, const Frame& world_from_b, Memory& past) const {
    const double size = world_from_a.size, ratio = world_from_b.size / size;
    if (past.ratio != ratio) {
        past.grown = std::make_shared<const ClearanceBody>(body_b->grown(ratio));
        past.ratio = ratio;
    }
    const Frame first{world_from_a.rotation, world_from_a.translation / size},
        second{world_from_b.rotation, world_from_b.translation / size};
    const SurfaceGap gap = body_a->gap(first, *past.grown, second);
    return {gap.distance * size, gap.on_first * size, gap.on_second * size};
}

PlanPhase phase_of(const Measure*) {
    return PlanPhase::Asks;
}

namespace {

/// What stays as it is while parts move; none where it cannot be measured.
std::optional<double> fixed_of(const Measure& measure, const RigPlan& plan) {
    const Document& document = plan.document();
    if (!plan.measures()) return 0;  // only the order is asked for
    switch (measure.what) {
        case Measures::PathLength: {
            const Path* path = document.paths.find(measure.path);
            const auto laid = path ? plan.path(*path) : nullptr;
            return laid ? std::optional(laid->curve.length()) : std::nullopt;
        }
        case Measures::Radius:
            return plan.wheel_size(measure.a).radius_m;
        case Measures::Teeth: {
            const auto teeth = plan.teeth(measure.a);
            return teeth ? std::optional<double>(*teeth) : std::nullopt;
        }
        case Measures::Pitch: {
            const Chain* chain = document.chains.find(measure.chain);
            return chain ? std::optional(chain->pitch_m) : std::nullopt;
        }
        default:
            return 0;
    }
}

/// The part in whose measure a length counts that no part has.
PartId measured_in(const Measure& measure, const Document& document) {
    if (const Path* path = document.paths.find(measure.path)) return path->carrier;
    if (const Chain* chain = document.chains.find(measure.chain)) return chain->frame;
    return measure.a;
}

}  // namespace

void plan(const Measure& measure, RigPlan& plan) {
    const Document& document = plan.document();
    const auto channel = plan.channel({measure.id, measure.gives()});
    const auto fixed = fixed_of(measure, plan);
    if (!channel || !fixed) return;  // a finding tells
    if (measure.what == Measures::Speed) {
        const SpeedStep step{measure.id, *channel, plan.node(measure.a), measure.place_a, plan.new_states(1)};
        StepLinks links(plan);
        links.needs_frame(step.node);
        links.gives_channel(*channel);
        return plan.add(step, std::move(links), measure.name);
    }
    if (measure.what == Measures::Clearance) {
        ClearanceStep step{measure.id,
                           *channel,
                           plan.node(measure.a),
                           plan.node(measure.b),
                           plan.clearance_body(measure.a),
                           plan.clearance_body(measure.b)};
        if (plan.measures() && (!step.body_a || !step.body_b)) return;  // alike
        StepLinks links(plan);
        links.needs_frame(step.a);
        links.needs_frame(step.b);
        links.gives_channel(*channel);
        return plan.add(std::move(step), std::move(links), measure.name);
    }
    MeasureStep step{measure.id,
                     *channel,
                     measure.what,
                     plan.node(measure.a),
                     plan.node(measure.b),
                     plan.node(measure.c),
                     measure.place_a,
                     measure.place_b,
                     measure.place_c,
                     measure.axis_a,
                     measure.axis_b,
                     {},
                     nullptr,
                     *fixed};
    step.a_from_b_rest = Quat(1, 0, 0, 0);
    if (measure.what == Measures::Twist)
        step.a_from_b_rest = world_from_rest(document, measure.a).rotation.conjugate() *
                             world_from_rest(document, measure.b).rotation;
    if (measure.is_beside_path()) {
        const Path* path = document.paths.find(measure.path);
        step.path = path ? plan.path(*path) : nullptr;
        if (plan.measures() && !step.path) return;
        if (!path) return;
        step.c = plan.node(path->carrier);
    } else if (measure.what == Measures::Teeth) {
        step.a = -1;
    } else if (measure.is_fixed()) {
        // How large it is depends on what lets it grow, not on how it turns: what turns a wheel may take its
        // radius.
        step.a = plan.node(plan.size_owner(measured_in(measure, document)));
    }
    StepLinks links(plan);
    links.needs_frame(step.a);
    links.needs_frame(step.b);
    links.needs_frame(step.c);
    links.gives_channel(*channel);
    plan.add(std::move(step), std::move(links), measure.name);
}

namespace {

/// Between the places where two surfaces are nearest.
std::optional<MeasureMarks> clearance_marks(const Evaluator& evaluator, const Measure& measure,
                                            const Frame& a, const Frame& b) {
    const auto* list = evaluator.program().list<ClearanceStep>();
    if (!list) return std::nullopt;
    for (const ClearanceStep& step : list->steps)
        if (step.id == measure.id) {
            ClearanceStep::Memory past = step.start();
            const SurfaceGap gap = step.gap(a, b, past);
            return MeasureMarks{gap.on_first, gap.on_second, gap.on_first};
        }
    return std::nullopt;
}

}  // namespace

std::optional<MeasureMarks> measure_marks(const Document& document, const Evaluator& evaluator,
                                          const Pose& pose, const Measure& measure) {
    const auto frame = [&](PartId part) {
        const auto slot = evaluator.part_slot(part);
        return slot ? pose.world_from_part[*slot] : Frame{};
    };
    if (measure.what == Measures::Speed) {
        const Vec3 at = frame(measure.a).point(measure.place_a);
        return MeasureMarks{at, at, at};
    }
    if (measure.what == Measures::Clearance)
        return clearance_marks(evaluator, measure, frame(measure.a), frame(measure.b));
    const auto* list = evaluator.program().list<MeasureStep>();
    if (!list) return std::nullopt;
    const auto step = std::find_if(list->steps.begin(), list->steps.end(),
                                   [&](const MeasureStep& one) { return one.id == measure.id; });
    if (step == list->steps.end()) return std::nullopt;
    const Vec3 a = frame(measure.a).point(measure.place_a), b = frame(measure.b).point(measure.place_b);
    switch (measure.what) {
        case Measures::Distance:
            return MeasureMarks{a, b, a};
        case Measures::Corner:
            return MeasureMarks{a, frame(measure.c).point(measure.place_c), b};
        case Measures::Angle:
        case Measures::Twist: {
            // Both axes from the first part's pivot, a quarter as long as the parts are apart or 100 mm.
            const double far = std::max(0.1, 0.5 * (b - a).norm());
            const Quat& turned = frame(measure.b).rotation;
            if (measure.what == Measures::Angle)
                return MeasureMarks{a + far * frame(measure.a).direction(measure.axis_a),
                                    a + far * (turned * measure.axis_b), a};
            const Vec3 beside = any_perpendicular(measure.axis_a);
            return MeasureMarks{a + far * frame(measure.a).direction(beside),
                                a + far * (turned * (step->a_from_b_rest.conjugate() * beside)), a};
        }
        case Measures::Radius:
            return MeasureMarks{
                frame(measure.a).translation,
                frame(measure.a).translation - step->fixed * frame(measure.a).size * Vec3::UnitZ(),
                frame(measure.a).translation};
        case Measures::PathPlace:
        case Measures::PathBend: {
            const Path* path = document.paths.find(measure.path);
            const Frame carrier = path ? frame(path->carrier) : Frame{};
            const double along = step->path->curve.nearest(carrier.inverse().point(a));
            return MeasureMarks{a, carrier.point(step->path->curve.place(along)), a};
        }
        default:
            return std::nullopt;
    }
}

}  // namespace pivrak
